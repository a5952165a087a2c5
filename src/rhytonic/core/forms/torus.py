"""The torus."""

from __future__ import annotations

from typing import Literal

import numpy as np
from pydantic import model_validator

from ..mesh.mesh import Floats, Mesh
from ..mesh.names import reduced
from ..mesh.topology import Topology
from ..params import Angle, PositiveLength, Sides
from ..pick.resolve import Picked
from ..step.draft import Draft
from ..step.facts import Offer, Span
from ..step.kind import Context, Form, StepKind
from .common import form_draft


class Torus(Form):
    kind: Literal["torus"]
    radius: PositiveLength
    tube_radius: PositiveLength
    sides: Sides = 24
    tube_sides: Sides = 12
    start_angle: Angle = 0.0

    @model_validator(mode="after")
    def _open(self) -> Torus:
        if self.tube_radius >= self.radius:
            raise ValueError(f"tube_radius {self.tube_radius:g} must be less than radius {self.radius:g}")
        return self


class TorusKind(StepKind[Torus]):
    """``sides`` round the axis, ``tube_sides`` round the tube, from its outermost point upward."""

    word, title, model, form = "torus", "Torus", Torus, True
    is_round = True
    numbers = frozenset({"radius", "tube_radius", "start_angle", "anchor"})
    proposal = (Offer("radius", of_size=0.5), Offer("tube_radius", of_size=0.15), Offer("sides", 24),
                Offer("tube_sides", 12))
    spans = (Span("x", "radius", beyond="tube_radius"), Span("y", "tube_radius"), Span("z", "radius", beyond="tube_radius"))
    summary = ("radius", "tube_radius")

    def estimate(self, p: Torus, topology: Topology, picked: Picked | None, context: Context) -> tuple[int, str]:
        return p.sides * p.tube_sides, "sides" if p.sides > p.tube_sides else "tube_sides"

    def plan(self, p: Torus, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        n, m = p.sides, p.tube_sides
        i, j = (a.ravel() for a in np.meshgrid(np.arange(n), np.arange(m), indexing="ij"))
        ahead, up = (i + 1) % n, (j + 1) % m
        quads = np.stack([i * m + j, ahead * m + j, ahead * m + up, i * m + up], axis=1)
        topology = Topology.of(n * m, np.arange(0, quads.size + 1, 4), quads.ravel())
        index = np.concatenate([reduced(i.copy(), n), reduced(j.copy(), m)], axis=1)
        return form_draft(topology, [("", index)], [("", np.stack([i, j], axis=1))], data=np.stack([i / n, j / m], axis=1))

    def positions(self, p: Torus, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        turn, round_ = 2 * np.pi * draft.data[:, 0] + np.radians(p.start_angle), 2 * np.pi * draft.data[:, 1]
        away = p.radius + p.tube_radius * np.cos(round_)
        low = p.tube_radius if p.anchor == "base" else 0.0
        return np.stack([away * np.cos(turn), low + p.tube_radius * np.sin(round_), -away * np.sin(turn)], axis=1)
