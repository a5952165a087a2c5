"""How points on a cut are called, and which edges and corners they lie on."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.sparse import csr_array

from ...lineage.history import Renaming
from ...mesh import names
from ...mesh.geometry import lengths
from ...mesh.mesh import Floats, Mesh
from ...mesh.names import Domain, Ids
from ...mesh.topology import Ints, Topology
from .polygons import Pieces

#: a point no further off an edge than this share of its length lies on it
_ON = 1e-7


@dataclass(frozen=True)
class AlikePoints:
    """Points named alike: ``point`` (n,) of the result, by their parents in the whole mesh and an index.

    ``role`` is empty for points that stand where another does already; ``source`` (n,) is the vertex each takes after.
    """

    role: str
    point: Ints
    parents: tuple[tuple[Domain, Ints], ...]
    index: Ints
    source: Ints


@dataclass(frozen=True)
class CutPoints:
    """The points of a boolean that are no vertices of its inputs.

    Attributes:
        groups: their names; one after the other they are the new vertices.
        edge: (n,) edge of the whole mesh each point of the result lies on, −1 for none; ``share`` how far along it.
        stands_for: (n,) vertex of the whole mesh each point is or doubles, −1 for points on the cut.
    """

    groups: tuple[AlikePoints, ...]
    edge: Ints
    share: Floats
    stands_for: Ints

    @property
    def order(self) -> Ints:
        """(n,) points in the order of the new vertices."""
        return np.concatenate([g.point for g in self.groups]) if self.groups else np.zeros(0, np.int64)

    def ids(self, mesh: Mesh, step: str, count: int, other: Renaming = lambda domain, ids: ids) -> Ids:
        """(count,) ids of the points on the cut; the largest word for all others."""
        out = np.full(count, np.iinfo(np.uint64).max, np.uint64)
        for g in self.groups:
            if g.role:
                parents = np.stack([other(d, mesh.names.of(d)[number]) for d, number in g.parents], axis=1)
                out[g.point] = names.name(step, "vertex", g.role, g.point.size, parents, g.index)
        return out

    def old_edges(self, t: Topology, topology: Topology, point: Ints) -> Ints:
        """(E',) edge of the whole mesh ``t`` that each edge of the result lies on, −1 for none; ``point`` (V',) tells the
        result's vertices as points."""
        ends = point[topology.edges]
        vertex, on = self.stands_for[ends], self.edge[ends]
        old = vertex >= 0
        out = np.where(old.all(axis=1), t.find_edges(np.maximum(vertex[:, 0], 0), np.maximum(vertex[:, 1], 0)), -1)
        for k in (0, 1):  # one end on an edge, the other at its end
            mixed = old[:, 1 - k] & (on[:, k] >= 0)
            at_end = (t.edges[np.maximum(on[:, k], 0)] == vertex[:, 1 - k][:, None]).any(axis=1)
            out = np.where(mixed & at_end, on[:, k], out)
        both = (on >= 0).all(axis=1) & (on[:, 0] == on[:, 1])
        return np.where(both, on[:, 0], out)

    def vertex_weights(self, t: Topology, point: Ints) -> csr_array:
        """(V', V) what each vertex of the result takes of those before."""
        on = self.edge[point]
        source = self.stands_for[point].copy()
        for g in self.groups:
            place = np.full(self.edge.size, -1, np.int64)
            place[g.point] = g.source
            source = np.where(source < 0, place[point], source)
        cut = on >= 0
        n = point.size
        ends = t.edges[on[cut]]
        row = np.concatenate([np.flatnonzero(~cut), np.repeat(np.flatnonzero(cut), 2)])
        column = np.concatenate([source[~cut], ends.ravel()])
        share = self.share[point][cut]
        value = np.concatenate([np.ones(n - int(cut.sum())), np.stack([1 - share, share], axis=1).ravel()])
        return csr_array((value, (row, column)), shape=(n, t.vertex_count))


