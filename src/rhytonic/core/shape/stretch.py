"""Stretch: lengthen a part along an axis, and make it thinner by as much."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..construct.held_plane import HoldPlane
from ..deform.stretched import Stretched
from ..mesh.mesh import Mesh
from ..params import Flag, Quantity
from ..pick.resolve import Picked
from ..step.facts import Knob, Offer
from ..step.kind import Picking
from .common import Deforming, reach_of


class Stretch(Picking):
    kind: Literal["stretch"]
    axis: Literal["x", "y", "z"]
    factor: Annotated[float, Field(strict=True, allow_inf_nan=False, gt=0, le=1e6), Quantity("ratio")]
    keep_volume: Flag = True
    hold_plane: HoldPlane = "none"


class StretchKind(Deforming[Stretch]):
    """From the lower end of its box on; across the axis, about the box's middle, by 1/√factor where the volume is kept."""

    word, title, model = "stretch", "Stretch", Stretch
    numbers = frozenset({"axis", "factor", "keep_volume"})
    proposal = (Offer("axis", "y"), Offer("factor", 1.2))
    knob = Knob("factor")
    typed = "factor"
    summary = ("factor", "axis")

    def deformation(self, p: Stretch, mesh: Mesh, picked: Picked | None) -> Stretched:
        across = p.factor**-0.5 if p.keep_volume and p.factor != 1.0 else 1.0
        return Stretched(reach_of(p.axis, None, None, mesh), p.factor, across)
