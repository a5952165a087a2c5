"""What the API takes and gives about the texture square and patterns."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..core.wrap.pack import HeldPlace
from .schemas import BuildPath, Told


class UvSpan(Told):
    min: float
    mean: float
    max: float


class UvStretch(Told):
    mean: float
    worst: float


class UvFigures(Told):
    """What the report tells of a layout."""

    islands: int
    turned: int = Field(description="faces that lie turned over")
    overlap: float = Field(description="share of the area used where faces lie over each other")
    coverage: float
    resolution: int
    stretch: UvStretch
    density: UvSpan = Field(description="pixels to the centimetre at the resolution")


class PartLayout(Told):
    """A part's cage on the texture square, face by face; empty where nothing is laid out."""

    island: list[int] = Field(description="number of each face's island, −1 for none")
    stretch: list[float] = Field(description="the worst σ1/σ2 of each face")
    turned: list[int]
    over: list[int] = Field(description="faces that lie over others")
    seams: list[int] = Field(description="edges of the cage that are seams")
    figures: UvFigures | None


class LayoutQuery(Told):
    format: Literal["png", "svg"] = "png"
    size: Annotated[int, Field(ge=16, le=8192)] = 2048
    depth: Literal["8", "16"] = "8"
    fill: bool = False
    of: Annotated[list[str], Field(max_length=2000)] = Field(default=[], description="ids of the parts wanted; else all")


class SeamTrial(Told):
    part: str
    revision: int | None = None


class SeamEdges(Told):
    """Edges that would open a part where it shows least, by their ids."""

    edges: list[str]


class PatternPath(BuildPath):
    pattern_id: str


class PatternQuery(Told):
    most: Annotated[int, Field(ge=16, le=8192)] | None = Field(default=None, description="pixels a side, at most")


class HeldPlaces(Told):
    """The step that packed a part, and where it set its islands down: what holds them there."""

    step: str
    density: float
    places: list[HeldPlace]


class SharedTrial(Told):
    parts: Annotated[list[str], Field(min_length=1, max_length=50, description="ids of parts with recipes of their own")]
    revision: int | None = None
    resolution: Annotated[int, Field(ge=16, le=32768)] = 2048
    margin: Annotated[float, Field(ge=0, le=1024)] = 8.0


class PackPortion(Told):
    """A part, the step that packs it already, and its part of the square: left, below, width, height."""

    part: str
    step: str | None
    area: list[float]


class SharedSquare(Told):
    resolution: int
    margin: float
    density: float
    portions: list[PackPortion]
