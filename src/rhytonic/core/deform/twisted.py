"""Twisting about an axis."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..mesh.geometry import Floats
from .deformation import Reach


@dataclass(frozen=True)
class Twisted:
    """Every cross-section turned about the line through the middle: not at the lower end, by the whole angle (radians,
    counter-clockwise against the axis) at the upper one, and evenly between (A. Barr, SIGGRAPH 1984)."""

    reach: Reach
    angle: float

    def apply(self, points: Floats) -> Floats:
        """(n, 3) points twisted."""
        if self.angle == 0.0:
            return points
        turned = self.reach.share(points) * self.angle
        moves = turned != 0.0
        one, two = (self.reach.axis + 1) % 3, (self.reach.axis + 2) % 3
        a = points[moves, one] - self.reach.middle[one]
        b = points[moves, two] - self.reach.middle[two]
        sine, cosine = np.sin(turned[moves]), np.cos(turned[moves])
        out = points.copy()
        out[moves, one] = self.reach.middle[one] + a * cosine - b * sine
        out[moves, two] = self.reach.middle[two] + a * sine + b * cosine
        return out
