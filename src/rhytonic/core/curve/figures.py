"""What a report tells of a curve."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..mesh.geometry import loop_area_vectors
from ..mesh.mesh import Floats
from .curve import Curve


@dataclass(frozen=True)
class CurveMeasure:
    """Figures of a curve divided into straight edges: metres and square metres.

    ``area`` is that of a closed planar curve, the holes taken off (even–odd); None for others.
    """

    points: int
    length: float
    closed: bool
    planar: bool
    area: float | None


def measure_curve(curve: Curve) -> CurveMeasure:
    """Figures of a curve."""
    line = curve.divided
    closed = bool(line.closed.size) and bool(line.closed.all())
    centred = line.points - line.points.mean(axis=0) if len(line.points) else line.points
    planar = len(line.points) < 3
    area = None
    if not planar:
        _, size, axes = np.linalg.svd(centred, full_matrices=False)
        planar = bool(size[2] <= 1e-9 * max(size[0], 1e-300))
        if planar and closed:
            area = _even_odd(curve, axes[:2])
    return CurveMeasure(len(curve.points), line.length, closed, planar, area)


def _even_odd(curve: Curve, plane: Floats) -> float:
    """Area inside an odd number of the runs: each counts for as much as it is inside of, alternating in sign."""
    line = curve.divided
    runs = [line.points[line.run(i)] for i in range(line.closed.size)]
    flat = [r @ plane.T for r in runs]
    total = 0.0
    for i, run in enumerate(runs):
        size = float(np.linalg.norm(loop_area_vectors(run, np.zeros(1, np.int64), np.array([len(run)]))[0]))
        around = sum(_inside(flat[i][0], other) for j, other in enumerate(flat) if j != i)
        total += size if around % 2 == 0 else -size
    return total


def _inside(point: Floats, loop: Floats) -> bool:
    """Whether a point of the plane lies inside a closed run, by crossings of a ray (M. Shimrat, CACM 5(8), 1962)."""
    a, b = loop, np.roll(loop, -1, axis=0)
    spans = (a[:, 1] > point[1]) != (b[:, 1] > point[1])
    a, b = a[spans], b[spans]
    at = a[:, 0] + (point[1] - a[:, 1]) * (b[:, 0] - a[:, 0]) / (b[:, 1] - a[:, 1])
    return bool((at > point[0]).sum() % 2)
