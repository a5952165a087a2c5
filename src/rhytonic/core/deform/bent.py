"""Bending along an axis: the middle line becomes an arc and keeps its length."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..mesh.geometry import Floats
from .deformation import Reach


@dataclass(frozen=True)
class Bent:
    """The line through the middle of a cross-section as an arc, every cross-section stiff and square to it; beyond its ends
    space goes on straight.

    With arc length s from the section that stays, curvature k = angle / length and height u over the middle line towards the
    inside: x = sin(ks)/k − u sin(ks), y = (1 − cos(ks))/k + u cos(ks). The elastica's simplest case; any text on the bending
    of beams, such as S. Timoshenko, Strength of Materials, 1930.

    Attributes:
        reach: what is bent.
        toward, sign: the axis towards which, and which way.
        angle: radians in all.
        hold: metres along the reach, from its lower end, of the section that stays.
    """

    reach: Reach
    toward: int
    sign: float
    angle: float
    hold: float

    @property
    def radius(self) -> float:
        """Of the middle line, metres."""
        return self.reach.length / abs(self.angle) if self.angle else np.inf

    def apply(self, points: Floats) -> Floats:
        """(n, 3) points bent."""
        if abs(self.angle) < 1e-100:  # moves nothing by a digit, and its radius is no number
            return points
        r, axis, k = self.reach, self.reach.axis, self.angle / self.reach.length
        s = points[:, axis] - r.low
        within = np.minimum(np.maximum(s, 0.0), r.length)
        half = (within - self.hold) * (k / 2)
        u = self.sign * (points[:, self.toward] - r.middle[self.toward])
        # by the half angle nothing cancels, however little it bends
        a, b = np.sin(half), np.cos(half)
        sine, rise = 2 * a * b, 2 * a * a
        beyond = s - within
        out = points.copy()
        out[:, axis] = (r.low + self.hold) + (1 / k - u) * sine + beyond * (1 - rise)
        out[:, self.toward] = r.middle[self.toward] + self.sign * (u + (1 / k - u) * rise + beyond * sine)
        still = np.flatnonzero(half == 0.0)
        out[still] = points[still]
        return out
