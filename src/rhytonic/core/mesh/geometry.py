"""Normals, centres and least-squares offsets over arrays of faces and vertices."""

from __future__ import annotations

import functools

import numpy as np
from numpy.typing import NDArray

from .. import tolerance
from ..compiled import INTS, NEW_BOOLS, NEW_FLOATS, NEW_POINTS, NUMBER, POINTS, compiled
from ..waiting import check
from .topology import Bools, Ints, Topology

Floats = NDArray[np.float64]

_FLOAT = np.dtype(np.float64)


def _rows(a: Floats) -> bool:
    """Whether it is an (n, 3) array, for which there is compiled code."""
    return a.ndim == 2 and a.shape[1] == 3 and a.dtype is _FLOAT


def cross(a: Floats, b: Floats) -> Floats:
    """Row-wise cross product; many times quicker than ``np.cross`` on (n, 3) arrays."""
    check()
    if _rows(a) and _rows(b) and len(a) == len(b):
        return _cross(a, b)
    out = np.empty(np.broadcast_shapes(a.shape, b.shape))
    out[..., 0] = a[..., 1] * b[..., 2] - a[..., 2] * b[..., 1]
    out[..., 1] = a[..., 2] * b[..., 0] - a[..., 0] * b[..., 2]
    out[..., 2] = a[..., 0] * b[..., 1] - a[..., 1] * b[..., 0]
    return out


@compiled(NEW_POINTS, POINTS, POINTS)
def _cross(a: Floats, b: Floats) -> Floats:
    out = np.empty((len(a), 3))
    for i in range(len(a)):
        out[i, 0] = a[i, 1] * b[i, 2] - a[i, 2] * b[i, 1]
        out[i, 1] = a[i, 2] * b[i, 0] - a[i, 0] * b[i, 2]
        out[i, 2] = a[i, 0] * b[i, 1] - a[i, 1] * b[i, 0]
    return out


def lengths(vectors: Floats) -> Floats:
    """(…) Euclidean lengths of (…, 3) vectors."""
    check()
    if _rows(vectors):
        return _lengths(vectors)
    out: Floats = np.sqrt(np.einsum("...i,...i->...", vectors, vectors))
    return out


@compiled(NEW_FLOATS, POINTS)
def _lengths(v: Floats) -> Floats:
    out = np.empty(len(v))
    for i in range(len(v)):
        out[i] = np.sqrt((v[i, 0] * v[i, 0] + v[i, 2] * v[i, 2]) + v[i, 1] * v[i, 1])
    return out


def unit(vectors: Floats) -> Floats:
    """(…, 3) rows scaled to length 1; rows without a direction become zero."""
    check()
    if _rows(vectors):
        return _unit(vectors, tolerance.NO_DIRECTION)
    size = lengths(vectors)[..., None]
    return np.divide(vectors, size, out=np.zeros_like(vectors), where=size > tolerance.NO_DIRECTION)


@compiled(NEW_POINTS, POINTS, NUMBER)
def _unit(v: Floats, least: float) -> Floats:
    out = np.zeros((len(v), 3))
    for i in range(len(v)):
        size = np.sqrt((v[i, 0] * v[i, 0] + v[i, 2] * v[i, 2]) + v[i, 1] * v[i, 1])
        if size > least:
            for k in range(3):
                out[i, k] = v[i, k] / size
    return out


def loop_area_vectors(points: Floats, starts: Ints, sides: Ints) -> Floats:
    """Area vector of each loop of ``points`` (n, 3), by Newell's sum; loop i holds ``sides[i]`` rows from
    ``starts[i]`` on."""
    check()
    return _loop_areas(points, np.arange(len(points)), starts, sides)


def area_vectors(points: Floats, topology: Topology, faces: Ints | None = None) -> Floats:
    """(n, 3) normal × area of the given faces, or of all.

    Newell's sum, taken relative to each loop's first point so that far-away faces keep their precision
    (M. Newell, in I. Sutherland, R. Sproull, R. Schumacker, ACM Computing Surveys 6(1), 1974).
    """
    check()
    if faces is not None:
        return _loop_areas(points, topology.corners, topology.offsets[faces], topology.sides[faces])
    if topology.uniform == 4:
        return _quad_areas(points, topology.corners)
    return _loop_areas(points, topology.corners, topology.offsets[:-1], topology.sides)


