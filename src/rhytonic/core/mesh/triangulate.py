"""Triangles of a polygon mesh: the triangulation that measures, files and the screen share."""

from __future__ import annotations

import mapbox_earcut
import numpy as np

from .. import tolerance
from ..waiting import check
from .geometry import cross, lengths, unit
from .mesh import Mesh
from .topology import Ints


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
    triangles = np.empty((of.size, 3), np.int64)
    for n, (faces, loops, starts) in t.loops_by_sides.items():
        if n == 3:
            triangles[starts] = loops
        elif n == 4:
            other = _use_second_diagonal(mesh, loops, mesh.area_vectors[faces])
            quads = np.where(other[:, None], loops[:, [1, 2, 3, 0]], loops)
            triangles[starts] = quads[:, [0, 1, 2]]
            triangles[starts + 1] = quads[:, [0, 2, 3]]
        else:
            split = _split_loops(mesh, loops, mesh.area_vectors[faces])
            triangles[(starts[:, None] + np.arange(n - 2)).ravel()] = split.reshape(-1, 3)
    return triangles, of


def _use_second_diagonal(mesh: Mesh, quads: Ints, normal: np.ndarray) -> np.ndarray:
    p = mesh.points[quads]
    first, second = p[:, 2] - p[:, 0], p[:, 3] - p[:, 1]

    def inside(diagonal: np.ndarray, left: np.ndarray, right: np.ndarray) -> np.ndarray:
        """Both triangles beside the diagonal face the quad's way."""
        a = np.einsum("ij,ij->i", cross(right, diagonal), normal)
        b = np.einsum("ij,ij->i", cross(diagonal, left), normal)
        both: np.ndarray = (a >= 0) & (b >= 0)
        return both

    first_ok = inside(first, p[:, 3] - p[:, 0], p[:, 1] - p[:, 0])
    second_ok = inside(second, p[:, 0] - p[:, 1], p[:, 2] - p[:, 1])
    shorter = lengths(second) < lengths(first) * (1.0 - tolerance.DIAGONAL_TIE)
    return np.where(first_ok == second_ok, shorter, second_ok)


def _split_loops(mesh: Mesh, loops: Ints, normals: np.ndarray) -> Ints:
    """(m, n−2, 3) triangles of m loops of n > 4 corners."""
    m, n = loops.shape
    p = mesh.points[loops]
    k = np.arange(1, n - 1)
    fan = np.stack([np.broadcast_to(loops[:, :1], (m, n - 2)), loops[:, k], loops[:, k + 1]], axis=2)
    turn = cross(p - np.roll(p, 1, axis=1), np.roll(p, -1, axis=1) - p)
    facing = np.einsum("mnk,mk->mn", turn, normals)
    convex = (facing >= -1e-12 * np.abs(facing).max(axis=1, initial=0.0)[:, None]).all(axis=1)
    _turn_fans(fan, loops, p, facing, convex)
    for i in np.flatnonzero(~convex):  # inherently sequential, and rare: concave faces of five corners and more
        w = unit(normals[i])
        u = unit(cross(w, np.eye(3)[np.argmin(np.abs(w))]))
        flat = np.stack([(p[i] - p[i, 0]) @ u, (p[i] - p[i, 0]) @ cross(w, u)], axis=1)
        ears = mapbox_earcut.triangulate_float64(flat, np.array([n], np.uint32)).reshape(-1, 3)
        if len(ears) == n - 2:
            fan[i] = loops[i][ears.astype(np.int64)]
    return fan


def _turn_fans(fan: Ints, loops: Ints, p: np.ndarray, facing: np.ndarray, convex: np.ndarray) -> None:
    """Begin the fans of convex loops (m, n) with straight corners where their flattest triangle is largest."""
    n = loops.shape[1]
    straight = facing <= 1e-9 * np.abs(facing).max(axis=1, initial=0.0)[:, None]
    which = np.flatnonzero(convex & straight.any(axis=1))
    if not which.size or n > _MOST_TURNED:
        return
    area = np.empty((which.size, n))
    for first in range(n):  # n is small
        q = np.roll(p[which], -first, axis=1)
        arms = q[:, 1:] - q[:, :1]
        area[:, first] = lengths(cross(arms[:, :-1], arms[:, 1:])).min(axis=1)
    best = area >= area.max(axis=1, keepdims=True) * (1 - 1e-9)
    first = best.argmax(axis=1)
    k = np.arange(1, n - 1)
    at = (first[:, None] + np.arange(n)) % n
    turned = np.take_along_axis(loops[which], at, axis=1)
    fan[which] = np.stack([np.broadcast_to(turned[:, :1], (which.size, n - 2)), turned[:, k], turned[:, k + 1]], axis=2)


#: loops of more corners keep the fan from their first
_MOST_TURNED = 64
