"""Twist: turn a part's cross-sections, further and further along an axis."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from ..construct.held_plane import HoldPlane
from ..deform.twisted import Twisted
from ..mesh.mesh import Mesh
from ..params import Angle, Length
from ..pick.resolve import Picked
from ..step.facts import Knob, Offer
from ..step.kind import Picking
from .common import Deforming, reach_of


class Twist(Picking):
    kind: Literal["twist"]
    axis: Literal["x", "y", "z"]
    angle: Angle
    from_: Annotated[Length | None, Field(alias="from")] = None
    to: Length | None = None
    hold_plane: HoldPlane = "none"


class TwistKind(Deforming[Twist]):
    """About the line through the middle of the box's cross-section: the lower end stays, the upper turns by ``angle``."""

    word, title, model = "twist", "Twist", Twist
    numbers = frozenset({"axis", "angle", "from", "from_", "to"})
    proposal = (Offer("axis", "y"), Offer("angle", 45.0))
    knob = Knob("angle")
    typed = "angle"
    summary = ("angle", "axis")

    def deformation(self, p: Twist, mesh: Mesh, picked: Picked | None) -> Twisted:
        return Twisted(reach_of(p.axis, p.from_, p.to, mesh), float(np.radians(p.angle)))
