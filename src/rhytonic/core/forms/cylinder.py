"""The cylinder, also as cone and frustum."""

from __future__ import annotations

from typing import Literal

import numpy as np

from ..construct.caps.quad_grid import QuadGrid
from ..errors import BadParameter
from ..mesh.mesh import Floats, Mesh
from ..mesh.names import reduced
from ..mesh.topology import Ints, Topology
from ..params import Angle, Count, NonNegativeLength, PositiveLength, Sides
from ..pick.resolve import Picked
from ..step.draft import Draft
from ..step.facts import Offer, Span
from ..step.kind import Context, Form, StepKind
from .common import form_draft


class Cylinder(Form):
    kind: Literal["cylinder"]
    radius: PositiveLength
    height: PositiveLength
    sides: Sides = 16
    height_segments: Count = 1
    cap: Literal["ngon", "quads", "fan", "none"] = "ngon"
    radius_top: NonNegativeLength | None = None
    start_angle: Angle = 0.0


class CylinderKind(StepKind[Cylinder]):
    """``sides`` points a ring from +x, or ``start_angle`` on from there, towards −z, ``height_segments`` bands, capped as
    told.

    A ``radius_top`` of 0 ends the form in one apex, closed by triangles.
    """

    word, title, model, form = "cylinder", "Cylinder", Cylinder, True
    is_round = True
    numbers = frozenset({"radius", "height", "radius_top", "start_angle", "anchor"})
    follows = frozenset({"radius_top"})
    proposal = (Offer("radius", of_size=0.5), Offer("height", of_size=1.0), Offer("sides", 16))
    spans = (Span("x", "radius"), Span("y", "height", None, 2.0), Span("z", "radius"))
    summary = ("radius", "height")

    def depends_on(self, p: Cylinder, context: Context) -> bool:
        return p.radius_top == 0

    def estimate(self, p: Cylinder, topology: Topology, picked: Picked | None, context: Context) -> tuple[int, str]:
        caps = {"ngon": 2, "none": 0, "fan": 2 * p.sides, "quads": p.sides * p.sides // 8}[p.cap]
        return p.sides * p.height_segments + caps, "sides" if p.sides > p.height_segments else "height_segments"

    def plan(self, p: Cylinder, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        n, bands, pointed = p.sides, p.height_segments, p.radius_top == 0
        if p.cap == "quads" and n % 2:
            raise BadParameter(f"a cap of quads needs an even number of sides, not {n}; use {n + 1} or another cap", "sides")
        rings = bands if pointed else bands + 1
        turn, level = np.tile(np.arange(n), rings), np.repeat(np.arange(rings), n)
        vertices = [("ring", np.concatenate([reduced(turn.copy(), n), reduced(level.copy(), bands)], axis=1))]
        unit = [np.stack([turn / n, np.ones(n * rings), level / bands], axis=1)]  # turn, share of radius, height
        k, b = np.tile(np.arange(n), rings - 1), np.repeat(np.arange(rings - 1), n)
        quads = np.stack([b * n + k, b * n + (k + 1) % n, (b + 1) * n + (k + 1) % n, (b + 1) * n + k], axis=1)
        loops: list[Ints] = [quads]
        faces = [("side", np.stack([k, b], axis=1))]
        count = n * rings
        if pointed:
            top, k = (rings - 1) * n, np.arange(n)
            loops.append(np.stack([top + k, top + (k + 1) % n, np.full(n, count)], axis=1))
            faces.append(("side", np.stack([k, np.full(n, bands - 1)], axis=1)))
            vertices.append(("apex", np.zeros((1, 1), np.int64)))
            unit.append(np.array([[0.0, 0.0, 1.0]]))
            count += 1
        grids: list[tuple[Ints, int]] = []
        ends = [] if p.cap == "none" else [0] if pointed else [0, 1]
        for end in ends:
            ring = np.arange(n) + (end * (rings - 1) * n)
            ring = ring if end else np.roll(ring[::-1], 1)  # the lower cap turns the other way, from +x too
            if p.cap == "ngon":
                loops.append(ring[None])
                faces.append(("cap", np.array([[end]])))
            elif p.cap == "fan":
                loops.append(np.stack([ring, np.roll(ring, -1), np.full(n, count)], axis=1))
                faces.append(("cap", np.stack([np.full(n, end), np.arange(n)], axis=1)))
                vertices.append(("centre", np.array([[end]])))
                unit.append(np.array([[0.0, 0.0, float(end)]]))
                count += 1
            else:
                grid = QuadGrid.for_loop(n)
                numbers = np.concatenate([ring, count + np.arange(grid.inner)])
                cells = grid.faces()
                loops.append(numbers[cells])
                faces.append(("cap", np.stack([np.full(len(cells), end), np.arange(len(cells))], axis=1)))
                vertices.append(("grid", np.column_stack([np.full(grid.inner, end), grid.fractions()])))
                unit.append(np.tile([0.0, 0.0, float(end)], (grid.inner, 1)))
                grids.append((ring, count))
                count += grid.inner
        sides = np.concatenate([np.full(len(loop), loop.shape[1]) for loop in loops])
        topology = Topology.of(count, np.concatenate([[0], np.cumsum(sides)]),
                               np.concatenate([loop.ravel() for loop in loops]))
        return form_draft(topology, vertices, faces, data=(np.concatenate(unit), grids))

    def positions(self, p: Cylinder, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        unit, grids = draft.data
        angle, share, level = 2 * np.pi * unit[:, 0] + np.radians(p.start_angle), unit[:, 1], unit[:, 2]
        top = p.radius if p.radius_top is None else p.radius_top
        radius = share * (p.radius + (top - p.radius) * level)
        low = 0.0 if p.anchor == "base" else -p.height / 2
        points = np.stack([radius * np.cos(angle), low + p.height * level, -radius * np.sin(angle)], axis=1)
        for ring, start in grids:
            grid = QuadGrid.for_loop(p.sides)
            points[start:start + grid.inner] = grid.coons(points[ring])
        return points
