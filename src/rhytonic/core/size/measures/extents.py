"""Width, height and depth: the box of parts, of picked elements, or of the whole build, along its axes."""

from __future__ import annotations

import numpy as np

from ..scene import Named
from .measured import Measured

AXES = {"width": 0, "height": 1, "depth": 2}


def box(found: list[Named], measure: str) -> Measured:
    """How far the targets reach along one axis of the build, in metres, and where the dimension stands."""
    boxes = [f.box for f in found]
    low = np.min([b[0] for b in boxes], axis=0)
    high = np.max([b[1] for b in boxes], axis=0)
    axis = AXES[measure]
    # drawn beside the model, towards the eye: below it for widths, at its right for heights and depths
    start = np.array([low[0] if axis == 0 else high[0], low[1], low[2] if axis == 2 else high[2]])
    end = start.copy()
    end[axis] = high[axis]
    return Measured(float(high[axis] - low[axis]), "span", np.stack([start, end]))
