"""Rings of edges across quads, oriented alike all round, for the edits that cut them."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from ...compiled import INTS, NEW_INTS, YES, compiled
from ...errors import NotManifold
from ...mesh.geometry import Floats
from ...mesh.names import Ids
from ...mesh.topology import Ints, Topology


@dataclass(frozen=True)
class Rings:
    """The edges to cut, oriented alike round each ring.

    Attributes:
        edges: (n,) cut edges.
        start, end: (n,) their ends in the orientation of their ring.
        named: (n,) the edge of the ring whose lower end the fractions run from.
        number: (E,) place of each edge among the cut ones, −1 for the others.
        told: (n,) the end of the naming edge that fractions run from, −1 where its position says it.
    """

    edges: Ints
    start: Ints
    end: Ints
    named: Ints
    number: Ints
    told: Ints

    def begins(self, edges: Ints, ends: Ints) -> Rings:
        """These rings with fractions that run from the given ends of naming edges."""
        order = np.argsort(edges)
        at = np.minimum(np.searchsorted(edges[order], self.named), max(edges.size - 1, 0))
        known = edges[order][at] == self.named if edges.size else np.zeros(self.named.size, bool)
        return replace(self, told=np.where(known, ends[order][at], -1) if edges.size else self.told)

    def along(self, t: Topology, corner: Ints, share: Floats) -> Floats:
        """(k, m) fractions on the cut edges of the given corners, from ``share`` (n, m), as their half-edges run."""
        at = self.number[t.corner_edge[corner]]
        ahead = (t.corners[corner] == self.start[at])[:, None]
        return np.where(ahead, share[at], 1.0 - share[at][:, ::-1])

    def across(self, t: Topology, first: Ints, share: Floats) -> tuple[Floats, Floats]:
        """(q,) each: fractions along the first and the second edge of quads cut both ways: the mean of those on either
        side."""
        def mean(corner: Ints) -> Floats:
            return (self.along(t, corner, share) + 1.0 - self.along(t, corner + 2, share)[:, ::-1]) / 2

        return mean(first), mean(first + 1)

    def points(self, t: Topology, corner: Ints, m: int) -> Ints:
        """(k, m) numbers of the points on the cut edges of the given corners, as their half-edges run, counted from V on."""
        at = self.number[t.corner_edge[corner]]
        ahead = t.corners[corner] == self.start[at]
        k = np.arange(m)
        return t.vertex_count + at[:, None] * m + np.where(ahead[:, None], k, m - 1 - k)


def find_rings(t: Topology, seeds: Ints, ids: Ids, named: tuple[Ints, Ints] | None = None) -> Rings:
    """Rings through the seeds, walked from edge to edge. They run from the end with the lower id; where ``named`` tells
    seeds in the order of ids given earlier and the end of the lower, from that.

    Raises:
        NotManifold: a ring comes back to an edge the other way round.
    """
    order = np.lexsort((ids[t.edges[seeds]].max(axis=1), ids[t.edges[seeds]].min(axis=1)))
    low = np.where(ids[t.edges[seeds, 0]] < ids[t.edges[seeds, 1]], t.edges[seeds, 0], t.edges[seeds, 1])
    if named is not None:
        known = np.isin(named[0], seeds)
        place = np.searchsorted(seeds, named[0][known])
        low[place] = named[1][known]
        order = np.concatenate([place, order[~np.isin(order, place)]])
    start, named_by = np.full(t.edge_count, -1), np.full(t.edge_count, -1)
    round_faces = t.corners, t.corner_edge, t.next_corner, t.corner_face, t.sides
    if not _walked(*round_faces, *t.edge_corners, seeds[order], low[order], start, named_by):
        raise NotManifold("the ring of a picked edge comes back to it the other way round, so it cannot be cut", "through")
    edges = np.flatnonzero(named_by >= 0)
    number = np.full(t.edge_count, -1)
    number[edges] = np.arange(edges.size)
    start = start[edges]
    return Rings(edges, start, t.edges[edges].sum(axis=1) - start, named_by[edges], number, np.full(edges.size, -1))


@compiled(YES, INTS, INTS, INTS, INTS, INTS, INTS, INTS, INTS, INTS, NEW_INTS, NEW_INTS)
def _walked(corners: Ints, edge_of: Ints, following: Ints, face: Ints, sides: Ints, by_edge: Ints, starts: Ints, seeds: Ints,
            low: Ints, start: Ints, named: Ints) -> bool:
    """Fill in the start and the naming edge (E,) of every edge of the rings; false where one comes back the other way round.
    Each ring runs as its first seed does, from its end ``low``."""
    waiting = np.empty(len(start), np.int64)
    for i in range(len(seeds)):
        if named[seeds[i]] >= 0:
            continue
        start[seeds[i]], named[seeds[i]] = low[i], seeds[i]
        waiting[0], last = seeds[i], 1
        while last:
            last -= 1
            edge = waiting[last]
            for c in by_edge[starts[edge]:starts[edge + 1]]:
                if sides[face[c]] != 4:
                    continue
                across = following[following[c]]
                other = edge_of[across]
                # the edge opposite runs against this one round the face
                away = corners[following[across]] if corners[c] == start[edge] else corners[across]
                if named[other] < 0:
                    start[other], named[other] = away, seeds[i]
                    waiting[last] = other
                    last += 1
                elif start[other] != away:
                    return False
    return True
