"""Boards and guides."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from ..params import Angle, Angles, Flag, Id, Length, Name, Point, PositiveLength, Strict
from .tracing import Colour, Outline, Part01, Straightening, Trust


class Stand(Strict):
    """Where a board that belongs to no view stands: its lower middle, and its turns about x, then y, then z; unturned it
    faces the front."""

    translate: Point = (0.0, 0.0, 0.0)
    rotate: Angles = (0.0, 0.0, 0.0)


class Board(Strict):
    """A reference picture standing in the plane of a view, its lower middle at ``at``.

    ``width`` and ``at`` are those of the whole picture, cropped or not. In its plane, for a free one that of its ``place``,
    it is first mirrored, then turned counter-clockwise about its lower middle. Boards listed later stand in front of earlier
    ones.
    """

    id: Id
    picture: Annotated[str, Field(pattern=r"^[0-9a-f]{64}$", description="SHA-256 of the stored picture")]
    name: Name
    view: Literal["front", "back", "left", "right", "top", "bottom", "free"] = "front"
    width: PositiveLength
    at: tuple[Length, Length] = (0.0, 0.0)
    turn: Angle = 0.0
    place: Stand = Field(default=Stand(), description="for a board of the view 'free'")
    mirrored: Flag = False
    crop: tuple[Part01, Part01, Part01, Part01] = Field(
        default=(0.0, 0.0, 1.0, 1.0), description="left, lower, right and upper share of what is shown")
    opacity: Part01 = 0.6
    tint: Colour | None = None
    stand: Literal["behind", "over", "ghost"] = Field(
        default="behind", description="behind the model, in front of it, or showing through it")
    one_sided: Flag = Field(default=False, description="seen from its own side only")
    locked: Flag = True
    hidden: Flag = False
    source: Straightening | None = Field(default=None, description="the original, where the picture was straightened")
    outline: Outline | None = None
    trust: Trust = Trust()
    parts: Annotated[list[Id], Field(max_length=2000)] = Field(
        default=[], description="ids of the parts it shows; none: all that are seen")

    @model_validator(mode="after")
    def _cropped(self) -> Board:
        left, lower, right, upper = self.crop
        if not (left < right and lower < upper):
            raise ValueError("a crop leaves something: left less than right, lower less than upper")
        return self


class Guide(Strict):
    """A named landmark: a point; a line through two points; or a level, a plane across one axis seen as a line from the
    side."""

    id: Id
    name: Name
    kind: Literal["point", "line", "level"]
    at: Point = (0.0, 0.0, 0.0)
    to: Point | None = Field(default=None, description="the other point of a line")
    axis: Literal["x", "y", "z"] = Field(default="y", description="the axis a level stands across")
    hidden: Flag = False

    @model_validator(mode="after")
    def _whole(self) -> Guide:
        if self.kind == "line" and (self.to is None or self.to == self.at):
            raise ValueError("a line goes through two points")
        return self
