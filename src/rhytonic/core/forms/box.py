"""The box."""

from __future__ import annotations

from typing import Literal

import numpy as np

from ..mesh.mesh import Floats, Mesh
from ..mesh.topology import Topology
from ..params import Count, PositiveLength
from ..pick.resolve import Picked
from ..step.draft import Draft
from ..step.facts import Offer, Span
from ..step.kind import Context, Form, StepKind
from .block import block_draft


class Box(Form):
    kind: Literal["box"]
    size: tuple[PositiveLength, PositiveLength, PositiveLength]
    segments: tuple[Count, Count, Count] = (1, 1, 1)


class BoxKind(StepKind[Box]):
    """Six sides of quads, ``segments`` along each axis."""

    word, title, model, form = "box", "Box", Box, True
    numbers = frozenset({"size", "anchor"})
    proposal = (Offer("size", of_size=(1.0, 1.0, 1.0)),)
    spans = (Span("x", "size", 0, 2.0), Span("y", "size", 1, 2.0), Span("z", "size", 2, 2.0))
    summary = ("size",)

    def estimate(self, p: Box, topology: Topology, picked: Picked | None, context: Context) -> tuple[int, str]:
        x, y, z = p.segments
        return 2 * (x * y + y * z + z * x), "segments"

    def plan(self, p: Box, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        return block_draft(p.segments)

    def positions(self, p: Box, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        base = np.array([0.5, 0.0 if p.anchor == "base" else 0.5, 0.5])
        points: Floats = (draft.data - base) * np.array(p.size)
        return points
