"""Faces that pass through each other."""

from __future__ import annotations

from ..mesh.crossing import crossing_faces
from ..mesh.mesh import Mesh
from ..mesh.topology import Ints
from .limits import Limits


def self_crossings(mesh: Mesh, limits: Limits) -> Ints:
    """Faces some triangle of which meets one of another face across it."""
    return crossing_faces(mesh)
