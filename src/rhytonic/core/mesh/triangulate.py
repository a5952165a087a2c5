"""Triangles of a polygon mesh: the triangulation that measures, files and the screen share."""

from __future__ import annotations

import math

import mapbox_earcut
import numpy as np

from .. import tolerance
from ..compiled import COUNT, FLOATS, INTS, NEW_BOOLS, NEW_ROWS, NUMBER, POINTS, ROWS, YES, compiled
from ..waiting import check
from .geometry import Floats
from .mesh import Mesh
from .topology import Bools, Ints

#: loops of more corners keep the fan from their first
_MOST_TURNED = 64


def triangulate(mesh: Mesh) -> tuple[Ints, Ints]:
    """Triangles of all faces, in face order.

    Quads are split on the shorter diagonal that lies inside; a tie takes the one from the first corner. Larger faces
    are fanned where convex, from a corner that leaves no triangle flat where there is one, and cut by ears otherwise
    (mapbox_earcut) in their own plane.

    Returns:
        triangles (T, 3) of vertex indices, and (T,) the face each came from.
    """
    check()
    t = mesh.topology
    of = t.triangle_face
    triangles, starts = np.empty((of.size, 3), np.int64), t.triangle_starts
    concave = _split(mesh.points, t.corners, t.offsets, mesh.area_vectors, starts, triangles, tolerance.DIAGONAL_TIE)
    for face in np.flatnonzero(concave) if concave.any() else ():  # inherently sequential, and rare
        loop = t.corners[t.offsets[face]:t.offsets[face + 1]]
        ears = _ears(mesh.points[loop], mesh.area_vectors[face])
        if len(ears) == len(loop) - 2:
            triangles[starts[face]:starts[face] + len(ears)] = loop[ears]
    return triangles, of


def triangles_by_corners(mesh: Mesh) -> tuple[Ints, Ints]:
    """(T, 3) corners of the triangles of all faces, as :func:`triangulate` cuts them, and (T,) the face of each."""
    triangles, face = triangulate(mesh)
    return corners_at(mesh, face, triangles), face


def corners_at(mesh: Mesh, face: Ints, triangles: Ints) -> Ints:
    """(T, 3) corner at which the face of each triangle visits the triangle's vertices."""
    return _corners_at(mesh.topology.offsets, mesh.topology.corners, face, triangles)


@compiled(NEW_ROWS, INTS, INTS, INTS, ROWS)
def _corners_at(offsets: Ints, corners: Ints, face: Ints, triangles: Ints) -> Ints:
    out = np.empty((len(face), 3), np.int64)
    for i in range(len(face)):
        for k in range(3):
            c = offsets[face[i]]
            while corners[c] != triangles[i, k]:
                c += 1
            out[i, k] = c
    return out


def _ears(p: Floats, normal: Floats) -> Ints:
    """(n − 2, 3) triangles of one loop (n, 3); fewer where it is tangled."""
    flat = (p - p[0]) @ _across(*normal.tolist())
    ears: Ints = mapbox_earcut.triangulate_float64(flat, np.array([len(p)], np.uint32)).reshape(-1, 3).astype(np.int64)
    return ears


def _across(x: float, y: float, z: float) -> Floats:
    """(3, 2) two axes square to a normal and to each other; by single numbers: a boolean has thousands of such loops."""
    length = math.sqrt(x * x + y * y + z * z) or 1.0
    x, y, z = x / length, y / length, z / length
    least = min((abs(x), 0), (abs(y), 1), (abs(z), 2))[1]
    a, b, c = ((0.0, z, -y), (-z, 0.0, x), (y, -x, 0.0))[least]
    size = math.sqrt(a * a + b * b + c * c) or 1.0
    a, b, c = a / size, b / size, c / size
    return np.array(((a, y * c - z * b), (b, z * a - x * c), (c, x * b - y * a)))


