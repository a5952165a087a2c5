"""Noise: nothing made by hand is perfect."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from ..construct.held_plane import HoldPlane
from ..deform.gradient_noise import gradient_noise
from ..errors import BadParameter
from ..mesh.geometry import vertex_normals
from ..mesh.mesh import Floats, Mesh
from ..params import Length, PositiveLength, Quantity
from ..pick.resolve import Picked
from ..step.draft import Draft, unchanged
from ..step.facts import Knob, Offer
from ..step.kind import Context, Edit, StepKind

#: beyond so many cells the places in them are lost to rounding
_MOST_CELLS = 1e12


class Noise(Edit):
    kind: Literal["noise"]
    amount: Length
    size: PositiveLength
    seed: Annotated[int, Field(strict=True, ge=0, le=2**31), Quantity("count")] = 0
    along: Literal["normal", "free"] = "normal"
    hold_plane: HoldPlane = "none"


class NoiseKind(StepKind[Noise]):
    """Picked points move by gradient noise whose bumps are about ``size`` wide, in and out along the surface's normals or
    any way, and never further than ``amount``."""

    word, title, model = "noise", "Noise", Noise
    takes = ("faces", "edges", "vertices")
    numbers = frozenset({"amount", "size", "seed", "along"})
    keeps_pick = True
    proposal = (Offer("amount", of_size=0.02), Offer("size", of_size=0.25))
    knob = Knob("amount")
    typed = "amount"
    summary = ("amount", "size", "seed")

    def plan(self, p: Noise, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        assert picked is not None
        return unchanged(mesh, picked.vertices(mesh))

    def positions(self, p: Noise, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        if p.amount == 0.0:
            return mesh.points
        vertices = draft.data
        at = mesh.points[vertices] / p.size
        if np.abs(at).max(initial=0.0) > _MOST_CELLS:
            raise BadParameter("is too small beside how far the part reaches for bumps to be told apart", "size")
        points = mesh.points.copy()
        if p.along == "normal":
            push = vertex_normals(mesh.points, mesh.topology, vertices)
            points[vertices] += p.amount * gradient_noise(at, p.seed)[:, None] * push
        else:
            ways = np.stack([gradient_noise(at + 31.7 * k, p.seed + k) for k in range(3)], axis=1)
            points[vertices] += p.amount / np.sqrt(3) * ways
        return points
