"""Steps of every kind as a hand makes them: each picks by ids of the mesh that was told last."""

from __future__ import annotations

from typing import Any

import numpy as np

from rhytonic.core.mesh.mesh import Mesh
from rhytonic.core.mesh.names import Names, hex_of
from rhytonic.core.mesh.topology import Topology
from tests.random_changes import VALUES, by_hand, chosen
from tests.random_recipes import path_across

Values = dict[str, Any]

#: what a hand may begin with: bodies and sheets, then curves
BODIES: list[Values] = [
    {"kind": "box", "size": [2, 2, 2], "segments": [2, 1, 2]}, {"kind": "plane", "size": [2, 2], "segments": [2, 2]},
    {"kind": "cylinder", "radius": 1, "height": 2, "sides": 7}, {"kind": "cylinder", "radius": 1, "height": 2, "sides": 8, "cap": "quads"},
    {"kind": "tube", "radius": 1, "inner_radius": 0.6, "height": 1.5, "sides": 9}, {"kind": "sphere", "radius": 1.1, "sides": 8, "rings": 5},
    {"kind": "quad_sphere", "radius": 1.1, "segments": 2}, {"kind": "torus", "radius": 1, "tube_radius": 0.35, "sides": 8, "tube_sides": 5}]
CURVES: list[Values] = [
    {"kind": "path", "points": [[0, 0, 0], [1, 0.2, 0], [1.2, 1, 0], [0.1, 1.1, 0]], "closed": True},
    {"kind": "path", "points": [[0, 0, 0], {"at": [1, 0, 0], "corner": "soft"}, {"at": [1, 1, 0], "corner": "fillet", "size": 0.2}, [2, 1, 0]], "steps": 3},
    {"kind": "rectangle", "size": [1.5, 1], "radius": 0.2}, {"kind": "circle", "radius": 0.8, "sides": 8},
    {"kind": "arc", "radius": 1, "from": 0, "to": 140, "steps": 3}]

#: values of each kind beside those of ``VALUES``, by what they pick
MORE: dict[str, list[tuple[str, Values]]] = {
    "boolean": [("", {"part": "Tool", "operation": o}) for o in ("subtract", "unite", "intersect")]
    + [("", {"parts": ["Tool", "Ball"], "operation": "subtract"})],
    "join": [("", {"parts": ["Tool"]}), ("", {"parts": ["Ball", "Tool"], "weld": 0.02})],
    "array": [("faces", {"count": 3, "step": [2.5, 0, 0]}), ("", {"count": 2, "step": [2.0, 0, 0], "weld": 1e-5}),
              ("", {"count": 3, "around": {"axis": "y"}}), ("", {"count": 3, "along": {"part": "Rail"}})],
    "split_off": [("faces", {"into": "Lid"}), ("faces", {"into": "Lid", "keep": True})],
    "separate": [("", {"into": "Piece"})],
    "follow": [("", {"part": "Bar", "step": "bend"}), ("", {"part": "Bar", "step": "bend", "as": "rigid"})],
    "bead": [("edges", {"width": 0.05, "height": 0.02, "spacing": 0.2}),
             ("", {"along": "Rail", "width": 0.05, "height": 0.02, "spacing": 0.5})],
    "project": [("", {"how": "box"}), ("faces", {"how": "plane", "axis": "z", "size": 0.5}), ("", {"how": "cylinder", "size": 0.7})],
    "unwrap": [("", {}), ("faces", {"method": "conformal"}), ("", {"pins": "vertices"}), ("", {"pins": "faces"})], "straighten_uv": [("faces", {})],
    "uv_transform": [("faces", {"turn": 30, "move": [0.1, 0.2]}), ("", {"flip": "u"}), ("", {"align": "left", "density": 30})],
    "pack": [("", {}), ("faces", {"margin": 2}), ("", {"area": [0.5, 0, 0.5, 1]}), ("faces", {"area": [0, 0.3, 1, 0.2], "turn": False}),
             ("", {"places": [], "density": 2}), ("", {"places": [], "density": 1, "hold": "faces"})],
    "relief": [("", {"pattern": "ridges", "height": 0.02}), ("faces", {"pattern": "ridges", "height": -0.01, "levels": 1})],
    "mirror": [("", {"axis": "x"}), ("", {"axis": "z", "at": 0.2, "clip": True}), ("", {"axis": "x", "at": 0.4, "clip": False})],
    "subdivision": [("", {"levels": 1})], "shell": [("", {"thickness": 0.05}), ("", {"thickness": -0.04})]}
