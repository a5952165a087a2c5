"""Spans by themselves: cut, turned round, put together as runs again."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from ..errors import StepError
from ..mesh.geometry import lengths
from ..mesh.mesh import Floats
from ..mesh.names import Ids
from ..mesh.topology import Bools, Ints, components
from .curve import ARC, CUBIC, STRAIGHT, Curve, Wires


@dataclass(frozen=True, eq=False)
class Spans:
    """Spans between numbered points.

    Attributes:
        begin, end: (S,) numbers of the points.
        kind, weight, steps, controls: as of :class:`Wires` and :class:`Curve`.
    """

    begin: Ints
    end: Ints
    kind: Ints
    weight: Floats
    steps: Ints
    controls: Floats

    @classmethod
    def of(cls, curve: Curve) -> Spans:
        """All spans of a curve, in the order of the points they begin at."""
        w = curve.wires
        s = np.flatnonzero(w.following >= 0)
        return cls(s, w.following[s], w.kind[s], w.weight[s], w.steps[s], curve.controls[s])

    @classmethod
    def straight(cls, begin: Ints, end: Ints) -> Spans:
        """Straight spans between points."""
        n = begin.size
        return cls(begin, end, np.full(n, STRAIGHT), np.ones(n), np.ones(n, np.int64), np.zeros((n, 2, 3)))

    @property
    def count(self) -> int:
        """How many there are."""
        return int(self.begin.size)

    def only(self, which: Bools | Ints) -> Spans:
        """Some of the spans."""
        return Spans(self.begin[which], self.end[which], self.kind[which], self.weight[which], self.steps[which],
                     self.controls[which])

    def numbered(self, number: Callable[[Ints], Ints]) -> Spans:
        """The spans between other points."""
        return Spans(number(self.begin), number(self.end), self.kind, self.weight, self.steps, self.controls)

    def mapped(self, linear: Floats, shift: Floats) -> Spans:
        """What shapes them through an affine map: (3, 3), then (3,)."""
        return Spans(self.begin, self.end, self.kind, self.weight, self.steps, self.controls @ linear.T + shift)

    def backward(self, which: Bools) -> Spans:
        """The spans, some of them run the other way."""
        return Spans(np.where(which, self.end, self.begin), np.where(which, self.begin, self.end), self.kind, self.weight,
                     self.steps, np.where(which[:, None, None], self.controls[:, ::-1], self.controls))


def as_one(*groups: Spans) -> Spans:
    """Several groups as one."""
    return Spans(*(np.concatenate([getattr(g, name) for g in groups])
                   for name in ("begin", "end", "kind", "weight", "steps", "controls")))


def piece(curve: Curve, span: Ints, since: Floats, until: Floats) -> tuple[Floats, Floats]:
    """(n, 2, 3) controls and (n,) weights of parts of spans, from ``since`` to ``until`` of 1: the same curve, exactly.

    By polar forms, those of arcs in homogeneous coordinates (G. Farin, Curves and Surfaces for CAGD, 5th ed., 2002,
    chapters 4 and 12).
    """
    w = curve.wires
    a, b = curve.points[span], curve.points[w.following[span]]
    c, d = curve.controls[span, 0], curve.controls[span, 1]

    def cubic(r: Floats, s: Floats, t: Floats) -> Floats:
        line = [a, c, d, b]
        for at in (r, s, t):
            line = [(1 - at)[:, None] * p + at[:, None] * q for p, q in pairwise(line)]
        out: Floats = line[0]
        return out

    half = np.arccos(np.clip(w.weight[span], -1.0, 1.0))

    def parameter(t: Floats) -> Floats:
        before, after = np.sin(half * (1 - t)), np.sin(half * t)
        total = before + after
        out: Floats = np.divide(after, total, out=t.copy(), where=total > 0)
        return out

    r, s = parameter(since), parameter(until)
    shares = np.stack([(1 - r) * (1 - s), ((1 - r) * s + r * (1 - s)) * w.weight[span], r * s], axis=1)
    corner = (shares[:, :1] * a + shares[:, 1:2] * c + shares[:, 2:] * b) / shares.sum(axis=1, keepdims=True)
    kind = w.kind[span]
    bent = np.stack([cubic(since, since, until), cubic(since, until, until)], axis=1)
    controls = np.where((kind == ARC)[:, None, None], corner[:, None], np.where((kind == CUBIC)[:, None, None], bent, 0.0))
    return controls, np.where(kind == ARC, np.cos(half * (until - since)), 1.0)


def assembled(points: Floats, ids: Ids, spans: Spans, alone: Bools | None = None) -> tuple[Curve, Ints]:
    """Spans put together as runs.

    Runs come in the order of their lowest points and run as the first of their spans does; open ones from end to end,
    closed ones from their lowest point on.

    Args:
        points, ids: of all the points.
        alone: (n,) points that stay, as runs of their own, though no span has them.

    Returns:
        the curve, and which of the points each of its own is.

    Raises:
        StepError: more than two spans meet at a point.
    """
    n = len(points)
    ends = np.concatenate([spans.begin, spans.end])
    degree = np.bincount(ends, minlength=n)
    if (degree > 2).any():
        raise StepError("more than two spans would meet at {point}, and a curve does not branch; leave one of them out",
                        point=points[int(np.flatnonzero(degree > 2)[0])])
    at = [[-1, -1] for _ in range(n)]
    for number, (b, e) in enumerate(zip(spans.begin.tolist(), spans.end.tolist(), strict=True)):
        for p in (b, e):
            at[p][0 if at[p][0] < 0 else 1] = number
    label = components(n, spans.begin, spans.end)
    kept = degree > 0 if alone is None else (degree > 0) | alone
    runs = int(label.max(initial=-1)) + 1
    lowest = np.full(runs, n)
    np.minimum.at(lowest, label[kept], np.flatnonzero(kept))
    first = np.full(runs, spans.count)
    np.minimum.at(first, label[spans.begin], np.arange(spans.count))
    order: list[int] = []
    taken: list[int] = []
    turned: list[bool] = []
    counts, closed = [], []
    begin, end = spans.begin.tolist(), spans.end.tolist()
    for run in np.argsort(lowest, kind="stable").tolist():
        if lowest[run] == n:
            continue
        whole = _walk(int(lowest[run]), int(first[run]) if first[run] < spans.count else -1, at, begin, end)
        order += whole[0]
        taken += whole[1]
        turned += whole[2]
        counts.append(len(whole[0]))
        closed.append(whole[3])
    chosen, back = np.array(taken, np.int64), np.array(turned, bool)
    there = chosen >= 0
    turned_round = spans.backward(_marked(spans.count, chosen[there & back]))
    run_spans = turned_round.only(np.maximum(chosen, 0)) if spans.count else None
    index = np.array(order, np.int64)
    wires = Wires.straight(counts, closed)
    controls = np.repeat(points[index][:, None], 2, axis=1)
    if run_spans is not None:
        bent = there & (run_spans.kind != STRAIGHT)
        controls[bent] = run_spans.controls[bent]
        wires = Wires(wires.offsets, wires.closed, np.where(there, run_spans.kind, STRAIGHT),
                      np.where(there, run_spans.weight, 1.0), np.where(there, run_spans.steps, 1))
    return Curve(points[index], controls, wires, ids[index]), index


def _marked(count: int, which: Ints) -> Bools:
    out = np.zeros(count, bool)
    out[which] = True
    return out


def _walk(lowest: int, first: int, at: list[list[int]], begin: list[int],
          end: list[int]) -> tuple[list[int], list[int], list[bool], bool]:
    """One run's points, the span each begins (−1: none), whether it is run backwards, and whether the run closes."""
    if first < 0:
        return [lowest], [-1], [False], False

    def onward(point: int, span: int) -> list[tuple[int, int]]:
        """Points and spans met from a point on along a span, until the end or that span again."""
        out = [(point, span)]
        start = span
        while True:
            point = end[span] if begin[span] == point else begin[span]
            span = at[point][1] if at[point][0] == span else at[point][0]
            if span < 0 or span == start:
                return [*out, (point, span)]
            out.append((point, span))

    ahead = onward(begin[first], first)
    closed = ahead[-1][1] == first
    if closed:
        ahead.pop()
        turn = next(i for i, (p, _) in enumerate(ahead) if p == lowest)
        way = ahead[turn:] + ahead[:turn]
    else:
        behind = onward(end[first], first)  # the other way round, from the second point of the first span
        start = behind[-1][0]
        way = onward(start, at[start][0])
    points, taken = [p for p, _ in way], [s for _, s in way]
    turned = [s >= 0 and begin[s] != p for p, s in way]
    return points, taken, turned, closed


def without_length(points: Floats, spans: Spans) -> Bools:
    """(S,) spans that lead from a point to itself, or straight to the very same place."""
    gap = lengths(points[spans.end] - points[spans.begin])
    extent = float(np.ptp(points, axis=0).max(initial=0.0)) if len(points) else 0.0
    out: Bools = (spans.begin == spans.end) | ((spans.kind == STRAIGHT) & (gap <= 1e-12 * extent))
    return out
