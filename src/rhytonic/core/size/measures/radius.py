"""Radius of a loop: of the circle through its vertices, in least squares (I. Kåsa, IEEE Transactions on Instrumentation and
Measurement 25(1), 1976)."""

from __future__ import annotations

import numpy as np

from ..scene import Named, NotMeasured
from .measured import Measured


def radius(found: list[Named]) -> Measured:
    """Radius in metres of the circle that fits the targets' vertices best in their plane. Raises NotMeasured for fewer
    than three."""
    points = found[0].points
    if len(points) < 3:
        raise NotMeasured("a radius is that of three vertices or more")
    mean = points.mean(axis=0)
    _, spread, axes = np.linalg.svd(points - mean, full_matrices=False)
    if spread[1] <= 1e-9 * spread[0]:
        raise NotMeasured("the vertices lie in line; they have no radius")
    flat = (points - mean) @ axes[:2].T
    matrix = np.column_stack([2 * flat, np.ones(len(flat))])
    solved, *_ = np.linalg.lstsq(matrix, (flat**2).sum(axis=1), rcond=None)
    centre = solved[:2]
    value = float(np.sqrt(solved[2] + centre @ centre))
    return Measured(value, "radius", np.stack([mean + centre @ axes[:2], points[0]]))
