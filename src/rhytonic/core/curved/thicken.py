"""Thicken: the outline of a curve with a thickness."""

from __future__ import annotations

from typing import Literal

from pydantic import model_validator

from ..curve.curve import Curve
from ..curve.outlines import Ends, thickened
from ..params import NonNegativeLength, PositiveLength
from ..pick.resolve import Picked
from ..step.curve_edit import CurveEdit
from ..step.facts import Offer
from ..step.kind import Context, Step
from .common import CurveStep


class Thicken(Step):
    kind: Literal["thicken"]
    width: PositiveLength | None = None
    left: NonNegativeLength | None = None
    right: NonNegativeLength | None = None
    ends: Ends = "flat"

    @model_validator(mode="after")
    def _one_way(self) -> Thicken:
        sides = self.left is not None or self.right is not None
        if sides == (self.width is not None):
            raise ValueError("a thickness needs a width, or how much goes to the left and to the right")
        if sides and not (self.left or 0) + (self.right or 0) > 0:
            raise ValueError("left and right together must be more than nothing")
        return self


class ThickenKind(CurveStep[Thicken]):
    """An open run becomes its closed outline, half the width to each side; a closed run becomes two, one inside the other.
    Corners are mitred; left is as the run goes, seen in front of the view it is drawn in."""

    word, title, model = "thicken", "Thicken", Thicken
    proposal = (Offer("width", of_size=0.05),)
    summary = ("width", "left", "right")

    def remade(self, p: Thicken, curve: Curve, picked: Picked | None, context: Context) -> CurveEdit:
        left, right = (p.width / 2, p.width / 2) if p.width is not None else (p.left or 0.0, p.right or 0.0)
        out = thickened(curve, context.step, left, right, p.ends, "mitre")
        notes = ("the outline would cross itself; what crosses is one piece now",) if out.resolved else ()
        return CurveEdit(out.curve, out.source, notes=notes)
