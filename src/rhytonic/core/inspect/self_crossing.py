"""Faces that pass through each other."""

from __future__ import annotations

import igl.predicates
import numpy as np

from ..mesh.geometry import cross, lengths
from ..mesh.mesh import Mesh
from ..mesh.topology import Ints
from ..mesh.triangulate import triangulate
from .doubled import places
from .limits import Limits


def self_crossings(mesh: Mesh, limits: Limits) -> Ints:
    """Faces some triangle of which meets one of another face across it; exact predicates, lying flat on each other aside."""
    if not mesh.topology.face_count:
        return np.zeros(0, np.int64)
    triangles, face = triangulate(mesh)
    triangles = places(mesh)[triangles]  # neighbours at doubled vertices touch; they do not cross
    p = mesh.points[triangles]
    size = lengths(cross(p[:, 1] - p[:, 0], p[:, 2] - p[:, 0]))
    edge = np.maximum(lengths(p[:, 1] - p[:, 0]), lengths(p[:, 2] - p[:, 0]))
    whole = (size > 1e-12 * edge**2) & (size > 0)
    triangles, face = np.ascontiguousarray(triangles[whole]), face[whole]
    if not triangles.size:
        return np.zeros(0, np.int64)
    found, pairs, flat = igl.predicates.find_self_intersections(np.ascontiguousarray(mesh.points), triangles)
    if not found:
        return np.zeros(0, np.int64)
    crossing = pairs[np.asarray(flat).ravel() == 0]
    crossing = crossing[face[crossing[:, 0]] != face[crossing[:, 1]]]
    return np.unique(face[crossing])
