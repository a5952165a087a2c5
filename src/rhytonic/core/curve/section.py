"""The outline that is swept: flat points with names."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from ..mesh.mesh import Floats
from ..mesh.names import Ids, name, no_parents, reduced
from ..mesh.topology import Ints
from .curve import Curve
from .nest import nested


@dataclass(frozen=True, eq=False)
class Section:
    """An outline in its own plane, x to the right and y up, seen from where +z looks at the eye. Closed ones run
    counter-clockwise.

    Attributes:
        flat: (M, 2) metres.
        closed: whether it comes back to its start.
        ids: (M,) ids, and fraction: (M, 2) the share of a span, that name each point.
    """

    flat: Floats
    closed: bool
    ids: Ids
    fraction: Ints

    def placed(self, offset: tuple[float, float], turn: float, mirrored: bool) -> Section:
        """The outline mirrored in its y axis, then turned by degrees, then moved; closed ones still counter-clockwise."""
        flat = self.flat * np.array([-1.0, 1.0]) if mirrored else self.flat
        quarter = turn / 90.0
        if quarter == round(quarter):
            c, s = [(1, 0), (0, 1), (-1, 0), (0, -1)][round(quarter) % 4]
        else:
            c, s = np.cos(np.radians(turn)), np.sin(np.radians(turn))
        flat = flat @ np.array([[c, s], [-s, c]]) + np.asarray(offset)
        out = Section(flat, self.closed, self.ids, self.fraction)
        return out.reversed() if mirrored else out

    def reversed(self) -> Section:
        """The outline run the other way."""
        return Section(self.flat[::-1].copy(), self.closed, self.ids[::-1].copy(), self.fraction[::-1].copy())


def of_curve(curve: Curve) -> tuple[Section, ...]:
    """A curve's runs as outlines in x and y, counter-clockwise, those that are holes of others (even–odd) against them."""
    line = curve.divided
    out = []
    for run in range(line.closed.size):
        where, closed = line.run(run), bool(line.closed[run])
        fraction = np.stack([line.step[where], line.steps[where]], axis=1)
        divisor = np.gcd(fraction[:, 0], fraction[:, 1])
        out.append(Section(line.points[where, :2].copy(), closed, line.ids[where], fraction // divisor[:, None]))
    shut = [i for i, s in enumerate(out) if s.closed]
    if shut:
        for i, turned in zip(shut, nested([out[i].flat for i in shut]).turned, strict=True):
            out[i] = out[i].reversed() if turned else out[i]
    return tuple(out)


@lru_cache(64)
def of_circle(radius: float, sides: int) -> Section:
    """A regular polygon, its first point on +x."""
    turn = 2 * np.pi * np.arange(sides) / sides
    flat = radius * np.stack([np.cos(turn), np.sin(turn)], axis=1)
    return Section(flat, True, _own(sides), reduced(np.arange(sides), sides))


@lru_cache(64)
def of_rectangle(width: float, height: float) -> Section:
    """A rectangle about the origin, from its lower left corner on."""
    half = np.array([width, height]) / 2
    return Section(np.array([[-1.0, -1], [1, -1], [1, 1], [-1, 1]]) * half, True, _own(4), reduced(np.arange(4), 4))


def _own(count: int) -> Ids:
    """Ids for the points of outlines that are no part of their own."""
    return name("profile", "vertex", "point", count, no_parents(count), np.zeros((count, 0), np.int64))
