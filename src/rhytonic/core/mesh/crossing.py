"""Vertices that stand at one place, and faces that pass through each other."""

from __future__ import annotations

import igl.predicates
import numpy as np
import scipy

from .geometry import cross, lengths
from .mesh import Mesh
from .topology import Ints, components
from .triangulate import triangulate

#: corners nearer than this, in metres, are one place where faces are compared
SAME_PLACE = 1e-7


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


def crossing_faces(mesh: Mesh) -> Ints:
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
