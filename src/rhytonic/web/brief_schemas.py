"""What the API takes and gives about boards, outlines, sizes and the fit."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..core.brief.size import Driver, Size
from ..core.brief.tracing import Part01, Place, Tracing
from ..core.pick.rules import Pick
from .schemas import PatchOperation, PictureInfo, Taken, Told, Trial

Share = Annotated[float, Field(ge=0, le=1)]


class TracingTrial(Taken):
    """How a picture's outline is to be traced."""

    tracing: Tracing = Tracing()
    crop: tuple[Part01, Part01, Part01, Part01] = (0.0, 0.0, 1.0, 1.0)
    opaque: bool = Field(default=False, description="transparency is background, as where a straightened picture ends")


class TracedOutline(Told):
    """An outline in picture widths: across from the picture's middle, up from its lower edge."""

    rings: list[list[tuple[float, float]]]
    corners: int
    area: float = Field(description="in square picture widths")
    background: str


class StraightenTrial(Taken):
    corners: tuple[Place, Place, Place, Place] | None = Field(
        default=None, description="lower left, lower right, upper right, upper left, in picture widths")
    size: tuple[Annotated[float, Field(gt=0, le=1e6)], Annotated[float, Field(gt=0, le=1e6)]] | None = None
    distortion: Annotated[float, Field(ge=-0.14, le=0.5)] = 0.0


class StraightenedQuery(Told):
    distortion: Annotated[float, Field(ge=-0.14, le=0.5)] = 0.0
    side: Annotated[int, Field(ge=50, le=1600)] = 900


class StraightPicture(Told):
    picture: PictureInfo
    real: tuple[float, float] | None = Field(description="width and height in the unit of the rectangle's sides")


class BriefTrial(Taken):
    """Which figures are wanted, of the build as it stands or with a step of trial numbers."""

    revision: int
    trial: Trial | None = None
    boards: bool = Field(default=True, description="whether the fit to the boards is wanted")
    sizes: bool = Field(default=True, description="whether the build's sizes are wanted")
    more: list[Size] = Field(default=[], max_length=20, description="sizes to be told that are not the build's")


class SizeInfo(Told):
    id: str
    have: float | None
    off: float | None
    tolerance: float | None
    verdict: Literal["pass", "near", "fail"] | None
    problem: str | None
    drawn: Literal["span", "angle", "radius", "note"] | None
    points: list[tuple[float, float, float]] = Field(description="in the build, metres")


class BoardFit(Told):
    """How the model fits one board; lengths in the build's unit, places in metres across and up of its view."""

    id: str
    iou: float
    mean: float
    worst: float
    worst_at: tuple[float, float] | None
    beyond: list[str] = Field(description="ids of parts that reach beyond what the picture's outline holds")
    points: bytes = Field(description="float32 × 2, places along the model's outline")
    near: bytes = Field(description="float32 × 2, the nearest place of the picture's outline to each")
    off: bytes = Field(description="float32, distance between the two, above 0 outside the picture's outline")
    ring: bytes = Field(description="uint32, number of the ring each place is on")


class BriefState(Told):
    """Sizes as they are, and the fit to each board that has an outline."""

    sizes: list[SizeInfo]
    boards: list[BoardFit]
    overall: float | None = Field(description="mean intersection over union of the boards; null where none has an outline")


class DriveTrial(Taken):
    revision: int
    size: Size
    want: Annotated[float, Field(allow_inf_nan=False)]
    driver: Driver


class DrivenInfo(Told):
    """What would make the size what is wanted; nothing is stored."""

    value: float
    have: float
    label: str
    patch: list[PatchOperation]
    trials: int


class NudgeTrial(Taken):
    revision: int
    part: str
    pick: Pick
    board: str


class NudgeInfo(Told):
    """A move of the picked elements, in the part's own axes and the build's unit, and the mean distance before and after."""

    translate: tuple[float, float, float]
    before: float
    after: float
    iou_before: Share
    iou_after: Share
