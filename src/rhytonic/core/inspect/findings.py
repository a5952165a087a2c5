"""Runs the inspections over an evaluated part and tells which step each finding came with."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np

from ..mesh.mesh import Mesh
from ..mesh.names import Ids, from_hex, hex_of
from ..mesh.topology import Ints
from ..pick.resolve import Kind as ElementKind
from ..recipe.state import Evaluation, State, StepResult
from .by_sides import ngons, triangles
from .connection import loose_vertices, non_manifold_edges, open_borders
from .doubled import coincident_faces, doubled_vertices
from .folded import sharp_turns, turned_against
from .inner_face import inner_faces
from .long_face import long_faces
from .self_crossing import self_crossings
from .thin_wall import thin_walls
from .thresholds import DEFAULT, Limits
from .turned_face import turned_faces
from .wrapping import no_uv, overlapping_islands, stretched_faces, turned_islands, uneven_density
from .zero_area_face import zero_area_faces

Look = Callable[[Mesh, Limits], Ints]
#: inspections by kind of finding: what its elements are, and what finds them
INSPECTIONS: dict[str, tuple[ElementKind, Look]] = {
    "zero_area_face": ("faces", zero_area_faces), "doubled_vertex": ("vertices", doubled_vertices),
    "coincident_faces": ("faces", coincident_faces), "loose_vertex": ("vertices", loose_vertices),
    "open_border": ("edges", open_borders), "non_manifold_edge": ("edges", non_manifold_edges),
    "turned_face": ("faces", turned_faces), "inner_face": ("faces", inner_faces), "thin_wall": ("faces", thin_walls),
    "self_crossing": ("faces", self_crossings), "long_face": ("faces", long_faces), "ngon": ("faces", ngons),
    "triangle": ("faces", triangles),
    "turned_island": ("faces", turned_islands), "overlapping_islands": ("faces", overlapping_islands),
    "stretched_face": ("faces", stretched_faces), "uneven_density": ("faces", uneven_density), "no_uv": ("faces", no_uv)}
#: those asked of the smooth surface too, where the cage does not show them
OF_SURFACE = ("zero_area_face", "thin_wall", "self_crossing", "turned_face")
#: those that are a matter of the cage, whatever live steps make of it
OF_THE_CAGE = ("long_face", "ngon", "triangle", "apart_at_mirror")
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
    if surface.key == cage.key or surface.curve is not None:
        return []
    source, names = evaluation.cage_face_of_surface, cage.mesh.names
    told = {f.kind for f in known}
    last = evaluation.results[-1].step
    out = []

    def tell(kind: str, faces: Ints) -> None:
        above = np.unique(source[faces])
        above = above[above >= 0]
        if above.size:
            out.append(_finding(kind, "faces", names.face[above][:, None], last.id or last.kind))

    for kind in OF_SURFACE:
        if kind not in told:
            tell(kind, INSPECTIONS[kind][1](surface.mesh, limits))
    for kind in ("open_border", "non_manifold_edge"):
        if kind not in told and not (cage.mesh.topology.edge_face_count != 2).any():
            t = surface.mesh.topology
            bad = np.isin(t.corner_edge, INSPECTIONS[kind][1](surface.mesh, limits))
            tell(kind, t.corner_face[bad])
    for kind, above in _folds(evaluation).items():
        if above.size:
            out.append(_finding(kind, "faces", names.face[above][:, None], last.id or last.kind))
    return out


def _folds(evaluation: Evaluation) -> dict[str, Ints]:
    """Faces of the cage over which smooth surfaces fold, and those over which they turn where nothing is sharp."""
    begin = evaluation.part.cage_end()
    of_cage = np.arange(evaluation.cage.mesh.topology.face_count)
    folded, sharp = [of_cage[:0]], [of_cage[:0]]
    for number in range(begin, len(evaluation.results)):
        result = evaluation.results[number]
        if result.error is not None or result.skipped or result.state.plan is None:
            continue
        above, made = evaluation.after(number).mesh, result.state.mesh
        source = result.state.plan.draft.face_source
        if result.step.kind == "subdivision" and made.topology is not above.topology:
            turned = source[turned_against(made, above, source)]
            folded.append(of_cage[turned])
            if not turned.size:
                sharp.append(of_cage[source[sharp_turns(made, above)]])
        known = (source >= 0) & (source < of_cage.size)
        of_cage = np.where(known, of_cage[np.where(known, source, 0)] if of_cage.size else -1, -1)
    return {kind: (at := np.unique(np.concatenate(found)))[at >= 0]
            for kind, found in (("folded_surface", folded), ("sharp_surface", sharp))}


def as_handed_over(evaluation: Evaluation, found: list[Finding], limits: Limits = DEFAULT) -> list[Finding]:
    """Findings of the cage that are still so in the part as it is handed over: a half has no hole under its mirror, and what
    is open is not under a live shell. How many sides faces have is a matter of the cage alone."""
    surface, cage = evaluation.surface, evaluation.cage
    if surface.key == cage.key or surface.curve is not None:
        return found
    names, t = cage.mesh.names, surface.mesh.topology
    out = []
    for finding in found:
        if finding.kind in OF_THE_CAGE:
            out.append(finding)
            continue
        bad = INSPECTIONS[finding.kind][1](surface.mesh, limits)
        if not bad.size:
            continue
        if finding.elements == "edges":
            lines, of = evaluation.surface_lines
            number = t.find_edges(lines[:, 0], lines[:, 1])
            still = np.unique(of[np.isin(number, bad) & (of >= 0)])
            keys = np.sort(names.vertex[cage.mesh.topology.edges[still]], axis=1)
        else:
            above = evaluation.cage_face_of_surface if finding.elements == "faces" else evaluation.cage_vertex_of_surface
            still = np.unique(above[bad])
            keys = names.of("face" if finding.elements == "faces" else "vertex")[still[still >= 0]][:, None]
        own = from_hex([i for row in finding.ids for i in row.split("-")]).reshape(len(finding.ids), -1)
        if finding.elements == "edges":
            own = np.sort(own, axis=1)
        left = own[_among(own, keys)]
        if len(left):
            out.append(_finding(finding.kind, finding.elements, left, finding.step))
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
