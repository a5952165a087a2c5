"""What there is to say of outlines that cross."""

from __future__ import annotations

import numpy as np

from ...curve.curve import Polyline
from ...curve.self_crossing import crossing_place
from ...mesh.mesh import Floats
from ...step.kind import Remark


def square_to(way: Floats) -> Floats:
    """(2, 3) unit directions that span what stands square to a way (3,)."""
    one = np.cross(way, np.eye(3)[int(np.argmin(np.abs(way)))])
    axes = np.stack([one, np.cross(way, one)])
    out: Floats = axes / np.linalg.norm(axes, axis=1)[:, None]
    return out


def crossing_remark(line: Polyline, way: Floats) -> tuple[Remark, ...]:
    """What there is to say where closed runs cross, seen along a way (3,)."""
    axes = square_to(way)
    shut = [line.points[line.run(int(r))] for r in np.flatnonzero(line.closed)]
    place = crossing_place([ring @ axes.T for ring in shut])
    if place is None:
        return ()
    height = float(np.mean(next(ring @ way for ring in shut)) / (way @ way))
    point = tuple((place @ axes + height * way).tolist())
    return (Remark("the outline crosses itself or another at {point}, so that it has no inside there; move its points apart",
                   0.0, point),)
