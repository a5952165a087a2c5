"""Rings of edges across quads, oriented alike all round, for the edits that cut them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..errors import NotManifold
from ..mesh.geometry import Floats
from ..mesh.names import Ids
from ..mesh.topology import Ints, Topology, components


@dataclass(frozen=True)
class Rings:
    """The edges to cut, oriented alike round each ring.

    Attributes:
        edges: (n,) cut edges.
        start, end: (n,) their ends in the orientation of their ring.
        named: (n,) the edge of the ring whose lower end the fractions run from.
        number: (E,) place of each edge among the cut ones, −1 for the others.
    """

    edges: Ints
    start: Ints
    end: Ints
    named: Ints
    number: Ints

    def along(self, t: Topology, corner: Ints, share: Floats) -> Floats:
        """(k, m) fractions on the cut edges of the given corners, from ``share`` (n, m), as their half-edges run."""
        at = self.number[t.corner_edge[corner]]
        ahead = (t.corners[corner] == self.start[at])[:, None]
        return np.where(ahead, share[at], 1.0 - share[at][:, ::-1])

    def across(self, t: Topology, first: Ints, share: Floats) -> tuple[Floats, Floats]:
        """Fractions along the first and the second edge of quads cut both ways: the mean of those on either side."""
        def mean(corner: Ints) -> Floats:
            return (self.along(t, corner, share) + 1.0 - self.along(t, corner + 2, share)[:, ::-1]) / 2

        return mean(first), mean(first + 1)

    def points(self, t: Topology, corner: Ints, m: int) -> Ints:
        """(k, m) numbers of the points on the cut edges of the given corners, as their half-edges run, counted from V on."""
        at = self.number[t.corner_edge[corner]]
        ahead = t.corners[corner] == self.start[at]
        k = np.arange(m)
        return t.vertex_count + at[:, None] * m + np.where(ahead[:, None], k, m - 1 - k)


def find_rings(t: Topology, seeds: Ints, ids: Ids) -> Rings:
    """Rings through the seeds; two nodes an edge, one for each way along it, joined across quads."""
    way = (t.corners != t.edges[:, 0][t.corner_edge]).astype(np.int64)
    c = t.offsets[:-1][t.sides == 4]
    a, b = np.concatenate([c, c + 1]), np.concatenate([c + 2, c + 3])
    ea, eb, wa, wb = t.corner_edge[a], t.corner_edge[b], way[a], way[b]
    label = components(2 * t.edge_count, np.concatenate([2 * ea + wa, 2 * ea + 1 - wa]),
                       np.concatenate([2 * eb + 1 - wb, 2 * eb + wb]))
    low_first = ids[t.edges[seeds, 0]] < ids[t.edges[seeds, 1]]
    along = label[2 * seeds + np.where(low_first, 0, 1)]
    against = label[2 * seeds + np.where(low_first, 1, 0)]
    if (along == against).any():
        raise NotManifold("the ring of a picked edge comes back to it the other way round, so it cannot be cut", "through")
    named_of: dict[int, tuple[int, int]] = {}
    order = np.lexsort((ids[t.edges[seeds]].max(axis=1), ids[t.edges[seeds]].min(axis=1)))
    for i in order:  # bounded by the pick: the first edge of each ring names it
        if int(along[i]) not in named_of and int(against[i]) not in named_of:
            named_of[int(along[i])] = (int(seeds[i]), int(i))
    name = np.full(int(label.max()) + 1, -1, np.int64)
    for ring, (edge, _) in named_of.items():
        name[ring] = edge
    forward, backward = name[label[0::2]], name[label[1::2]]
    edges = np.flatnonzero((forward >= 0) | (backward >= 0))
    ahead = forward[edges] >= 0
    number = np.full(t.edge_count, -1, np.int64)
    number[edges] = np.arange(edges.size)
    ends = t.edges[edges]
    return Rings(edges, np.where(ahead, ends[:, 0], ends[:, 1]), np.where(ahead, ends[:, 1], ends[:, 0]),
                  np.where(ahead, forward[edges], backward[edges]), number)
