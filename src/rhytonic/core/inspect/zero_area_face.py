"""Faces without area: the classic trace of an extrude left at zero."""

from __future__ import annotations

from ..mesh.measure import faces_without_area
from ..mesh.mesh import Mesh
from ..mesh.topology import Ints
from .thresholds import Limits


def zero_area_faces(mesh: Mesh, limits: Limits) -> Ints:
    """(n,) faces whose area is nothing beside the square of their longest edge."""
    return faces_without_area(mesh)
