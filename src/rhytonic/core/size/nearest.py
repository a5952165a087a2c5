"""The nearest points of two sets of triangles.

Branch and bound over two trees of boxes, a level at a time (N. Roussopoulos, S. Kelley, F. Vincent, SIGMOD 1995); triangles
against triangles by their six edges each against the other (C. Ericson, Real-Time Collision Detection, 2005, section 5.1).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..mesh.geometry import cross
from ..mesh.mesh import Floats
from ..mesh.topology import Bools, Ints
from ..recipe.place import IDENTITY, Frame

#: a leaf of the tree of boxes holds at most so many triangles
_LEAF = 4
#: pairs of leaves looked at first, to know better how near is near
_FIRST = 64


@dataclass(frozen=True)
class Nearest:
    """A distance and where it is: points (2, 3), and the triangle of each side, to begin from next time."""

    distance: float
    ends: Floats
    pair: tuple[int, int] | None


class BoxTree:
    """Boxes round triangles, halved level by level at the middle of their longest side.

    Attributes:
        triangles: (n, 3, 3), in the order of the leaves.
    """

    def __init__(self, triangles: Floats) -> None:
        n = len(triangles)
        self.depth = max(int(np.ceil(np.log2(max(n, 1) / _LEAF))), 0)
        centre = triangles.mean(axis=1)
        order = np.arange(n)
        self._bounds = [(np.arange(2**level + 1) * n) >> level for level in range(self.depth + 1)]
        for level in range(self.depth):
            starts = self._bounds[level]
            node = np.repeat(np.arange(2**level), np.diff(starts))
            c = centre[order]
            size = np.maximum.reduceat(c, starts[:-1]) - np.minimum.reduceat(c, starts[:-1])
            along = c[np.arange(n), size.argmax(axis=1)[node]]
            order = order[np.lexsort((along, node))]
        self.triangles = np.ascontiguousarray(triangles[order])
        low, high = self.triangles.min(axis=1), self.triangles.max(axis=1)
        lows = [np.minimum.reduceat(low, b[:-1]) for b in self._bounds]
        highs = [np.maximum.reduceat(high, b[:-1]) for b in self._bounds]
        self.first = np.cumsum([0, *(2**level for level in range(self.depth + 1))])
        self._low, self._high = np.concatenate(lows), np.concatenate(highs)
        self.middle, self.half = (self._low + self._high) / 2, (self._high - self._low) / 2
        self.sample = np.concatenate([self.triangles[b[:-1], 0] for b in self._bounds])

    def moved(self, frame: Frame) -> _Placed:
        """The tree where a frame puts it: each box the least one along the axes that holds the moved box."""
        if frame.is_identity:
            return _Placed(self, frame, self.middle, self.half, self.sample)
        return _Placed(self, frame, frame.apply(self.middle), self.half @ np.abs(frame.linear).T, frame.apply(self.sample))

    def leaves(self, nodes: Ints) -> tuple[Ints, Bools]:
        """(n, m) triangles of leaves, and which of them are there."""
        b = self._bounds[self.depth]
        most = int(np.diff(b).max(initial=0))
        at = b[nodes][:, None] + np.arange(most)
        there = at < b[nodes + 1][:, None]
        return np.where(there, at, 0), there


@dataclass(frozen=True, eq=False)
class _Placed:
    tree: BoxTree
    frame: Frame
    middle: Floats
    half: Floats
    sample: Floats

    def corners(self, which: Ints) -> Floats:
        """(n, 3, 3) triangles where they stand."""
        points = self.tree.triangles[which]
        return points if self.frame.is_identity else self.frame.apply(points.reshape(-1, 3)).reshape(-1, 3, 3)


def nearest_pair(a: Floats, b: Floats) -> tuple[float, Floats]:
    """Distance between triangles a (n, 3, 3) and b (m, 3, 3), 0 where they touch or cross, and the (2, 3) points there."""
    found = nearest(BoxTree(a), IDENTITY, BoxTree(b))
    return found.distance, found.ends


def nearest(one: BoxTree, frame: Frame, two: BoxTree, within: float = np.inf,
            begin: tuple[int, int] | None = None) -> Nearest:
    """Distance between the triangles of a tree that a frame moves and those of another that stands still.

    Args:
        within: what is not nearer than this is not looked for; the distance is this then, and there is no pair.
        begin: triangles that were nearest a moment ago.
    """
    a, b = one.moved(frame), two.moved(IDENTITY)
    best = Nearest(within, np.zeros((2, 3)), None)
    if begin is not None:
        best = _better(best, a, b, np.array([begin[0]]), np.array([begin[1]]))
    i = j = np.zeros(1, np.int64)
    la = lb = 0
    while True:
        na, nb = one.first[la] + i, two.first[lb] + j
        apart = np.linalg.norm(np.maximum(np.abs(a.middle[na] - b.middle[nb]) - a.half[na] - b.half[nb], 0.0), axis=1)
        # two points of them are no nearer than the nearest, which bounds it from above; strictly, so that it is found below
        samples = np.linalg.norm(a.sample[na] - b.sample[nb], axis=1).min(initial=np.inf)
        near = (apart < best.distance) & (apart <= samples)
        i, j, apart = i[near], j[near], apart[near]
        if not i.size:
            return best
        if la == one.depth and lb == two.depth:
            break
        if la < one.depth and (lb == two.depth or _larger(a, na[near], b, nb[near])):
            i, j, la = np.concatenate([2 * i, 2 * i + 1]), np.concatenate([j, j]), la + 1
        else:
            i, j, lb = np.concatenate([i, i]), np.concatenate([2 * j, 2 * j + 1]), lb + 1
    order = np.argsort(apart, kind="stable")
    for some in (order[:_FIRST], order[_FIRST:]):
        some = some[apart[some] < best.distance]
        if some.size and best.distance > 0:
            best = _leaf_pairs(best, a, b, i[some], j[some])
    return best


def _larger(a: _Placed, na: Ints, b: _Placed, nb: Ints) -> bool:
    return float(a.half[na].max()) >= float(b.half[nb].max())


def _leaf_pairs(best: Nearest, a: _Placed, b: _Placed, i: Ints, j: Ints) -> Nearest:
    """The nearest of the triangles of leaves, where they are nearer than the best so far."""
    (ours, is_ours), (theirs, is_theirs) = a.tree.leaves(i), b.tree.leaves(j)
    shape = (i.size, ours.shape[1], theirs.shape[1])
    there = is_ours[:, :, None] & is_theirs[:, None, :]
    p = np.broadcast_to(ours[:, :, None], shape)[there]
    q = np.broadcast_to(theirs[:, None, :], shape)[there]
    one, two = a.corners(p), b.corners(q)
    between = np.maximum(two.min(axis=1) - one.max(axis=1), one.min(axis=1) - two.max(axis=1))
    apart = np.linalg.norm(np.maximum(between, 0.0), axis=1)
    near = apart < best.distance
    order = np.argsort(apart[near], kind="stable")
    p, q, apart = p[near][order], q[near][order], apart[near][order]
    for some in (slice(0, _FIRST), slice(_FIRST, None)):
        still = apart[some] < best.distance
        if still.any():
            best = _better(best, a, b, p[some][still], q[some][still])
    return best


def _better(best: Nearest, a: _Placed, b: _Placed, i: Ints, j: Ints) -> Nearest:
    """The nearest of pairs of triangles, row by row, where it is nearer than the best so far."""
    p, q = a.corners(i), b.corners(j)
    for k in range(3):
        for start, end, triangle, turned in ((p[:, k], p[:, (k + 1) % 3], q, False), (q[:, k], q[:, (k + 1) % 3], p, True)):
            off, on_edge, on_triangle = _edge_to_triangle(start, end, triangle)
            at = int(off.argmin())
            if off[at] < best.distance:
                ends = np.stack([on_triangle[at], on_edge[at]] if turned else [on_edge[at], on_triangle[at]])
                best = Nearest(float(off[at]), ends, (int(i[at]), int(j[at])))
    return best


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
