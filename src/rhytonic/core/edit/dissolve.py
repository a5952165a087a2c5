"""Dissolve: take edges, vertices or the lines inside a pick of faces away, and leave the surface whole."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from ..construct.rebuild import Rebuild
from ..errors import NotManifold, StepError
from ..mesh.mesh import Floats, Mesh
from ..mesh.patch import faces_at, patch_of
from ..mesh.topology import Ints, Topology, components
from ..params import Flag
from ..pick.resolve import Picked
from ..step.draft import Draft
from ..step.kind import Context, Edit, Remark, StepKind


class Dissolve(Edit):
    kind: Literal["dissolve"]
    keep_points: Flag = False


class DissolveKind(StepKind[Dissolve]):
    """Faces beside a dissolved edge become one; end points left with two edges go, unless ``keep_points``. The face made
    first stays, and stands for the others."""

    word, title, model = "dissolve", "Dissolve", Dissolve
    watches_area = True
    takes = ("vertices", "edges", "faces")

    def plan(self, p: Dissolve, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        assert picked is not None
        t = mesh.topology
        gone = _with_enclosed(t, _inner_edges(t, picked))
        # all that can change are the faces round the ends of these edges
        touched = np.zeros(t.vertex_count, bool)
        touched[t.edges[gone]] = True
        patch = patch_of(t, faces_at(t, touched))
        wanted = np.zeros(t.edge_count, bool)
        wanted[gone] = True
        merged = _merge(patch.topology, np.flatnonzero(wanted[patch.edges]), p.keep_points)
        build = Rebuild(mesh)
        apart = np.ones(t.face_count, bool)
        apart[patch.faces] = False
        build.keep(np.flatnonzero(apart))
        before = int(apart.sum())
        corner = patch.corners[merged.corner]
        build.keep(patch.faces[merged.faces], t.corners[corner], merged.sides, corner, check=True)
        build.merged("face", patch.faces[merged.gave_way], before + merged.into)
        return build.draft()

    def positions(self, p: Dissolve, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        return mesh.points[draft.kept_vertices]

    def remarks(self, p: Dissolve, draft: Draft, mesh: Mesh, made: Mesh, context: Context) -> tuple[Remark, ...]:
        """Closed bodies of more faces that are left with two, back to back."""
        t, before = made.topology, mesh.topology
        faces = np.bincount(t.shells) if t.face_count else np.zeros(0, np.int64)
        shut = np.ones(faces.size, bool)
        shut[t.shells[t.corner_face[t.twin < 0]]] = False
        shells = np.bincount(before.shells)
        for shell in np.flatnonzero((faces == 2) & shut).tolist():
            face = int(np.flatnonzero(t.shells == shell)[0])
            if shells[before.shells[draft.kept_faces[face]]] > 2:
                return (Remark("what is left at {point} is two faces back to back, with nothing between them; dissolve less "
                               "of it", 0.0, tuple(made.face_centres[face].tolist())),)
        return ()


def _inner_edges(t: Topology, picked: Picked) -> Ints:
    """The edges to dissolve: those picked, those at picked vertices, or those between picked faces."""
    two_sided = np.zeros(t.edge_count, bool)
    two_sided[t.corner_edge[t.twin >= 0]] = True
    if picked.kind == "edges":
        wanted = picked.elements
    elif picked.kind == "vertices":
        wanted = np.flatnonzero(np.isin(t.edges, picked.elements).any(axis=1))
    else:
        face = np.zeros(t.face_count, bool)
        face[picked.elements] = True
        beside = np.bincount(t.corner_edge, face[t.corner_face], t.edge_count)
        wanted = np.flatnonzero(beside == 2)
    out: Ints = wanted[two_sided[wanted]]
    if out.size == 0:
        raise NotManifold("none of these edges lies between two faces, so nothing can be dissolved; delete faces instead, "
                          "or pick inner edges", "pick")
    return out


def _with_enclosed(t: Topology, gone: Ints) -> Ints:
    """The edges to dissolve and those that then have one face on both sides."""
    order, starts = t.edge_corners
    beside = np.zeros(t.face_count, bool)
    beside[t.corner_face[np.concatenate([order[starts[:-1][gone]], order[starts[:-1][gone] + 1]])]] = True
    patch = patch_of(t, np.flatnonzero(beside))
    local, edge = patch.topology, patch.edges
    wanted = np.zeros(t.edge_count, bool)
    wanted[gone] = True
    link = np.flatnonzero(wanted[edge][local.corner_edge] & (local.twin >= 0))
    region = components(local.face_count, local.corner_face[link], local.corner_face[local.twin[link]])
    inside = (local.twin >= 0) & (region[local.corner_face] == region[local.corner_face[np.maximum(local.twin, 0)]])
    wanted[edge[local.corner_edge[inside]]] = True
    return np.flatnonzero(wanted)


@dataclass(frozen=True)
class _Merged:
    """Faces that stay, ascending, with their corners and sides; and those that give way, with the places of what they give
    way to."""

    faces: Ints
    corner: Ints
    sides: Ints
    gave_way: Ints
    into: Ints


def _merge(t: Topology, gone: Ints, keep_points: bool) -> _Merged:
    order, starts = t.edge_corners
    one = order[starts[:-1][gone]]
    region = components(t.face_count, t.corner_face[one], t.corner_face[t.twin[one]])
    inside = (t.twin >= 0) & (region[t.corner_face] == region[t.corner_face[np.maximum(t.twin, 0)]])
    touched = np.zeros(int(region.max()) + 1, bool)
    touched[region[t.corner_face[one]]] = True
    inside &= touched[region][t.corner_face]
    corner = np.flatnonzero(~inside)
    following = t.next_corner.copy()
    turning = np.flatnonzero(~inside & inside[following])
    while turning.size:  # past the edges inside, round the vertex: bounded by the largest valence
        following[turning] = t.next_corner[t.twin[following[turning]]]
        turning = turning[inside[following[turning]]]
    rank = np.full(t.corner_count, -1, np.int64)
    loop = components(t.corner_count, corner, following[corner])
    start = np.full(int(loop.max()) + 1, t.corner_count, np.int64)
    np.minimum.at(start, loop[corner], corner)
    start = start[start < t.corner_count]
    loops_of = np.bincount(region[t.corner_face[start]], minlength=int(region.max()) + 1)
    if (loops_of > 1).any():
        raise StepError("the merged face would have a hole in it; leave an edge that joins its outlines", "pick")
    if (loops_of == 0).any():
        raise StepError("a whole shell would dissolve into nothing; leave some of its edges", "pick")
    at, step = start, 0
    while at.size:  # as many rounds as the longest outline has corners
        rank[at] = step
        at = following[at]
        at = at[rank[at] < 0]
        step += 1
    owner = np.full(int(region.max()) + 1, t.face_count, np.int64)
    np.minimum.at(owner, region, np.arange(t.face_count))
    face = owner[region[t.corner_face]]
    # points whose edges went, all but two
    edge_gone = np.zeros(t.edge_count, bool)
    edge_gone[t.corner_edge[inside]] = True
    before = np.bincount(t.edges.ravel(), minlength=t.vertex_count)
    left = before - np.bincount(t.edges[edge_gone].ravel(), minlength=t.vertex_count)
    drop = (left < before) & ((left == 0) | ((left == 2) & (not keep_points)))
    order = corner[np.lexsort((rank[corner], face[corner]))]
    size = np.bincount(face[order], ~drop[t.corners[order]], minlength=t.face_count)
    small = size < 3
    spare = np.zeros(t.vertex_count, bool)  # a face that would lose its shape keeps its points
    spare[t.corners[order[small[face[order]]]]] = True
    drop &= ~(spare & (left > 0))
    order = order[~drop[t.corners[order]]]
    counted = np.bincount(face[order], minlength=t.face_count)
    faces = np.flatnonzero(counted)
    sides = counted[faces]
    gave_way = np.flatnonzero(owner[region] != np.arange(t.face_count))
    new_number = np.full(t.face_count, -1, np.int64)
    new_number[faces] = np.arange(faces.size)
    return _Merged(faces, order, sides, gave_way, new_number[owner[region[gave_way]]])
