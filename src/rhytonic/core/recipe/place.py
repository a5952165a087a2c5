"""Placement of parts in their build."""

from __future__ import annotations

import functools

import numpy as np

from ..mesh.geometry import rotation
from ..mesh.mesh import Floats, Mesh
from ..units import METRES, Unit
from .document import Placement


@functools.lru_cache(4096)
def linear_part(placement: Placement) -> Floats:
    """(3, 3) Rz·Ry·Rx·S, read-only."""
    out: Floats = rotation(placement.rotate) @ np.diag(placement.scale)
    out.flags.writeable = False
    return out


def is_identity(placement: Placement) -> bool:
    return placement == Placement()


def placed(mesh: Mesh, placement: Placement, unit: Unit) -> Mesh:
    """The mesh with its placement applied: scaled, turned, moved."""
    if is_identity(placement):
        return mesh
    shift = np.asarray(placement.translate) * METRES[unit]
    return mesh.with_points(mesh.points @ linear_part(placement).T + shift)
