"""Stretching along an axis."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..mesh.geometry import Floats
from .deformation import Reach


@dataclass(frozen=True)
class Stretched:
    """Lengths along the axis times ``factor`` from the lower end on, those across it times ``across`` about the middle."""

    reach: Reach
    factor: float
    across: float

    def apply(self, points: Floats) -> Floats:
        """(n, 3) points stretched."""
        if self.factor == self.across == 1.0:
            return points
        scale = np.full(3, self.across)
        scale[self.reach.axis] = self.factor
        fixed = np.asarray(self.reach.middle, float).copy()
        fixed[self.reach.axis] = self.reach.low
        out: Floats = fixed + (points - fixed) * scale
        return out
