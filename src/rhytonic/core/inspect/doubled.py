"""What stands twice at one place: vertices, and whole faces."""

from __future__ import annotations

import numpy as np
from scipy.spatial import cKDTree

from ..mesh.mesh import Mesh
from ..mesh.topology import Ints, components
from .limits import Limits

#: corners nearer than this, in metres, are one place where faces are compared
SAME_PLACE = 1e-7


def _pairs(mesh: Mesh, distance: float) -> Ints:
    if len(mesh.points) < 2 or distance <= 0.0:
        return np.zeros((0, 2), np.int64)
    return cKDTree(mesh.points).query_pairs(distance, output_type="ndarray").astype(np.int64)


def places(mesh: Mesh) -> Ints:
    """(V,) the first vertex that stands where each one stands."""
    pairs = _pairs(mesh, SAME_PLACE)
    count = mesh.topology.vertex_count
    label = components(count, pairs[:, 0], pairs[:, 1])
    first = np.full(int(label.max(initial=-1)) + 1, count, np.int64)
    np.minimum.at(first, label, np.arange(count))
    out: Ints = first[label]
    return out


def doubled_vertices(mesh: Mesh, limits: Limits) -> Ints:
    """Vertices with another nearer than the typed distance."""
    pairs = _pairs(mesh, limits.doubled)
    apart = np.linalg.norm(mesh.points[pairs[:, 0]] - mesh.points[pairs[:, 1]], axis=1)
    return np.unique(pairs[apart < limits.doubled])


def coincident_faces(mesh: Mesh, limits: Limits) -> Ints:
    """Faces whose corners stand where those of another face stand, whichever way they run."""
    t = mesh.topology
    place = places(mesh)
    order = np.lexsort((place[t.corners], t.corner_face))
    sorted_places = place[t.corners][order]
    found = []
    for n in np.unique(t.sides):  # one round for each number of sides
        faces = np.flatnonzero(t.sides == n)
        rows = sorted_places[t.offsets[faces][:, None] + np.arange(n)]
        _, which, count = np.unique(rows, axis=0, return_inverse=True, return_counts=True)
        found.append(faces[count[which.ravel()] > 1])
    return np.sort(np.concatenate(found)) if found else np.zeros(0, np.int64)
