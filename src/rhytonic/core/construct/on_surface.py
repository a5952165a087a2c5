"""Places on a surface in its own terms, so that they go with it."""

from __future__ import annotations

from dataclasses import dataclass

import igl
import numpy as np

from ..mesh.geometry import cross, unit
from ..mesh.mesh import Floats, Mesh
from ..mesh.topology import Ints, Topology


@dataclass(frozen=True)
class SurfacePlaces:
    """Where points lie: in the triangle from a face's middle to its corner ``corner`` (from 0, as it runs) and the next.

    Attributes:
        face, corner: (n,).
        share: (n, 2) how far towards those two corners.
        height: (n,) metres over it, outward.
    """

    face: Ints
    corner: Ints
    share: Floats
    height: Floats


def _fans(points: Floats, t: Topology, corner: Ints, centres: Floats) -> tuple[Floats, Floats, Floats]:
    """Middle and both sides (n, 3) of the triangles that corners of faces begin; ``centres`` are those of all faces."""
    middle = centres[t.corner_face[corner]]
    return middle, points[t.corners[corner]] - middle, points[t.corners[t.next_corner[corner]]] - middle


def places_on(mesh: Mesh, at: Floats) -> SurfacePlaces:
    """Where points (n, 3) lie on the nearest face."""
    t = mesh.topology
    middle, one, two = _fans(mesh.points, t, np.arange(t.corner_count), mesh.face_centres)
    points = np.concatenate([mesh.points, mesh.face_centres])
    fans = np.stack([len(mesh.points) + t.corner_face, t.corners, t.corners[t.next_corner]], axis=1)
    tree = igl.AABB()
    tree.init(points, fans)
    _, found, _ = tree.squared_distance(points, fans, np.ascontiguousarray(at, float).reshape(-1, 3))
    chosen = np.atleast_1d(np.asarray(found, np.int64))
    face = t.corner_face[chosen]
    share, height = _within(at - middle[chosen], one[chosen], two[chosen])
    return SurfacePlaces(face, chosen - t.offsets[face], share, height)


def points_at(mesh: Mesh, places: SurfacePlaces) -> Floats:
    """(n, 3) where places are now."""
    t = mesh.topology
    corner = t.offsets[places.face] + places.corner
    middle, one, two = _fans(mesh.points, t, corner, mesh.face_centres)
    flat: Floats = middle + places.share[:, :1] * one + places.share[:, 1:] * two
    return flat + places.height[:, None] * unit(cross(one, two))


def _within(away: Floats, one: Floats, two: Floats) -> tuple[Floats, Floats]:
    """(n, 2) shares along two sides of the foot of points over their plane, and (n,) their heights over it."""
    normal = cross(one, two)
    area = np.einsum("...i,...i->...", normal, normal)
    real = area > 1e-300
    over = np.where(real, area, 1.0)
    a = np.where(real, np.einsum("...i,...i->...", cross(away, two), normal) / over, 0.0)
    b = np.where(real, np.einsum("...i,...i->...", cross(one, away), normal) / over, 0.0)
    height = np.where(real, np.einsum("...i,...i->...", away, normal) / np.sqrt(over), 0.0)
    return np.stack([a, b], axis=-1), height
