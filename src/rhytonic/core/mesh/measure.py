"""Area, volume, bounds and counts of a mesh."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from .. import tolerance
from ..compiled import INTS, NEW_BOOLS, NUMBER, POINTS, compiled
from .geometry import Floats, cross, lengths
from .mesh import Mesh
from .topology import Bools, Ints
from .triangulate import triangulate


@dataclass(frozen=True)
class Measures:
    """Figures of one mesh, in metres.

    ``volume`` is negative when faces are turned inside out and None for an open mesh; ``genus`` is None unless the mesh
    is closed and manifold.
    """

    vertices: int
    edges: int
    faces: int
    triangles: int
    tris: int
    quads: int
    ngons: int
    minimum: tuple[float, float, float] | None
    maximum: tuple[float, float, float] | None
    area: float
    volume: float | None
    closed: bool
    manifold: bool
    euler: int
    genus: int | None
    shells: int


def measure(mesh: Mesh) -> Measures:
    """All figures of a mesh. Volume by the divergence theorem over the exported triangulation, about the box's middle."""
    t = mesh.topology
    low = high = None
    area, volume = 0.0, 0.0
    if len(mesh.points):
        low, high = mesh.points.min(axis=0), mesh.points.max(axis=0)
        triangles, _ = triangulate(mesh)
        p = (mesh.points - (low + high) / 2)[triangles]
        double = cross(p[:, 1] - p[:, 0], p[:, 2] - p[:, 0])
        area = float(lengths(double).sum() / 2)
        volume = float(np.einsum("ij,ij->", p[:, 0], double) / 6)
    shells = int(t.shells.max()) + 1 if t.face_count else 0
    euler = t.vertex_count - t.edge_count + t.face_count
    solid = t.is_closed and t.is_manifold
    return Measures(
        vertices=t.vertex_count, edges=t.edge_count, faces=t.face_count,
        triangles=int((t.sides - 2).sum()), tris=int((t.sides == 3).sum()),
        quads=int((t.sides == 4).sum()), ngons=int((t.sides > 4).sum()),
        minimum=_triple(low), maximum=_triple(high), area=area, volume=volume if t.is_closed else None,
        closed=t.is_closed, manifold=t.is_manifold, euler=euler,
        genus=shells - euler // 2 if solid else None, shells=shells)


def faces_without_area(mesh: Mesh, among: Ints | None = None) -> Ints:
    """(n,) faces, of all or of those ``among`` them, whose area is nothing beside the square of their longest edge."""
    t = mesh.topology
    if among is None:
        among = np.arange(t.face_count)
    return among[_without_area(mesh.points, t.corners, t.offsets, among, tolerance.NO_AREA, tolerance.NO_AREA_ABSOLUTE)]


@compiled(NEW_BOOLS, POINTS, INTS, INTS, INTS, NUMBER, NUMBER)
def _without_area(points: Floats, corners: Ints, offsets: Ints, among: Ints, share: float, least: float) -> Bools:
    """(n,) whether the area of each face, told from its first corner, is no more than nothing may be."""
    out = np.empty(len(among), np.bool_)
    for i in range(len(among)):
        low, high = offsets[among[i]], offsets[among[i] + 1]
        o = corners[low]
        x = y = z = longest = 0.0
        for c in range(low, high):
            a, b = corners[c], corners[c + 1 if c + 1 < high else low]
            ax, ay, az = points[a, 0] - points[o, 0], points[a, 1] - points[o, 1], points[a, 2] - points[o, 2]
            bx, by, bz = points[b, 0] - points[o, 0], points[b, 1] - points[o, 1], points[b, 2] - points[o, 2]
            x += ay * bz - az * by
            y += az * bx - ax * bz
            z += ax * by - ay * bx
            ex, ey, ez = points[b, 0] - points[a, 0], points[b, 1] - points[a, 1], points[b, 2] - points[a, 2]
            longest = max(longest, ex * ex + ey * ey + ez * ez)
        out[i] = np.sqrt(x * x + y * y + z * z) / 2 <= max(share * longest, least)
    return out


def _triple(values: np.ndarray | None) -> tuple[float, float, float] | None:
    if values is None:
        return None
    return float(values[0]), float(values[1]), float(values[2])
