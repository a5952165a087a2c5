"""Respace: points evenly along the curve."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field, model_validator

from ..curve.curve import Curve
from ..curve.evenly import respaced
from ..params import Count, PositiveLength
from ..pick.resolve import Picked
from ..step.curve_edit import CurveEdit
from ..step.facts import Offer
from ..step.kind import Context, Step
from .common import CurveStep


class Respace(Step):
    kind: Literal["respace"]
    count: Annotated[Count, Field(le=100_000)] | None = None
    spacing: PositiveLength | None = None

    @model_validator(mode="after")
    def _one_way(self) -> Respace:
        if (self.count is None) == (self.spacing is None):
            raise ValueError("points are spaced by a count or by a spacing; give one of them")
        return self


class RespaceKind(CurveStep[Respace]):
    """So many points, or as many as fit at a spacing, evenly along each run; they lie on the curve, also where it is round,
    and straight spans join them. Open runs keep their ends."""

    word, title, model = "respace", "Respace", Respace
    proposal = (Offer("count", 24),)
    summary = ("count", "spacing")

    def remade(self, p: Respace, curve: Curve, picked: Picked | None, context: Context) -> CurveEdit:
        made = respaced(curve, context.step, p.count, p.spacing)
        return CurveEdit(made, _nearest_ends(curve, made))


def _nearest_ends(curve: Curve, made: Curve) -> np.ndarray:
    """(P',) the first and last point of each open run stand for those of the run before."""
    out = np.full(len(made.points), -1)
    for old, new, closed in zip(np.stack([curve.wires.offsets[:-1], curve.wires.offsets[1:] - 1], axis=1),
                                np.stack([made.wires.offsets[:-1], made.wires.offsets[1:] - 1], axis=1), made.wires.closed,
                                strict=True):
        out[new[0]] = old[0]
        if not closed:
            out[new[1]] = old[1]
    return out
