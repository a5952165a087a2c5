"""The nearest points of two sets of triangles.

Branch and bound over boxes, nearest pairs of boxes first (N. Roussopoulos, S. Kelley, F. Vincent, SIGMOD 1995); triangles
against triangles by their six edges each against the other (C. Ericson, Real-Time Collision Detection, 2005, section 5.1).
"""

from __future__ import annotations

import heapq
import itertools

import numpy as np

from ..mesh.geometry import cross
from ..mesh.mesh import Floats
from ..mesh.topology import Ints

#: a leaf of the tree of boxes holds at most so many triangles
_LEAF = 48


def nearest_pair(a: Floats, b: Floats) -> tuple[float, Floats]:
    """Distance between triangles a (n, 3, 3) and b (m, 3, 3), 0 where they touch or cross, and the (2, 3) points there."""
    one, two = _Boxes(a), _Boxes(b)
    best, ends = np.inf, np.zeros((2, 3))
    order = itertools.count()
    heap: list[tuple[float, int, Ints, Ints]] = [(0.0, next(order), np.arange(len(a)), np.arange(len(b)))]
    while heap:
        bound, _, i, j = heapq.heappop(heap)
        if bound >= best:
            break
        if max(i.size, j.size) <= _LEAF:
            value, here = _leaves(a, b, one, two, i, j, best)
            if value < best:
                best, ends = value, here
            continue
        for left in one.split(i) if i.size >= j.size else [i]:
            for right in two.split(j) if j.size > i.size else [j]:
                apart = one.apart(left, two, right)
                if apart < best:
                    heapq.heappush(heap, (apart, next(order), left, right))
    return float(best), ends


class _Boxes:
    """Boxes of triangles, and of groups of them."""

    def __init__(self, triangles: Floats) -> None:
        self.low, self.high = triangles.min(axis=1), triangles.max(axis=1)
        self.centre = (self.low + self.high) / 2

    def split(self, group: Ints) -> list[Ints]:
        c = self.centre[group]
        axis = int(np.ptp(c, axis=0).argmax())
        order = np.argpartition(c[:, axis], group.size // 2)
        return [group[order[:group.size // 2]], group[order[group.size // 2:]]]

    def apart(self, group: Ints, other: _Boxes, theirs: Ints) -> float:
        between = np.maximum(other.low[theirs].min(axis=0) - self.high[group].max(axis=0),
                             self.low[group].min(axis=0) - other.high[theirs].max(axis=0))
        return float(np.linalg.norm(np.maximum(between, 0.0)))


def _leaves(a: Floats, b: Floats, one: _Boxes, two: _Boxes, i: Ints, j: Ints, best: float) -> tuple[float, Floats]:
    between = np.maximum(two.low[j][None] - one.high[i][:, None], one.low[i][:, None] - two.high[j][None])
    near = np.argwhere(np.linalg.norm(np.maximum(between, 0.0), axis=2) < best)
    if not near.size:
        return np.inf, np.zeros((2, 3))
    p, q = a[i[near[:, 0]]], b[j[near[:, 1]]]
    value, ends = np.inf, np.zeros((2, 3))
    for k in range(3):
        edges = [(p[:, k], p[:, (k + 1) % 3], q, False), (q[:, k], q[:, (k + 1) % 3], p, True)]
        for start, end, triangle, turned in edges:
            off, on_edge, on_triangle = _edge_to_triangle(start, end, triangle)
            at = int(off.argmin())
            if off[at] < value:
                value = float(off[at])
                ends = np.stack([on_triangle[at], on_edge[at]] if turned else [on_edge[at], on_triangle[at]])
    return value, ends


def _edge_to_triangle(start: Floats, end: Floats, triangle: Floats) -> tuple[Floats, Floats, Floats]:
    """(n,) distances of segments to triangles, row by row, and the nearest points on both."""
    candidates = [_segments(start, end, triangle[:, k], triangle[:, (k + 1) % 3]) for k in range(3)]
    for point in (start, end):
        candidates.append((point, _onto_triangle(point, triangle)))
    ons = np.stack([c[0] for c in candidates])
    tos = np.stack([c[1] for c in candidates])
    off = np.linalg.norm(ons - tos, axis=2)
    best = off.argmin(axis=0)
    rows = np.arange(len(start))
    out, on, to = off[best, rows], ons[best, rows], tos[best, rows]
    hit, at = _crossing(start, end, triangle)
    on[hit], to[hit], out[hit] = at[hit], at[hit], 0.0
    return out, on, to


def _dot(u: Floats, v: Floats) -> Floats:
    out: Floats = np.einsum("ij,ij->i", u, v)
    return out


def _segments(p: Floats, p2: Floats, q: Floats, q2: Floats) -> tuple[Floats, Floats]:
    """Nearest points of segments p – p2 and q – q2, row by row (Ericson, section 5.1.9)."""
    d, e, r = p2 - p, q2 - q, p - q
    a, f, c, g, b = _dot(d, d), _dot(e, r), _dot(d, r), _dot(e, e), _dot(d, e)
    tiny = 1e-300
    det = a * g - b * b
    s = np.where(det > 1e-12 * a * g, np.clip((b * f - c * g) / np.where(det > 0, det, 1.0), 0, 1), 0.0)
    t = np.where(g > tiny, (b * s + f) / np.maximum(g, tiny), 0.0)
    t_in = np.clip(t, 0, 1)
    s = np.where(a > tiny, np.clip((b * t_in - c) / np.maximum(a, tiny), 0, 1), 0.0)
    return p + s[:, None] * d, q + t_in[:, None] * e


def _onto_triangle(p: Floats, triangle: Floats) -> Floats:
    """Points put straight down onto triangles where they land inside; else the triangle's first corner, which its edges
    better."""
    o, u, v = triangle[:, 0], triangle[:, 1] - triangle[:, 0], triangle[:, 2] - triangle[:, 0]
    w = p - o
    uu, uv, vv, wu, wv = _dot(u, u), _dot(u, v), _dot(v, v), _dot(w, u), _dot(w, v)
    det = uu * vv - uv * uv
    flat = det <= 1e-14 * uu * vv
    det = np.where(flat, 1.0, det)
    s, t = (vv * wu - uv * wv) / det, (uu * wv - uv * wu) / det
    inside = ~flat & (s >= 0) & (t >= 0) & (s + t <= 1)
    out: Floats = np.where(inside[:, None], o + s[:, None] * u + t[:, None] * v, o)
    return out


def _crossing(start: Floats, end: Floats, triangle: Floats) -> tuple[np.ndarray, Floats]:
    """Which segments pass through triangles, and where (T. Möller, B. Trumbore, Journal of Graphics Tools 2(1), 1997)."""
    o, u, v = triangle[:, 0], triangle[:, 1] - triangle[:, 0], triangle[:, 2] - triangle[:, 0]
    d = end - start
    h = cross(d, v)
    det = _dot(u, h)
    scale = np.linalg.norm(u, axis=1) * np.linalg.norm(v, axis=1) * np.linalg.norm(d, axis=1)
    real = np.abs(det) > 1e-12 * scale
    inverse = 1.0 / np.where(real, det, 1.0)
    w = start - o
    s = _dot(w, h) * inverse
    q = cross(w, u)
    t = _dot(d, q) * inverse
    along = _dot(v, q) * inverse
    hit = real & (s >= 0) & (t >= 0) & (s + t <= 1) & (along >= 0) & (along <= 1)
    return hit, start + along[:, None] * d
