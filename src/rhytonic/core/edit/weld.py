"""Weld: make one vertex of several."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Literal

import numpy as np
from pydantic import Field, model_validator

from ..construct.held_plane import HoldPlane
from ..construct.pairing.merge_vertices import mean_points, merge_points, merge_vertices, pairs_within
from ..curve.curve import Curve
from ..errors import BadParameter
from ..mesh.mesh import Floats, Mesh
from ..mesh.topology import Ints
from ..params import NonNegativeLength
from ..pick.resolve import Picked
from ..pick.rules import PickVertices, Rule
from ..step.curve_edit import CurveEdit
from ..step.draft import Draft
from ..step.facts import Knob, Offer
from ..step.kind import Context, Edit, StepKind


class Weld(Edit):
    kind: Literal["weld"]
    distance: NonNegativeLength | None = None
    to: Rule | None = None
    pairs: Annotated[list[tuple[Rule, Rule]], Field(min_length=1, max_length=100_000)] | None = None
    hold_plane: HoldPlane = "none"

    @model_validator(mode="after")
    def _one_way(self) -> Weld:
        if sum(v is not None for v in (self.distance, self.to, self.pairs)) != 1:
            raise ValueError("a weld needs one of distance, to and pairs")
        return self


class WeldKind(StepKind[Weld]):
    """Clusters are the connected components of pairs strictly nearer than ``distance``, placed at their mean; or all go
    onto the vertex ``to``; or they are told in pairs. The vertex made first stays, and stands for the others."""

    word, title, model = "weld", "Weld", Weld
    may_share_edges = True
    takes = ("vertices",)
    curve_role = "makes"
    curve_takes = ("vertices",)
    reads_points = True
    proposal = (Offer("distance", of_size=0.002),)
    knob = Knob("distance")

    def remade(self, p: Weld, curve: Curve, picked: Picked | None, context: Context) -> CurveEdit:
        assert picked is not None
        links, onto = self._links(p, curve.mesh, picked, context)
        return merge_points(curve, links, onto)

    def plan(self, p: Weld, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        assert picked is not None
        links, onto = self._links(p, mesh, picked, context)
        draft, _ = merge_vertices(mesh, links, "welding")
        return replace(draft, data=(draft.data, onto))

    def _links(self, p: Weld, mesh: Mesh, picked: Picked, context: Context) -> tuple[Ints, int]:
        """(n, 2) vertices to be made one, and the one they all go onto; −1 where that is their mean."""
        onto = -1
        if p.to is not None:
            found = context.find(PickVertices(vertices=p.to)).elements
            if found.size != 1:
                raise BadParameter(f"to must find one vertex, not {found.size}", "to")
            onto = int(found[0])
            links = np.stack([np.full(picked.elements.size, onto), picked.elements], axis=1)
        elif p.pairs is not None:
            links = np.array([self._pair(a, b, context) for a, b in p.pairs], np.int64)
        else:
            links = pairs_within(mesh.points, picked.elements, p.distance or 0.0)
        return links, onto

    def _pair(self, a: Rule, b: Rule, context: Context) -> tuple[int, int]:
        ends = [context.find(PickVertices(vertices=rule)).elements for rule in (a, b)]
        if any(e.size != 1 for e in ends):
            found = " and ".join(str(e.size) for e in ends)
            raise BadParameter(f"each end of a pair must find one vertex, not {found}", "pairs")
        return int(ends[0][0]), int(ends[1][0])

    def positions(self, p: Weld, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        number, onto = draft.data
        mean = mean_points(mesh, draft, number)
        if onto >= 0:
            mean[number[onto]] = mesh.points[onto]
        return mean
