"""To ball: draw a part towards a ball."""

from __future__ import annotations

from typing import Literal

import numpy as np
from pydantic import Field, model_validator

from ..errors import StepError
from ..mesh.geometry import lengths, unit
from ..mesh.mesh import Floats, Mesh
from ..params import Length, Ratio
from ..pick.resolve import Picked
from ..step.draft import Draft, unchanged
from ..step.kind import Context, Step, StepKind


class ToBall(Step):
    kind: Literal["to_ball"]
    amount: Ratio = Field(default=1.0, description="1 is the ball, 0 the part as it is; beyond 1 overshoots")
    axis: Literal["x", "y", "z"] = "y"
    range: tuple[Length, Length] | None = Field(default=None, description="only what lies between these along the axis")

    @model_validator(mode="after")
    def _in_order(self) -> ToBall:
        if self.range is not None and self.range[0] >= self.range[1]:
            raise ValueError("a range runs from a smaller to a larger coordinate")
        return self


class ToBallKind(StepKind[ToBall]):
    """Vertices move radially towards the ball about their mean with their mean distance as its radius."""

    word, title, model, live = "to_ball", "To ball", ToBall, True
    numbers = frozenset({"amount", "axis", "range"})

    def plan(self, p: ToBall, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        return unchanged(mesh)

    def positions(self, p: ToBall, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        inside = np.ones(len(mesh.points), bool)
        if p.range is not None:
            along = mesh.points[:, "xyz".index(p.axis)]
            inside = (along >= p.range[0]) & (along <= p.range[1])
        if not inside.any():
            raise StepError("no vertex lies in this range", "range")
        here = mesh.points[inside]
        centre = here.mean(axis=0)
        away = here - centre
        radius = float(lengths(away).mean())
        points = mesh.points.copy()
        points[inside] = here + p.amount * (centre + radius * unit(away) - here)
        return points
