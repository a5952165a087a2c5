"""Positions of one level of refinement, as compiled loops over faces, edges and vertices.

The same loops run in the same order whenever they are asked for, so that the same cage gives the same bits whatever ran
before; and they take a fraction of the time of a product with a sparse matrix, creases and borders included.
"""

from __future__ import annotations

import numpy as np
from numba import types

from ...compiled import FLOATS, INTS, NEW_POINTS, POINTS, ROWS, compiled
from ...mesh.geometry import Floats
from ...mesh.topology import Ints


@compiled(NEW_POINTS, POINTS, INTS, INTS, INTS, ROWS, FLOATS, INTS)
def smooth(points: Floats, corners: Ints, starts: Ints, corner_edge: Ints, ends: Ints, sharpness: Floats,
           valence: Ints) -> Floats:
    """(V + E + F, 3) vertices by the smooth rule, edges by their sharpness (E,), faces by their means.

    A smooth vertex has as many edges as faces n, so with S the sum of (own + neighbour) over its edges the rule
    (F + 2R + (n − 3) P) / n becomes (ΣF + S) / n² + (n − 3) / n · P.

    Args:
        corners, starts: vertices of the faces, one face after the other, and where each begins (F + 1,).
        ends: (E, 2) vertices of the edges.
        valence: (V,) faces at each vertex.
    """
    v, e, f = len(points), len(ends), len(starts) - 1
    out = np.zeros((v + e + f, 3))
    for i in range(f):
        x, y, z = 0.0, 0.0, 0.0
        for c in range(starts[i], starts[i + 1]):
            p = corners[c]
            x += points[p, 0]
            y += points[p, 1]
            z += points[p, 2]
        n = starts[i + 1] - starts[i]
        x, y, z = x / n, y / n, z / n
        out[v + e + i, 0], out[v + e + i, 1], out[v + e + i, 2] = x, y, z
        for c in range(starts[i], starts[i + 1]):
            p, k = corners[c], v + corner_edge[c]
            out[p, 0] += x
            out[p, 1] += y
            out[p, 2] += z
            out[k, 0] += x
            out[k, 1] += y
            out[k, 2] += z
    for i in range(e):
        a, b, k = ends[i, 0], ends[i, 1], v + i
        x, y, z = points[a, 0] + points[b, 0], points[a, 1] + points[b, 1], points[a, 2] + points[b, 2]
        out[a, 0] += x
        out[a, 1] += y
        out[a, 2] += z
        out[b, 0] += x
        out[b, 1] += y
        out[b, 2] += z
        s = min(sharpness[i], 1.0)
        if s == 0.0:
            out[k, 0], out[k, 1], out[k, 2] = 0.25 * (out[k, 0] + x), 0.25 * (out[k, 1] + y), 0.25 * (out[k, 2] + z)
        elif s == 1.0:
            out[k, 0], out[k, 1], out[k, 2] = 0.5 * x, 0.5 * y, 0.5 * z
        else:
            out[k, 0] = s * 0.5 * x + (1 - s) * 0.25 * (out[k, 0] + x)
            out[k, 1] = s * 0.5 * y + (1 - s) * 0.25 * (out[k, 1] + y)
            out[k, 2] = s * 0.5 * z + (1 - s) * 0.25 * (out[k, 2] + z)
    for i in range(v):
        n = max(valence[i], 1)
        one, own = 1.0 / (n * n), (n - 3.0) / n
        out[i, 0] = out[i, 0] * one + own * points[i, 0]
        out[i, 1] = out[i, 1] * one + own * points[i, 1]
        out[i, 2] = out[i, 2] * one + own * points[i, 2]
    return out


@compiled(types.void, NEW_POINTS, POINTS, INTS, INTS, ROWS)
def pull(vertex: Floats, points: Floats, stays: Ints, curve: Ints, along: Ints) -> None:
    """Give vertices that stay, and those on a curve with the neighbours ``along`` it (m, 2), their places."""
    for i in stays:
        for k in range(3):
            vertex[i, k] = points[i, k]
    for m in range(len(curve)):
        i, a, b = curve[m], along[m, 0], along[m, 1]
        for k in range(3):
            vertex[i, k] = 0.75 * points[i, k] + 0.125 * (points[a, k] + points[b, k])


@compiled(types.void, NEW_POINTS, POINTS, FLOATS)
def mix_in(vertex: Floats, later: Floats, share: Floats) -> None:
    """Mix each vertex with where another rule would have it, by its share (V,) of its own."""
    for i in range(len(share)):
        if share[i] != 1.0:
            for k in range(3):
                vertex[i, k] = share[i] * vertex[i, k] + (1.0 - share[i]) * later[i, k]

