"""Quads recovered from pairs of triangles that lie in one plane."""

from __future__ import annotations

import numpy as np

from ..mesh.geometry import cross, unit
from ..mesh.mesh import Floats, Mesh
from ..mesh.topology import Ints

FLAT = np.cos(np.radians(1.0))


def pair_triangles(mesh: Mesh) -> tuple[Ints, Ints, Ints]:
    """Triangles joined in pairs over an edge that is flat within 1°, those that make the squarest quads first.

    Of the edges of a triangle only one can be left out. Each round takes all pairs that are the best choice of both their
    triangles; ties go to the lower edge. Only quads whose every corner turns the same way are made.

    Returns:
        offsets (F' + 1,) and corners (C',) of the faces, and (F',) the lower of the old faces each one is made of; a quad
        stands where its first triangle stood.
    """
    t = mesh.topology
    edges, first, second = _candidates(mesh)
    quads = _quads(mesh, edges, first, second)
    quality = _squareness(mesh.points[quads])
    good = quality > 0
    first, second, quads, quality = first[good], second[good], quads[good], quality[good]
    order = np.argsort(-np.round(quality, 9), kind="stable")
    rank = np.empty(order.size, np.int64)
    rank[order] = np.arange(order.size)
    free = np.ones(t.face_count, bool)
    taken = np.zeros(order.size, bool)
    open_ = np.arange(order.size)
    while open_.size:
        best = np.full(t.face_count, order.size, np.int64)
        np.minimum.at(best, first[open_], rank[open_])
        np.minimum.at(best, second[open_], rank[open_])
        now = open_[(best[first[open_]] == rank[open_]) & (best[second[open_]] == rank[open_])]
        taken[now] = True
        free[first[now]] = free[second[now]] = False
        open_ = open_[free[first[open_]] & free[second[open_]]]
    return _faces(mesh, first[taken], second[taken], quads[taken])


def _candidates(mesh: Mesh) -> tuple[Ints, Ints, Ints]:
    """Edges between two triangles in one plane, and the triangles, the lower first."""
    t = mesh.topology
    corner = np.flatnonzero((t.twin >= 0) & (np.arange(t.corner_count) < t.twin))
    a, b = t.corner_face[corner], t.corner_face[t.twin[corner]]
    normals = mesh.normals
    flat = (t.sides[a] == 3) & (t.sides[b] == 3) & (np.einsum("ij,ij->i", normals[a], normals[b]) >= FLAT)
    return corner[flat], a[flat], b[flat]


def _quads(mesh: Mesh, corner: Ints, first: Ints, second: Ints) -> Ints:
    """(n, 4) vertices of each pair without the edge between them, from the first vertex of the edge on."""
    t = mesh.topology
    after = t.next_corner
    start, end = t.corners[corner], t.corners[after[corner]]
    tip = t.corners[after[after[corner]]]
    other = t.corners[after[after[t.twin[corner]]]]
    return np.stack([start, other, end, tip], axis=1)


def _squareness(p: Floats) -> Floats:
    """(n,) one for a rectangle, less the further the widest corner is from a right angle; 0 where a corner turns back."""
    along = unit((np.roll(p, -1, axis=1) - p).reshape(-1, 3)).reshape(p.shape)
    back = -np.roll(along, 1, axis=1)
    turn = cross(np.roll(along, 1, axis=1).reshape(-1, 3), along.reshape(-1, 3)).reshape(p.shape)
    whole = cross(p[:, 2] - p[:, 0], p[:, 3] - p[:, 1])
    convex = (np.einsum("nkj,nj->nk", turn, whole) > 0).all(axis=1)
    leaning = np.abs(np.einsum("nkj,nkj->nk", along, back)).max(axis=1)
    out: Floats = np.where(convex & (leaning < 0.999), 1.0 - leaning, 0.0)
    return out


def _faces(mesh: Mesh, first: Ints, second: Ints, quads: Ints) -> tuple[Ints, Ints, Ints]:
    t = mesh.topology
    sides = t.sides.copy()
    sides[first], sides[second] = 4, 0
    quad_of = np.full(t.face_count, -1, np.int64)
    quad_of[first] = np.arange(first.size)
    faces = np.flatnonzero(sides)
    offsets = np.concatenate([[0], np.cumsum(sides[faces])])
    corners = np.empty(offsets[-1], np.int64)
    made = quad_of[faces] >= 0
    corners[(offsets[:-1][made][:, None] + np.arange(4)).ravel()] = quads[quad_of[faces[made]]].ravel()
    kept = np.flatnonzero(~made)
    at = np.repeat(offsets[:-1][kept], sides[faces[kept]])
    within = np.arange(at.size) - np.repeat(np.cumsum(sides[faces[kept]]) - sides[faces[kept]], sides[faces[kept]])
    corners[at + within] = t.corners[t.corners_of(faces[kept])]
    return offsets, corners, faces
