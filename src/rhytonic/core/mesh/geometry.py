"""Normals, centres and least-squares offsets over arrays of faces and vertices."""

from __future__ import annotations

import functools

import numpy as np
from numpy.typing import NDArray

from .. import tolerance
from ..waiting import check
from .topology import Ints, Topology

Floats = NDArray[np.float64]


def cross(a: Floats, b: Floats) -> Floats:
    """Row-wise cross product; several times quicker than ``np.cross`` on (n, 3) arrays."""
    check()
    out = np.empty(np.broadcast_shapes(a.shape, b.shape))
    out[..., 0] = a[..., 1] * b[..., 2] - a[..., 2] * b[..., 1]
    out[..., 1] = a[..., 2] * b[..., 0] - a[..., 0] * b[..., 2]
    out[..., 2] = a[..., 0] * b[..., 1] - a[..., 1] * b[..., 0]
    return out


def lengths(vectors: Floats) -> Floats:
    """(…) Euclidean lengths of (…, 3) vectors."""
    check()
    out: Floats = np.sqrt(np.einsum("...i,...i->...", vectors, vectors))
    return out


def unit(vectors: Floats) -> Floats:
    """Rows scaled to length 1; rows without a direction become zero."""
    check()
    size = lengths(vectors)[..., None]
    return np.divide(vectors, size, out=np.zeros_like(vectors), where=size > tolerance.NO_DIRECTION)


def loop_area_vectors(points: Floats, starts: Ints, sides: Ints) -> Floats:
    """Area vector of each loop of ``points`` (n, 3); loop i holds ``sides[i]`` rows from ``starts[i]`` on.

    Newell's sum, taken relative to each loop's first point so that far-away faces keep their precision
    (M. Newell, in I. Sutherland, R. Sproull, R. Schumacker, ACM Computing Surveys 6(1), 1974).
    """
    if starts.size == 0:
        return np.zeros((0, 3))
    local = points - np.repeat(points[starts], sides, axis=0)
    following = np.arange(1, len(points) + 1)
    following[starts + sides - 1] = starts
    return 0.5 * np.add.reduceat(cross(local, local[following]), starts, axis=0)


def area_vectors(points: Floats, topology: Topology, faces: Ints | None = None) -> Floats:
    """(n, 3) normal × area of the given faces, or of all."""
    check()
    if faces is None:
        if topology.uniform == 4:  # half the cross product of the diagonals
            quads = points[topology.corners.reshape(-1, 4)]
            return 0.5 * cross(quads[:, 2] - quads[:, 0], quads[:, 3] - quads[:, 1])
        return loop_area_vectors(points[topology.corners], topology.offsets[:-1], topology.sides)
    sides = topology.sides[faces]
    starts = np.cumsum(sides) - sides
    return loop_area_vectors(points[topology.corners[topology.corners_of(faces)]], starts, sides)


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
    real = np.einsum("ij,ij->i", normals, normals) > 0.5
    group, normals = group[real], normals[real]
    if group.size == 0 or distance == 0.0:
        return out
    order = np.argsort(group, kind="stable")
    group, normals = group[order], normals[order]
    count = np.bincount(group, minlength=groups)
    for size in np.unique(count[count > 0]):
        which = np.flatnonzero(count == size)
        rows = normals[count[group] == size].reshape(-1, size, 3)
        if size == 1:
            out[which] = distance * rows[:, 0]
            continue
        if size == 2:  # the corner of an outline, above all
            one, two = rows[:, 0], rows[:, 1]
            cosine = one[:, 0] * two[:, 0] + one[:, 1] * two[:, 1] + one[:, 2] * two[:, 2]
            single = cosine > 1.0 - tolerance.SAME_NORMAL
            plain = single | (cosine > _NEARLY_OPPOSITE)
            scale = np.where(single, distance, distance / np.where(plain, 1 + cosine, 1.0))
            out[which[plain]] = (scale[:, None] * np.where(single[:, None], one, one + two))[plain]
            which, rows = which[~plain], rows[~plain]
            if not which.size:
                continue
        if size > 1:  # a later row that repeats an earlier one is the same condition
            same = np.einsum("gik,gjk->gij", rows, rows) > 1.0 - tolerance.SAME_NORMAL
            repeats = np.tril(same, -1).any(axis=2)
            rows[repeats] = 0.0
        distinct = np.einsum("gik,gik->gi", rows, rows) > 0.5
        left = distinct.sum(axis=1)
        total = rows.sum(axis=1)  # repeats are zero by now
        # one condition: along it; two: along their sum, as both ask for the same distance
        cosine = np.einsum("gk,gk->g", total, total) / 2 - 1
        easy = (left == 1) | ((left == 2) & (cosine > _NEARLY_OPPOSITE))
        scale = np.where(left == 1, distance, distance / np.where(easy & (left == 2), 1 + cosine, 1.0))
        out[which[easy]] = (scale[:, None] * total)[easy]
        hard = ~easy
        if hard.any():
            inverse = np.linalg.pinv(rows[hard], rcond=tolerance.RANK)
            out[which[hard]] = np.einsum("gki,gi->gk", inverse, distance * distinct[hard])
    return out


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
