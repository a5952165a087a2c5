"""The plane: a flat grid facing up."""

from __future__ import annotations

from typing import Literal

import numpy as np

from ..mesh.mesh import Floats, Mesh
from ..mesh.names import reduced
from ..mesh.topology import Topology
from ..params import Count, PositiveLength
from ..pick.resolve import Picked
from ..step.draft import Draft
from ..step.facts import Offer, Span
from ..step.kind import Context, Form, StepKind
from .common import form_draft


class Plane(Form):
    kind: Literal["plane"]
    size: tuple[PositiveLength, PositiveLength]
    segments: tuple[Count, Count] = (1, 1)


class PlaneKind(StepKind[Plane]):
    """Quads in y = 0, facing +y, ``segments`` along x and z."""

    word, title, model, form = "plane", "Plane", Plane, True
    numbers = frozenset({"size", "anchor"})
    proposal = (Offer("size", of_size=(1.0, 1.0)),)
    spans = (Span("x", "size", 0, 2.0), Span("z", "size", 1, 2.0))
    summary = ("size",)

    def estimate(self, p: Plane, topology: Topology, picked: Picked | None, context: Context) -> tuple[int, str]:
        return p.segments[0] * p.segments[1], "segments"

    def plan(self, p: Plane, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        nx, nz = p.segments
        i, j = (a.ravel() for a in np.meshgrid(np.arange(nx + 1), np.arange(nz + 1), indexing="ij"))
        a, b = (c.ravel() for c in np.meshgrid(np.arange(nx), np.arange(nz), indexing="ij"))
        row = nz + 1
        quads = np.stack([a * row + b, a * row + b + 1, (a + 1) * row + b + 1, (a + 1) * row + b], axis=1)
        topology = Topology.of(i.size, np.arange(0, quads.size + 1, 4), quads.ravel())
        index = np.concatenate([reduced(i.copy(), nx), reduced(j.copy(), nz)], axis=1)
        return form_draft(topology, [("", index)], [("", np.stack([a, b], axis=1))],
                          data=np.stack([i / nx - 0.5, np.zeros(i.size), j / nz - 0.5], axis=1))

    def positions(self, p: Plane, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        points: Floats = draft.data * np.array([p.size[0], 1.0, p.size[1]])
        return points
