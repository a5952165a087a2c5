"""What every deformation answers, and the box that most of them are told by."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Protocol

import numpy as np

from ..mesh.geometry import Floats

#: beside the size of what is carried, how far apart two points are that tell how space turns there
_NEAR = 1e-5


class Deformation(Protocol):
    """A map of space, in metres. Points that it leaves alone come back to the last bit."""

    def apply(self, points: Floats) -> Floats:
        """(n, 3) where points go; the same array, or one of its own."""
        ...


@dataclass(frozen=True)
class Reach:
    """A stretch of an axis, through the middle of a box's cross-section.

    Attributes:
        axis: 0, 1 or 2.
        low, high: metres along it.
        middle: (3,) the middle of the box.
    """

    axis: int
    low: float
    high: float
    middle: tuple[float, float, float]

    @property
    def length(self) -> float:
        """Metres."""
        return self.high - self.low

    def share(self, points: Floats) -> Floats:
        """(n,) how far along the stretch points lie: 0 up to its lower end, 1 from its upper end on."""
        out: Floats = (points[:, self.axis] - self.low) * (1 / self.length)
        np.maximum(out, 0.0, out=out)
        np.minimum(out, 1.0, out=out)
        return out


def carried(points: Floats, deformation: Deformation) -> Floats:
    """(n, 3) points moved as one stiff piece, as space turns and moves in the middle of their box."""
    low, high = points.min(axis=0), points.max(axis=0)
    middle = (low + high) / 2
    h = max(float(np.linalg.norm(high - low)), 1e-6) * _NEAR
    ask = np.concatenate([middle[None], middle + h * np.eye(3), middle - h * np.eye(3)])
    answer = deformation.apply(ask)
    if (answer == ask).all():
        return points
    slope = ((answer[1:4] - answer[4:]) / (2 * h)).T
    u, _, v = np.linalg.svd(slope)  # the nearest rotation: J. Gower, G. Dijksterhuis, Procrustes Problems, 2004
    turn = u @ np.diag([1.0, 1.0, np.sign(np.linalg.det(u @ v)) or 1.0]) @ v
    out: Floats = (points - middle) @ turn.T + answer[0]
    return out