@compiled(NUMBER, FLOATS, FLOATS, FLOATS, FLOATS)
def _facing(a: Floats, b: Floats, c: Floats, normal: Floats) -> float:
    """Twice the area vector of a triangle along a normal."""
    ux, uy, uz = b[0] - a[0], b[1] - a[1], b[2] - a[2]
    vx, vy, vz = c[0] - a[0], c[1] - a[1], c[2] - a[2]
    x, y, z = uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx
    along: float = (x * normal[0] + z * normal[2]) + y * normal[1]
    return along


@compiled(NUMBER, FLOATS, FLOATS, FLOATS)
def _double_area(a: Floats, b: Floats, c: Floats) -> float:
    ux, uy, uz = b[0] - a[0], b[1] - a[1], b[2] - a[2]
    vx, vy, vz = c[0] - a[0], c[1] - a[1], c[2] - a[2]
    x, y, z = uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx
    size: float = np.sqrt((x * x + z * z) + y * y)
    return size


@compiled(NUMBER, FLOATS, FLOATS)
def _apart(a: Floats, b: Floats) -> float:
    x, y, z = b[0] - a[0], b[1] - a[1], b[2] - a[2]
    size: float = np.sqrt((x * x + z * z) + y * y)
    return size


@compiled(YES, POINTS, INTS, FLOATS, NUMBER)
def _on_second_diagonal(points: Floats, quad: Ints, area: Floats, tie: float) -> bool:
    p, q, r, s = points[quad[0]], points[quad[1]], points[quad[2]], points[quad[3]]
    first_inside = _facing(p, q, r, area) >= 0.0 and _facing(p, r, s, area) >= 0.0
    second_inside = _facing(q, r, s, area) >= 0.0 and _facing(q, s, p, area) >= 0.0
    if first_inside != second_inside:
        return second_inside
    return _apart(q, s) < _apart(p, r) * (1.0 - tie)


@compiled(COUNT, POINTS, INTS, FLOATS)
def _fan_begin(points: Floats, loop: Ints, area: Floats) -> int:
    """The corner from which a convex loop is fanned: the first, or, with straight corners, where its flattest triangle is
    largest; −1 where it is concave."""
    n = len(loop)
    low, high = np.inf, 0.0
    for i in range(n):
        facing = _facing(points[loop[i - 1]], points[loop[i]], points[loop[(i + 1) % n]], area)
        low, high = min(low, facing), max(high, abs(facing))
    if low < -1e-12 * high:
        return -1
    if low > 1e-9 * high or n > _MOST_TURNED:
        return 0
    best, begin = -1.0, 0
    for first in range(n):  # n is small
        flattest = np.inf
        for k in range(1, n - 1):
            flattest = min(flattest, _double_area(points[loop[first]], points[loop[(first + k) % n]],
                                                  points[loop[(first + k + 1) % n]]))
        if flattest > best * (1.0 + 1e-9):
            best, begin = flattest, first
    return begin


@compiled(NEW_BOOLS, POINTS, INTS, INTS, POINTS, INTS, NEW_ROWS, NUMBER)
def _split(points: Floats, corners: Ints, offsets: Ints, areas: Floats, starts: Ints, triangles: Ints, tie: float) -> Bools:
    """Fill in the triangles, and tell which faces are concave: these are fanned for want of better."""
    concave = np.zeros(len(offsets) - 1, np.bool_)
    for f in range(len(concave)):
        loop = corners[offsets[f]:offsets[f + 1]]
        n, begin = len(loop), 0
        if n == 4:
            begin = 1 if _on_second_diagonal(points, loop, areas[f], tie) else 0
        elif n > 4:
            begin = _fan_begin(points, loop, areas[f])
            concave[f] = begin < 0
            begin = max(begin, 0)
        for k in range(n - 2):
            row = triangles[starts[f] + k]
            row[0], row[1], row[2] = loop[begin], loop[(begin + k + 1) % n], loop[(begin + k + 2) % n]
    return concave
