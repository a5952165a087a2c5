"""Bead: a weld along edges or a curve."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field, model_validator

from .. import tolerance
from ..construct.bead_drops import BeadRun, drop_faces, lay, named_after, runs_of_edges
from ..curve.curve import Curve
from ..errors import BadParameter, BadPick
from ..mesh.attributes import Attribute
from ..mesh.marks import LAID
from ..mesh.mesh import Floats, Mesh
from ..mesh.topology import Topology
from ..params import PartName, PositiveLength, Quantity, Share
from ..pick.resolve import Picked
from ..pick.rules import Pick
from ..step.draft import Born, Draft
from ..step.facts import Knob, Offer
from ..step.kind import Context, Picking, StepKind
from ..step.operand import Need


class Bead(Picking):
    kind: Literal["bead"]
    pick: Pick | None = None
    along: PartName | None = None
    width: PositiveLength
    height: PositiveLength
    spacing: PositiveLength
    irregularity: Share = 0.25
    seed: Annotated[int, Field(strict=True, ge=0, le=2**31), Quantity("count")] = 0
    sides: Annotated[int, Field(strict=True, ge=4, le=64), Quantity("count")] = 8

    @model_validator(mode="after")
    def _one_way(self) -> Bead:
        if (self.pick is None) == (self.along is None):
            raise ValueError("a bead runs along picked edges or along a curve part: one of pick and along")
        return self


class BeadKind(StepKind[Bead]):
    """Closed drops, each a shell of its own that lies a little over the next: as many as the run's length by ``spacing``.
    They stand away from the faces at an edge, or from the nearest face where the bead goes along a curve."""

    word, title, model = "bead", "Weld bead", Bead
    takes = ("edges",)
    roles = ("bead",)
    numbers = frozenset({"width", "height", "irregularity", "seed"})
    reads_points = True  # how many drops there are is a matter of lengths
    keeps_pick = True
    proposal = (Offer("width", of_size=0.04), Offer("height", of_size=0.015), Offer("spacing", of_size=0.03))
    knob = Knob("width")
    typed = "width"
    summary = ("width", "spacing")

    def pick_of(self, p: Bead) -> Pick | None:
        return p.pick

    def needs(self, p: Bead) -> tuple[Need, ...]:
        return () if p.along is None else (Need(p.along),)

    def plan(self, p: Bead, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        runs = self._runs(p, mesh, picked, context)
        t = mesh.topology
        offsets, corners = drop_faces(p.sides)
        drops = sum(min(run.length / p.spacing, tolerance.MOST_FACES) for run in runs)
        self.refuse_faces(t.face_count + round(drops) * (offsets.size - 1), "spacing", context)
        after, which = named_after(runs, p.spacing)
        count, per_vertex, per_face = after.size, int(corners.max()) + 1, offsets.size - 1
        first = t.vertex_count + per_vertex * np.arange(count)
        topology = Topology.of(
            t.vertex_count + per_vertex * count,
            np.concatenate([t.offsets, t.offsets[-1] + np.cumsum(np.tile(np.diff(offsets), count))]),
            np.concatenate([t.corners, (first[:, None] + corners).ravel()]))

        def born(domain: Literal["vertex", "face"], begin: int, each: int) -> Born:
            index = np.stack([np.repeat(which, each), np.tile(np.arange(each), count)], axis=1)
            return Born(domain, "bead", begin + np.arange(each * count), np.repeat(after, each)[:, None], ("vertex",), index)

        def and_new(count: int, new: int) -> np.ndarray:
            return np.concatenate([np.arange(count), np.full(new, -1)])

        v, f = and_new(t.vertex_count, per_vertex * count), and_new(t.face_count, per_face * count)
        laid = np.zeros(topology.face_count)
        if LAID in mesh.attributes:
            laid[:t.face_count] = mesh.attributes[LAID].values
        laid[t.face_count:] = 1.0
        edges = {"bead": topology.edges[(topology.edges >= t.vertex_count).all(axis=1)]}
        return Draft(topology, v, f, v, f, and_new(t.corner_count, corners.size * count),
                     (born("vertex", t.vertex_count, per_vertex), born("face", t.face_count, per_face)),
                     edges=lambda: edges, attributes={LAID: Attribute("face", laid)})

    def positions(self, p: Bead, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        runs = self._runs(p, mesh, picked, context)
        points = lay(runs, mesh, p.sides, (p.width, p.height, p.spacing), p.irregularity, p.seed)
        return np.concatenate([mesh.points, points.reshape(-1, 3)])

    def _runs(self, p: Bead, mesh: Mesh, picked: Picked | None, context: Context) -> list[BeadRun]:
        if p.along is None:
            assert picked is not None
            runs = runs_of_edges(mesh, picked.elements)
        else:
            found = context.operand(Need(p.along))
            if found.curve is None:
                raise BadParameter(f"part '{found.name}' has faces; a bead goes along a part that ends as a curve, or along "
                                   "picked edges of this one", "along")
            runs = _runs_of_curve(found.curve)
        runs = [run for run in runs if run.length > 0]
        if not runs:
            raise BadPick("what the bead would run along has no length", "pick" if p.along is None else "along")
        return runs


def _runs_of_curve(curve: Curve) -> list[BeadRun]:
    line = curve.divided
    out = []
    for first, end, closed in zip(line.offsets[:-1], line.offsets[1:], line.closed, strict=True):
        points = line.points[first:end]
        out.append(BeadRun(np.concatenate([points, points[:1]]) if closed else points, None, int(line.ids[first])))
    return out
