"""Corners of a run of straight spans, made round or cut off."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..errors import StepError
from ..mesh.geometry import lengths, unit
from ..mesh.mesh import Floats
from ..mesh.topology import Bools, Ints

#: a corner that turns less than this, in radians, is none
_STRAIGHT_ON = 1e-9

#: and one that turns back within this of the way it came has no inside
_BACK = 1e-5


@dataclass(frozen=True, eq=False)
class Rounded:
    """Corners taken off: how far along each side, and what a fillet's arc weighs.

    Attributes:
        trim: (n,) metres from the corner to where either side is left; 0 where the corner stays.
        turn: (n,) radians by which the run turns there.
    """

    trim: Floats
    turn: Floats


def trims(points: Floats, before: Ints, after: Ints, fillet: Bools, size: Floats) -> Rounded:
    """How far a corner of the given size reaches along its sides: the tangent length r·tan(turn/2) of a fillet of radius r,
    the width of a chamfer (common practice, no source).

    Args:
        points: (n, 3); before, after: (n,) neighbours of each, −1 at an open end, which has no corner.
        fillet: (n,) round rather than cut off; size: (n,) metres, 0 for a corner that stays.

    Raises:
        StepError: a corner turns back the way it came, and has no inside to be round in.
    """
    has = (before >= 0) & (after >= 0) & (size > 0)
    incoming = unit(points - points[np.maximum(before, 0)])
    outgoing = unit(points[np.maximum(after, 0)] - points)
    turn = np.arctan2(lengths(np.cross(incoming, outgoing)), np.einsum("ij,ij->i", incoming, outgoing))
    has &= turn > _STRAIGHT_ON
    back = np.flatnonzero(has & (turn > np.pi - _BACK))
    if back.size:
        raise StepError("the curve turns back the way it came at {point}, where no corner can be made round or cut off; "
                        "move that point, or leave its corner sharp", point=points[back[0]])
    with np.errstate(over="ignore"):
        trim = np.where(fillet, size * np.tan(turn / 2), size)
    return Rounded(np.where(has, trim, 0.0), np.where(has, turn, 0.0))