def name_cut(mesh: Mesh, found: Pieces, operand: Ints) -> CutPoints:
    """Names for the points of a boolean's result; ``operand`` (F,) tells which input a face of the whole mesh came from.

    A point on an edge is named by the edge and the face that cuts it, ranked along the edge; one where three faces meet by
    those; one that stands where another does already by the vertex there.
    """
    t = mesh.topology
    n = len(found.points)
    edge, share = _on_edges(mesh, found, operand)
    stands_for = np.where(found.vertex >= 0, found.vertex, found.twice)
    cut = np.unique(found.around[:, 0])
    cut = cut[stands_for[cut] < 0]
    face_id = mesh.names.face
    cutter = _lowest_face(found.around, n, face_id, operand, np.where(edge >= 0, operand[_face_of(t, edge)], -1))
    on = cut[(edge[cut] >= 0) & (cutter[cut] >= 0)]
    groups = []
    if on.size:
        ends = t.edges[edge[on]]
        ids = mesh.names.vertex[ends]
        swap = ids[:, 0] > ids[:, 1]
        low, high = np.where(swap, ends[:, 1], ends[:, 0]), np.where(swap, ends[:, 0], ends[:, 1])
        along = np.where(swap, 1 - share[on], share[on])
        rank = _ranks(np.stack([edge[on], cutter[on]], axis=1), along[:, None])
        near = np.where(share[on] < 0.5, ends[:, 0], ends[:, 1])
        groups.append(AlikePoints("cut", on, (("vertex", low), ("vertex", high), ("face", cutter[on])), rank[:, None], near))
    edge[np.setdiff1d(cut, on)] = -1
    inside = np.setdiff1d(cut, on)
    if inside.size:
        three = _three_faces(found.around, inside, face_id)
        rank = _ranks(three, found.points[inside])
        parents: tuple[tuple[Domain, Ints], ...] = tuple(("face", three[:, k]) for k in range(3))
        groups.append(AlikePoints("cut", inside, parents, rank[:, None], t.corners[t.offsets[three[:, 0]]]))
    twice = np.flatnonzero(found.twice >= 0)
    twice = twice[found.used[twice]]
    if twice.size:
        vertex = found.twice[twice]
        lowest = _three_faces(found.around, twice, face_id)
        rank = _ranks(vertex[:, None], face_id[lowest].astype(float)) + 1
        groups.append(AlikePoints("", twice, (("vertex", vertex),), rank[:, None], vertex))
    return CutPoints(tuple(groups), edge, share, stands_for)


def _face_of(t: Topology, edge: Ints) -> Ints:
    order, starts = t.edge_corners
    return t.corner_face[order[starts[np.maximum(edge, 0)]]]


def _on_edges(mesh: Mesh, found: Pieces, operand: Ints) -> tuple[Ints, Floats]:
    """(n,) edge each point lies on, and how far along it: an edge both whose faces meet at the point."""
    t = mesh.topology
    n = len(found.points)
    edge, share = np.full(n, -1, np.int64), np.zeros(n)
    point, face = found.around[:, 0], found.around[:, 1]
    if not point.size:
        return edge, share
    corner = t.corners_of(face)
    key, count = np.unique(np.repeat(point, t.sides[face]) * t.edge_count + t.corner_edge[corner], return_counts=True)
    key = key[count == 2]
    p, e = key // t.edge_count, key % t.edge_count
    a, b = mesh.points[t.edges[e, 0]], mesh.points[t.edges[e, 1]]
    way = b - a
    size2 = np.einsum("ij,ij->i", way, way)
    along = np.einsum("ij,ij->i", found.points[p] - a, way) / np.maximum(size2, 1e-300)
    off = lengths(found.points[p] - (a + along[:, None] * way))
    near = (off <= _ON * np.sqrt(size2)) & (along > -_ON) & (along < 1 + _ON)
    p, e, along, off = p[near], e[near], along[near], off[near]
    order = np.lexsort((off, operand[_face_of(t, e)], p))
    first = order[np.unique(p[order], return_index=True)[1]]
    edge[p[first]], share[p[first]] = e[first], np.clip(along[first], 0.0, 1.0)
    return edge, share


def _lowest_face(around: Ints, n: int, ids: Ids, operand: Ints, not_of: Ints) -> Ints:
    """(n,) of the faces round each point that come from another input than ``not_of``, the one with the lowest id; −1."""
    out = np.full(n, -1, np.int64)
    other = operand[around[:, 1]] != not_of[around[:, 0]]
    point, face = around[other, 0], around[other, 1]
    order = np.lexsort((ids[face], point))
    kept, first = np.unique(point[order], return_index=True)
    out[kept] = face[order][first]
    return out


def _three_faces(around: Ints, points: Ints, ids: Ids) -> Ints:
    """(m, 3) the faces with the lowest ids that meet at each point, the last repeated where there are fewer."""
    order = np.lexsort((ids[around[:, 1]], around[:, 0]))
    point, face = around[order, 0], around[order, 1]
    start = np.searchsorted(point, points)
    end = np.searchsorted(point, points, "right")
    out: Ints = face[np.minimum(start[:, None] + np.arange(3), end[:, None] - 1)]
    return out


def _ranks(keys: Ints, along: Floats) -> Ints:
    """(n,) place of each row among those of the same keys, ordered by ``along`` (n, k)."""
    order = np.lexsort((*along.T[::-1], *keys.T[::-1]))
    ordered = keys[order]
    new = np.ones(len(keys), bool)
    new[1:] = (ordered[1:] != ordered[:-1]).any(axis=1)
    start = np.maximum.accumulate(np.where(new, np.arange(len(keys)), 0))
    out = np.empty(len(keys), np.int64)
    out[order] = np.arange(len(keys)) - start
    return out
