"""What drawings of curves are written with."""

from __future__ import annotations

import numpy as np

from ...curve.curve import Curve
from ...curve.spans import Spans
from ...mesh.mesh import Floats


def spans_of(curve: Curve, run: int) -> list[tuple[int, int]]:
    """Spans of a run, each told by the points it begins and ends at."""
    spans = Spans.of(curve)
    mine = np.flatnonzero(curve.wires.run[spans.begin] == run)
    return list(zip(spans.begin[mine].tolist(), spans.end[mine].tolist(), strict=True))


def round_of(a: Floats, b: Floats, corner: Floats, weight: float) -> tuple[float, float]:
    """Radius and turn, counter-clockwise positive, of an arc whose tangents meet at a corner."""
    half = float(np.arccos(np.clip(weight, -1, 1)))
    way, to = b - a, corner - a
    side = float(to[0] * way[1] - to[1] * way[0])
    return float(np.hypot(*to)) / np.tan(half), 2 * half * (1 if side > 0 else -1)
