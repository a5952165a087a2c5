"""Sizes judged: what they are, how far off, and whether that passes."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from ..brief.size import Measure, Size
from ..errors import RhytonicError
from .measures import angle, content, distance, extents, gap, length, radius
from .measures.measured import Measured
from .scene import Named, Scene

Verdict = Literal["pass", "near", "fail"]

#: powers of length in each measure's unit; angles have none
POWER: dict[Measure, int] = {"area": 2, "volume": 3, "angle": 0}
#: a size is near while it is off by no more than so many tolerances
NEAR = 3.0


@dataclass(frozen=True)
class Judged:
    """A size as it stands. ``have`` and ``off`` are in the size's own unit, None with a ``problem`` that says why."""

    size: Size
    have: float | None
    off: float | None
    verdict: Verdict | None
    measured: Measured | None
    problem: str | None = None


def measured(scene: Scene, size: Size) -> Measured:
    """Measure a size. Raises UnknownName, StepError."""
    found = scene.all_found(size.of)
    return _measure(size, found)


def _measure(size: Size, found: list[Named]) -> Measured:
    match size.measure:
        case "distance":
            return distance.distance(found, size.along)
        case "gap":
            return gap.gap(found, size.along)
        case "length":
            return length.length(found)
        case "angle":
            return angle.angle(found)
        case "radius":
            return radius.radius(found)
        case "area":
            return content.area(found)
        case "volume":
            return content.volume(found)
        case _:
            return extents.box(found, size.measure)


def value_in_unit(measure: Measure, value: float, metres: float) -> float:
    """A measured value in the document's unit, its square or cube; degrees stay."""
    return value / metres ** POWER.get(measure, 1)


def judge(scene: Scene, size: Size) -> Judged:
    """What a size is, against what is wanted."""
    try:
        found = measured(scene, size)
    except RhytonicError as error:
        return Judged(size, None, None, None, None, error.message)
    have = float(f"{value_in_unit(size.measure, found.value, scene.metres):.12g}")
    if size.want is None:
        return Judged(size, have, None, None, found)
    off = have - size.want
    return Judged(size, have, off, verdict(off, tolerance_of(size, scene.metres), size.want), found)


def tolerance_of(size: Size, metres: float) -> float:
    """How far off a size may be, in its own unit: 1 % where none is given, half a degree for angles."""
    if size.tolerance is not None:
        return size.tolerance
    if size.measure == "angle":
        return 0.5
    return abs(size.want or 0.0) * 0.01 or 0.0005 / metres


def verdict(off: float, tolerance: float, want: float) -> Verdict:
    """``pass`` within the tolerance, ``near`` within :data:`NEAR` times it, else ``fail``; all in the size's own unit."""
    slack = 1e-9 * max(abs(want), tolerance, 1e-9)
    if abs(off) <= tolerance + slack:
        return "pass"
    return "near" if abs(off) <= NEAR * tolerance + slack else "fail"
