"""Connect: new edges between picked vertices, or between points on picked edges, across the faces they share."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from ..construct.rebuild import with_new
from ..construct.split.faces import EdgePoints, Split, add_pieces, edge_sources, split
from ..construct.spread import even, from_first
from ..errors import BadParameter, StepError
from ..mesh.attributes import Sources
from ..mesh.mesh import Floats, Mesh
from ..mesh.names import reduced
from ..mesh.topology import Ints, Topology
from ..params import Count, Ratio, Share
from ..pick.resolve import Picked
from ..step.draft import Draft
from ..step.facts import Knob
from ..step.kind import Context, Edit, StepKind


class Connect(Edit):
    kind: Literal["connect"]
    count: Count = 1
    spread: Share = 1.0
    shift: Annotated[Ratio, Field(ge=-1, le=1)] = 0.0


@dataclass(frozen=True)
class _Data:
    split: Split
    count: int


class ConnectKind(StepKind[Connect]):
    """Within each face the points are joined in the order of its outline, one to the next; two only once. With a ``count``
    over 1 the points of two edges are joined first to last, so that no two of the new edges cross."""

    word, title, model = "connect", "Connect", Connect
    watches_area = True
    takes = ("edges", "vertices")
    numbers = frozenset({"spread", "shift"})
    knob, typed = Knob("shift"), "count"

    def estimate(self, p: Connect, topology: Topology, picked: Picked | None, context: Context) -> tuple[int, str]:
        assert picked is not None
        return topology.face_count + 2 * picked.elements.size * p.count, "count"

    def plan(self, p: Connect, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        assert picked is not None
        t = mesh.topology
        on_edges = picked.kind == "edges"
        m = p.count if on_edges else 1
        points = EdgePoints.on(t, np.repeat(picked.elements, m) if on_edges else np.zeros(0, np.int64))
        chords = _chords(t, points, picked.elements, m) if on_edges else _between_vertices(t, picked.elements)
        if not len(chords):
            raise StepError("no two of them lie on one face without an edge between them already; pick two or more points "
                            "of the same face", "pick")
        index = reduced(points.slot + 1, m + 1)
        s = add_pieces(split(mesh, points, chords, "", index))
        halves = s.halves(t)
        v = t.vertex_count
        chord_ends = chords[:, 1:]
        share = self._share(p, mesh, points)
        draft: Draft = s.build.draft(
            data=_Data(s, m), edges=lambda _: {"": s.build.number[chord_ends]}, replaced_edges=halves,
            vertex_source=lambda: s.vertex_weights(t, share), corner_source=lambda: s.corner_weights(t, share),
            edge_source=lambda: edge_sources(t, draft.topology, s.build.number, halves))
        assert draft.topology.vertex_count == v + points.count
        return draft

    def _share(self, p: Connect, mesh: Mesh, points: EdgePoints) -> Floats:
        """(n,) fraction of each point along its edge from its first vertex."""
        edges = np.unique(points.edge)
        share = even(p.count, p.spread, p.shift)
        if edges.size and (share.min() <= 0 or share.max() >= 1 or (np.diff(share) <= 0).any()):
            raise BadParameter("the points must lie within their edges, apart from each other; a spread over 0 and a shift "
                               "between −1 and 1 do", "spread")
        return from_first(mesh.points, mesh.topology.edges[edges], share).ravel()

    def positions(self, p: Connect, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        points = draft.data.split.points
        share = self._share(p, mesh, points)[:, None]
        ends = mesh.points[mesh.topology.edges[points.edge]]
        return with_new(draft, mesh, ends[:, 0] + share * (ends[:, 1] - ends[:, 0]))

    def weights(self, p: Connect, draft: Draft, mesh: Mesh) -> tuple[Sources, Sources]:
        s: Split = draft.data.split
        share = self._share(p, mesh, s.points)
        return s.vertex_weights(mesh.topology, share), s.corner_weights(mesh.topology, share)


def _chords(t: Topology, points: EdgePoints, edges: Ints, m: int) -> Ints:
    """(n, 3) face and the two new vertices of each edge to make."""
    picked = np.zeros(t.edge_count, bool)
    picked[edges] = True
    corner = np.flatnonzero(picked[t.corner_edge])
    face = t.corner_face[corner]
    count = np.bincount(face, minlength=t.face_count)
    if m > 1 and (count > 2).any():
        raise BadParameter("with more than one point an edge, a face may have no more than two of the picked edges", "count")
    first, second = _consecutive(face)
    double = count[face[first]] == 2
    once = ~double | (first < second)
    first, second = corner[first[once]], corner[second[once]]
    # points as the outline runs on the first edge, and against it on the second
    k = np.arange(m)
    a = _along(t, points, first, k)
    b = _along(t, points, second, k[::-1])
    return np.stack([np.repeat(t.corner_face[first], m), a.ravel(), b.ravel()], axis=1)


def _along(t: Topology, points: EdgePoints, corner: Ints, k: Ints) -> Ints:
    """(n, m) the k-th new vertices on the edges of corners, as their half-edges run; all edges have m."""
    edge = t.corner_edge[corner]
    ahead = (t.corners[corner] == t.edges[edge, 0])[:, None]
    return t.vertex_count + points.start[edge][:, None] + np.where(ahead, k, k.size - 1 - k)


def _consecutive(face: Ints) -> tuple[Ints, Ints]:
    """Pairs of neighbours (i, j) within runs of equal values, the last with the first."""
    n = face.size
    if not n:
        return np.zeros(0, np.int64), np.zeros(0, np.int64)
    new = np.ones(n, bool)
    new[1:] = face[1:] != face[:-1]
    begin = np.maximum.accumulate(np.where(new, np.arange(n), 0))
    last = np.ones(n, bool)
    last[:-1] = new[1:]
    onward = np.where(last, begin, np.arange(1, n + 1))
    apart = onward != np.arange(n)
    return np.flatnonzero(apart), onward[apart]


def _between_vertices(t: Topology, vertices: Ints) -> Ints:
    """(n, 3) face and the two old vertices of each edge to make."""
    picked = np.zeros(t.vertex_count, bool)
    picked[vertices] = True
    corner = np.flatnonzero(picked[t.corners])
    face = t.corner_face[corner]
    count = np.bincount(face, minlength=t.face_count)
    first, second = _consecutive(face)
    once = (count[face[first]] != 2) | (first < second)
    first, second = first[once], second[once]
    a, b = t.corners[corner[first]], t.corners[corner[second]]
    free = t.find_edges(a, b) < 0  # where an edge is already, there is nothing to make
    chords = np.stack([face[first], a, b], axis=1)[free]
    pairs = np.sort(chords[:, 1:], axis=1)
    if len(np.unique(pairs, axis=0)) < len(pairs):
        raise StepError("two faces share the same two vertices, so they would get the same edge twice; pick one of the "
                        "faces' other vertices", "pick")
    return chords
