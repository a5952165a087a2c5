"""Long thin faces."""

from __future__ import annotations

import numpy as np

from ..mesh.geometry import cross, lengths
from ..mesh.mesh import Mesh
from ..mesh.topology import Ints
from .thresholds import Limits


def long_faces(mesh: Mesh, limits: Limits) -> Ints:
    """(n,) faces more than so many times as long, along their longest edge, as they are wide across it, in their plane."""
    t = mesh.topology
    if not t.face_count:
        return np.zeros(0, np.int64)
    here, ahead = mesh.points[t.corners], mesh.points[t.corners[t.next_corner]]
    span = lengths(ahead - here)
    longest = np.maximum.reduceat(span, t.offsets[:-1])
    at = np.full(t.face_count, t.corner_count, np.int64)
    is_longest = span == longest[t.corner_face]
    np.minimum.at(at, t.corner_face[is_longest], np.flatnonzero(is_longest))
    along = (ahead - here)[at] / np.maximum(longest, 1e-300)[:, None]
    across = cross(mesh.normals, along)
    local = here - here[t.offsets[:-1]][t.corner_face]

    def extent(axis: np.ndarray) -> np.ndarray:
        value = np.einsum("ij,ij->i", local, axis[t.corner_face])
        out: np.ndarray = np.maximum.reduceat(value, t.offsets[:-1]) - np.minimum.reduceat(value, t.offsets[:-1])
        return out

    width = extent(across)
    return np.flatnonzero((width > 1e-9 * longest) & (extent(along) / limits.long > width * (1 + 1e-9)))
