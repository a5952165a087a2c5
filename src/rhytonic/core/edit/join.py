"""Join: other parts become pieces of this one."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from ..construct.copies.foreign import mesh_with
from ..construct.pairing.merge_vertices import mean_points, merge_vertices, pairs_within
from ..mesh.mesh import Floats, Mesh
from ..params import NonNegativeLength, PartName
from ..pick.resolve import Picked
from ..step.draft import Draft, unchanged
from ..step.kind import Context, Picking, StepKind
from ..step.operand import Need


class Join(Picking):
    kind: Literal["join"]
    parts: Annotated[list[PartName], Field(min_length=1, max_length=500)]
    weld: NonNegativeLength = 1e-5


class JoinKind(StepKind[Join]):
    """The others come in as they stand in the build; vertices nearer to each other than ``weld`` become one."""

    word, title, model = "join", "Join", Join
    may_share_edges = True
    reads_points = True

    def needs(self, p: Join) -> tuple[Need, ...]:
        return tuple(Need(name) for name in p.parts)

    def ground(self, p: Join, mesh: Mesh, picked: Picked | None, context: Context) -> Mesh:
        return mesh_with(mesh, [context.operand(n).mesh for n in self.needs(p)], context.step)

    def plan(self, p: Join, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        t = mesh.topology
        brought = sum(context.operand(n).mesh.topology.face_count for n in self.needs(p))
        links = pairs_within(mesh.points, np.arange(t.vertex_count), p.weld)
        draft = merge_vertices(mesh, links, "joining", bodies=True)[0] if len(links) else \
            unchanged(mesh, np.arange(t.vertex_count))
        from_others = np.flatnonzero(draft.kept_faces >= t.face_count - brought)
        return replace(draft, tagged={("face", ""): from_others})

    def positions(self, p: Join, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        return mean_points(mesh, draft, draft.data)