@compiled(NEW_POINTS, POINTS, INTS, INTS, INTS)
def _loop_areas(points: Floats, corners: Ints, starts: Ints, sides: Ints) -> Floats:
    out = np.zeros((len(starts), 3))
    for f in range(len(starts)):
        if sides[f] < 3:
            continue
        loop = corners[starts[f]:starts[f] + sides[f]]
        o = points[loop[0]]
        bx, by, bz = points[loop[1], 0] - o[0], points[loop[1], 1] - o[1], points[loop[1], 2] - o[2]
        x = y = z = 0.0
        for i in range(2, len(loop)):
            ax, ay, az = bx, by, bz
            bx, by, bz = points[loop[i], 0] - o[0], points[loop[i], 1] - o[1], points[loop[i], 2] - o[2]
            x += ay * bz - az * by
            y += az * bx - ax * bz
            z += ax * by - ay * bx
        out[f, 0], out[f, 1], out[f, 2] = 0.5 * x, 0.5 * y, 0.5 * z
    return out


@compiled(NEW_POINTS, POINTS, INTS)
def _quad_areas(points: Floats, corners: Ints) -> Floats:
    """Half the cross product of the diagonals."""
    out = np.empty((len(corners) // 4, 3))
    for f in range(len(out)):
        quad = corners[4 * f:4 * f + 4]
        p, q, r, s = points[quad[0]], points[quad[1]], points[quad[2]], points[quad[3]]
        ax, ay, az = r[0] - p[0], r[1] - p[1], r[2] - p[2]
        bx, by, bz = s[0] - q[0], s[1] - q[1], s[2] - q[2]
        out[f, 0] = 0.5 * (ay * bz - az * by)
        out[f, 1] = 0.5 * (az * bx - ax * bz)
        out[f, 2] = 0.5 * (ax * by - ay * bx)
    return out


def face_centres(points: Floats, topology: Topology, faces: Ints | None = None) -> Floats:
    """(n, 3) mean of the corners of the given faces, or of all."""
    check()
    if faces is None:
        if topology.uniform:
            centres: Floats = points[topology.corners.reshape(-1, topology.uniform)].mean(axis=1)
            return centres
        faces = np.arange(topology.face_count)
    if faces.size == 0:
        return np.zeros((0, 3))
    sides = topology.sides[faces]
    starts = np.cumsum(sides) - sides
    return np.add.reduceat(points[topology.corners[topology.corners_of(faces)]], starts, axis=0) / sides[:, None]


def vertex_normals(points: Floats, topology: Topology, vertices: Ints) -> Floats:
    """(n, 3) unit normals of vertices: face normals weighted by the angle of the corner.

    G. Thürmer, C. Wüthrich, Computing vertex normals from polygonal facets, Journal of Graphics Tools 3(1), 1998.
    """
    check()
    order, starts = topology.vertex_corners
    count = starts[vertices + 1] - starts[vertices]
    corner = order[np.repeat(starts[vertices] - np.cumsum(count) + count, count) + np.arange(int(count.sum()))]
    here = points[topology.corners[corner]]
    ahead = unit(points[topology.corners[topology.next_corner[corner]]] - here)
    behind = unit(points[topology.corners[topology.previous_corner[corner]]] - here)
    angle = np.arccos(np.clip(np.einsum("ij,ij->i", ahead, behind), -1.0, 1.0))
    faces, inverse = np.unique(topology.corner_face[corner], return_inverse=True)
    weighted = unit(area_vectors(points, topology, faces))[inverse] * angle[:, None]
    total = np.zeros((vertices.size, 3))
    np.add.at(total, np.repeat(np.arange(vertices.size), count), weighted)
    return unit(total)


def shortest_offsets(group: Ints, normals: Floats, groups: int, distance: float) -> Floats:
    """Shortest d with n·d = distance over each group's distinct conditions, in least squares.

    Args:
        group: (n,) which group a condition belongs to.
        normals: (n, 3) unit normals; zero rows are no condition.
        groups: number of groups.
        distance: metres.

    Returns:
        (groups, 3); zero for groups without a condition.
    """
    check()
    out = np.zeros((groups, 3))
    if group.size == 0 or distance == 0.0:
        return out
    hard = _easy_offsets(group, normals, distance, 1.0 - tolerance.SAME_NORMAL, _NEARLY_OPPOSITE, out)
    if not hard.any():
        return out
    left = hard[group] & (np.einsum("ij,ij->i", normals, normals) > 0.5)
    group, normals = group[left], normals[left]
    order = np.argsort(group, kind="stable")
    group, normals = group[order], normals[order]
    count = np.bincount(group, minlength=groups)
    for size in np.unique(count[count > 0]):
        rows = normals[count[group] == size].reshape(-1, size, 3)
        # a later row that repeats an earlier one is the same condition
        same = np.einsum("gik,gjk->gij", rows, rows) > 1.0 - tolerance.SAME_NORMAL
        rows[np.tril(same, -1).any(axis=2)] = 0.0
        distinct = np.einsum("gik,gik->gi", rows, rows) > 0.5
        out[count == size] = np.einsum("gki,gi->gk", np.linalg.pinv(rows, rcond=tolerance.RANK), distance * distinct)
    return out


@compiled(NEW_BOOLS, INTS, POINTS, NUMBER, NUMBER, NUMBER, NEW_POINTS)
def _easy_offsets(group: Ints, normals: Floats, distance: float, same: float, opposite: float, out: Floats) -> Bools:
    """Fill in groups of one distinct condition, which are met along it, and of two, along their sum, as both ask for the
    same distance. (groups,) which have more, or two that nearly face each other."""
    groups, count = len(out), len(group)
    begin, order = np.zeros(groups + 1, np.int64), np.empty(count, np.int64)
    for i in range(count):
        begin[group[i] + 1] += 1
    for g in range(groups):
        begin[g + 1] += begin[g]
    at = begin[:groups].copy()
    for i in range(count):
        order[at[group[i]]] = i
        at[group[i]] += 1
    hard = np.zeros(groups, np.bool_)
    for g in range(groups):
        one = two = -1
        for i in range(begin[g], begin[g + 1]):
            row = normals[order[i]]
            if row[0] * row[0] + row[1] * row[1] + row[2] * row[2] <= 0.5:
                continue
            repeated = False
            for j in range(begin[g], i):
                earlier = normals[order[j]]
                if earlier[0] * row[0] + earlier[1] * row[1] + earlier[2] * row[2] > same:
                    repeated = True
                    break
            if repeated:
                continue
            if one < 0:
                one = order[i]
            elif two < 0:
                two = order[i]
            else:
                hard[g] = True
                break
        if hard[g] or one < 0:
            continue
        a = normals[one]
        if two < 0:
            out[g, 0], out[g, 1], out[g, 2] = distance * a[0], distance * a[1], distance * a[2]
            continue
        b = normals[two]
        cosine = a[0] * b[0] + a[1] * b[1] + a[2] * b[2]
        if cosine <= opposite:
            hard[g] = True
            continue
        scale = distance / (1.0 + cosine)
        out[g, 0], out[g, 1], out[g, 2] = scale * (a[0] + b[0]), scale * (a[1] + b[1]), scale * (a[2] + b[2])
    return hard


#: two conditions whose normals' cosine is below this are solved with the general, slower means
_NEARLY_OPPOSITE = -0.999


@functools.lru_cache(4096)
def rotation(degrees: tuple[float, float, float]) -> Floats:
    """(3, 3) turn about x, then y, then z: Rz·Ry·Rx, read-only. Quarter turns are exact."""
    out = np.eye(3)
    for axis, angle in enumerate(degrees):
        quarter = angle / 90.0
        if quarter == round(quarter):
            c, s = [(1, 0), (0, 1), (-1, 0), (0, -1)][round(quarter) % 4]
        else:
            c, s = np.cos(np.radians(angle)), np.sin(np.radians(angle))
        turn = np.eye(3)
        i, j = (axis + 1) % 3, (axis + 2) % 3
        turn[i, i], turn[i, j], turn[j, i], turn[j, j] = c, -s, s, c
        out = turn @ out
    out.flags.writeable = False
    return out


def about(axis: str | tuple[float, float, float], degrees: float) -> Floats:
    """(3, 3) turn about an axis through the origin; exact for quarter turns about x, y or z.

    O. Rodrigues, Journal de Mathématiques Pures et Appliquées 5, 1840.
    """
    vector = np.eye(3)["xyz".index(axis)] if isinstance(axis, str) else np.asarray(axis, float)
    vector = vector / np.linalg.norm(vector)
    main = int(np.argmax(np.abs(vector)))
    if abs(vector[main]) == 1.0:
        turns = [0.0, 0.0, 0.0]
        turns[main] = degrees * float(vector[main])
        return rotation((turns[0], turns[1], turns[2]))
    angle = np.radians(degrees)
    turned = np.array([[0, -vector[2], vector[1]], [vector[2], 0, -vector[0]], [-vector[1], vector[0], 0]])
    out: Floats = np.eye(3) + np.sin(angle) * turned + (1 - np.cos(angle)) * (turned @ turned)
    return out
