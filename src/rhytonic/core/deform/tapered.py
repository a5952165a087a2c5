"""Tapering along an axis."""

from __future__ import annotations

from dataclasses import dataclass

from ..mesh.geometry import Floats
from .deformation import Reach


@dataclass(frozen=True)
class Tapered:
    """Every cross-section scaled about the line through the middle, from ``low`` at the lower end evenly to ``high`` at the
    upper one (A. Barr, SIGGRAPH 1984)."""

    reach: Reach
    low: float
    high: float

    def apply(self, points: Floats) -> Floats:
        """(n, 3) points tapered."""
        if self.low == self.high == 1.0:
            return points
        share = self.reach.share(points)
        scale = self.low * (1 - share) + self.high * share
        moves = scale != 1.0
        out = points.copy()
        for k in {0, 1, 2} - {self.reach.axis}:
            middle = self.reach.middle[k]
            out[moves, k] = middle + (points[moves, k] - middle) * scale[moves]
        return out
