"""The tube: a cylinder with a hole along its axis."""

from __future__ import annotations

from typing import Literal

import numpy as np
from pydantic import model_validator

from ..mesh.mesh import Floats, Mesh
from ..mesh.names import reduced
from ..mesh.topology import Topology
from ..params import Angle, Count, PositiveLength, Sides
from ..pick.resolve import Picked
from ..step.draft import Draft
from ..step.facts import Offer, Span
from ..step.kind import Context, Form, StepKind
from .common import form_draft


class Tube(Form):
    kind: Literal["tube"]
    radius: PositiveLength
    inner_radius: PositiveLength
    height: PositiveLength
    sides: Sides = 16
    height_segments: Count = 1
    start_angle: Angle = 0.0

    @model_validator(mode="after")
    def _hollow(self) -> Tube:
        if self.inner_radius >= self.radius:
            raise ValueError(f"inner_radius {self.inner_radius:g} must be less than radius {self.radius:g}")
        return self


class TubeKind(StepKind[Tube]):
    """An outer and an inner wall, joined by a ring of quads at either end."""

    word, title, model, form = "tube", "Tube", Tube, True
    is_round = True
    roles = ("outer", "inner", "rim")
    numbers = frozenset({"radius", "inner_radius", "height", "start_angle", "anchor"})
    proposal = (Offer("radius", of_size=0.5), Offer("inner_radius", of_size=0.4), Offer("height", of_size=1.0),
                Offer("sides", 16))
    spans = (Span("x", "radius"), Span("y", "height", None, 2.0), Span("z", "radius"))
    summary = ("radius", "inner_radius", "height")

    def estimate(self, p: Tube, topology: Topology, picked: Picked | None, context: Context) -> tuple[int, str]:
        return 2 * p.sides * (p.height_segments + 1), "sides" if p.sides > p.height_segments else "height_segments"

    def plan(self, p: Tube, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        n, bands = p.sides, p.height_segments
        wall = n * (bands + 1)
        k, b = np.tile(np.arange(n), bands), np.repeat(np.arange(bands), n)
        outer = np.stack([b * n + k, b * n + (k + 1) % n, (b + 1) * n + (k + 1) % n, (b + 1) * n + k], axis=1)
        inner = outer[:, ::-1] + wall
        k = np.arange(n)
        ahead, top = (k + 1) % n, bands * n
        upper = np.stack([top + k, top + ahead, wall + top + ahead, wall + top + k], axis=1)
        lower = np.stack([wall + k, wall + ahead, ahead, k], axis=1)
        quads = np.concatenate([outer, inner, lower, upper])
        topology = Topology.of(2 * wall, np.arange(0, quads.size + 1, 4), quads.ravel())
        turn, level = np.tile(np.arange(n), bands + 1), np.repeat(np.arange(bands + 1), n)
        index = np.concatenate([reduced(turn.copy(), n), reduced(level.copy(), bands)], axis=1)
        cells = np.stack([np.tile(k, bands), np.repeat(np.arange(bands), n)], axis=1)
        ends = np.stack([np.tile(k, 2), np.repeat([0, 1], n)], axis=1)
        return form_draft(topology, [("outer", index), ("inner", index)],
                          [("outer", cells), ("inner", cells), ("rim", ends)],
                          data=np.stack([turn / n, level / bands], axis=1))

    def positions(self, p: Tube, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        turn = 2 * np.pi * draft.data[:, 0] + np.radians(p.start_angle)
        height = p.height * draft.data[:, 1] - (0.0 if p.anchor == "base" else p.height / 2)
        return np.concatenate([np.stack([r * np.cos(turn), height, -r * np.sin(turn)], axis=1)
                               for r in (p.radius, p.inner_radius)])
