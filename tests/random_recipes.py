"""Random small recipes for property tests: a form, then edits that pick by what is there."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from hypothesis import assume
from hypothesis import strategies as st

from rhytonic.core.errors import StepError
from rhytonic.core.mesh.mesh import Mesh
from rhytonic.core.mesh.names import hex_of
from rhytonic.core.recipe.evaluate import Evaluator
from rhytonic.core.recipe.state import Evaluation
from tests.helpers import document

MOST_FACES = 400
Steps = list[dict[str, Any]]

small = st.integers(1, 3)
size = st.floats(0.5, 3).map(lambda v: round(v, 3))
number = st.floats(0.1, 1).map(lambda v: round(v, 3))


def forms() -> st.SearchStrategy[dict[str, Any]]:
    box = st.fixed_dictionaries({"size": st.tuples(size, size, size).map(list),
                                 "segments": st.tuples(small, small, small).map(list)})
    plane = st.fixed_dictionaries({"size": st.tuples(size, size).map(list), "segments": st.tuples(small, small).map(list)})
    cylinder = st.fixed_dictionaries({
        "radius": size, "height": size, "sides": st.integers(3, 9), "height_segments": st.integers(1, 2),
        "cap": st.sampled_from(["ngon", "fan", "none"]), "radius_top": st.one_of(st.just(0), size)})
    return st.one_of(box.map(lambda p: {"id": "form", "kind": "box", **p}),
                     plane.map(lambda p: {"id": "form", "kind": "plane", **p}),
                     cylinder.map(lambda p: {"id": "form", "kind": "cylinder", **p}))


@dataclass(frozen=True)
class Wish:
    """An edit wanted, before it is known what there is to pick."""

    kind: str
    picks: list[int]
    on: str
    values: dict[str, Any]


def wishes(kinds: tuple[str, ...]) -> st.SearchStrategy[Wish]:
    values = {
        "extrude": st.fixed_dictionaries({
            "depth": st.one_of(number, number.map(lambda v: -v)), "as": st.sampled_from(["region", "each"]),
            "along": st.sampled_from(["average", "surface", "+x", "-y", [1, 2, 3]]), "segments": st.integers(1, 2)}),
        "transform": st.fixed_dictionaries({
            "translate": st.tuples(number, number, number).map(list),
            "rotate": st.tuples(number, number, number).map(list)}),
        "delete": st.just({}),
        "weld": st.fixed_dictionaries({"distance": st.sampled_from([0.0, 0.3, 1.0])}),
        "dissolve": st.just({}),
        "flip": st.just({}),
        "quad_cap": st.just({}),
        "fill": st.fixed_dictionaries({"style": st.sampled_from(["ngon", "fan", "quads"])}),
        "duplicate": st.fixed_dictionaries({"translate": st.tuples(number, number, number).map(list)}),
        "flatten": st.just({}),
        "inset": st.fixed_dictionaries({"width": st.just(0.02), "as": st.sampled_from(["region", "each"])}),
        "insert_loop": st.fixed_dictionaries({"count": st.integers(1, 2), "spread": st.sampled_from([1.0, 0.5])}),
        "bevel": st.fixed_dictionaries({"width": st.just(0.03), "segments": st.integers(1, 3),
                                        "roundness": st.sampled_from([1.0, 0.3])}),
        "ridge": st.fixed_dictionaries({"width": st.just(0.02), "height": st.sampled_from([0.1, -0.05])}),
        "extrude_edges": st.one_of(st.fixed_dictionaries({"vector": st.tuples(number, number, number).map(list)}),
                                   st.just({"width": 0.1, "height": 0.05})),
        "connect": st.fixed_dictionaries({"count": st.integers(1, 2), "spread": st.sampled_from([1.0, 0.5])}),
        "cut": st.fixed_dictionaries({"at": st.sampled_from([0.5, 0.3])}),
        "slice": st.fixed_dictionaries({
            "point": st.tuples(number, number, number).map(list), "normal": st.sampled_from([[0, 1, 0], [1, 2, 3], [1, 0, 0]]),
            "keep": st.sampled_from(["both", "above", "below"]), "cap": st.booleans()}),
        "bridge": st.fixed_dictionaries({"segments": st.integers(1, 2), "twist": st.integers(0, 1)}),
        "stitch": st.fixed_dictionaries({"at": st.sampled_from(["middle", "first", "last"])}),
        "slide": st.fixed_dictionaries({"amount": st.sampled_from([0.3, -0.4])}),
        "even_out": st.just({}), "round_out": st.just({}), "relax": st.fixed_dictionaries({"iterations": st.integers(1, 3)}),
        "crease": st.fixed_dictionaries({"sharpness": st.sampled_from([0, 0.5, 2.3, 10])}),
        "hard": st.just({}), "seam": st.just({}), "shade": st.just({}),
        "mirror": st.fixed_dictionaries({"axis": st.sampled_from(["x", "y", "z"]), "at": st.sampled_from([0, 0.1]),
                                         "keep": st.sampled_from(["+", "-"]), "clip": st.booleans()}),
        "shell": st.fixed_dictionaries({"thickness": st.sampled_from([0.05, -0.05]), "rim": st.booleans()}),
        "to_ball": st.fixed_dictionaries({"amount": st.sampled_from([0.5, 1.0])}),
        "lattice": st.fixed_dictionaries({"offsets": st.sampled_from([{}, {"2,1,0": [0.2, 0.1, 0]}]), "basis": st.sampled_from(["bernstein", "bspline"])}),
        "bend": st.fixed_dictionaries({"along": st.just("x"), "toward": st.sampled_from(["+y", "-z"]), "angle": st.sampled_from([0, 40, -90])}),
        "twist": st.just({"axis": "y", "angle": 30}), "taper": st.just({"axis": "y", "scale": 0.5}),
        "stretch": st.just({"axis": "z", "factor": 1.3}),
        "noise": st.fixed_dictionaries({"amount": number, "size": size, "along": st.sampled_from(["normal", "free"])}),
        "brush": st.fixed_dictionaries({
            "tool": st.sampled_from(["grab", "smooth", "relax", "inflate", "pinch", "flatten", "groove"]), "radius": size,
            "strokes": st.lists(st.tuples(number, number, number).map(lambda p: [*p, 1.0]), min_size=1, max_size=4).map(
                lambda points: [{"points": points, "move": [0.1, 0.0, 0.05]}]), "hold": st.booleans()}),
        "subdivision": st.just({"levels": 1})}
    on = {"extrude": ["faces"], "transform": ["faces", "edges", "vertices"], "delete": ["faces", "vertices"],
          "subdivision": ["faces"], "inset": ["faces"], "insert_loop": ["edges"],
          "weld": ["vertices"], "dissolve": ["edges", "vertices", "faces"], "flip": ["faces"], "quad_cap": ["faces"], "fill": ["edges"], "duplicate": ["faces"],
          "flatten": ["vertices", "faces"], "bevel": ["edges", "edges", "vertices"], "ridge": ["edges"],
          "extrude_edges": ["edges"], "connect": ["edges", "vertices"], "bridge": ["faces"], "stitch": ["edges"],
          "slide": ["edges", "vertices"], "even_out": ["edges"], "round_out": ["faces", "vertices"], "relax": ["vertices"],
          "noise": ["faces", "vertices"],
          "crease": ["edges"], "hard": ["edges"], "seam": ["edges"]}
    return st.sampled_from(kinds).flatmap(lambda k: st.builds(
        Wish, st.just(k), st.lists(st.integers(0, 999), min_size=1, max_size=5), st.sampled_from(on.get(k, ["faces"])), values[k]))


def ids_of(mesh: Mesh, kind: str, picks: list[int]) -> dict[str, Any]:
    """A pick by id of some elements, told by any whole numbers."""
    t, names = mesh.topology, mesh.names
    if kind == "faces":
        ids: list[Any] = hex_of(names.face[sorted({p % t.face_count for p in picks})])
    elif kind == "vertices":
        ids = hex_of(names.vertex[sorted({p % t.vertex_count for p in picks})])
    else:
        ids = [hex_of(names.vertex[t.edges[e]]) for e in sorted({p % t.edge_count for p in picks})]
    return {kind: {"ids": ids}}


#: kinds that act on the whole mesh
WHOLE = ("subdivision", "slice", "shade", "mirror", "shell", "to_ball", "lattice", "bend", "twist", "taper", "stretch", "brush")


def path_across(mesh: Mesh, picks: list[int], at: float) -> list[dict[str, Any]]:
    """A cut over one face, from an edge to the corner opposite or to another edge."""
    t, names = mesh.topology, mesh.names
    face = picks[0] % t.face_count
    corners = np.arange(t.offsets[face], t.offsets[face + 1])
    one = t.edges[t.corner_edge[corners[picks[-1] % corners.size]]]
    start = {"edge": {"ids": [hex_of(names.vertex[one])]}, "at": at}
    if picks[0] % 2:
        two = t.edges[t.corner_edge[corners[(picks[-1] + 1) % corners.size]]]
        return [start, {"edge": {"ids": [hex_of(names.vertex[two])]}, "at": at}]
    other = int(t.corners[corners[(picks[-1] + 2) % corners.size]])
    return [start, {"vertex": {"ids": hex_of(names.vertex[[other]])}}]


def as_step(wish: Wish, mesh: Mesh, id: str) -> dict[str, Any]:
    step = {"id": id, "kind": wish.kind, **wish.values}
    if wish.kind == "insert_loop":
        return {**step, "through": ids_of(mesh, "edges", wish.picks)["edges"]}
    if wish.kind == "fill":
        return {**step, "pick": {"edges": {"border": True}}}
    if wish.kind == "cut":
        return {"id": id, "kind": "cut", "path": path_across(mesh, wish.picks, wish.values["at"])}
    return step if wish.kind in WHOLE else {**step, "pick": ids_of(mesh, wish.on, wish.picks)}


def grow(steps: Steps, wish: Wish, id: str) -> Steps:
    """The recipe with the wish at its end, or as it was where that cannot be."""
    mesh = run(steps).surface.mesh
    if not mesh.topology.face_count:
        return steps
    longer = [*steps, as_step(wish, mesh, id)]
    try:
        after = run(longer).surface.mesh
    except StepError:
        return steps
    return longer if 0 < after.topology.face_count <= MOST_FACES else steps


def run(steps: Steps, evaluator: Evaluator | None = None, tolerant: bool = False) -> Evaluation:
    return (evaluator or Evaluator()).run(document(*steps).parts[0], "m", tolerant=tolerant)


SHAPING = ("bevel", "bevel", "ridge", "extrude_edges", "connect", "cut", "slice", "bridge", "stitch", "slide", "even_out",
           "round_out", "relax", "crease", "hard", "seam", "shade", "mirror", "shell", "to_ball", "lattice", "bend", "twist", "taper", "stretch", "noise", "brush")
ALL_KINDS = (*SHAPING, "extrude", "extrude", "transform", "delete", "subdivision", "inset", "insert_loop", "insert_loop", "weld",
             "dissolve", "flip", "duplicate", "flatten", "quad_cap", "fill")


@st.composite
def recipes(draw: st.DrawFn, kinds: tuple[str, ...] = ALL_KINDS, least: int = 0, most: int = 4) -> Steps:
    """A recipe whose every step runs."""
    steps: Steps = [draw(forms())]
    for i, wish in enumerate(draw(st.lists(wishes(kinds), min_size=least, max_size=most))):
        steps = grow(steps, wish, f"s{i}")
    assume(len(steps) > least)
    return steps


def meshes(kinds: tuple[str, ...] = ALL_KINDS) -> st.SearchStrategy[Mesh]:
    return recipes(kinds).map(lambda steps: run(steps).surface.mesh)
