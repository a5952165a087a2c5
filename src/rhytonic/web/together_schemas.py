"""What the API says of parts among each other."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..core.recipe.part import Placement
from .schemas import AtRevision, Told

Key = Annotated[str, Field(pattern=r"^[pg]:", max_length=202, description="p: or g: and the id of a part or group")]


class PlacedTrial(AtRevision):
    placements: dict[Key, Placement] = Field(max_length=2000, description="where parts and groups would stand")
    have: Annotated[list[str], Field(max_length=64)] = Field(default=[], description="digests the caller holds")


class ClearanceTrial(AtRevision):
    member: Annotated[str, Field(max_length=200)] = Field(description="id of the part or group that moves")
    against: Annotated[list[str], Field(max_length=2000)] | None = Field(
        default=None, description="ids of parts; all others that are seen where it is left out")
    steps: Annotated[int, Field(ge=1, le=1000)] = 90


class ClearanceInfo(Told):
    least: float = Field(description="in the build's unit; 0 where they touch")
    at: float
    touches: tuple[float | None, float | None] = Field(
        description="the first contact on the way from where the joint stands to its from, and to its to; null for never")
    touches_at: float | None = Field(description="the one on the longer way")
    rests: bool = Field(description="whether something touches where it stands, which is no contact until it has come free")
    where: tuple[float, float, float]


class LineUpTrial(AtRevision):
    members: Annotated[list[Key], Field(min_length=1, max_length=2000)]
    how: Literal["floor", "centre", "origin", "grid", "side", "align", "spread"]
    to: Key | None = None
    side: Literal["on", "under", "left", "right", "front", "behind", "inside"] = "on"
    axis: Literal["x", "y", "z"] = "x"
    place: Literal["low", "middle", "high"] = "middle"
    by: Literal["gaps", "centres"] = "gaps"
    step: Annotated[float, Field(gt=0, le=1e6, allow_inf_nan=False)] = 1.0


class MoveTo(Told):
    member: str
    translate: tuple[float, float, float] = Field(description="of its placement")


class Moves(Told):
    moves: list[MoveTo]


class BesideTrial(AtRevision):
    member: Key
    to: Key


class BesideInfo(Told):
    """Lengths in the build's unit."""

    gap: float
    ends: tuple[tuple[float, float, float], tuple[float, float, float]]
    overlap: float | None = Field(description="volume they share; null where a side is open or crosses itself")
    low: tuple[float, float, float] | None = Field(description="lower corner of what they share")
    high: tuple[float, float, float] | None
