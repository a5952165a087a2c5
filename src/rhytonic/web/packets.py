"""Meshes on their way to the browser: MessagePack, index buffers once per connectivity."""

from __future__ import annotations

import hashlib
from collections.abc import Collection
from typing import Any

import msgpack
import numpy as np

from ..core.curve.curve import Curve
from ..core.mesh.marks import FLAT, HARD, SHADING, shading
from ..core.mesh.mesh import Mesh
from ..core.mesh.shading import corner_groups
from ..core.mesh.topology import Ints
from ..core.mesh.triangulate import triangulate
from ..core.mesh.uv import uvs
from ..core.params import to_metres
from ..core.recipe.registry import kind_of
from ..core.recipe.state import Evaluation, StepResult
from ..core.units import METRES
from ..core.waiting import check

MEDIA_TYPE = "application/msgpack"
#: what travels once for each digest
_ONCE = ("offsets", "corners", "triangles", "triangle_face", "edges", "vertex_cage", "edge_cage", "shading_vertex",
         "shading_triangles")


def _u32(values: np.ndarray) -> bytes:
    return values.astype("<u4").tobytes()


def _i32(values: np.ndarray) -> bytes:
    return values.astype("<i4").tobytes()


def cage_packet(mesh: Mesh, have: Collection[str], with_ids: bool) -> dict[str, Any]:
    """The cage with all its edges and, for what stands, its ids."""
    check()
    t = mesh.topology
    smooth = shading(mesh) != FLAT if SHADING in mesh.attributes else None
    group = corner_groups(mesh, smooth) if smooth is not None and smooth.any() else None
    out = _positions(mesh, group)
    if out["digest"] not in have:
        triangles, face = triangulate(mesh)
        out |= _shaded(mesh, group, triangles, face) | {
            "offsets": _u32(t.offsets), "corners": _u32(t.corners), "triangles": _u32(triangles),
            "triangle_face": _u32(face), "edges": _u32(t.edges)}
    uv = uvs(mesh)
    out["uv"] = None if uv is None else uv.astype("<f4").tobytes()
    if with_ids:
        out |= {"vertex_ids": mesh.names.vertex.astype("<u8").tobytes(), "face_ids": mesh.names.face.astype("<u8").tobytes()}
    return out


def surface_packet(evaluation: Evaluation, have: Collection[str]) -> dict[str, Any]:
    """The surface, its triangles told by the cage face they came from, and the edges that descend from the cage's."""
    check()
    mesh = evaluation.surface.mesh
    t = mesh.topology
    group = corner_groups(mesh, np.ones(t.face_count, bool)) if HARD in mesh.attributes else None
    out = _positions(mesh, group)
    if out["digest"] not in have:
        if t.uniform == 4:  # drawn on one diagonal: which one does not show on a fine surface
            quads = t.corners.reshape(-1, 4)
            triangles = np.concatenate([quads[:, [0, 1, 2]], quads[:, [0, 2, 3]]], axis=1).reshape(-1, 3)
            face = np.repeat(np.arange(t.face_count), 2)
        else:
            triangles, face = triangulate(mesh)
        source = evaluation.cage_face_of_surface
        lines, of_cage = evaluation.surface_lines
        out |= _shaded(mesh, group, triangles, face) | {"triangles": _u32(triangles),
                "triangle_face": _i32(source[face]), "edges": _u32(lines),
                "vertex_cage": _i32(evaluation.cage_vertex_of_surface), "edge_cage": _i32(of_cage)}
    return out


def _curve_packet(curve: Curve, have: Collection[str]) -> dict[str, Any]:
    """A curve as the straight edges it is divided into; those of its points that are the curve's own tell which."""
    line = curve.divided
    pattern = hashlib.blake2b(line.edges.tobytes() + line.step.tobytes(), digest_size=16).hexdigest()
    out = dict.fromkeys(_ONCE) | {"digest": f"curve-{pattern}", "vertex_count": len(line.points), "face_count": 0,
                                  "positions": memoryview(line.points.astype("<f4")), "vertex_ids": None, "face_ids": None,
                                  "uv": None}
    if out["digest"] not in have:
        nothing = _u32(np.zeros(0))
        out |= {"triangles": nothing, "triangle_face": nothing, "edges": _u32(line.edges),
                "vertex_cage": _i32(np.where(line.step == 0, line.span, -1)),
                "edge_cage": _i32(np.full(len(line.edges), -1))}
    return out


