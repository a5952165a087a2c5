"""Area, volume, bounds and counts of a mesh."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from .. import tolerance
from .geometry import cross, lengths
from .mesh import Mesh
from .topology import Ints
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
    sizes = np.diff(t.offsets)
    if among is None:
        among, at, offsets = np.arange(t.face_count), np.arange(t.corners.size), t.offsets[:-1]
    else:
        at, sizes = t.corners_of(among), sizes[among]
        offsets = np.cumsum(sizes) - sizes
    if not among.size:
        return np.zeros(0, np.int64)
    here, there = mesh.points[t.corners[at]], mesh.points[t.corners[t.next_corner[at]]]
    edge = there - here
    if among.size < t.face_count:
        first = np.repeat(here[offsets], sizes, axis=0)
        area = lengths(np.add.reduceat(np.cross(here - first, there - first), offsets, axis=0)) / 2
    else:
        area = lengths(mesh.area_vectors)
    longest = np.maximum.reduceat(np.einsum("ij,ij->i", edge, edge), offsets)
    return among[area <= np.maximum(tolerance.NO_AREA * longest, tolerance.NO_AREA_ABSOLUTE)]


def _triple(values: np.ndarray | None) -> tuple[float, float, float] | None:
    if values is None:
        return None
    return float(values[0]), float(values[1]), float(values[2])