#: what a hand picks of a curve, and what it does with it
ON_CURVES: dict[str, list[tuple[str, Values]]] = {
    "round_corner": [("vertices", {"radius": 0.1}), ("vertices", {"radius": 0.1, "style": "chamfer"})],
    "smooth_curve": [("", {"levels": 1})], "offset": [("", {"distance": 0.1}), ("", {"distance": -0.05, "corners": "round"})],
    "thicken": [("", {"width": 0.1}), ("", {"left": 0.1, "right": 0.02, "ends": "round"})],
    "combine": [("", {"parts": ["Hoop"], "operation": "unite"}), ("", {"parts": ["Hoop"], "operation": "subtract"})],
    "respace": [("", {"count": 7})], "extrude_curve": [("", {"depth": 0.4}), ("", {"depth": 0.4, "cap": "none"})],
    "lathe": [("", {"axis": "y", "at": [-0.6, 0, 0], "sides": 6}), ("", {"axis": "y", "at": [-2, 0, 0], "angle": 90, "sides": 4})],
    "sweep": [("", {"profile": {"circle": 0.1, "sides": 5}}), ("", {"profile": {"rectangle": [0.1, 0.2]}})],
    "fill": [("", {})], "transform": [("vertices", {"translate": [0.05, 0.04, 0]})], "flatten": [("vertices", {})],
    "duplicate": [("vertices", {"translate": [0, 3, 0]})], "mirror": [("", {"axis": "x"})],
    "array": [("", {"count": 2, "step": [4, 0, 0]})], "slide": [("vertices", {"amount": 0.2})], "delete": [("vertices", {})],
    "weld": [("vertices", {"distance": 0.01})]}

_EVERYTHING = {k: v for k, v in VALUES.items() if k not in MORE} | MORE
#: kinds whose other words are picks of their own
#: what a relief may raise
PATTERNS: list[Values] = [{"id": "ridges", "name": "Ridges", "size": [1, 1], "resolution": 0.5, "layers": [{"shape": "stripes", "pitch": 0.2, "width": 0.1}]}]
#: kinds whose other words are picks of their own
WHOLE = {"subdivision", "slice", "shade", "mirror", "shell", "to_ball", "lattice", "bend", "twist", "taper", "stretch", "brush"}


def kinds() -> set[str]:
    """Every kind that a chain may come to, with those it may begin with."""
    return {*_EVERYTHING, *ON_CURVES, *(f["kind"] for f in BODIES + CURVES)}


