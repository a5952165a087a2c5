"""The box."""

from __future__ import annotations

from typing import Literal

import numpy as np

from ..mesh.mesh import Floats, Mesh
from ..mesh.topology import Topology
from ..pick.resolve import Picked
from ..recipe.draft import Draft
from ..recipe.kind import Context, Form, StepKind
from ..recipe.params import Count, PositiveLength
from .lattice import block_draft


class Box(Form):
    kind: Literal["box"]
    size: tuple[PositiveLength, PositiveLength, PositiveLength]
    segments: tuple[Count, Count, Count] = (1, 1, 1)


class BoxKind(StepKind[Box]):
    """Six sides of quads, ``segments`` along each axis."""

    word, title, model, form = "box", "Box", Box, True
    numbers = frozenset({"size", "anchor"})

    def estimate(self, p: Box, topology: Topology, picked: Picked | None, context: Context) -> tuple[int, str]:
        x, y, z = p.segments
        return 2 * (x * y + y * z + z * x), "segments"

    def plan(self, p: Box, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        return block_draft(p.segments)

    def positions(self, p: Box, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        base = np.array([0.5, 0.0 if p.anchor == "base" else 0.5, 0.5])
        points: Floats = (draft.data - base) * np.array(p.size)
        return points
