"""A pattern: layers of shapes on the texture square, told in lengths. Our own stand-in for an outside paint program."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from ..params import Angle, Id, Length, Name, NonNegativeLength, PositiveLength, Share, Strict
from ..pick.rules import Pick

Place = tuple[Length, Length]
Extent = tuple[PositiveLength, PositiveLength]
#: pixels along either side of a drawn pattern
LONGEST = 8192
Digest = Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]


class Layer(Strict):
    """One shape of a pattern.

    ``at`` is its lower left, the middle of a circle; what repeats fills ``size``, or the whole square, and what has a size
    by itself reaches to the square's upper right where none is told. ``turn`` turns it counter-clockwise about its middle,
    what fills the square about ``at``.
    """

    shape: Literal["rect", "round_rect", "circle", "polygon", "stripes", "grid", "dots", "knurl", "tread", "text", "island",
                   "picture"]
    at: Place = (0.0, 0.0)
    size: Extent | None = None
    radius: PositiveLength | None = None
    turn: Angle = 0.0
    height: Share = 1.0
    soft: NonNegativeLength = 0.0
    blend: Literal["max", "min", "add", "set"] = "max"
    clip: Annotated[int, Field(strict=True, ge=0, le=200)] | None = None
    corner: NonNegativeLength = 0.0
    points: Annotated[list[Place], Field(min_length=3, max_length=2000)] | None = None
    pitch: PositiveLength | None = None
    width: PositiveLength | None = None
    text: Annotated[str, Field(min_length=1, max_length=200, pattern=r"^[^\x00-\x1f\x7f]+$")] | None = None
    part: Name | None = None
    pick: Pick | None = None
    inset: Length = 0.0
    digest: Digest | None = None

    @model_validator(mode="after")
    def _whole(self) -> Layer:
        needed: dict[str, tuple[str, ...]] = {
            "rect": (), "round_rect": (), "circle": (), "polygon": ("points",),
            "stripes": ("pitch", "width"), "grid": ("pitch", "width"), "dots": ("pitch", "radius"),
            "knurl": ("pitch",), "tread": ("pitch", "width"),
            "text": ("text",), "island": ("part",), "picture": ("digest",)}
        missing = [n for n in needed[self.shape] if getattr(self, n) is None]
        if missing:
            raise ValueError(f"a layer of shape {self.shape} needs {' and '.join(missing)}")
        if self.shape == "circle" and self.radius is None and self.size is None:
            raise ValueError("a layer of shape circle needs radius")
        return self


#: shapes that are as large as they are told to be
SIZED = ("rect", "round_rect", "text", "picture")


class Pattern(Strict):
    """Layers one over the other, the first below; the ground is 0, and the pattern's square is the texture square."""

    id: Id
    name: Name
    size: Extent
    resolution: Annotated[float, Field(strict=True, allow_inf_nan=False, gt=0, le=100_000,
                                       description="pixels to the centimetre")]
    layers: Annotated[list[Layer], Field(max_length=200)] = Field(default=[])

    @model_validator(mode="after")
    def _in_order(self) -> Pattern:
        for number, layer in enumerate(self.layers):
            if layer.clip is not None and layer.clip >= number:
                raise ValueError(f"layer {number} is kept inside layer {layer.clip}, which does not lie below it")
        return self

