"""Faces that pass through each other."""

from __future__ import annotations

from ..mesh.crossing import crossing_faces
from ..mesh.mesh import Mesh
from ..mesh.topology import Ints
from .laid_over import but_laid
from .thresholds import Limits


def self_crossings(mesh: Mesh, limits: Limits) -> Ints:
    """(n,) faces some triangle of which meets one of another face across it; what is laid over others to overlap aside."""
    own, faces = but_laid(mesh)
    return faces[crossing_faces(own)]
