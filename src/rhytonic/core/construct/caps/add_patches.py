"""Puts patches into a mesh: what fill and quad_cap share."""

from __future__ import annotations

import numpy as np

from ...mesh.mesh import Floats, Mesh
from ...mesh.names import Domain, Ids
from ...mesh.topology import Ints, Topology
from ...step.draft import Born, Draft
from .patches import Patch


def add_patches(mesh: Mesh, keep: Ints, patches: list[tuple[Patch, Ints, Ints, int]]) -> Draft:
    """The mesh cut down to the faces ``keep`` with patches added.

    Each patch comes with the vertices (n,) of its loop, the corners (n,) its corner values come from, and the face its
    faces take after.
    """
    t, names = mesh.topology, mesh.names
    corner = t.corners_of(keep)
    loops: list[Ints] = [t.corners[corner]]
    sides: list[Ints] = [t.sides[keep]]
    source: list[Ints] = [corner]
    parents, ordinals, owners, added = [], [], [], []  # parents: (owner face, two vertices of the loop)
    count = t.vertex_count
    for p, loop, corners, face in patches:  # once for each loop of the pick
        number = np.concatenate([loop, count + np.arange(p.added)])
        loops.append(number[p.faces].ravel())
        sides.append(np.full(len(p.faces), p.faces.shape[1]))
        source.append(np.concatenate([corners, np.full(p.added, corners[0])])[p.faces].ravel())
        at = int(np.argmin(names.vertex[loop]))
        own = np.array([face, loop[at], loop[(at + 1) % loop.size]], np.int64)
        parents.append(np.tile(own, (len(p.faces), 1)))
        ordinals.append(np.arange(len(p.faces)))
        owners.append(np.full(len(p.faces), face))
        added.append(np.column_stack([np.tile(own, (p.added, 1)), np.arange(p.added)]))
        count += p.added
    total = np.concatenate(sides)
    topology = Topology.of(count, np.concatenate([[0], np.cumsum(total)]), np.concatenate(loops))
    new_faces = keep.size + np.arange(total.size - keep.size)
    parent, fresh = np.concatenate(parents), np.concatenate(added).astype(np.int64)
    v = np.arange(t.vertex_count)
    new_v = np.arange(t.vertex_count, count)
    of: tuple[Domain, ...] = ("face", "vertex", "vertex")

    def ids(rows: Ints) -> Ids:
        return np.column_stack([names.face[rows[:, 0]], names.vertex[rows[:, 1]], names.vertex[rows[:, 2]]])

    born = (Born("face", "patch", new_faces, ids(parent), of, np.concatenate(ordinals)[:, None]),
            Born("vertex", "patch", new_v, ids(fresh), of, fresh[:, 3:]))
    return Draft(topology, np.concatenate([v, np.full(new_v.size, -1)]), np.concatenate([keep, np.full(new_faces.size, -1)]),
                 np.concatenate([v, fresh[:, 1]]), np.concatenate([keep, np.concatenate(owners)]), np.concatenate(source),
                 born, edges=lambda: _inner(topology, new_faces),
                 data=[(p, loop) for p, loop, _, _ in patches])


def _inner(topology: Topology, faces: Ints) -> dict[str, Ints]:
    """Edges that lie between two faces of the patches."""
    edges, count = np.unique(topology.corner_edge[topology.corners_of(faces)], return_counts=True)
    return {"patch": topology.edges[edges[count == 2]]}


def patched_points(draft: Draft, mesh: Mesh) -> Floats:
    """(V', 3) the old points and those of the patches."""
    return np.concatenate([mesh.points, *(p.points(mesh.points[loop]) for p, loop in draft.data)])
