"""The curve: an immutable value of points, runs and spans."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from ..mesh.geometry import lengths, unit
from ..mesh.mesh import Floats, Mesh
from ..mesh.names import Ids, Names
from ..mesh.topology import Bools, Ints, Topology

STRAIGHT, ARC, CUBIC = 0, 1, 2
#: straight edges for each quarter turn and for each soft span, where nobody says otherwise
STEPS = 6


@dataclass(frozen=True, eq=False)
class Wires:
    """How the points of a curve hang together. Each point is on one run; span ``i`` goes from point ``i`` to the next of its
    run, that of a closed run's last point back to its first; the last point of an open run has none.

    Attributes:
        offsets: (R+1,) where each run's points begin.
        closed: (R,) whether a run comes back to its first point.
        kind: (P,) of each span, one of STRAIGHT, ARC, CUBIC.
        weight: (P,) of an arc: the cosine of half its turn, which is what its corner weighs as a rational quadratic.
        steps: (P,) straight edges a span is divided into.
    """

    offsets: Ints
    closed: Bools
    kind: Ints
    weight: Floats
    steps: Ints

    @cached_property
    def run(self) -> Ints:
        """(P,) run of each point."""
        return np.repeat(np.arange(self.closed.size), np.diff(self.offsets))

    @cached_property
    def following(self) -> Ints:
        """(P,) the point each span ends at; −1 where there is no span."""
        out = np.arange(1, self.run.size + 1)
        last = self.offsets[1:] - 1
        out[last] = np.where(self.closed, self.offsets[:-1], -1)
        return out

    @cached_property
    def preceding(self) -> Ints:
        """(P,) the point whose span ends at each; −1 where none does."""
        out = np.full(self.run.size, -1)
        has = np.flatnonzero(self.following >= 0)
        out[self.following[has]] = has
        return out

    @classmethod
    def straight(cls, counts: Sequence[int], closed: Sequence[bool]) -> Wires:
        """Runs of straight spans."""
        offsets = np.concatenate([[0], np.cumsum(np.asarray(counts, np.int64))])
        n = int(offsets[-1])
        return cls(offsets, np.asarray(closed, bool), np.zeros(n, np.int64), np.ones(n), np.ones(n, np.int64))


@dataclass(frozen=True, eq=False)
class Curve:
    """Points in metres, joined by ``wires``.

    Attributes:
        points: (P, 3).
        controls: (P, 2, 3) what shapes the span from each point: the two inner points of a cubic; of an arc the corner where
            its tangents meet, twice; of a straight span nothing that is read.
        wires: how they hang together.
        ids: (P,) stable ids of the points.
    """

    points: Floats
    controls: Floats
    wires: Wires
    ids: Ids

    @cached_property
    def mesh(self) -> Mesh:
        """The points alone, as a mesh without faces: what picks of vertices find."""
        t = Topology.of(len(self.points), np.zeros(1, np.int64), np.zeros(0, np.int64))
        return Mesh(self.points, t, Names(self.ids, np.zeros(0, np.uint64)))

    def mapped(self, linear: Floats, shift: Floats) -> Curve:
        """The curve through an affine map: (3, 3), then (3,)."""
        return replace(self, points=self.points @ linear.T + shift, controls=self.controls @ linear.T + shift)

    def moved(self, points: Floats, linear: Floats | None = None) -> Curve:
        """The curve with its (P, 3) points elsewhere. What shapes a span goes with the points it belongs to: a cubic's inner
        points each with its own end, an arc's corner with both.

        Args:
            linear: (P, 3, 3) how the surroundings of each point turn and stretch; as they are where left out.
        """
        following = self.wires.following
        end = np.where(following >= 0, following, np.arange(following.size))
        ends = np.stack([np.arange(end.size), end], axis=1)
        arms = self.controls[:, :, None] - self.points[ends][:, None]  # (P, control, end, 3)
        if linear is not None:
            arms = np.einsum("peij,pcej->pcei", linear[ends], arms)
        there = points[ends][:, None] + arms
        own = there[:, [0, 1], [0, 1]]
        both = there.mean(axis=2)
        arc = self.wires.kind == ARC
        return replace(self, points=points, controls=np.where(arc[:, None, None], both, own))

    def end_tangents(self, run: int) -> tuple[Floats, Floats]:
        """(3,), (3,) unit directions in which an open run leaves its first point and reaches its last: those of its spans,
        not of the edges they are divided into."""
        first, last = int(self.wires.offsets[run]), int(self.wires.offsets[run + 1]) - 1
        tangents = []
        for near, far, span, inner in ((first, first + 1, first, 0), (last, last - 1, last - 1, 1)):
            bent = self.wires.kind[span] != STRAIGHT
            arm = self.controls[span, inner] - self.points[near] if bent else np.zeros(3)
            if not arm.any():
                arm = self.points[far] - self.points[near]
            tangents.append(unit(arm[None])[0])
        return tangents[0], -tangents[1]

    @cached_property
    def divided(self) -> Polyline:
        """The curve as straight edges."""
        return _divide(self)


@dataclass(frozen=True, eq=False)
class Polyline:
    """A curve divided into straight edges.

    Attributes:
        points: (n, 3).
        offsets, closed: runs, as of the curve.
        span: (n,) point of the curve that begins the span each point is on.
        step: (n,) how many of that span's edges lie before it; 0 at a point of the curve.
        ids: (n,) id of the curve's point that begins the span.
        steps: (n,) edges of that span.
    """

    points: Floats
    offsets: Ints
    closed: Bools
    span: Ints
    step: Ints
    ids: Ids
    steps: Ints

    def run(self, number: int) -> slice:
        """Points of one run."""
        return slice(int(self.offsets[number]), int(self.offsets[number + 1]))

    def around(self, number: int) -> Floats:
        """(m + 1,) metres along a run to each of its m points, and on to its first again."""
        points = self.points[self.run(number)]
        return np.concatenate([[0.0], np.cumsum(lengths(np.roll(points, -1, axis=0) - points))])

    @cached_property
    def edges(self) -> Ints:
        """(m, 2) the straight edges."""
        following = np.arange(1, len(self.points) + 1)
        following[self.offsets[1:] - 1] = np.where(self.closed, self.offsets[:-1], -1)
        begin = np.flatnonzero((following >= 0) & (following != np.arange(following.size)))
        return np.stack([begin, following[begin]], axis=1)

    @cached_property
    def length(self) -> float:
        """Metres of all runs together."""
        return float(lengths(self.points[self.edges[:, 1]] - self.points[self.edges[:, 0]]).sum())


def points_on(curve: Curve, span: Ints, t: Floats) -> Floats:
    """(n, 3) points on spans, t from 0 where they begin to 1 where they end: cubics by parameter, arcs by even turns.

    On an arc of half turn α, seen as a rational quadratic with weights 1, cos α, 1, the point turned by ψ from its middle
    weighs ends and corner as sin²((α−ψ)/2) : 2 sin((α−ψ)/2) sin((α+ψ)/2) : sin²((α+ψ)/2) (after G. Farin, Curves and
    Surfaces for CAGD, 5th ed., 2002, chapter 12).
    """
    w = curve.wires
    a, b = curve.points[span], curve.points[w.following[span]]
    c, d = curve.controls[span, 0], curve.controls[span, 1]
    half = np.arccos(np.clip(w.weight[span], -1.0, 1.0))
    before, after = np.sin(half * (1 - t)), np.sin(half * t)
    shares = np.stack([before**2, 2 * before * after * w.weight[span], after**2], axis=1)
    total = shares.sum(axis=1, keepdims=True)
    shares = np.divide(shares, total, out=np.zeros_like(shares), where=total > 0)
    arc = shares[:, :1] * a + shares[:, 1:2] * c + shares[:, 2:] * b
    u, v = (1 - t)[:, None], t[:, None]
    cubic = u**3 * a + 3 * u**2 * v * c + 3 * u * v**2 * d + v**3 * b
    kind = w.kind[span][:, None]
    out: Floats = np.where(kind == ARC, arc, np.where(kind == CUBIC, cubic, u * a + v * b))
    return out


def _divide(curve: Curve) -> Polyline:
    """Spans by even steps of their parameter."""
    w = curve.wires
    has = w.following >= 0
    each = np.where(has, np.where(w.kind == STRAIGHT, 1, w.steps), 1)
    span = np.repeat(np.arange(each.size), each)
    step = np.arange(span.size) - np.repeat(np.cumsum(each) - each, each)
    points = curve.points[span]
    inner = np.flatnonzero(step > 0)
    points[inner] = points_on(curve, span[inner], step[inner] / each[span[inner]])
    starts = np.cumsum(each) - each
    offsets = np.append(starts[w.offsets[:-1]], span.size) if w.closed.size else np.zeros(1, np.int64)
    return _distinct(Polyline(points, offsets, w.closed, span, step, curve.ids[span], each[span]))


def _distinct(line: Polyline) -> Polyline:
    """The line without points that lie where the one before them does, as where two fillets meet."""
    edges = line.edges
    gap = lengths(line.points[edges[:, 1]] - line.points[edges[:, 0]])
    extent = float(np.ptp(line.points, axis=0).max(initial=0.0)) if len(line.points) else 0.0
    none = gap <= 1e-12 * extent
    if not none.any() or extent == 0.0:
        return line
    keep = np.ones(len(line.points), bool)
    keep[edges[none, 1]] = False
    count = np.add.reduceat(keep, line.offsets[:-1])
    offsets = np.concatenate([[0], np.cumsum(count)])
    return Polyline(line.points[keep], offsets, line.closed, line.span[keep], line.step[keep], line.ids[keep],
                    line.steps[keep])
