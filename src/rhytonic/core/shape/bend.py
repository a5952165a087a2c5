"""Bend: curve a part along an axis."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import BeforeValidator, Field, model_validator

from ..construct.held_plane import HoldPlane
from ..deform.bent import Bent
from ..mesh.mesh import Mesh
from ..params import Angle, Axis, Length
from ..pick.resolve import Picked
from ..step.draft import Draft
from ..step.facts import Knob, Offer
from ..step.kind import Context, Picking, Remark
from .common import Deforming, reach_of

#: edges that turn by more than this cut the arc off so far that it shows
_COARSE = np.radians(31.0)
#: and one that spans the whole bend, by which nothing is bent but sheared
_SHEARED = np.radians(3.0)


def _signed(value: object) -> object:
    return f"+{value}" if value in ("x", "y", "z") else value


class Bend(Picking):
    kind: Literal["bend"]
    along: Literal["x", "y", "z"]
    toward: Annotated[Axis, BeforeValidator(_signed)]
    angle: Angle
    from_: Annotated[Length | None, Field(alias="from")] = None
    to: Length | None = None
    hold: Literal["from", "middle", "to"] = "from"
    hold_plane: HoldPlane = "none"

    @model_validator(mode="after")
    def _across(self) -> Bend:
        if self.toward[1] == self.along:
            others = " or ".join(a for a in "xyz" if a != self.along)
            raise ValueError(f"what runs along {self.along} bends across it: towards {others}, or the negative of one")
        return self


class BendKind(Deforming[Bend]):
    """The line through the middle of the box's cross-section becomes an arc and keeps its length; cross-sections stay what
    they are. The upper end goes ``toward``; what ``hold`` names stays, and beyond the range the part goes on straight."""

    word, title, model = "bend", "Bend", Bend
    numbers = frozenset({"toward", "angle", "from", "from_", "to", "hold"})
    proposal = (Offer("along", "x"), Offer("toward", "+y"), Offer("angle", 90.0))
    knob = Knob("angle")
    typed = "angle"
    summary = ("angle", "along", "toward")

    def deformation(self, p: Bend, mesh: Mesh, picked: Picked | None) -> Bent:
        reach = reach_of(p.along, p.from_, p.to, mesh, "along")
        hold = {"from": 0.0, "middle": reach.length / 2, "to": reach.length}[p.hold]
        return Bent(reach, "xyz".index(p.toward[1]), 1.0 if p.toward[0] == "+" else -1.0, float(np.radians(p.angle)), hold)

    def remarks(self, p: Bend, draft: Draft, mesh: Mesh, made: Mesh, context: Context) -> tuple[Remark, ...]:
        if p.angle == 0.0 or not len(mesh.points):
            return ()
        bent, out = self.deformation(p, mesh, None), []
        inside = np.sign(bent.angle) * bent.sign * (mesh.points[:, bent.toward] - bent.reach.middle[bent.toward])
        if float(inside.max()) > bent.radius:
            out.append(Remark("the inner side folds over itself: the middle line bends to a radius of {length}, less than "
                              "half the thickness there; bend by less, or over a longer range", bent.radius))
        share, edges = bent.reach.share(mesh.points), mesh.topology.edges
        longest = float(np.abs(share[edges[:, 0]] - share[edges[:, 1]]).max(initial=0.0))
        if longest * abs(bent.angle) > (_COARSE if longest < 0.999 else _SHEARED):
            out.append(Remark("edges along the bend cut its arc off; give the form more segments, or insert loops above"))
        return tuple(out)
