"""Vertices that stand at one place, and faces that pass through each other."""

from __future__ import annotations

import igl.predicates
import numpy as np
import scipy

from ..compiled import BOOLS, COUNT, FLOATS, INTS, NEW_BOOLS, NUMBER, PAIR, POINTS, ROWS, YES, compiled
from ..waiting import check
from .geometry import Floats, cross, lengths, unit
from .mesh import Mesh
from .topology import Bools, Ints, components
from .triangulate import triangulate

#: corners nearer than this, in metres, are one place where faces are compared
SAME_PLACE = 1e-7
#: triangles that pass through each other by less than this share of their size touch
_TOUCHING = 1e-9
#: more pairs of triangles than this are left to the exact look, which sorts them first
_MOST_PAIRS = 10_000_000


def near_pairs(mesh: Mesh, distance: float) -> Ints:
    """(n, 2) vertices no further apart than ``distance``, metres."""
    if len(mesh.points) < 2 or distance <= 0.0:
        return np.zeros((0, 2), np.int64)
    return scipy.spatial.cKDTree(mesh.points).query_pairs(distance, output_type="ndarray").astype(np.int64)


def places(mesh: Mesh) -> Ints:
    """(V,) the first vertex that stands where each one stands."""
    pairs = near_pairs(mesh, SAME_PLACE)
    count = mesh.topology.vertex_count
    label = components(count, pairs[:, 0], pairs[:, 1])
    first = np.full(int(label.max(initial=-1)) + 1, count, np.int64)
    np.minimum.at(first, label, np.arange(count))
    out: Ints = first[label]
    return out


def crossing_faces(mesh: Mesh, touching: float = _TOUCHING) -> Ints:
    """(n,) faces some triangle of which passes through one of another face; exact predicates, lying flat on each other
    aside.

    Points computed on a cut stand off the faces they lie on by rounding: what passes through by no more than a share of
    the triangles' size, ``touching``, or along no more than that, touches.
    """
    if not mesh.topology.face_count:
        return np.zeros(0, np.int64)
    pairs = crossing_pairs(mesh, touching)
    return np.unique(pairs)


def crossing_pairs(mesh: Mesh, touching: float = _TOUCHING) -> Ints:
    """(n, 2) faces that pass through each other; a pair may be told more than once."""
    none = np.zeros((0, 2), np.int64)
    triangles, face = triangulate(mesh)
    triangles = places(mesh)[triangles]  # neighbours at doubled vertices touch; they do not cross
    p = mesh.points[triangles]
    size = lengths(cross(p[:, 1] - p[:, 0], p[:, 2] - p[:, 0]))
    edge = np.maximum(lengths(p[:, 1] - p[:, 0]), lengths(p[:, 2] - p[:, 0]))
    whole = (size > 1e-12 * edge**2) & (size > 0)
    triangles, face = np.ascontiguousarray(triangles[whole]), face[whole]
    if not triangles.size:
        return none
    found, pairs, flat = igl.predicates.find_self_intersections(np.ascontiguousarray(mesh.points), triangles)
    if not found:
        return none
    crossing = pairs[np.asarray(flat).ravel() == 0]
    crossing = crossing[face[crossing[:, 0]] != face[crossing[:, 1]]]
    crossing = crossing[_deep(mesh.points, triangles[crossing[:, 0]], triangles[crossing[:, 1]], touching)]
    out: Ints = face[crossing]
    return out


def surely_apart(mesh: Mesh, own: Bools) -> bool:
    """Whether no face that is ``own`` (F,) passes through another further than rounding reaches; false where it is not
    quite sure. Every pair of triangles is looked at, so it is not sure of many."""
    triangles, face = triangulate(mesh)
    if np.count_nonzero(own[face]) * face.size > _MOST_PAIRS:
        return False
    check()
    normals = _normals(mesh.points, triangles)
    return not _any_passes(mesh.points, triangles, normals, face, own[face], _TOUCHING / 2)


def _deep(points: Floats, one: Ints, two: Ints, touching: float) -> Bools:
    """(n,) whether each pair of triangles (n, 3) passes through one another further than rounding reaches."""
    return _each_passes(points, one, two, _normals(points, one), _normals(points, two), touching)


def _normals(points: Floats, triangles: Ints) -> Floats:
    p = points[triangles]
    return unit(cross(p[:, 1] - p[:, 0], p[:, 2] - p[:, 0]))


@compiled(NUMBER, POINTS, INTS, INTS)
def _size(points: Floats, p: Ints, q: Ints) -> float:
    """The longest side of the larger one's box."""
    size = 0.0
    for k in range(3):
        size = max(size, max(points[p[0], k], points[p[1], k], points[p[2], k])
                   - min(points[p[0], k], points[p[1], k], points[p[2], k]))
        size = max(size, max(points[q[0], k], points[q[1], k], points[q[2], k])
                   - min(points[q[0], k], points[q[1], k], points[q[2], k]))
    return size


