"""Faces by their number of corners: those that are no quads."""

from __future__ import annotations

import numpy as np

from ..mesh.mesh import Mesh
from ..mesh.topology import Ints
from .thresholds import Limits


def triangles(mesh: Mesh, limits: Limits) -> Ints:
    """(n,) faces of three corners."""
    return np.flatnonzero(mesh.topology.sides == 3)


def ngons(mesh: Mesh, limits: Limits) -> Ints:
    """(n,) faces of more than four corners."""
    return np.flatnonzero(mesh.topology.sides > 4)
