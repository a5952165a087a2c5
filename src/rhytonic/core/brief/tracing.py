"""How an outline is taken from a picture, as a board keeps it."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..params import Length, PositiveLength, Strict

#: a place on a picture in picture widths: across from its middle, up from its lower edge
Place = tuple[Annotated[float, Field(strict=True, ge=-20, le=20)], Annotated[float, Field(strict=True, ge=-20, le=20)]]
Colour = Annotated[str, Field(pattern=r"^#[0-9a-fA-F]{6}$")]
Part01 = Annotated[float, Field(strict=True, ge=0, le=1)]


class Stroke(Strict):
    """One stroke of a round brush; places and radius in picture widths."""

    paint: Literal["in", "out"] = "in"
    radius: Annotated[float, Field(strict=True, gt=0, le=1)]
    points: Annotated[list[Place], Field(min_length=1, max_length=2000)]


Strokes = Annotated[list[Stroke], Field(max_length=500)]


class Tracing(Strict):
    """How what is drawn is told from what is not.

    ``by`` transparency where the picture has some, else by how far a colour is from the background's; ``background`` is the
    colour of the picture's upper corners, or the middle one of its rim, unless given. ``clean`` drops specks and lines
    thinner than twice that many pixels. ``holes`` stay holes in a body and are filled in a line drawing. Pieces and holes
    smaller than the share ``least`` of the largest piece are noise, and left out.
    """

    by: Literal["auto", "transparency", "background"] = "auto"
    background: Colour | None = None
    threshold: Part01 = 0.1
    clean: Annotated[int, Field(strict=True, ge=0, le=50)] = 2
    holes: Literal["auto", "keep", "fill"] = "auto"
    least: Part01 = 0.0
    strokes: Strokes = Field(default=[])


Ring = Annotated[list[tuple[Length, Length]], Field(min_length=3, max_length=20_000)]


class Outline(Strict):
    """A traced outline in real units: across from the board's middle, up from its lower edge, ``width`` being the board's
    when it was traced. Rings that lie in others are holes."""

    width: PositiveLength
    tracing: Tracing = Tracing()
    rings: Annotated[list[Ring], Field(max_length=2000)]


class Trust(Strict):
    """The part of a picture that figures go by: a start, then strokes painted in or out of it; ``box`` is left, lower, right
    and upper share of the picture."""

    start: Literal["all", "none", "left", "right", "upper", "lower", "box"] = "all"
    box: tuple[Part01, Part01, Part01, Part01] | None = None
    strokes: Strokes = Field(default=[])

    @property
    def whole(self) -> bool:
        """Whether all of the outline is trusted."""
        return self.start == "all" and not self.strokes


class Straightening(Strict):
    """How a board's picture was made from the one it was given.

    ``corners`` are lower left, lower right, upper right and upper left of a rectangle of ``size``, as shares across and up
    of the picture once its distortion is taken out. ``distortion`` is k of the one-parameter Brown–Conrady model.
    """

    picture: Annotated[str, Field(pattern=r"^[0-9a-f]{64}$", description="SHA-256 of the original")]
    corners: tuple[Place, Place, Place, Place] | None = None
    size: tuple[PositiveLength, PositiveLength] | None = None
    distortion: Annotated[float, Field(strict=True, ge=-0.14, le=0.5)] = 0.0
