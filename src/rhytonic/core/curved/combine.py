"""Combine: closed outlines united, subtracted, intersected."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..curve.curve import Curve
from ..curve.outlines import Operation, combined
from ..errors import BadParameter
from ..params import PartName
from ..pick.resolve import Picked
from ..step.curve_edit import CurveEdit
from ..step.kind import Context, Step
from ..step.operand import Need
from .common import CurveStep


class Combine(Step):
    kind: Literal["combine"]
    parts: Annotated[list[PartName], Field(min_length=1, max_length=1000)]
    operation: Operation = "unite"


class CombineKind(CurveStep[Combine]):
    """Closed flat curves of other parts, where they stand, united with this one, taken off it, or it cut down to what they
    have in common. Points that stay keep their names, arcs stay arcs where they were."""

    word, title, model = "combine", "Combine", Combine
    summary = ("operation", "parts")

    def needs(self, p: Combine) -> tuple[Need, ...]:
        return tuple(Need(name) for name in p.parts)

    def remade(self, p: Combine, curve: Curve, picked: Picked | None, context: Context) -> CurveEdit:
        others = []
        for name in p.parts:
            found = context.operand(Need(name))
            if found.curve is None:
                raise BadParameter(f"part '{found.name}' has faces; curves are combined with parts that end as curves",
                                   "parts")
            others.append(found.curve)
        out = combined(curve, others, p.operation, context.step)
        return CurveEdit(out.curve, out.source)
