"""The sphere of quads: a box blown up."""

from __future__ import annotations

from typing import Literal

import numpy as np

from ..mesh.geometry import unit
from ..mesh.mesh import Floats, Mesh
from ..mesh.topology import Topology
from ..params import Count, PositiveLength
from ..pick.resolve import Picked
from ..step.draft import Draft
from ..step.facts import Offer, Span
from ..step.kind import Context, Form, StepKind
from .block import block_draft


class QuadSphere(Form):
    kind: Literal["quad_sphere"]
    radius: PositiveLength
    segments: Count = 2


class QuadSphereKind(StepKind[QuadSphere]):
    """Six sides of ``segments`` × ``segments`` quads, every point on the sphere, at even angles along the side's axes."""

    word, title, model, form = "quad_sphere", "Quad sphere", QuadSphere, True
    is_round = True
    numbers = frozenset({"radius", "anchor"})
    proposal = (Offer("radius", of_size=0.5), Offer("segments", 4))
    spans = (Span("x", "radius"), Span("y", "radius"), Span("z", "radius"))
    summary = ("radius",)

    def estimate(self, p: QuadSphere, topology: Topology, picked: Picked | None, context: Context) -> tuple[int, str]:
        return 6 * p.segments**2, "segments"

    def plan(self, p: QuadSphere, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        return block_draft((p.segments, p.segments, p.segments))

    def positions(self, p: QuadSphere, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        points: Floats = p.radius * unit(np.tan((draft.data - 0.5) * (np.pi / 2)))
        points[:, 1] += p.radius if p.anchor == "base" else 0.0
        return points
