"""Bending along an axis: the middle line becomes an arc and keeps its length."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..mesh.geometry import Floats
from .deformation import Reach


def _sinc(angle: Floats) -> Floats:
    """sin(a)/a, exact near nothing."""
    out: Floats = np.sinc(angle / np.pi)
    return out


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
        if self.angle == 0.0:
            return points
        r, axis = self.reach, self.reach.axis
        s = points[:, axis] - r.low
        within = np.clip(s, 0.0, r.length)
        arc = within - self.hold
        turned = arc * (self.angle / r.length)
        moves = turned != 0.0
        if not moves.all():
            s, within, arc, turned = s[moves], within[moves], arc[moves], turned[moves]
            here = points[moves]
        else:
            here = points
        u = self.sign * (here[:, self.toward] - r.middle[self.toward])
        beyond = s - within
        sine, cosine = np.sin(turned), np.cos(turned)
        half = turned / 2
        out = points.copy()
        where = slice(None) if len(here) == len(points) else moves
        out[where, axis] = r.low + self.hold + arc * _sinc(turned) - u * sine + beyond * cosine
        rise = arc * np.sin(half) * _sinc(half) + u * cosine + beyond * sine
        out[where, self.toward] = r.middle[self.toward] + self.sign * rise
        return out
