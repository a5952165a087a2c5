"""What a drawing file holds: flat runs of lines, arcs and cubics, in one unit, x to the right and y up."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field

import numpy as np

from ..units import Unit
from .limits import BadModel

#: judged before a file is parsed, and while it is read
LARGEST_DRAWING = 20 * 1024 * 1024
MOST_RUNS = 5000
MOST_POINTS = 200_000
#: an arc that becomes a cubic turns by no more than this: off by four millionths of its radius at most
TURN = np.pi / 4

Flat = tuple[float, float]


def handle_of(turn: float) -> float:
    """How long the handles of a cubic are that follows an arc, in radii: 4/3·tan(turn/4) (common practice, no source)."""
    return float(4 / 3 * np.tan(turn / 4))


@dataclass
class Run:
    """One run: points, and what leaves and reaches each as seen from it, None where its span is straight.

    Attributes:
        points: (n) places; out, into: handles; closed: whether it comes back; arc: centre, radius, from and to in degrees,
            where the run is a circle or a part of one and nothing else.
    """

    points: list[Flat] = field(default_factory=list)
    out: list[Flat | None] = field(default_factory=list)
    into: list[Flat | None] = field(default_factory=list)
    closed: bool = False
    arc: tuple[Flat, float, float, float] | None = None

    def line_to(self, x: float, y: float) -> None:
        """On to a point."""
        self.points.append((x, y))
        self.out.append(None)
        self.into.append(None)

    def cubic_to(self, one: Flat, two: Flat, end: Flat) -> None:
        """On by a cubic."""
        x, y = self.points[-1]
        self.out[-1] = (one[0] - x, one[1] - y)
        self.line_to(*end)
        self.into[-1] = (two[0] - end[0], two[1] - end[1])

    def arc_to(self, centre: Flat, turn: float) -> None:
        """On round a centre by radians, as cubics."""
        pieces = max(1, int(np.ceil(abs(turn) / TURN - 1e-9)))
        each = turn / pieces
        reach = handle_of(each)
        for _ in range(pieces):
            x, y = self.points[-1][0] - centre[0], self.points[-1][1] - centre[1]
            u, v = np.cos(each) * x - np.sin(each) * y, np.sin(each) * x + np.cos(each) * y
            self.cubic_to((centre[0] + x - reach * y, centre[1] + y + reach * x),
                          (centre[0] + u + reach * v, centre[1] + v - reach * u), (centre[0] + u, centre[1] + v))

    def close(self, near: float) -> None:
        """Back to the first point; a last one that lies there already becomes it."""
        self.closed = True
        (x, y), (u, v) = self.points[0], self.points[-1]
        if len(self.points) > 1 and np.hypot(u - x, v - y) <= near:
            self.into[0] = self.into[-1]
            for each in (self.points, self.out, self.into):
                each.pop()


@dataclass
class Drawing:
    """A drawing: runs by name, one name for what is drawn in one go; ``metres`` of its unit; what was left out or healed;
    and the unit it was assumed to be in, where it tells none."""

    metres: float
    shapes: list[tuple[str, list[Run]]]
    notes: tuple[str, ...] = ()
    unit: Unit | None = None


def refuse_larger(data: bytes) -> None:
    """Raises BadModel where a file is more than is taken."""
    if len(data) > LARGEST_DRAWING:
        raise BadModel(f"the file has {len(data) / 2**20:.0f} MB; at most {LARGEST_DRAWING // 2**20} MB are taken")


def refuse_many(shapes: Iterable[tuple[str, list[Run]]]) -> None:
    """Raises BadModel where a drawing has more than is taken, or nothing, or places that are none."""
    runs = [r for _, group in shapes for r in group]
    points = sum(len(r.points) for r in runs)
    if not runs:
        raise BadModel("the file draws nothing that is read: lines, arcs, circles, ellipses, polylines, splines and paths")
    if len(runs) > MOST_RUNS or points > MOST_POINTS:
        raise BadModel(f"the file draws {len(runs):,} runs of {points:,} points; at most {MOST_RUNS:,} and {MOST_POINTS:,} "
                       "are taken".replace(",", " "))
    flat = np.array([p for r in runs for p in r.points] or [(0.0, 0.0)])
    if not np.isfinite(flat).all() or np.abs(flat).max() > 1e9:
        raise BadModel("the file has coordinates that are no numbers, or far too large")


def healed(shapes: list[tuple[str, list[Run]]]) -> tuple[list[tuple[str, list[Run]]], tuple[str, ...]]:
    """The shapes without points told twice in a row and runs of no length, and a sentence for each sort that was there."""
    doubled = empty = 0
    out = []
    for name, runs in shapes:
        kept = []
        for run in runs:
            if run.arc is not None:
                kept.append(run)
                continue
            again, gone = _without_doubled(run)
            doubled += gone
            if len(again.points) > 1:
                kept.append(again)
            else:
                empty += 1
        if kept:
            out.append((name, kept))
    doubled = max(doubled - empty, 0)
    notes = [f"{doubled} {'point' if doubled == 1 else 'points'} told twice in a row taken once"] if doubled else []
    notes += [f"{empty} {'line' if empty == 1 else 'lines'} of no length left out"] if empty else []
    return out, tuple(notes)


def _without_doubled(run: Run) -> tuple[Run, int]:
    """A run in which no point stands where the one before it does, and how many went; a loop that comes back to where it
    began has its middle as a point more."""
    flat = np.array(run.points)
    near = 1e-9 * max(float(np.ptp(flat, axis=0).max()), float(np.abs(flat).max()) * 1e-3, 1e-12)
    out = Run(closed=run.closed)
    gone = 0
    count = len(run.points)
    for i, (x, y) in enumerate(run.points):
        if not out.points:
            out.line_to(x, y)
            out.into[0] = run.into[0]
            out.out[0] = run.out[0]
            continue
        u, v = out.points[-1]
        if np.hypot(x - u, y - v) > near:
            out.line_to(x, y)
            out.into[-1], out.out[-1] = run.into[i], run.out[i]
            continue
        one, two = out.out[-1], run.into[i]
        if one is not None and two is not None and max(np.hypot(*one), np.hypot(*two)) > near:
            p = [np.array([u, v]), np.array([u + one[0], v + one[1]]), np.array([x + two[0], y + two[1]]), np.array([x, y])]
            a, b, c = (p[0] + p[1]) / 2, (p[1] + p[2]) / 2, (p[2] + p[3]) / 2
            d, e = (a + b) / 2, (b + c) / 2
            m = (d + e) / 2
            out.out[-1] = (float(a[0] - u), float(a[1] - v))
            out.line_to(float(m[0]), float(m[1]))
            out.into[-1], out.out[-1] = (float(d[0] - m[0]), float(d[1] - m[1])), (float(e[0] - m[0]), float(e[1] - m[1]))
            out.line_to(x, y)
            out.into[-1], out.out[-1] = (float(c[0] - x), float(c[1] - y)), run.out[i]
            continue
        gone += 1
        out.out[-1] = run.out[i]
    if out.closed and len(out.points) > 2 and count > 1:
        (x, y), (u, v) = out.points[0], out.points[-1]
        if np.hypot(u - x, v - y) <= near and (out.out[-1] is None or np.hypot(*out.out[-1]) <= near):
            out.into[0] = out.into[-1]
            for each in (out.points, out.out, out.into):
                each.pop()
            gone += 1
    if out.closed and len(out.points) < 3 and all(h is None for h in (*out.out, *out.into)):
        out.closed = False  # there and back again is a line
    return out, gone


def joined(runs: list[Run], near: float) -> list[Run]:
    """Open runs put together where the end of one is an end of another and of no third; closed where they come back."""
    ends: dict[tuple[int, int], list[int]] = {}

    def key(p: Flat) -> tuple[int, int]:
        return round(p[0] / near), round(p[1] / near)

    loose = {i: r for i, r in enumerate(runs) if not r.closed and r.arc is None and len(r.points) > 1}
    for i, r in loose.items():
        for p in (r.points[0], r.points[-1]):
            ends.setdefault(key(p), []).append(i)
    done: list[Run] = [r for i, r in enumerate(runs) if i not in loose]
    while loose:
        start, run = next(iter(loose.items()))
        del loose[start]
        chain = [run]
        for _ in range(2):  # on from its end, then from its start
            while True:
                last = chain[-1].points[-1]
                here = ends.get(key(last), [])
                on = [i for i in here if i in loose]
                if len(here) != 2 or len(on) != 1:
                    break
                other = loose.pop(on[0])
                chain.append(other if key(other.points[0]) == key(last) else _backward(other))
            chain = [_backward(r) for r in chain[::-1]]
        run = _in_one(chain)
        if len(run.points) > 2 and key(run.points[0]) == key(run.points[-1]):
            run.close(2 * near)
        done.append(run)
    return done


def _backward(run: Run) -> Run:
    return Run(run.points[::-1], run.into[::-1], run.out[::-1], run.closed)


def _in_one(chain: list[Run]) -> Run:
    """Runs each of which begins where the one before it ends."""
    first = chain[0]
    out = Run(list(first.points), list(first.out), list(first.into))
    for other in chain[1:]:
        out.out[-1] = other.out[0]
        out.points += other.points[1:]
        out.out += other.out[1:]
        out.into += other.into[1:]
    return out
