"""Taper: let a part's cross-sections grow or shrink along an axis."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from ..construct.held_plane import HoldPlane
from ..deform.tapered import Tapered
from ..mesh.mesh import Mesh
from ..params import Length, NonNegativeRatio
from ..pick.resolve import Picked
from ..step.facts import Knob, Offer
from ..step.kind import Picking
from .common import Deforming, reach_of


class Taper(Picking):
    kind: Literal["taper"]
    axis: Literal["x", "y", "z"]
    scale: NonNegativeRatio
    from_: Annotated[Length | None, Field(alias="from")] = None
    to: Length | None = None
    hold: Literal["from", "middle", "to"] = "from"
    hold_plane: HoldPlane = "none"

    @model_validator(mode="after")
    def _both_ends(self) -> Taper:
        if self.hold == "middle" and self.scale > 2:
            raise ValueError("with the middle held the lower end gets 2 − scale; scale is 2 at most")
        return self


class TaperKind(Deforming[Taper]):
    """About the line through the middle of the box's cross-section, evenly from 1 at the end that ``hold`` names to
    ``scale`` at the other; with the middle held, the upper end gets ``scale`` and the lower one as much the other way."""

    word, title, model = "taper", "Taper", Taper
    numbers = frozenset({"axis", "scale", "from", "from_", "to", "hold"})
    proposal = (Offer("axis", "y"), Offer("scale", 0.6))
    knob = Knob("scale")
    typed = "scale"
    summary = ("scale", "axis")

    def deformation(self, p: Taper, mesh: Mesh, picked: Picked | None) -> Tapered:
        low, high = {"from": (1.0, p.scale), "middle": (2.0 - p.scale, p.scale), "to": (p.scale, 1.0)}[p.hold]
        return Tapered(reach_of(p.axis, p.from_, p.to, mesh), low, high)