@compiled(NUMBER, POINTS, COUNT, COUNT, FLOATS)
def _off(points: Floats, a: int, b: int, normal: Floats) -> float:
    along: float = ((points[a, 0] - points[b, 0]) * normal[0] + (points[a, 1] - points[b, 1]) * normal[1]
                    + (points[a, 2] - points[b, 2]) * normal[2])
    return along


@compiled(PAIR, POINTS, INTS, NUMBER, NUMBER, NUMBER, NUMBER, NUMBER, NUMBER)
def _stretch(points: Floats, p: Ints, x: float, y: float, z: float, d0: float, d1: float, d2: float) -> tuple[float, float]:
    """Where along a line a triangle whose corners stand d off the other plane meets that plane; zeros where nowhere."""
    low, high = np.inf, -np.inf
    d = (d0, d1, d2)
    for k in range(3):
        a, b = d[k], d[(k + 1) % 3]
        if (a > 0.0) != (b > 0.0):
            one, two = p[k], p[(k + 1) % 3]
            here = points[one, 0] * x + points[one, 1] * y + points[one, 2] * z
            there = points[two, 0] * x + points[two, 1] * y + points[two, 2] * z
            at = here + a / (a - b) * (there - here)
            low, high = min(low, at), max(high, at)
    return (low, high) if low <= high else (0.0, 0.0)


@compiled(YES, POINTS, INTS, INTS, FLOATS, FLOATS, NUMBER)
def _passes(points: Floats, p: Ints, q: Ints, n: Floats, m: Floats, touching: float) -> bool:
    """Whether triangles p and q with unit normals n and m pass through one another by more than a share of their size.

    T. Möller, A fast triangle-triangle intersection test, Journal of Graphics Tools 2(2), 1997: each is cut by the plane of
    the other along a stretch of the line both planes share; they meet where the stretches overlap.
    """
    slack = touching * _size(points, p, q)
    p0, p1, p2 = _off(points, p[0], q[0], m), _off(points, p[1], q[0], m), _off(points, p[2], q[0], m)
    if not (max(p0, p1, p2) > slack and min(p0, p1, p2) < -slack):
        return False
    q0, q1, q2 = _off(points, q[0], p[0], n), _off(points, q[1], p[0], n), _off(points, q[2], p[0], n)
    if not (max(q0, q1, q2) > slack and min(q0, q1, q2) < -slack):
        return False
    x, y, z = n[1] * m[2] - n[2] * m[1], n[2] * m[0] - n[0] * m[2], n[0] * m[1] - n[1] * m[0]
    size = np.sqrt(x * x + y * y + z * z)
    if size <= 0.0:
        return False
    x, y, z = x / size, y / size, z / size
    low, high = _stretch(points, p, x, y, z, p0, p1, p2)
    begin, end = _stretch(points, q, x, y, z, q0, q1, q2)
    return min(high, end) - max(low, begin) > slack


@compiled(NEW_BOOLS, POINTS, ROWS, ROWS, POINTS, POINTS, NUMBER)
def _each_passes(points: Floats, one: Ints, two: Ints, n: Floats, m: Floats, touching: float) -> Bools:
    out = np.empty(len(one), np.bool_)
    for i in range(len(one)):
        out[i] = _passes(points, one[i], two[i], n[i], m[i], touching)
    return out


@compiled(YES, POINTS, ROWS, POINTS, INTS, BOOLS, NUMBER)
def _any_passes(points: Floats, triangles: Ints, normals: Floats, face: Ints, own: Bools, touching: float) -> bool:
    """Whether any triangle that is ``own`` (T,) passes through one of another face."""
    low, high = np.empty((len(triangles), 3)), np.empty((len(triangles), 3))
    for t in range(len(triangles)):
        a, b, c = points[triangles[t, 0]], points[triangles[t, 1]], points[triangles[t, 2]]
        for k in range(3):
            low[t, k], high[t, k] = min(a[k], b[k], c[k]), max(a[k], b[k], c[k])
    for s in range(len(triangles)):
        if not own[s]:
            continue
        for t in range(len(triangles)):
            if (low[s, 0] > high[t, 0] or low[t, 0] > high[s, 0] or low[s, 1] > high[t, 1] or low[t, 1] > high[s, 1]
                    or low[s, 2] > high[t, 2] or low[t, 2] > high[s, 2] or face[s] == face[t] or (own[t] and t < s)):
                continue
            if _passes(points, triangles[s], triangles[t], normals[s], normals[t], touching):
                return True
    return False
