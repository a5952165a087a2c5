"""Offset: the curve at a distance beside it."""

from __future__ import annotations

from typing import Literal

import numpy as np

from ..curve.curve import Curve
from ..curve.outlines import offset_curve
from ..curve.parallel import Corners
from ..params import Length
from ..pick.resolve import Picked
from ..step.curve_edit import CurveEdit
from ..step.facts import Offer
from ..step.kind import Context, Step
from .common import CurveStep


class Offset(Step):
    kind: Literal["offset"]
    distance: Length
    corners: Corners = "mitre"


class OffsetKind(CurveStep[Offset]):
    """Closed runs go outward from what they enclose, inward for a negative distance; open ones to the left as they run, seen
    in front of the view they are drawn in. Straight spans and arcs of circles stay what they are; what would cross itself is
    cut off and told."""

    word, title, model = "offset", "Offset", Offset
    proposal = (Offer("distance", of_size=0.1),)
    summary = ("distance",)

    def remade(self, p: Offset, curve: Curve, picked: Picked | None, context: Context) -> CurveEdit:
        if p.distance == 0:
            return CurveEdit(curve, np.arange(len(curve.points)))
        out = offset_curve(curve, context.step, p.distance, p.corners)
        notes = ("beside itself the curve would cross itself; what crosses is cut off",) if out.resolved else ()
        return CurveEdit(out.curve, out.source, notes=notes)

