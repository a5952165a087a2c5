"""Sizes: what is measured, what is wanted, and what drives it."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from ..params import Flag, Id, Name, Strict
from ..pick.rules import Pick

Measure = Literal["distance", "length", "angle", "radius", "gap", "width", "height", "depth", "area", "volume"]
#: how many targets each measure takes, least and most
TARGETS: dict[Measure, tuple[int, int]] = {
    "distance": (2, 2), "length": (1, 1), "angle": (2, 3), "radius": (1, 1), "gap": (2, 2), "width": (0, 100),
    "height": (0, 100), "depth": (0, 100), "area": (0, 100), "volume": (0, 100)}


class Target(Strict):
    """A part, or elements picked in its cage: they are found again by their stable ids."""

    part: Id
    pick: Pick | None = None


class ByPick(Strict):
    """Moves the elements of a pick along one axis of the build, as a further step."""

    kind: Literal["move"]
    part: Id
    pick: Pick
    axis: Literal["x", "y", "z"]


class ByPart(Strict):
    """Scales a part where it stands, evenly or along one of its own axes."""

    kind: Literal["scale"]
    part: Id
    axis: Literal["all", "x", "y", "z"] = "all"


class ByStep(Strict):
    """Sets a number of a step; ``index`` where the parameter holds several."""

    kind: Literal["step"]
    part: Id
    step: Id
    parameter: Annotated[str, Field(min_length=1, max_length=100)]
    index: Annotated[int, Field(strict=True, ge=0, le=100)] | None = None


Driver = Annotated[ByPick | ByPart | ByStep, Field(discriminator="kind")]


class Size(Strict):
    """One measurement of a build, with the value it should have.

    Lengths are in the file's unit, areas and volumes in its square and cube, angles in degrees. ``of`` empty is the whole
    build. ``width``, ``height`` and ``depth`` are the box along x, y and z of the build.
    """

    id: Id
    name: Name
    measure: Measure
    of: Annotated[list[Target], Field(max_length=100)] = Field(default=[])
    along: Literal["straight", "x", "y", "z"] = Field(default="straight", description="for distance and gap")
    want: Annotated[float, Field(strict=True, allow_inf_nan=False)] | None = None
    tolerance: Annotated[float, Field(strict=True, allow_inf_nan=False, ge=0)] | None = Field(
        default=None, description="how far off still passes; by default 1 % of what is wanted, half a degree for angles")
    driver: Driver | None = None
    shown: Flag = Field(default=True, description="whether it is drawn in the views")

    @model_validator(mode="after")
    def _targets(self) -> Size:
        least, most = TARGETS[self.measure]
        if not least <= len(self.of) <= most:
            wanted = str(least) if least == most else f"{least} to {most}"
            raise ValueError(f"{self.measure} is measured of {wanted} targets, not of {len(self.of)}")
        if self.measure in ("length", "angle", "radius") and any(t.pick is None for t in self.of):
            raise ValueError(f"{self.measure} is measured of picked elements")
        if self.measure == "gap" and self.of[0] == self.of[1]:
            raise ValueError("a gap lies between two different targets")
        return self


class Display(Strict):
    """How lengths are shown and typed; what is stored stays in the file's unit."""

    unit: Literal["cm", "mm", "m", "in", "ft"] | None = None
    digits: Annotated[int, Field(strict=True, ge=0, le=6)] | None = Field(default=None, description="decimals shown")

