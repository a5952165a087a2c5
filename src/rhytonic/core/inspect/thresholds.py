"""Numbers that inspections go by: distances that a person types, and how long a face may be."""

from __future__ import annotations

from dataclasses import dataclass

#: vertices nearer than this count as doubled, in metres
DOUBLED = 1e-5
#: walls thinner than this are too thin, in metres
THIN = 1e-4
#: how many times longer than wide a face may be
LONG = 8.0
#: how many times more one way than across a face may be stretched on the texture square
STRETCH = 3.0
#: how many times denser or less dense than its part an island may be
DENSITY = 1.5


@dataclass(frozen=True)
class Limits:
    doubled: float = DOUBLED
    thin: float = THIN
    long: float = LONG
    stretch: float = STRETCH
    density: float = DENSITY


DEFAULT = Limits()