def build_around(r: np.random.Generator, form: Values) -> list[Values]:
    """Parts: the one that is worked on, with what it may need, and one that needs it."""
    tool = [{"kind": "box", "size": [0.8, 3, 0.7]}, {"kind": "cylinder", "radius": 0.4, "height": 3, "sides": 6},
            {"kind": "torus", "radius": 0.8, "tube_radius": 0.2, "sides": 6, "tube_sides": 4}][int(r.integers(3))]
    place = r.uniform(-0.8, 0.8, 3).round(int(r.integers(1, 5))).tolist()
    turn = [0, 0, 0] if r.random() < 0.4 else r.uniform(-180, 180, 3).round(2).tolist()
    return [
        {"name": "Work", "steps": [{"id": "form", **form}]},
        {"name": "Tool", "placement": {"translate": [place[0], place[1] - 0.5, place[2]], "rotate": turn}, "steps": [{"id": "t", **tool}]},
        {"name": "Ball", "placement": {"translate": [0.9, 1.1, 0.2]}, "steps": [{"id": "b", "kind": "sphere", "radius": 0.6, "sides": 6, "rings": 4}]},
        {"name": "Rail", "steps": [{"id": "r", "kind": "path", "points": [[-1, 0.2, 1.4], [1, 0.4, 1.3], [1.5, 1, 0.4]]}]},
        {"name": "Hoop", "placement": {"translate": [0.7, 0.5, 0]}, "steps": [{"id": "h", "kind": "circle", "radius": 0.5, "sides": 6}]},
        {"name": "Bar", "steps": [{"id": "b", "kind": "box", "size": [4, 0.5, 0.5], "segments": [6, 1, 1]},
                                  {"id": "bend", "kind": "bend", "along": "x", "toward": "+y", "angle": 30}]},
        {"name": "Host", "placement": {"translate": [0, 0.6, 0]},
         "steps": [{"id": "b", "kind": "box", "size": [3, 3, 3], "anchor": "centre"}, {"id": "cut", "kind": "boolean", "part": "Work", "operation": "subtract"},
                   {"id": "half", "kind": "mirror", "axis": "z"}]}]


def told_mesh(cage: dict[str, Any]) -> Mesh:
    """The mesh that an answer of the server tells, with its ids."""
    words = {k: np.frombuffer(cage[k] or b"", "<u4").astype(np.int64) for k in ("offsets", "corners")}
    vertex, face = (np.frombuffer(cage[k], "<u8").astype(np.uint64) for k in ("vertex_ids", "face_ids"))
    points = np.frombuffer(cage["positions"], "<f4").reshape(-1, 3).astype(float)
    offsets = words["offsets"] if words["offsets"].size else np.zeros(1, np.int64)
    return Mesh(points, Topology.of(len(points), offsets, words["corners"]), Names(lambda: vertex, lambda: face))


def wanted(r: np.random.Generator, mesh: Mesh, is_curve: bool) -> Values | None:
    """A step of any kind that fits, its picks made by hand; None where there is nothing to pick of what it takes."""
    choice = ON_CURVES if is_curve else _EVERYTHING
    kind = sorted(choice)[int(r.integers(len(choice)))]
    if not is_curve and r.random() < 0.15:
        kind = "boolean"
    on, values = choice[kind][int(r.integers(len(choice[kind])))]
    step: Values = {"kind": kind, **values}
    t = mesh.topology
    for word in {"pins", "hold"} & set(step):
        step[word] = by_hand(mesh, step[word], chosen(mesh, step[word], r)[1])
    if "places" in step:
        some = r.choice(t.face_count, min(3, t.face_count), replace=False)
        step["places"] = [{"face": f, "at": r.uniform(0, 0.6, 2).round(3).tolist(), "quarter": int(r.integers(4))} for f in hex_of(mesh.names.face[some])]
    if is_curve:
        if on:
            some = np.unique(r.choice(len(mesh.points), min(2, len(mesh.points)), replace=False))
            step["pick"] = {on: {"ids": list(hex_of(mesh.names.vertex[some]))}}
        return step
    if not on or kind in WHOLE:
        return step
    if not t.face_count:
        return None
    if kind == "fill":
        border = np.flatnonzero(t.edge_face_count == 1)
        return {**step, "pick": by_hand(mesh, "edges", border)} if border.size else None
    if kind == "cut":
        return {"kind": "cut", "path": path_across(mesh, r.integers(0, 999, 2).tolist(), values["at"])}
    picked = by_hand(mesh, on, chosen(mesh, on, r)[1])
    if kind == "insert_loop":
        return {**step, "through": picked["edges"]}
    return {**step, "pick": picked}
