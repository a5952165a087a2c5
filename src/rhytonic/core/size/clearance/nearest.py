"""The nearest points of two sets of triangles.

Branch and bound over two trees of boxes (N. Roussopoulos, S. Kelley, F. Vincent, SIGMOD 1995), compiled; triangles against
triangles by their edges against each other and their corners against the other's face (C. Ericson, Real-Time Collision
Detection, 2005, sections 5.1.5 and 5.1.9), and where an edge of one passes through the other.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np
from numba import types

from ...compiled import COUNT, INTS, NEW_FLOATS, NEW_INTS, NEW_ROWS, NUMBER, POINTS, STACK, TRIPLE, YES, compiled
from ...mesh.mesh import Floats
from ...mesh.topology import Ints
from ...recipe.place import IDENTITY, Frame
from .box_tree import BoxTree

NO_PAIRS: Ints = np.zeros(0, np.int64)
_Point = tuple[float, float, float]
_FOUR, _SEVEN = types.UniTuple(types.float64, 4), types.UniTuple(types.float64, 7)
#: a tree's boxes and triangles, as the compiled walks take them
_TREE = (POINTS, POINTS, STACK, INTS, INTS)


@dataclass(frozen=True)
class NearestPoints:
    """A distance and where it is: points (2, 3), and the triangle of each side, to begin from next time."""

    distance: float
    ends: Floats
    pair: tuple[int, int] | None


def nearest_pair(a: Floats, b: Floats) -> tuple[float, Floats]:
    """Distance between triangles a (n, 3, 3) and b (m, 3, 3), 0 where they touch or cross, and the (2, 3) points there."""
    found = nearest_triangles(BoxTree(a), IDENTITY, BoxTree(b))
    return found.distance, found.ends


def nearest_triangles(one: BoxTree, frame: Frame, two: BoxTree, within: float = np.inf, begin: tuple[int, int] | None = None,
            but: Ints = NO_PAIRS) -> NearestPoints:
    """Distance between the triangles of a tree that a frame moves and those of another that stands still.

    Args:
        within: what is not nearer than this is not looked for; the distance is this then, and there is no pair.
        begin: triangles that were nearest a moment ago.
        but: pairs of groups that are passed over, as :func:`pair_codes` tells them, ascending.
    """
    i, j = (-1, -1) if begin is None else begin
    found = _walk(*(*_held(one, frame, two), but, _groups(two), within, i, j))
    ends = found[:6].reshape(2, 3)
    if found[7] < 0:
        return NearestPoints(within, np.zeros((2, 3)), None)
    return NearestPoints(float(found[6]), ends, (int(found[7]), int(found[8])))


def touching_groups(one: BoxTree, frame: Frame, two: BoxTree, within: float, but: Ints = NO_PAIRS) -> Ints:
    """(n,) codes of the pairs of groups that come within a distance, ascending, each once; those of ``but`` are passed
    over."""
    return np.unique(_touching(*(*_held(one, frame, two), but, _groups(two), within)))


def pierced(one: BoxTree, frame: Frame, two: BoxTree, margin: float, groups: Ints) -> bool:
    """Whether somewhere an edge passes through a triangle of the other side, by more than a margin on every side of where
    it does; among pairs of groups of these codes, ascending."""
    return bool(_pierced(*(*_held(one, frame, two), groups, _groups(two), margin)))


def pair_codes(ours: Ints, theirs: Ints, two: BoxTree) -> Ints:
    """(n,) codes of pairs of groups of two trees, row by row."""
    return ours * _groups(two) + theirs


def groups_of(codes: Ints, two: BoxTree) -> tuple[Ints, Ints]:
    """(n,) each: the groups of both sides that codes tell."""
    return codes // _groups(two), codes % _groups(two)


def _groups(tree: BoxTree) -> int:
    return int(tree.group.max(initial=0)) + 1


def _held(one: BoxTree, frame: Frame, two: BoxTree) -> Iterator[Any]:
    """What the compiled walks take of two trees: the frame, how deep they are, boxes, triangles, leaves and groups."""
    yield from (frame.linear, frame.shift[None], one.depth, two.depth)
    for tree in (one, two):
        yield from (tree.middle, tree.half, tree.triangles, tree.starts, tree.group)


@compiled(NUMBER, TRIPLE, TRIPLE)
def _dot(u: _Point, v: _Point) -> float:
    return u[0] * v[0] + u[1] * v[1] + u[2] * v[2]


@compiled(TRIPLE, TRIPLE, TRIPLE)
def _less(u: _Point, v: _Point) -> _Point:
    return u[0] - v[0], u[1] - v[1], u[2] - v[2]


@compiled(TRIPLE, TRIPLE, TRIPLE, NUMBER)
def _along(p: _Point, d: _Point, t: float) -> _Point:
    return p[0] + t * d[0], p[1] + t * d[1], p[2] + t * d[2]


@compiled(TRIPLE, TRIPLE, TRIPLE)
def _cross(u: _Point, v: _Point) -> _Point:
    return u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]


@compiled(_SEVEN, TRIPLE, TRIPLE, TRIPLE, TRIPLE)
def _segments(p: _Point, p2: _Point, q: _Point, q2: _Point) -> tuple[float, float, float, float, float, float, float]:
    """Square of the distance of segments p – p2 and q – q2, and the nearest points of both (Ericson, 5.1.9)."""
    d, e, r = _less(p2, p), _less(q2, q), _less(p, q)
    a, f, c, g, b = _dot(d, d), _dot(e, r), _dot(d, r), _dot(e, e), _dot(d, e)
    tiny = 1e-300
    det = a * g - b * b
    s = 0.0
    if det > 1e-12 * a * g:
        s = min(max((b * f - c * g) / det, 0.0), 1.0)
    t = 0.0
    if g > tiny:
        t = min(max((b * s + f) / g, 0.0), 1.0)
    if a > tiny:
        s = min(max((b * t - c) / a, 0.0), 1.0)
    if g > tiny:
        t = min(max((b * s + f) / g, 0.0), 1.0)
    x, y = _along(p, d, s), _along(q, e, t)
    w = _less(x, y)
    return _dot(w, w), x[0], x[1], x[2], y[0], y[1], y[2]


@compiled(_FOUR, TRIPLE, TRIPLE, TRIPLE, TRIPLE)
def _onto(p: _Point, a: _Point, b: _Point, c: _Point) -> tuple[float, float, float, float]:
    """Square of the distance of a point to a triangle's inside, straight down, and the place there; infinite where it does
    not land inside: then an edge is nearer."""
    u, v, w = _less(b, a), _less(c, a), _less(p, a)
    uu, uv, vv, wu, wv = _dot(u, u), _dot(u, v), _dot(v, v), _dot(w, u), _dot(w, v)
    det = uu * vv - uv * uv
    if det > 1e-14 * uu * vv:
        s, t = (vv * wu - uv * wv) / det, (uu * wv - uv * wu) / det
        if s >= 0 and t >= 0 and s + t <= 1:
            x = (a[0] + s * u[0] + t * v[0], a[1] + s * u[1] + t * v[1], a[2] + s * u[2] + t * v[2])
            off = _less(p, x)
            return _dot(off, off), x[0], x[1], x[2]
    return np.inf, a[0], a[1], a[2]


@compiled(_FOUR, TRIPLE, TRIPLE, TRIPLE, TRIPLE, TRIPLE)
def _through(start: _Point, end: _Point, a: _Point, b: _Point, c: _Point) -> tuple[float, float, float, float]:
    """Where a segment passes through a triangle (T. Möller, B. Trumbore, Journal of Graphics Tools 2(1), 1997), and by how
    much on every side, in lengths; negative where it does not."""
    u, v, d = _less(b, a), _less(c, a), _less(end, start)
    h = _cross(d, v)
    det = _dot(u, h)
    size = np.sqrt(_dot(u, u) * _dot(v, v) * _dot(d, d))
    if abs(det) <= 1e-12 * size:
        return -1.0, 0.0, 0.0, 0.0
    w = _less(start, a)
    s = _dot(w, h) / det
    q = _cross(w, u)
    t, k = _dot(d, q) / det, _dot(v, q) / det
    if s < 0 or t < 0 or s + t > 1 or k < 0 or k > 1:
        return -1.0, 0.0, 0.0, 0.0
    n = _cross(u, v)
    area = np.sqrt(_dot(n, n))
    e = _less(c, b)
    above = abs(_dot(d, n)) / area * min(k, 1 - k)
    beside = min(s * area / np.sqrt(_dot(v, v)), min(t * area / np.sqrt(_dot(u, u)),
                                                     (1 - s - t) * area / np.sqrt(_dot(e, e))))
    x = _along(start, d, k)
    return min(above, beside), x[0], x[1], x[2]


@compiled(TRIPLE, STACK, COUNT, COUNT)
def _corner(triangles: Floats, i: int, k: int) -> _Point:
    return triangles[i, k, 0], triangles[i, k, 1], triangles[i, k, 2]


@compiled(TRIPLE, POINTS, POINTS, TRIPLE)
def _moved(linear: Floats, shift: Floats, p: _Point) -> _Point:
    return (linear[0, 0] * p[0] + linear[0, 1] * p[1] + linear[0, 2] * p[2] + shift[0, 0],
            linear[1, 0] * p[0] + linear[1, 1] * p[1] + linear[1, 2] * p[2] + shift[0, 1],
            linear[2, 0] * p[0] + linear[2, 1] * p[1] + linear[2, 2] * p[2] + shift[0, 2])


@compiled(_SEVEN, TRIPLE, TRIPLE, TRIPLE, TRIPLE, TRIPLE, TRIPLE)
def _triangles(a: _Point, b: _Point, c: _Point, x: _Point, y: _Point,
               z: _Point) -> tuple[float, float, float, float, float, float, float]:
    """Square of the distance of two triangles, 0 where they cross, and the nearest points of both."""
    best = (np.inf, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0)
    for one in ((a, b), (b, c), (c, a)):
        for two in ((x, y), (y, z), (z, x)):
            found = _segments(one[0], one[1], two[0], two[1])
            if found[0] < best[0]:
                best = found
    for p in (a, b, c):
        down = _onto(p, x, y, z)
        if down[0] < best[0]:
            best = (down[0], p[0], p[1], p[2], down[1], down[2], down[3])
    for p in (x, y, z):
        down = _onto(p, a, b, c)
        if down[0] < best[0]:
            best = (down[0], down[1], down[2], down[3], p[0], p[1], p[2])
    if best[0] > 0:
        for one in ((a, b), (b, c), (c, a)):
            hit = _through(one[0], one[1], x, y, z)
            if hit[0] >= 0:
                return 0.0, hit[1], hit[2], hit[3], hit[1], hit[2], hit[3]
        for two in ((x, y), (y, z), (z, x)):
            hit = _through(two[0], two[1], a, b, c)
            if hit[0] >= 0:
                return 0.0, hit[1], hit[2], hit[3], hit[1], hit[2], hit[3]
    return best


@compiled(YES, INTS, COUNT)
def _among(codes: Ints, code: int) -> bool:
    """Whether an ascending list has a code."""
    low, high = 0, len(codes)
    while low < high:
        middle = (low + high) // 2
        if codes[middle] < code:
            low = middle + 1
        else:
            high = middle
    return low < len(codes) and codes[low] == code


@compiled(NUMBER, POINTS, POINTS, POINTS, POINTS, POINTS, POINTS, COUNT, COUNT)
def _apart(linear: Floats, shift: Floats, middle: Floats, half: Floats, middle2: Floats, half2: Floats, i: int,
           j: int) -> float:
    """Square of the distance of two boxes, the first of which is moved: the least one along the axes that holds it."""
    out = 0.0
    for k in range(3):
        m, h = shift[0, k], 0.0
        for n in range(3):
            m += linear[k, n] * middle[i, n]
            h += abs(linear[k, n]) * half[i, n]
        gap = abs(m - middle2[j, k]) - h - half2[j, k]
        if gap > 0:
            out += gap * gap
    return out


@compiled(COUNT, NEW_ROWS, COUNT, POINTS, POINTS, POINTS, POINTS, POINTS, POINTS, COUNT, COUNT, COUNT, COUNT)
def _push(places: Ints, size: int, linear: Floats, shift: Floats, middle: Floats, half: Floats, middle2: Floats,
          half2: Floats, i: int, j: int, leaf: int, leaf2: int) -> int:
    """The two pairs below a pair of boxes, the larger of which is parted; the nearer one comes next."""
    wide, wide2 = 0.0, 0.0
    for k in range(3):
        wide, wide2 = max(wide, half[i, k]), max(wide2, half2[j, k])
    if i < leaf and (j >= leaf2 or wide >= wide2):
        one, two, one2, two2 = 2 * i + 1, 2 * i + 2, j, j
    else:
        one, two, one2, two2 = i, i, 2 * j + 1, 2 * j + 2
    first = _apart(linear, shift, middle, half, middle2, half2, one, one2)
    second = _apart(linear, shift, middle, half, middle2, half2, two, two2)
    if first < second:
        one, two, one2, two2 = two, one, two2, one2
    places[0, size], places[1, size] = one, one2
    places[0, size + 1], places[1, size + 1] = two, two2
    return size + 2


@compiled(NEW_FLOATS, POINTS, POINTS, COUNT, COUNT, *_TREE, *_TREE, INTS, COUNT, NUMBER, COUNT, COUNT)
def _walk(linear: Floats, shift: Floats, depth: int, depth2: int, middle: Floats, half: Floats, triangles: Floats,
          starts: Ints, group: Ints, middle2: Floats, half2: Floats, triangles2: Floats, starts2: Ints, group2: Ints,
          but: Ints, groups: int, within: float, i0: int, j0: int) -> Floats:
    """Ends (6), distance and pair (2) of the nearest two triangles; the pair is −1 where none is nearer than ``within``."""
    out = np.full(9, -1.0)
    best = within * within
    places = np.empty((2, depth + depth2 + 4), np.int64)
    size = 0
    if i0 >= 0 and not _among(but, group[i0] * groups + group2[j0]):
        a, b, c = (_moved(linear, shift, _corner(triangles, i0, 0)), _moved(linear, shift, _corner(triangles, i0, 1)),
                   _moved(linear, shift, _corner(triangles, i0, 2)))
        found = _triangles(a, b, c, _corner(triangles2, j0, 0), _corner(triangles2, j0, 1), _corner(triangles2, j0, 2))
        if found[0] < best:
            best = found[0]
            for k in range(6):
                out[k] = found[k + 1]
            out[7], out[8] = i0, j0
    places[0, 0], places[1, 0] = 0, 0
    size = 1
    leaf, leaf2 = len(starts) - 2, len(starts2) - 2  # the first leaf stands behind all boxes above
    while size:
        size -= 1
        i, j = places[0, size], places[1, size]
        if _apart(linear, shift, middle, half, middle2, half2, i, j) >= best:
            continue
        if i >= leaf and j >= leaf2:
            for p in range(starts[i - leaf], starts[i - leaf + 1]):
                a, b, c = (_moved(linear, shift, _corner(triangles, p, 0)), _moved(linear, shift, _corner(triangles, p, 1)),
                           _moved(linear, shift, _corner(triangles, p, 2)))
                for q in range(starts2[j - leaf2], starts2[j - leaf2 + 1]):
                    x, y, z = _corner(triangles2, q, 0), _corner(triangles2, q, 1), _corner(triangles2, q, 2)
                    gap = 0.0
                    for k in range(3):
                        more = max(min(x[k], min(y[k], z[k])) - max(a[k], max(b[k], c[k])),
                                   min(a[k], min(b[k], c[k])) - max(x[k], max(y[k], z[k])))
                        if more > 0:
                            gap += more * more
                    if gap >= best or (len(but) and _among(but, group[p] * groups + group2[q])):
                        continue
                    found = _triangles(a, b, c, x, y, z)
                    if found[0] < best:
                        best = found[0]
                        for k in range(6):
                            out[k] = found[k + 1]
                        out[7], out[8] = p, q
            continue
        size = _push(places, size, linear, shift, middle, half, middle2, half2, i, j, leaf, leaf2)
    out[6] = np.sqrt(best)
    return out


@compiled(NEW_INTS, POINTS, POINTS, COUNT, COUNT, *_TREE, *_TREE, INTS, COUNT, NUMBER)
def _touching(linear: Floats, shift: Floats, depth: int, depth2: int, middle: Floats, half: Floats, triangles: Floats,
              starts: Ints, group: Ints, middle2: Floats, half2: Floats, triangles2: Floats, starts2: Ints, group2: Ints,
              but: Ints, groups: int, within: float) -> Ints:
    """Codes of the pairs of groups that come within a distance, as they are met."""
    out = np.empty(64, np.int64)
    count = 0
    places = np.empty((2, depth + depth2 + 4), np.int64)
    places[0, 0], places[1, 0] = 0, 0
    size = 1
    best = within * within
    leaf, leaf2 = len(starts) - 2, len(starts2) - 2
    while size:
        size -= 1
        i, j = places[0, size], places[1, size]
        if _apart(linear, shift, middle, half, middle2, half2, i, j) > best:
            continue
        if i < leaf or j < leaf2:
            size = _push(places, size, linear, shift, middle, half, middle2, half2, i, j, leaf, leaf2)
            continue
        for p in range(starts[i - leaf], starts[i - leaf + 1]):
            a, b, c = (_moved(linear, shift, _corner(triangles, p, 0)), _moved(linear, shift, _corner(triangles, p, 1)),
                       _moved(linear, shift, _corner(triangles, p, 2)))
            for q in range(starts2[j - leaf2], starts2[j - leaf2 + 1]):
                code = group[p] * groups + group2[q]
                if (count and out[count - 1] == code) or _among(but, code):
                    continue
                found = _triangles(a, b, c, _corner(triangles2, q, 0), _corner(triangles2, q, 1), _corner(triangles2, q, 2))
                if found[0] <= best:
                    if count == len(out):
                        more = np.empty(2 * count, np.int64)
                        more[:count] = out
                        out = more
                    out[count] = code
                    count += 1
    return out[:count].copy()


@compiled(YES, POINTS, POINTS, COUNT, COUNT, *_TREE, *_TREE, INTS, COUNT, NUMBER)
def _pierced(linear: Floats, shift: Floats, depth: int, depth2: int, middle: Floats, half: Floats, triangles: Floats,
             starts: Ints, group: Ints, middle2: Floats, half2: Floats, triangles2: Floats, starts2: Ints, group2: Ints,
             only: Ints, groups: int, margin: float) -> bool:
    """Whether an edge passes through a triangle of the other side by more than a margin."""
    places = np.empty((2, depth + depth2 + 4), np.int64)
    places[0, 0], places[1, 0] = 0, 0
    size = 1
    leaf, leaf2 = len(starts) - 2, len(starts2) - 2
    while size:
        size -= 1
        i, j = places[0, size], places[1, size]
        if _apart(linear, shift, middle, half, middle2, half2, i, j) > 0:
            continue
        if i < leaf or j < leaf2:
            size = _push(places, size, linear, shift, middle, half, middle2, half2, i, j, leaf, leaf2)
            continue
        for p in range(starts[i - leaf], starts[i - leaf + 1]):
            a, b, c = (_moved(linear, shift, _corner(triangles, p, 0)), _moved(linear, shift, _corner(triangles, p, 1)),
                       _moved(linear, shift, _corner(triangles, p, 2)))
            for q in range(starts2[j - leaf2], starts2[j - leaf2 + 1]):
                if not _among(only, group[p] * groups + group2[q]):
                    continue
                x, y, z = _corner(triangles2, q, 0), _corner(triangles2, q, 1), _corner(triangles2, q, 2)
                for one in ((a, b), (b, c), (c, a)):
                    if _through(one[0], one[1], x, y, z)[0] > margin:
                        return True
                for two in ((x, y), (y, z), (z, x)):
                    if _through(two[0], two[1], a, b, c)[0] > margin:
                        return True
    return False


__all__ = ["BoxTree", "NearestPoints", "groups_of", "nearest_pair", "nearest_triangles", "pair_codes", "pierced",
           "touching_groups"]