def _shaded(mesh: Mesh, group: Ints | None, triangles: Ints, face: Ints) -> dict[str, Any]:
    """Points of shading: one for each vertex and group of corners that share a normal, and the triangles in them."""
    check()
    if group is None:
        return {}
    t = mesh.topology
    key = t.corner_face * t.vertex_count + t.corners
    order = np.argsort(key)
    wanted = face[:, None] * t.vertex_count + triangles
    corner = order[np.searchsorted(key[order], wanted)]
    vertex = np.zeros(int(group.max(initial=-1)) + 1, np.int64)
    vertex[group] = t.corners
    return {"shading_vertex": _u32(vertex), "shading_triangles": _u32(group[corner])}


def _digest(mesh: Mesh, group: Ints | None) -> str:
    """Names connectivity and shading groups together: both travel once."""
    own = mesh.topology.digest.hex()
    return own if group is None else f"{own}-{hashlib.blake2b(group.tobytes(), digest_size=8).hexdigest()}"


def _positions(mesh: Mesh, group: Ints | None) -> dict[str, Any]:
    check()
    t = mesh.topology
    return {"digest": _digest(mesh, group), "vertex_count": t.vertex_count, "face_count": t.face_count,
            "positions": memoryview(mesh.points.astype("<f4")), **dict.fromkeys(_ONCE), "vertex_ids": None, "face_ids": None,
            "uv": None}


def part_values(evaluation: Evaluation, have: Collection[str], with_surface: bool = True,
                with_ids: bool = False) -> dict[str, Any]:
    """Cage, surface where it differs, and their triangles; what is sent along is had from then on."""
    check()
    cage, surface = evaluation.cage, evaluation.surface
    t = surface.mesh.topology
    live = with_surface and surface.mesh is not cage.mesh and surface.key != cage.key
    shown = _curve_packet(surface.curve, have) if surface.curve is not None else \
        surface_packet(evaluation, have) if live else None
    return {"cage": cage_packet(cage.mesh, have, with_ids=with_ids), "surface": shown,
            "triangles": t.corner_count - 2 * t.face_count}


def part_packet(evaluation: Evaluation, have: Collection[str], with_surface: bool = True, trial: StepResult | None = None,
                above: Mesh | None = None, others: dict[str, Any] | None = None) -> bytes:
    """A whole answer: the part, what a trial step told, and other parts that follow the trial."""
    vertices = evaluation.surface.mesh.topology.vertex_count + evaluation.cage.mesh.topology.vertex_count
    room = 12 * vertices + 100_000  # so that the packer need not move as it grows
    values = part_values(evaluation, have, with_surface, with_ids=trial is None)
    values |= {"faces_before": trial.faces_before if trial else None, "faces_after": trial.faces_after if trial else None,
               "notes": list(trial.notes) if trial else [], "merges": _merges(trial), "soft": _soft(above, trial),
               "others": others or {}}
    return bytes(msgpack.packb(values, buf_size=room))


def _soft(above: Mesh | None, trial: StepResult | None) -> dict[str, bytes] | None:
    """Weights of a trial with soft selection, for the vertices of the mesh it acts on."""
    if above is None or trial is None:
        return None
    found = kind_of(trial.step).influence(to_metres(trial.step, METRES[trial.unit]), above, trial.state.picked)
    if found is None:
        return None
    vertex, weight = found
    return {"vertex": _u32(vertex), "weight": weight.astype("<f4").tobytes()}


def _merges(trial: StepResult | None) -> int:
    """Vertices that give way to others."""
    plan = trial.state.plan if trial is not None else None
    return sum(m.old.size for m in plan.draft.merged if m.domain == "vertex") if plan is not None else 0
