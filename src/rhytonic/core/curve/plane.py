"""The plane a curve lies in, and places in it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..errors import StepError
from ..mesh.geometry import cross, unit
from ..mesh.mesh import Floats
from .curve import Curve

#: how far off its plane a flat curve may be, as a share of its extent
_FLAT = 1e-7


@dataclass(frozen=True, eq=False)
class CurvePlane:
    """A plane with axes of its own, seen against its normal x to the right and y up.

    Attributes:
        origin: (3,); axes: (2, 3) unit; normal: (3,) unit, its largest share positive.
    """

    origin: Floats
    axes: Floats
    normal: Floats

    def flat(self, points: Floats) -> Floats:
        """(…, 2) places of (…, 3) points."""
        out: Floats = (points - self.origin) @ self.axes.T
        return out

    def lifted(self, flat: Floats) -> Floats:
        """(…, 3) points at (…, 2) places."""
        out: Floats = flat @ self.axes + self.origin
        return out


def plane_of(curve: Curve, what: str) -> CurvePlane:
    """The plane of a flat curve; for a straight one a plane through it across z, or across y where it runs along z.

    Raises:
        StepError: the curve is not flat; ``what`` is who needs it so.
    """
    points = curve.divided.points
    origin = points.mean(axis=0)
    _, size, axes = np.linalg.svd(points - origin, full_matrices=len(points) < 3)
    size = np.concatenate([size, np.zeros(3 - size.size)])
    if size[2] > _FLAT * size[0]:
        raise StepError(f"{what} needs a flat curve, and this one leaves its plane; flatten its points first")
    if size[1] <= _FLAT * max(float(size[0]), 1e-300):
        along = axes[0]
        wish = np.eye(3)[2] if abs(along[2]) < 0.9 else np.eye(3)[1]
        normal = unit((wish - along * (wish @ along))[None])[0]
    else:
        normal = axes[2]
    main = int(np.argmax(np.abs(normal)))
    for k in range(3):  # what lies in a plane of the axes is told by them to the last bit
        if abs(abs(normal[k]) - 1) < 1e-12:
            normal = np.eye(3)[k]
    normal = normal if normal[main] > 0 else -normal
    right = np.array([[0.0, 0, -1], [1, 0, 0], [1, 0, 0]])[main]
    right = unit((right - normal * (right @ normal))[None])[0]
    flat = abs(normal[main]) == 1.0
    return CurvePlane(np.where(np.arange(3) == main, origin, 0.0) if flat else origin,
                      np.stack([right, cross(normal[None], right[None])[0]]), normal)
