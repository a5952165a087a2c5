"""Subdivision surface: the smooth surface of a cage."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..construct.refining.draft import refined_draft
from ..construct.refining.refine import Refinement, refinement
from ..mesh.marks import CREASE, edge_mark
from ..mesh.mesh import Floats, Mesh
from ..mesh.topology import Topology
from ..params import Quantity
from ..pick.resolve import Picked
from ..step.draft import Draft, unchanged
from ..step.kind import Context, Step, StepKind
from ..waiting import check

Levels = Annotated[int, Field(strict=True, ge=0, le=12), Quantity("count")]


class Subdivision(Step):
    kind: Literal["subdivision"]
    levels: Levels = 1
    handover: Levels | None = None
    boundary: Literal["edge", "edge_and_corner"] = "edge"


class SubdivisionKind(StepKind[Subdivision]):
    """Catmull–Clark on any polygon mesh, following creases. Cage vertices keep their ids; ``handover`` levels are for
    files."""

    word, title, model, live = "subdivision", "Smooth surface", Subdivision, True
    summary = ("levels",)
    cost = 1.2e-6

    def _levels(self, p: Subdivision, context: Context) -> int:
        return p.levels if context.stage == "view" or p.handover is None else p.handover

    def depends_on(self, p: Subdivision, context: Context) -> int:
        return self._levels(p, context)

    def estimate(self, p: Subdivision, topology: Topology, picked: Picked | None, context: Context) -> tuple[int, str]:
        levels = self._levels(p, context)
        named = "levels" if context.stage == "view" or p.handover is None else "handover"
        return (topology.corner_count * 4 ** (levels - 1) if levels else topology.face_count), named

    def plan(self, p: Subdivision, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        levels = self._levels(p, context)
        t = mesh.topology
        if levels == 0 or t.face_count == 0:
            return unchanged(mesh)
        chain = refinement(t, p.boundary, edge_mark(mesh, CREASE) if CREASE in mesh.attributes else None)
        check()
        return refined_draft(mesh, chain, levels)

    def positions(self, p: Subdivision, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        if draft.topology is mesh.topology:
            return mesh.points
        chain: Refinement = draft.data
        return chain.apply(mesh.points, self._levels(p, context))
