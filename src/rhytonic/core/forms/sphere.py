"""The sphere of bands and poles."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from ..mesh.mesh import Floats, Mesh
from ..mesh.names import reduced
from ..mesh.topology import Topology
from ..params import Angle, PositiveLength, Quantity, Sides
from ..pick.resolve import Picked
from ..step.draft import Draft
from ..step.facts import Offer, Span
from ..step.kind import Context, Form, StepKind
from .common import form_draft


class Sphere(Form):
    kind: Literal["sphere"]
    radius: PositiveLength
    sides: Sides = 16
    start_angle: Angle = 0.0
    rings: Annotated[int, Field(strict=True, ge=2), Quantity("count")] = 8


class SphereKind(StepKind[Sphere]):
    """``rings`` bands from pole to pole, ``sides`` faces each from +x, or ``start_angle`` on from there; the bands at
    the poles are triangles."""

    word, title, model, form = "sphere", "Sphere", Sphere, True
    is_round = True
    numbers = frozenset({"radius", "start_angle", "anchor"})
    proposal = (Offer("radius", of_size=0.5), Offer("sides", 16), Offer("rings", 8))
    spans = (Span("x", "radius"), Span("y", "radius"), Span("z", "radius"))
    summary = ("radius",)

    def estimate(self, p: Sphere, topology: Topology, picked: Picked | None, context: Context) -> tuple[int, str]:
        return p.sides * p.rings, "sides" if p.sides > p.rings else "rings"

    def plan(self, p: Sphere, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        n, circles = p.sides, p.rings - 1
        turn, level = np.tile(np.arange(n), circles), np.repeat(np.arange(1, p.rings), n)
        south, north = n * circles, n * circles + 1
        k, b = np.tile(np.arange(n), circles - 1), np.repeat(np.arange(circles - 1), n)
        quads = np.stack([b * n + k, b * n + (k + 1) % n, (b + 1) * n + (k + 1) % n, (b + 1) * n + k], axis=1)
        k = np.arange(n)
        top = (circles - 1) * n
        lower = np.stack([k, np.full(n, south), (k + 1) % n], axis=1)
        upper = np.stack([top + k, top + (k + 1) % n, np.full(n, north)], axis=1)
        sides = np.concatenate([np.full(len(quads), 4), np.full(2 * n, 3)])
        topology = Topology.of(n * circles + 2, np.concatenate([[0], np.cumsum(sides)]),
                               np.concatenate([quads.ravel(), lower.ravel(), upper.ravel()]))
        index = np.concatenate([reduced(turn.copy(), n), reduced(level.copy(), p.rings)], axis=1)
        places = np.concatenate([np.stack([turn / n, level / p.rings], axis=1), [[0.0, 0.0], [0.0, 1.0]]])
        bands = np.stack([np.tile(np.arange(n), circles - 1), np.repeat(np.arange(1, circles), n)], axis=1)
        return form_draft(topology, [("ring", index), ("pole", np.array([[0], [1]]))],
                          [("side", bands), ("pole", np.stack([np.tile(k, 2), np.repeat([0, 1], n)], axis=1))], data=places)

    def positions(self, p: Sphere, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        turn, rise = 2 * np.pi * draft.data[:, 0] + np.radians(p.start_angle), np.pi * (draft.data[:, 1] - 0.5)
        points = p.radius * np.stack([np.cos(rise) * np.cos(turn), np.sin(rise), -np.cos(rise) * np.sin(turn)], axis=1)
        points[-2:] = [[0.0, -p.radius, 0.0], [0.0, p.radius, 0.0]]
        points[:, 1] += p.radius if p.anchor == "base" else 0.0
        return points
