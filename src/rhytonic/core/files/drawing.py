"""What a drawing file holds: flat runs of lines, arcs and cubics, in one unit, x to the right and y up."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field

import numpy as np

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
class Outlines:
    """A drawing: runs by name, one name for what is drawn in one go; ``metres`` of its unit; what was left out."""

    metres: float
    shapes: list[tuple[str, list[Run]]]
    notes: tuple[str, ...] = ()


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
        for _ in range(2):  # on from its end, then from its start
            while True:
                here = ends.get(key(run.points[-1]), [])
                on = [i for i in here if i in loose]
                if len(here) != 2 or len(on) != 1:
                    break
                other = loose.pop(on[0])
                run = _after(run, other if key(other.points[0]) == key(run.points[-1]) else _backward(other))
            run = _backward(run)
        if len(run.points) > 2 and key(run.points[0]) == key(run.points[-1]):
            run.close(2 * near)
        done.append(run)
    return done


def _backward(run: Run) -> Run:
    return Run(run.points[::-1], run.into[::-1], run.out[::-1], run.closed)


def _after(run: Run, other: Run) -> Run:
    return Run(run.points + other.points[1:], [*run.out[:-1], *other.out], run.into + other.into[1:])
