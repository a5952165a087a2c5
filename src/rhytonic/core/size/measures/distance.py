"""Distance between two places, straight or along an axis of the build."""

from __future__ import annotations

import numpy as np

from ...mesh.geometry import lengths
from ..scene import Named
from .measured import Measured


def distance(found: list[Named], along: str) -> Measured:
    """Distance in metres between the middles of the two targets, straight or along one axis of the build."""
    a, b = found[0].place, found[1].place
    if along == "straight":
        return Measured(float(lengths((b - a)[None])[0]), "span", np.stack([a, b]))
    axis = "xyz".index(along)
    end = a.copy()
    end[axis] = b[axis]
    return Measured(float(abs(b[axis] - a[axis])), "span", np.stack([a, end, b]))
