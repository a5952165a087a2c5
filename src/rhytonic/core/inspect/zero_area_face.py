"""Faces without area: the classic trace of an extrude left at zero."""

from __future__ import annotations

import numpy as np

from .. import tolerance
from ..mesh.geometry import lengths
from ..mesh.mesh import Mesh
from ..mesh.topology import Ints
from .limits import Limits


def zero_area_faces(mesh: Mesh, limits: Limits) -> Ints:
    """Faces whose area is nothing beside the square of their longest edge."""
    t = mesh.topology
    if not t.face_count:
        return np.zeros(0, np.int64)
    edge = mesh.points[t.corners[t.next_corner]] - mesh.points[t.corners]
    longest = np.maximum.reduceat(np.einsum("ij,ij->i", edge, edge), t.offsets[:-1])
    area = lengths(mesh.area_vectors)
    return np.flatnonzero(area <= np.maximum(tolerance.NO_AREA * longest, tolerance.NO_AREA_ABSOLUTE))
