"""Meshes on their way to the browser: MessagePack, index buffers once per connectivity."""

from __future__ import annotations

from collections.abc import Collection
from typing import Any

import msgpack
import numpy as np

from ..core.mesh.mesh import Mesh
from ..core.mesh.triangulate import triangulate
from ..core.recipe.evaluate import Evaluation, StepResult

MEDIA_TYPE = "application/msgpack"


def _u32(values: np.ndarray) -> bytes:
    return values.astype("<u4").tobytes()


def _i32(values: np.ndarray) -> bytes:
    return values.astype("<i4").tobytes()


def cage_packet(mesh: Mesh, have: Collection[str], with_ids: bool) -> dict[str, Any]:
    """The cage with all its edges and, for what stands, its ids."""
    t = mesh.topology
    out = _positions(mesh)
    if out["digest"] not in have:
        triangles, face = triangulate(mesh)
        out |= {"offsets": _u32(t.offsets), "corners": _u32(t.corners), "triangles": _u32(triangles),
                "triangle_face": _u32(face), "edges": _u32(t.edges)}
    if with_ids:
        out |= {"vertex_ids": mesh.names.vertex.astype("<u8").tobytes(), "face_ids": mesh.names.face.astype("<u8").tobytes()}
    return out


def surface_packet(evaluation: Evaluation, have: Collection[str]) -> dict[str, Any]:
    """The surface, its triangles told by the cage face they came from, and the edges that descend from the cage's."""
    mesh = evaluation.surface.mesh
    t = mesh.topology
    out = _positions(mesh)
    if out["digest"] not in have:
        if t.uniform == 4:  # drawn on one diagonal: which one does not show on a fine surface
            quads = t.corners.reshape(-1, 4)
            triangles = np.concatenate([quads[:, [0, 1, 2]], quads[:, [0, 2, 3]]], axis=1).reshape(-1, 3)
            face = np.repeat(np.arange(t.face_count), 2)
        else:
            triangles, face = triangulate(mesh)
        source = evaluation.cage_face_of_surface
        lines, of_cage = evaluation.surface_lines
        out |= {"offsets": None, "corners": None, "triangles": _u32(triangles),
                "triangle_face": _u32(np.maximum(source[face], 0)), "edges": _u32(lines),
                "vertex_cage": _i32(evaluation.cage_vertex_of_surface), "edge_cage": _i32(of_cage)}
    return out


def _positions(mesh: Mesh) -> dict[str, Any]:
    t = mesh.topology
    return {"digest": t.digest.hex(), "vertex_count": t.vertex_count, "face_count": t.face_count,
            "positions": memoryview(mesh.points.astype("<f4")), "offsets": None, "corners": None, "triangles": None,
            "triangle_face": None, "edges": None, "vertex_cage": None, "edge_cage": None, "vertex_ids": None,
            "face_ids": None}


def part_packet(evaluation: Evaluation, have: Collection[str], with_surface: bool = True,
                trial: StepResult | None = None) -> bytes:
    """A whole answer: cage, surface where it differs, and what a trial step told."""
    cage, surface = evaluation.cage, evaluation.surface
    t = surface.mesh.topology
    live = with_surface and surface.mesh is not cage.mesh and surface.key != cage.key
    room = 12 * (t.vertex_count + cage.mesh.topology.vertex_count) + 100_000  # so that the packer need not move as it grows
    return bytes(msgpack.packb({
        "cage": cage_packet(cage.mesh, have, with_ids=trial is None),
        "surface": surface_packet(evaluation, have) if live else None,
        "triangles": t.corner_count - 2 * t.face_count,
        "faces_before": trial.faces_before if trial else None, "faces_after": trial.faces_after if trial else None,
        "notes": list(trial.notes) if trial else [], "merges": _merges(trial)}, buf_size=room))


def _merges(trial: StepResult | None) -> int:
    """Vertices that give way to others."""
    plan = trial.state.plan if trial is not None else None
    return sum(m.old.size for m in plan.draft.merged if m.domain == "vertex") if plan is not None else 0
