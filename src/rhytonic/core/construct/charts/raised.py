"""Surfaces raised by the greys that lie on them."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ...compiled import BOOLS, FLOATS, GREYS, INTS, NEW_FLOATS, NEW_POINTS, NUMBER, POINTS, compiled
from ...mesh.geometry import Floats
from ...mesh.topology import Bools, Ints, Topology

Greys = NDArray[np.float32]


def vertex_greys(topology: Topology, uv: Floats, faces: Bools, grey: Greys, rest: float) -> Floats:
    """(V,) the mean grey of the places that each vertex has in ``faces`` (F,), between the middles of pixels; ``rest`` where
    it has none. What lies beyond the square repeats it.

    Args:
        uv: (C, 2) places of the corners. grey: (h, w), first row above.
    """
    return _greys(topology.corners, topology.corner_face, np.ascontiguousarray(uv), faces,
                  np.ascontiguousarray(grey, np.float32), float(rest), np.zeros(topology.vertex_count))


@compiled(NEW_FLOATS, INTS, INTS, POINTS, BOOLS, GREYS, NUMBER, FLOATS)
def _greys(corners: Ints, corner_face: Ints, uv: Floats, faces: Bools, grey: Greys, rest: float,
           vertices: Floats) -> Floats:
    high, wide = grey.shape
    out, count = np.zeros(len(vertices)), np.zeros(len(vertices))
    for c in range(len(corners)):
        u, v = uv[c, 0], uv[c, 1]
        if not faces[corner_face[c]] or np.isnan(u) or np.isnan(v):
            continue
        if u < -1e-9 or u > 1 + 1e-9:
            u -= np.floor(u)
        if v < -1e-9 or v > 1 + 1e-9:
            v -= np.floor(v)
        x, y = min(max(u * wide - 0.5, 0.0), wide - 1.0), min(max((1 - v) * high - 0.5, 0.0), high - 1.0)
        i, j = min(int(x), max(wide - 2, 0)), min(int(y), max(high - 2, 0))
        k, m = min(i + 1, wide - 1), min(j + 1, high - 1)
        a, b = x - i, y - j
        out[corners[c]] += (grey[j, i] * (1 - a) + grey[j, k] * a) * (1 - b) + (grey[m, i] * (1 - a) + grey[m, k] * a) * b
        count[corners[c]] += 1
    for i in range(len(out)):
        out[i] = out[i] / count[i] if count[i] > 0 else rest
    return out


def displaced(points: Floats, topology: Topology, faces: Bools, by: Floats) -> Floats:
    """(V, 3) points moved ``by`` (V,) along the mean normal of their ``faces`` (F,), weighted by area."""
    return _displaced(np.ascontiguousarray(points), topology.corners, topology.offsets, faces, by)


@compiled(NEW_POINTS, POINTS, INTS, INTS, BOOLS, FLOATS)
def _displaced(points: Floats, corners: Ints, offsets: Ints, faces: Bools, by: Floats) -> Floats:
    out = points.copy()
    normal = np.zeros((len(points), 3))
    for f in range(len(faces)):
        if not faces[f]:
            continue
        x, y, z = 0.0, 0.0, 0.0
        first, last = offsets[f], offsets[f + 1]
        o = corners[first]
        for c in range(first + 1, last - 1):
            p, q = corners[c], corners[c + 1]
            ax, ay, az = points[p, 0] - points[o, 0], points[p, 1] - points[o, 1], points[p, 2] - points[o, 2]
            bx, by_, bz = points[q, 0] - points[o, 0], points[q, 1] - points[o, 1], points[q, 2] - points[o, 2]
            x += ay * bz - az * by_
            y += az * bx - ax * bz
            z += ax * by_ - ay * bx
        for c in range(first, last):
            v = corners[c]
            normal[v, 0] += x
            normal[v, 1] += y
            normal[v, 2] += z
    for v in range(len(points)):
        size = np.sqrt(normal[v, 0] ** 2 + normal[v, 1] ** 2 + normal[v, 2] ** 2)
        if size > 0:
            for k in range(3):
                out[v, k] += by[v] * normal[v, k] / size
    return out


def turned_over(uv: Floats, island: Ints, corner_face: Ints, faces: Bools) -> Floats:
    """(C, 2) places of corners, those of ``faces`` (F,) turned over about the upright middle of their island's box: what is
    written there reads right on an image."""
    out = uv.copy()
    mine = faces[corner_face] & (island[corner_face] >= 0)
    n = int(island.max(initial=-1)) + 1
    low, high = np.full(n, np.inf), np.full(n, -np.inf)
    at = island[corner_face[mine]]
    np.minimum.at(low, at, uv[mine, 0])
    np.maximum.at(high, at, uv[mine, 0])
    out[mine, 0] = low[at] + high[at] - uv[mine, 0]
    return out
