"""Arc: a part of a circle about the origin."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field, model_validator

from ..curve.curve import ARC, STEPS, Curve, Wires
from ..mesh.names import reduced
from ..params import Angle, Count, PositiveLength
from ..step.facts import Offer
from ..step.kind import Context, Step
from .common import CurveStart, Plane, in_plane, point_ids


class Arc(Step):
    kind: Literal["arc"]
    radius: PositiveLength
    from_: Annotated[Angle, Field(alias="from")]
    to: Angle
    plane: Plane = "xy"
    steps: Annotated[Count, Field(le=1000)] = STEPS

    @model_validator(mode="after")
    def _turns(self) -> Arc:
        if not 0 < abs(self.to - self.from_) <= 360:
            raise ValueError("an arc turns by more than nothing and at most 360 degrees; "
                             f"from {self.from_:g} to {self.to:g} it would turn by {abs(self.to - self.from_):g}")
        return self


class ArcKind(CurveStart[Arc]):
    """Turns from the plane's first axis towards its second; a whole turn is closed. Spans of a quarter turn at most."""

    word, title, model = "arc", "Arc", Arc
    numbers = frozenset({"radius", "plane"})
    proposal = (Offer("radius", of_size=0.5), Offer("from", 0), Offer("to", 180))
    summary = ("radius", "from", "to")

    def curve(self, p: Arc, context: Context) -> Curve:
        turn = np.radians(p.to - p.from_)
        spans = max(1, int(np.ceil(abs(turn) / (np.pi / 2) - 1e-9)))
        closed = abs(p.to - p.from_) == 360
        n = spans if closed else spans + 1
        each = turn / spans
        angle = np.radians(p.from_) + each * np.arange(n)
        middle = angle + each / 2
        points = in_plane(p.plane, p.radius * np.stack([np.cos(angle), np.sin(angle)], axis=1))
        corner = in_plane(p.plane, p.radius / np.cos(each / 2) * np.stack([np.cos(middle), np.sin(middle)], axis=1))
        steps = max(1, round(p.steps * abs(each) / (np.pi / 2)))
        wires = Wires(np.array([0, n]), np.array([closed]), np.full(n, ARC), np.full(n, np.cos(each / 2)), np.full(n, steps))
        share = reduced(np.arange(n), spans)
        return Curve(points, np.repeat(corner[:, None], 2, axis=1), wires, point_ids(context.step, share[:, 0], share[:, 1]))
