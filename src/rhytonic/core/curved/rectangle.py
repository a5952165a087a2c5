"""Rectangle: a closed outline about the origin, its corners rounded where a radius is given."""

from __future__ import annotations

from typing import Literal

import numpy as np
from pydantic import model_validator

from ..curve.curve import ARC, STEPS, Curve, Wires
from ..curve.empty_spans import empty_spans, without_empty_spans
from ..params import NonNegativeLength, PositiveLength
from ..step.facts import Offer, Span
from ..step.kind import Context, Step
from .common import CurveStart, Plane, in_plane, point_ids


class Rectangle(Step):
    kind: Literal["rectangle"]
    size: tuple[PositiveLength, PositiveLength]
    plane: Plane = "xy"
    radius: NonNegativeLength = 0.0

    @model_validator(mode="after")
    def _fits(self) -> Rectangle:
        if self.radius > min(self.size) / 2:
            raise ValueError(f"radius {self.radius:g} is more than half of the shorter side; at most "
                             f"{min(self.size) / 2:g} fits")
        return self


class RectangleKind(CurveStart[Rectangle]):
    """Runs counter-clockwise from its lower left corner; rounded corners are two points each, named after the corner."""

    word, title, model = "rectangle", "Rectangle", Rectangle
    numbers = frozenset({"size", "radius"})
    proposal = (Offer("size", of_size=(1.0, 1.0)),)
    summary = ("size", "radius")
    spans = (Span("x", "size", 0, 2.0), Span("z", "size", 1, 2.0))  # lying in xz

    def depends_on(self, p: Rectangle, context: Context) -> list[bool]:
        """Whether corners are two points each, and which of those fall together as a side is used up."""
        return [p.radius > 0, *(empty_spans(self._whole(p, context)).tolist() if p.radius > 0 else ())]

    def curve(self, p: Rectangle, context: Context) -> Curve:
        return without_empty_spans(self._whole(p, context))[0]

    def _whole(self, p: Rectangle, context: Context) -> Curve:
        """With two points for every corner that is rounded."""
        half = np.array(p.size) / 2
        signs = np.array([[-1, -1], [1, -1], [1, 1], [-1, 1]])
        corners = in_plane(p.plane, signs * half)
        number = np.arange(4)
        if not p.radius:
            return Curve(corners, np.repeat(corners[:, None], 2, axis=1), Wires.straight([4], [True]),
                         point_ids(context.step, number, np.zeros(4)))
        back, ahead = np.roll(signs, 1, axis=0) - signs, np.roll(signs, -1, axis=0) - signs
        either = [in_plane(p.plane, signs * half + np.sign(d) * p.radius) for d in (back, ahead)]
        points = np.stack(either, axis=1).reshape(-1, 3)
        controls = np.repeat(points[:, None], 2, axis=1)
        controls[::2] = corners[:, None]
        first = np.tile([True, False], 4)
        wires = Wires(np.array([0, 8]), np.array([True]), np.where(first, ARC, 0), np.where(first, np.sqrt(0.5), 1.0),
                      np.where(first, STEPS, 1))
        return Curve(points, controls, wires, point_ids(context.step, np.repeat(number, 2), np.tile([1, 2], 4)))
