"""Edge curve: edges of another part as a curve."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field, model_validator

from ..construct.chains import edge_chains
from ..curve.curve import Curve, Wires
from ..curve.evenly import respaced
from ..errors import BadParameter, BadPick, StepError
from ..mesh.names import name
from ..params import Count, Id, PartName, PositiveLength
from ..pick.rules import Pick
from ..step.kind import Context, Step
from ..step.operand import Need
from .common import CurveStart


class EdgeCurve(Step):
    kind: Literal["edge_curve"]
    part: PartName
    step: Id | None = None
    on: Literal["cage", "surface"] = "cage"
    pick: Pick
    count: Annotated[Count, Field(ge=2, le=100_000)] | None = None
    spacing: PositiveLength | None = None

    @model_validator(mode="after")
    def _one_way(self) -> EdgeCurve:
        if self.step is not None and self.on == "surface":
            raise ValueError("edges are followed after a step or on the surface; leave one of them out")
        if self.count is not None and self.spacing is not None:
            raise ValueError("points are spaced by a count or by a spacing; leave one of them out")
        return self


class EdgeCurveKind(CurveStart[EdgeCurve]):
    """Chains and loops of edges of another part, of its cage or of what it is after a step, each a run of its own that
    follows them as they change; on its surface, the same edges as they run there. With a count or a spacing its points stand
    evenly; without, each on a vertex."""

    word, title, model = "edge_curve", "Edge curve", EdgeCurve
    numbers = frozenset({"spacing"})
    summary = ("part", "count", "spacing")

    def needs(self, p: EdgeCurve) -> tuple[Need, ...]:
        return (_need(p),)

    def depends_on(self, p: EdgeCurve, context: Context) -> str:
        """The points there are: with a spacing, as many as the lengths ask for."""
        return self.curve(p, context).ids.tobytes().hex()

    def curve(self, p: EdgeCurve, context: Context) -> Curve:
        found = context.operand(_need(p))
        if found.curve is not None:
            raise BadParameter(f"part '{found.name}' is a curve itself; edges are picked of parts with faces", "part")
        try:
            picked = found.find(p.pick)
        except StepError as error:
            raise BadPick(f"in part '{found.name}' {error.message}", "pick") from None
        if picked.kind != "edges":
            raise BadPick(f"a curve is made of edges, not of {picked.kind}", "pick")
        mesh, edges = found.mesh, picked.elements
        if found.smooth is not None:
            mesh, pieces, of = found.smooth
            edges = np.unique(pieces[np.isin(of, edges)])
            if not edges.size:
                raise BadPick(f"none of these edges is left on the surface of part '{found.name}'; follow its cage", "on")
        chains = edge_chains(mesh.topology, edges, mesh.names.vertex)
        vertices = np.concatenate([c.vertices for c in chains])
        points = mesh.points[vertices]
        wires = Wires.straight([c.vertices.size for c in chains], [c.closed for c in chains])
        ids = name(context.step, "vertex", "point", vertices.size, mesh.names.vertex[vertices][:, None],
                   np.zeros((vertices.size, 0), np.int64))
        curve = Curve(points, np.repeat(points[:, None], 2, axis=1), wires, ids)
        if p.count is None and p.spacing is None:
            return curve
        return respaced(curve, context.step, p.count, p.spacing)


def _need(p: EdgeCurve) -> Need:
    return Need(p.part, p.step, cage=True, smooth=p.on == "surface" and p.step is None)
