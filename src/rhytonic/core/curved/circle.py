"""Circle: a closed outline of equal sides about the origin."""

from __future__ import annotations

from typing import Literal

import numpy as np

from ..curve.curve import Curve, Wires
from ..mesh.names import reduced
from ..params import PositiveLength, Sides
from ..step.facts import Offer, Span
from ..step.kind import Context, Step
from .common import CurveStart, Plane, in_plane, point_ids


class Circle(Step):
    kind: Literal["circle"]
    radius: PositiveLength
    sides: Sides = 24
    plane: Plane = "xy"


class CircleKind(CurveStart[Circle]):
    """Counter-clockwise from its plane's first axis; points are named by their share of a turn."""

    word, title, model = "circle", "Circle", Circle
    numbers = frozenset({"radius", "plane"})
    proposal = (Offer("radius", of_size=0.5), Offer("sides", 24))
    summary = ("radius", "sides")
    spans = (Span("x", "radius"), Span("z", "radius"))  # lying in xz

    def curve(self, p: Circle, context: Context) -> Curve:
        turn = 2 * np.pi * np.arange(p.sides) / p.sides
        points = in_plane(p.plane, p.radius * np.stack([np.cos(turn), np.sin(turn)], axis=1))
        share = reduced(np.arange(p.sides), p.sides)
        return Curve(points, np.repeat(points[:, None], 2, axis=1), Wires.straight([p.sides], [True]),
                     point_ids(context.step, share[:, 0], share[:, 1]))
