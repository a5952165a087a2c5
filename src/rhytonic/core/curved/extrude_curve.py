"""Extrude curve: a curve carried straight on."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import Annotated, Literal

import numpy as np
from pydantic import Field, model_validator

from ..construct.caps.crossing_outlines import crossing_remark, square_to
from ..construct.caps.flat import CapStyle, Closed, added_names, caps_of, closed_by, rows_of
from ..construct.skin.sections import Sheet, lengths_on, skinned
from ..curve.curve import Curve, Polyline
from ..curve.nest import nested
from ..curve.plane import plane_of
from ..errors import BadParameter, StepError
from ..mesh.attributes import Attribute
from ..mesh.mesh import Floats, Mesh
from ..mesh.topology import Topology
from ..params import AXES, Axis, Count, Length, Ratios
from ..pick.resolve import Picked
from ..step.draft import Draft
from ..step.facts import Knob, Offer
from ..step.kind import Context, Remark, Step, StepKind
from .common import the_curve


class ExtrudeCurve(Step):
    kind: Literal["extrude_curve"]
    depth: Length
    along: Literal["normal"] | Literal["x", "y", "z"] | Axis | Ratios = "normal"
    segments: Annotated[Count, Field(le=10_000)] = 1
    cap: CapStyle = "ngon"

    @model_validator(mode="after")
    def _goes_somewhere(self) -> ExtrudeCurve:
        if not isinstance(self.along, str) and not any(self.along):
            raise ValueError("along cannot be [0, 0, 0]")
        if self.depth == 0:
            raise ValueError("depth cannot be 0")
        return self


@dataclass(frozen=True, eq=False)
class _Layout:
    """The curve divided; the way (3,) from its first row to its last, metres; the runs (R,) that turn clockwise about it, or
    against it where they are holes; and the faces over each region."""

    line: Polyline
    way: Floats
    turned: tuple[bool, ...]
    closed: tuple[Closed, ...]


class ExtrudeCurveKind(StepKind[ExtrudeCurve]):
    """Closed runs become bodies, those inside others holes in them (even–odd); open ones strips. The normal is that of the
    curve's plane, towards the positive side: +z of what is drawn in the front view."""

    word, title, model = "extrude_curve", "Extrude curve", ExtrudeCurve
    curve_role = "ends"
    on_faces = False
    roles = ("side", "cap")
    numbers = frozenset({"depth", "along"})
    proposal = (Offer("depth", of_size=0.5),)
    knob = Knob("depth")
    summary = ("depth", "segments")

    def depends_on(self, p: ExtrudeCurve, context: Context) -> list[str]:
        layout = _layout_of(p, context)
        return [str(layout.turned), layout.line.step.tobytes().hex(), *(c.pattern for c in layout.closed)]

    def estimate(self, p: ExtrudeCurve, topology: Topology, picked: Picked | None, context: Context) -> tuple[int, str]:
        return len(the_curve(context).divided.points) * p.segments, "segments"

    def plan(self, p: ExtrudeCurve, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        layout = _layout_of(p, context)
        line, rows = layout.line, p.segments + 1
        n = len(line.points)
        vertex = np.zeros((rows, n), np.int64)
        sheets = []
        for run in range(line.closed.size):  # each sheet's vertices stand row by row
            at = line.run(run)
            m = at.stop - at.start
            vertex[:, at] = rows * at.start + np.arange(rows * m).reshape(rows, m)
            columns, levels = np.ones(m, bool), np.ones(rows, bool)
            columns[-1], levels[-1] = line.closed[run], False
            naming = rows_of(line, at.start, p.segments)
            every = np.ones((rows, m), bool)
            sheets.append(Sheet(vertex[:, at], every, levels, columns, layout.turned[run], naming, naming))
        caps, count, fresh = [], rows * n, []
        for closed in layout.closed:
            for end, row in ((0, 0), (1, p.segments)):
                caps += caps_of(closed, vertex[row], count, end == 0, line, end)
                fresh.append((closed, end))
                count += closed.added
        return skinned(sheets, caps, added_names(fresh, line))

    def positions(self, p: ExtrudeCurve, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        layout = _layout_of(p, context)
        line = layout.line
        share = np.arange(p.segments + 1)[:, None, None] / p.segments
        out = [(line.points[line.run(r)][None] + share * layout.way).reshape(-1, 3) for r in range(line.closed.size)]
        for closed in layout.closed:
            inner = closed.points(line.points)
            out += [inner, inner + layout.way]
        return np.concatenate(out)

    def set_by_points(self, p: ExtrudeCurve, draft: Draft, made: Mesh, context: Context) -> dict[str, Attribute]:
        layout = _layout_of(p, context)
        rows = np.linspace(0.0, float(np.linalg.norm(layout.way)), p.segments + 1)
        runs = range(layout.line.closed.size)
        return lengths_on(draft, made.points, [rows for _ in runs], [layout.line.around(r) for r in runs])

    def remarks(self, p: ExtrudeCurve, draft: Draft, mesh: Mesh, made: Mesh, context: Context) -> tuple[Remark, ...]:
        """Where an outline crosses itself, or another, there is no inside."""
        return crossing_remark(_layout_of(p, context).line, _layout_of(p, context).way)


def _layout_of(p: ExtrudeCurve, context: Context) -> _Layout:
    return _layout(the_curve(context), p.depth, p.along, p.cap)


@lru_cache(64)
def _layout(curve: Curve, depth: float, along: str | tuple[float, float, float], cap: CapStyle) -> _Layout:
    line = curve.divided
    if (np.diff(line.offsets) < 2).any():
        raise StepError("a run of the curve is a single point; draw it on, or take it out")
    if along == "normal":
        way = plane_of(curve, "an extrusion along the normal").normal
    else:
        way = np.asarray(AXES["+" + along if len(along) == 1 else along] if isinstance(along, str) else along, float)
        way = way / np.linalg.norm(way)
    way = way * depth
    turned = np.zeros(line.closed.size, bool)
    shut = np.flatnonzero(line.closed)
    if not shut.size:
        return _Layout(line, way, tuple(turned.tolist()), ())
    flat = line.points @ square_to(way).T
    rings = [flat[line.run(int(r))] for r in shut]
    if any(_lies_along(r) for r in rings):
        raise BadParameter("the curve would be carried within its own plane; take another direction", "along")
    nest = nested(rings)
    turned[shut] = nest.turned
    closed = closed_by(line, nest, way / np.linalg.norm(way), cap) if cap != "none" else ()
    return _Layout(line, way, tuple(turned.tolist()), closed)


def _lies_along(ring: Floats) -> bool:
    """Whether a flat ring is seen edge on."""
    size = np.linalg.svd(ring - ring.mean(axis=0), compute_uv=False)
    return bool(size[1] <= 1e-9 * size[0])
