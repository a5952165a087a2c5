"""Runs the inspections over an evaluated part and tells which step each finding came with."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..mesh.mesh import Mesh
from ..mesh.names import Ids, hex_of
from ..mesh.topology import Ints
from ..pick.resolve import Kind as ElementKind
from ..recipe.state import Evaluation, State, StepResult
from .by_sides import ngons, triangles
from .connection import loose_vertices, non_manifold_edges, open_borders
from .doubled import coincident_faces, doubled_vertices
from .inner_face import inner_faces
from .limits import DEFAULT, Limits
from .long_face import long_faces
from .self_crossing import self_crossings
from .thin_wall import thin_walls
from .turned_face import turned_faces
from .zero_area_face import zero_area_faces

Look = Callable[[Mesh, Limits], Ints]
#: inspections by kind of finding: what its elements are, and what finds them
INSPECTIONS: dict[str, tuple[ElementKind, Look]] = {
    "zero_area_face": ("faces", zero_area_faces), "doubled_vertex": ("vertices", doubled_vertices),
    "coincident_faces": ("faces", coincident_faces), "loose_vertex": ("vertices", loose_vertices),
    "open_border": ("edges", open_borders), "non_manifold_edge": ("edges", non_manifold_edges),
    "turned_face": ("faces", turned_faces), "inner_face": ("faces", inner_faces), "thin_wall": ("faces", thin_walls),
    "self_crossing": ("faces", self_crossings), "long_face": ("faces", long_faces), "ngon": ("faces", ngons),
    "triangle": ("faces", triangles)}
#: those asked of the smooth surface too, where the cage does not show them
OF_SURFACE = ("zero_area_face", "thin_wall", "self_crossing", "turned_face")
MOST_IDS = 10_000


@dataclass(frozen=True)
class Finding:
    """What is wrong, with which elements, since which step. An edge is told by the ids of its two ends."""

    kind: str
    elements: ElementKind
    ids: list[str]
    count: int
    step: str

    def plain(self) -> dict[str, Any]:
        """The finding as the report tells it."""
        return {"kind": self.kind, "count": self.count, "ids": self.ids, "step": self.step}


def inspect(results: list[StepResult], limits: Limits = DEFAULT) -> list[Finding]:
    """Findings of the last result, each blamed on the step after which its elements first were so."""
    found: list[Finding] = []
    if not results or results[-1].state.curve is not None:
        return found
    for kind, (elements, look) in INSPECTIONS.items():
        bad = _keys(results[-1].state, elements, look, limits)
        for number in range(len(results) - 1, -1, -1):
            if not len(bad):
                break
            before = _keys(results[number - 1].state, elements, look, limits) if number else bad[:0]
            older = _among(bad, before)
            step = results[number].step
            if (~older).any():
                found.append(_finding(kind, elements, bad[~older], step.id or step.kind))
            bad = bad[older]
    order = {r.step.id or r.step.kind: i for i, r in enumerate(results)}
    return sorted(found, key=lambda f: order[f.step])


def inspect_surface(evaluation: Evaluation, limits: Limits, known: list[Finding]) -> list[Finding]:
    """Findings of the surface, told by the cage faces they came from, that the cage itself does not show."""
    surface, cage = evaluation.surface, evaluation.cage
    if surface.key == cage.key:
        return []
    source, names = evaluation.cage_face_of_surface, cage.mesh.names
    told = {f.kind for f in known}
    last = evaluation.results[-1].step
    out = []
    for kind in OF_SURFACE:
        if kind in told:
            continue
        faces = INSPECTIONS[kind][1](surface.mesh, limits)
        above = np.unique(source[faces])
        above = above[above >= 0]
        if above.size:
            out.append(_finding(kind, "faces", names.face[above][:, None], last.id or last.kind))
    return out


def _finding(kind: str, elements: ElementKind, keys: Ids, step: str) -> Finding:
    columns = [hex_of(keys[:MOST_IDS, k]) for k in range(keys.shape[1])]
    return Finding(kind, elements, ["-".join(row) for row in zip(*columns, strict=True)], len(keys), step)


def _keys(state: State, elements: ElementKind, look: Look, limits: Limits) -> Ids:
    """(n, 1) ids of what an inspection finds, (n, 2) for edges."""
    mesh = state.mesh
    found = look(mesh, limits)
    if elements == "edges":
        return np.sort(mesh.names.vertex[mesh.topology.edges[found]], axis=1) if found.size else np.zeros((0, 2), np.uint64)
    if not found.size:
        return np.zeros((0, 1), np.uint64)
    return mesh.names.of("face" if elements == "faces" else "vertex")[found][:, None]


def _among(rows: Ids, others: Ids) -> np.ndarray:
    """(n,) whether each row is one of the others."""
    if not len(others):
        return np.zeros(len(rows), bool)
    if rows.shape[1] == 1:
        return np.isin(rows[:, 0], others[:, 0])
    known = {tuple(r) for r in others.tolist()}
    return np.array([tuple(r) in known for r in rows.tolist()], bool)
