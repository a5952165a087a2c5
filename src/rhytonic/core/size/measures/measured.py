"""What a measurement gave."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from ...mesh.mesh import Floats

Drawn = Literal["span", "angle", "radius", "note"]


@dataclass(frozen=True)
class Measured:
    """A value in metres, square or cubic metres, or degrees, and where it is drawn.

    Attributes:
        drawn: how: a span between two points; an angle at the second of three; a radius from the first point to the second;
            a note at one.
        points: (n, 3) those points, in the build and metres.
    """

    value: float
    drawn: Drawn
    points: Floats
