"""Follow: ride on what deforms another part."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from ..construct.held_plane import HoldPlane
from ..deform.deformation import carried
from ..errors import StepError
from ..mesh.mesh import Floats, Mesh
from ..mesh.topology import components
from ..params import Id, PartName
from ..pick.resolve import Picked
from ..step.draft import Draft, unchanged
from ..step.kind import Context, Picking, Remark, StepKind
from ..step.operand import Need


class Follow(Picking):
    kind: Literal["follow"]
    part: PartName
    step: Id
    as_: Annotated[Literal["deformed", "rigid"], Field(alias="as")] = "deformed"
    hold_plane: HoldPlane = "none"


class FollowKind(StepKind[Follow]):
    """What another part's step does to space is done to this part too, where both stand in the build; ``rigid`` carries each
    connected piece whole, as space turns and moves in the middle of it. A step that is switched off moves nothing."""

    word, title, model = "follow", "Follow", Follow
    numbers = frozenset({"as_"})
    keeps_pick = True
    summary = ("part", "as")

    def needs(self, p: Follow) -> tuple[Need, ...]:
        return (Need(p.part, p.step, shape=True),)

    def plan(self, p: Follow, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        return unchanged(mesh)

    def positions(self, p: Follow, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        found = context.operand(self.needs(p)[0])
        if found.deformation is None:
            raise StepError(f"step '{p.step}' of part '{found.name}' is nothing that can be followed; name a lattice, bend, "
                            "twist, taper or stretch of it", "step")
        if not len(mesh.points):
            return mesh.points
        if p.as_ == "deformed":
            return found.deformation.apply(mesh.points)
        edges = mesh.topology.edges
        piece = components(len(mesh.points), edges[:, 0], edges[:, 1])
        order = np.argsort(piece, kind="stable")
        points = mesh.points.copy()
        for some in np.split(order, np.flatnonzero(np.diff(piece[order])) + 1):  # one round for each connected piece
            points[some] = carried(mesh.points[some], found.deformation)
        return points

    def remarks(self, p: Follow, draft: Draft, mesh: Mesh, made: Mesh, context: Context) -> tuple[Remark, ...]:
        if len(mesh.points) and (made.points == mesh.points).all():
            return (Remark("nothing moves: what is followed does nothing where this part stands; a lattice keeps what lies "
                           "outside its box unless its 'outside' is set to follow"),)
        return ()
