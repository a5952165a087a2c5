"""Walls that are too thin."""

from __future__ import annotations

import igl
import numpy as np

from ..mesh.geometry import lengths
from ..mesh.mesh import Mesh
from ..mesh.topology import Ints
from ..mesh.triangulate import triangulate
from .laid_over import but_laid
from .thresholds import Limits

#: faces look opposite ways when the cosine of their normals is below this
OPPOSITE = -0.5


def thin_walls(mesh: Mesh, limits: Limits) -> Ints:
    """(n,) faces behind which, nearer than the typed distance, another looks the other way; or before which one does that
    has come through."""
    mesh, faces = but_laid(mesh)
    t = mesh.topology
    if not t.face_count or limits.thin <= 0.0:
        return np.zeros(0, np.int64)
    triangles, face = triangulate(mesh)
    solid = lengths(np.cross(mesh.points[triangles[:, 1]] - mesh.points[triangles[:, 0]],
                             mesh.points[triangles[:, 2]] - mesh.points[triangles[:, 0]])) > 0
    triangles, face = np.ascontiguousarray(triangles[solid]), face[solid]
    if not triangles.size:
        return np.zeros(0, np.int64)
    tree = igl.AABB()
    tree.init(mesh.points, triangles)
    middle = mesh.points[triangles].mean(axis=1)
    normal = mesh.normals[face]
    start = 1e-6 * limits.thin
    hit, distance, _ = tree.intersect_ray_first(mesh.points, triangles, middle - start * normal, -normal)
    real = (hit >= 0) & (distance < limits.thin)
    opposite = np.einsum("ij,ij->i", normal, normal[np.maximum(hit, 0)]) < OPPOSITE
    other = face[np.maximum(hit, 0)] != face
    found: Ints = np.unique(face[real & opposite & other])
    return faces[found]
