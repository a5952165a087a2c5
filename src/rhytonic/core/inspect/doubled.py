"""What stands twice at one place: vertices, and whole faces."""

from __future__ import annotations

import numpy as np

from ..mesh.crossing import near_pairs, places
from ..mesh.mesh import Mesh
from ..mesh.topology import Ints
from .thresholds import Limits


def doubled_vertices(mesh: Mesh, limits: Limits) -> Ints:
    """(n,) vertices with another nearer than the typed distance."""
    pairs = near_pairs(mesh, limits.doubled)
    apart = np.linalg.norm(mesh.points[pairs[:, 0]] - mesh.points[pairs[:, 1]], axis=1)
    return np.unique(pairs[apart < limits.doubled])


def coincident_faces(mesh: Mesh, limits: Limits) -> Ints:
    """(n,) faces whose corners stand where those of another face stand, whichever way they run."""
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
