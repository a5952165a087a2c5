"""Lattices: the same shape with other divisions."""

from __future__ import annotations

from typing import Any

import numpy as np

from ..core.deform.control_grid import redivided
from ..core.errors import BadParameter
from ..core.shape.lattice import offsets_of, told_offsets
from .blueprint import blueprint
from .lattice_schemas import RedividedInfo, RedividedTrial
from .schemas import Fault

api = blueprint("lattice", __name__, "/api/lattice", {422: Fault})


@api.post("/redivided", responses={200: RedividedInfo})
def other_divisions(body: RedividedTrial) -> Any:
    """Offsets that keep the shape with other divisions, as well as they can. Nothing is stored."""
    told = np.array(list(body.offsets.values()), float)
    if told.size and not (np.isfinite(told).all() and np.abs(told).max() < 1e9):
        raise BadParameter("an offset has to be a length", "offsets")
    offsets, error = redivided(offsets_of(body.divisions, body.offsets), body.to, body.basis)
    return RedividedInfo(offsets=told_offsets(offsets), error=error).model_dump()
