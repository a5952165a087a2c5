"""How far within the place of an element, a polygon, an edge or a vertex, points lie."""

from __future__ import annotations

import numpy as np

from ..compiled import COUNT, FLOATS, INTS, NEW_BOOLS, NEW_FLOATS, POINTS, TRIPLE, compiled
from ..mesh.geometry import Floats
from ..mesh.topology import Bools, Ints

#: a place smaller than this is a point, and what is nearer than this lies at it
_POINT, _AT = 1e-9, 1e-6


@compiled(TRIPLE, POINTS)
def _centre(points: Floats) -> tuple[float, float, float]:
    x, y, z = 0.0, 0.0, 0.0
    for i in range(len(points)):
        x += points[i, 0]
        y += points[i, 1]
        z += points[i, 2]
    return x / len(points), y / len(points), z / len(points)


@compiled(NEW_BOOLS, POINTS, FLOATS, INTS, POINTS)
def within_reach(middle: Floats, more: Floats, candidates: Ints, points: Floats) -> Bools:
    """(n,) which candidates may lie within a place or on its rim, by its box; ``more`` is what each may lie beside it."""
    centre = _centre(points)
    low, high = points[0].copy(), points[0].copy()
    size = 0.0
    for i in range(len(points)):
        away = 0.0
        for k in range(3):
            low[k], high[k] = min(low[k], points[i, k]), max(high[k], points[i, k])
            away += (points[i, k] - centre[k]) ** 2
        size = max(size, np.sqrt(away))
    out = np.empty(len(candidates), np.bool_)
    for i in range(len(candidates)):
        c = candidates[i]
        out[i] = True
        for k in range(3):
            reach = (high[k] - low[k]) / 2 + size / 2 + 1e-3 + more[c]
            out[i] &= abs(middle[c, k] - (low[k] + high[k]) / 2) <= reach
    return out


@compiled(TRIPLE, POINTS, COUNT)
def _side(points: Floats, i: int) -> tuple[float, float, float]:
    """From a corner to the next."""
    n = (i + 1) % len(points)
    return points[n, 0] - points[i, 0], points[n, 1] - points[i, 1], points[n, 2] - points[i, 2]


@compiled(NEW_FLOATS, POINTS, POINTS)
def depth(points: Floats, middle: Floats) -> Floats:
    """(n,) how far inside a polygon (k, 3), a segment or a point each of ``middle`` (n, 3) lies; negative outside."""
    cx, cy, cz = _centre(points)
    k = len(points)
    nx, ny, nz, size, far, last = 0.0, 0.0, 0.0, 0.0, -1.0, 0
    for i in range(k):
        ax, ay, az = points[i, 0] - cx, points[i, 1] - cy, points[i, 2] - cz
        n = (i + 1) % k
        bx, by, bz = points[n, 0] - cx, points[n, 1] - cy, points[n, 2] - cz
        nx += ay * bz - az * by
        ny += az * bx - ax * bz
        nz += ax * by - ay * bx
        size = max(size, np.sqrt(ax * ax + ay * ay + az * az))
        away = (points[i, 0] - points[0, 0]) ** 2 + (points[i, 1] - points[0, 1]) ** 2 + (points[i, 2] - points[0, 2]) ** 2
        if away > far:
            far, last = away, i
    area = np.sqrt(nx * nx + ny * ny + nz * nz)
    out = np.empty(len(middle))
    if k == 1 or size < _POINT:
        for j in range(len(middle)):
            out[j] = _AT - np.sqrt((middle[j, 0] - cx) ** 2 + (middle[j, 1] - cy) ** 2 + (middle[j, 2] - cz) ** 2)
        return out
    if k == 2 or area < 1e-7 * size * size:  # flattened to a line
        length = np.sqrt(far)
        wx, wy, wz = ((points[last, 0] - points[0, 0]) / length, (points[last, 1] - points[0, 1]) / length,
                      (points[last, 2] - points[0, 2]) / length)
        half = 0.0
        for i in range(k):
            half = max(half, abs((points[i, 0] - cx) * wx + (points[i, 1] - cy) * wy + (points[i, 2] - cz) * wz))
        for j in range(len(middle)):
            x, y, z = middle[j, 0] - cx, middle[j, 1] - cy, middle[j, 2] - cz
            along = x * wx + y * wy + z * wz
            aside = np.sqrt((x - along * wx) ** 2 + (y - along * wy) ** 2 + (z - along * wz) ** 2)
            out[j] = half - abs(along) if aside < 0.1 * size + _AT else -aside
        return out
    nx, ny, nz = nx / area, ny / area, nz / area
    for j in range(len(middle)):
        above = abs((middle[j, 0] - cx) * nx + (middle[j, 1] - cy) * ny + (middle[j, 2] - cz) * nz)
        out[j] = -above
        if above < 0.2 * size:
            least = np.inf
            for i in range(k):
                sx, sy, sz = _side(points, i)
                length = max(np.sqrt(sx * sx + sy * sy + sz * sz), 1e-12)
                x, y, z = middle[j, 0] - points[i, 0], middle[j, 1] - points[i, 1], middle[j, 2] - points[i, 2]
                least = min(least, (x * (ny * sz - nz * sy) + y * (nz * sx - nx * sz) + z * (nx * sy - ny * sx)) / length)
            out[j] = least
    return out
