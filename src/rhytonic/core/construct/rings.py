"""Rings of edges across quads, oriented alike all round, for the edits that cut them."""

from __future__ import annotations

from dataclasses import dataclass, replace

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


def find_rings(t: Topology, seeds: Ints, ids: Ids, named: tuple[Ints, Ints] | None = None) -> Rings:
    """Rings through the seeds: walked from edge to edge while they are short, or found all at once. They run from the end
    with the lower id; where ``named`` tells seeds in the order of ids given earlier and the end of the lower, from that.

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
    walked = _walked(t, seeds[order], low[order])
    if walked is None:
        return _all_at_once(t, seeds, low, order)
    edges = np.array(sorted(walked), np.int64)
    start = np.array([walked[e][0] for e in edges.tolist()], np.int64)
    naming = np.array([walked[e][1] for e in edges.tolist()], np.int64)
    number = np.full(t.edge_count, -1, np.int64)
    number[edges] = np.arange(edges.size)
    return Rings(edges, start, t.edges[edges].sum(axis=1) - start, naming, number, np.full(edges.size, -1))


_TWISTED = "the ring of a picked edge comes back to it the other way round, so it cannot be cut"
#: longer runs than this are found by labelling the whole mesh
_MOST_WALKED = 2000


def _walked(t: Topology, seeds: Ints, low: Ints) -> dict[int, tuple[int, int]] | None:
    """Start and naming edge of every edge of the rings, None where they are too long to walk. Each ring runs as its naming
    edge does, from its end ``low``."""
    corners, following, face, sides = t.corners, t.next_corner, t.corner_face, t.sides
    by_edge, starts, edge_of = *t.edge_corners, t.corner_edge
    found: dict[int, tuple[int, int]] = {}
    for seed, begins in zip(seeds.tolist(), low.tolist(), strict=True):
        if seed in found:
            continue
        found[seed] = (begins, seed)
        waiting = [seed]
        while waiting:
            edge = waiting.pop()
            begin = found[edge][0]
            for c in by_edge[starts[edge]:starts[edge + 1]].tolist():
                if sides[face[c]] != 4:
                    continue
                across = int(following[following[c]])
                other = int(edge_of[across])
                # the edge opposite runs against this one round the face
                away = int(corners[following[across]] if corners[c] == begin else corners[across])
                if other in found:
                    if found[other][0] != away:
                        raise NotManifold(_TWISTED, "through")
                    continue
                found[other] = (away, seed)
                waiting.append(other)
            if len(found) > _MOST_WALKED:
                return None
    return found


def _all_at_once(t: Topology, seeds: Ints, low: Ints, order: Ints) -> Rings:
    """Two nodes an edge, one for each way along it, joined across quads."""
    way = (t.corners != t.edges[:, 0][t.corner_edge]).astype(np.int64)
    c = t.offsets[:-1][t.sides == 4]
    a, b = np.concatenate([c, c + 1]), np.concatenate([c + 2, c + 3])
    ea, eb, wa, wb = t.corner_edge[a], t.corner_edge[b], way[a], way[b]
    label = components(2 * t.edge_count, np.concatenate([2 * ea + wa, 2 * ea + 1 - wa]),
                       np.concatenate([2 * eb + 1 - wb, 2 * eb + wb]))
    low_first = t.edges[seeds, 0] == low
    along = label[2 * seeds + np.where(low_first, 0, 1)]
    against = label[2 * seeds + np.where(low_first, 1, 0)]
    if (along == against).any():
        raise NotManifold(_TWISTED, "through")
    named_of: dict[int, tuple[int, int]] = {}
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
                  np.where(ahead, forward[edges], backward[edges]), number, np.full(edges.size, -1))
