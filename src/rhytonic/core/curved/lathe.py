"""Lathe: a curve turned about an axis."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import Annotated, Literal

import numpy as np
from pydantic import Field, model_validator

from ..construct.caps.crossing_outlines import crossing_remark
from ..construct.caps.flat import Closed, added_names, caps_of, closed_by, on_line, rows_of
from ..construct.skin.sections import Cap, Sheet, lengths_on, skinned
from ..curve.curve import Curve, Polyline
from ..curve.nest import nested
from ..errors import StepError
from ..mesh.attributes import Attribute
from ..mesh.geometry import cross, lengths, unit
from ..mesh.mesh import Floats, Mesh
from ..mesh.topology import Bools, Topology
from ..params import Angle, Flag, Point, Ratios, Sides
from ..pick.resolve import Picked
from ..step.draft import Draft
from ..step.facts import Knob
from ..step.kind import Context, Remark, Step, StepKind
from .common import the_curve

#: a point nearer the axis than this share of the curve's extent lies on it
_ON_AXIS = 1e-9


class Lathe(Step):
    kind: Literal["lathe"]
    axis: Literal["x", "y", "z"] | Ratios = "y"
    at: Point = (0.0, 0.0, 0.0)
    angle: Annotated[Angle, Field(ge=-360, le=360)] = 360.0
    sides: Annotated[Sides, Field(le=10_000)] = 24
    cap: Flag = True

    @model_validator(mode="after")
    def _turns(self) -> Lathe:
        if not isinstance(self.axis, str) and not any(self.axis):
            raise ValueError("an axis cannot be [0, 0, 0]")
        if self.angle == 0:
            raise ValueError("a lathe turns by more than nothing")
        return self


@dataclass(frozen=True, eq=False)
class _Layout:
    """The curve divided, its points' feet on the axis (n, 3) and distances from it (n,), which lie on it, the runs (R,)
    whose faces look the other way, the faces that close the ends, and the open runs that close along the axis."""

    line: Polyline
    axis: Floats
    foot: Floats
    radius: Floats
    on_axis: Bools
    turned: tuple[bool, ...]
    closed: tuple[Closed, ...]
    ends: tuple[int, ...]


class LatheKind(StepKind[Lathe]):
    """``sides`` divide the angle told. Points on the axis become one vertex each. Less than a turn is capped where an
    outline closes, by itself or along the axis."""

    word, title, model = "lathe", "Lathe", Lathe
    curve_role = "ends"
    on_faces = False
    roles = ("side", "cap")
    numbers = frozenset({"axis", "at", "angle"})
    knob = Knob("angle")
    typed = "sides"
    summary = ("sides", "angle")

    def depends_on(self, p: Lathe, context: Context) -> list[str]:
        layout = _layout_of(p, context)
        return [str(_whole(p)), str(layout.turned), str(layout.ends), layout.line.step.tobytes().hex(),
                layout.on_axis.tobytes().hex(), *(c.pattern for c in layout.closed)]

    def estimate(self, p: Lathe, topology: Topology, picked: Picked | None, context: Context) -> tuple[int, str]:
        return len(the_curve(context).divided.points) * p.sides, "sides"

    def plan(self, p: Lathe, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        layout = _layout_of(p, context)
        line, rows = layout.line, p.sides + (not _whole(p))
        vertex = np.zeros((rows, len(line.points)), np.int64)
        sheets, count = [], 0
        for run in range(line.closed.size):
            at = line.run(run)
            made = np.ones((rows, at.stop - at.start), bool)
            made[1:, layout.on_axis[at]] = False
            number = count + np.cumsum(made.ravel()).reshape(made.shape) - 1
            vertex[:, at] = np.where(made, number, number[:1])
            count += int(made.sum())
            columns, levels = np.ones(made.shape[1], bool), np.ones(rows, bool)
            columns[-1], levels[-1] = line.closed[run], _whole(p)
            naming = rows_of(line, at.start, p.sides)
            sheets.append(Sheet(vertex[:, at], made, levels, columns, layout.turned[run], naming, naming))
        caps: list[Cap] = []
        fresh = []
        if p.cap and not _whole(p):
            for end, row in ((0, 0), (1, rows - 1)):
                for closed in layout.closed:
                    caps += caps_of(closed, vertex[row], count, (end == 1) == (p.angle > 0), line, end)
                    fresh.append((closed, end))
                    count += closed.added
                for run in layout.ends:
                    at = line.run(run)
                    loop = vertex[row, at]
                    turned = layout.turned[run] == (end == 0)
                    parents, index = on_line(line, np.array([at.start]), np.array([[0, end]]))
                    caps.append(Cap(loop if turned else loop[::-1], parents[0], index[0]))
        return skinned(sheets, caps, added_names(fresh, line))

    def positions(self, p: Lathe, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        layout = _layout_of(p, context)
        line, rows = layout.line, p.sides + (not _whole(p))
        angle = np.radians(p.angle) * np.arange(rows) / p.sides
        arm = line.points - layout.foot
        across = cross(np.broadcast_to(layout.axis, arm.shape), arm)
        c, s = np.cos(angle)[:, None, None], np.sin(angle)[:, None, None]
        turned = layout.foot + c * arm + s * across
        out = []
        for run in range(line.closed.size):
            at = line.run(run)
            made = np.ones((rows, at.stop - at.start), bool)
            made[1:, layout.on_axis[at]] = False
            out.append(turned[:, at][made])
        return np.concatenate(out)

    def set_by_points(self, p: Lathe, draft: Draft, made: Mesh, context: Context) -> dict[str, Attribute]:
        """Along at the mean radius of the outline, so that areas are true on the whole (Pappus–Guldinus)."""
        layout = _layout_of(p, context)
        line = layout.line
        rows = np.arange(p.sides + 1) * (abs(np.radians(p.angle)) / p.sides)
        along, around = [], []
        for run in range(line.closed.size):
            way = line.around(run)
            radius = layout.radius[line.run(run)]
            size, middle = np.diff(way), (radius + np.roll(radius, -1)) / 2
            if not line.closed[run]:
                size, middle = size[:-1], middle[:-1]
            along.append(rows * float((size * middle).sum() / max(float(size.sum()), 1e-300)))
            around.append(way)
        return lengths_on(draft, made.points, along, around)

    def remarks(self, p: Lathe, draft: Draft, mesh: Mesh, made: Mesh, context: Context) -> tuple[Remark, ...]:
        layout = _layout_of(p, context)
        far = int(np.argmax(layout.radius))
        around = np.cross(layout.axis, layout.line.points[far] - layout.foot[far])
        told = crossing_remark(layout.line, around)
        if _whole(p) or not p.cap or (made.topology.edge_face_count == 2).all():
            return told
        return (*told, Remark("some ends stay open: the outline neither closes nor ends on the axis"))


def _whole(p: Lathe) -> bool:
    return abs(p.angle) == 360


def _layout_of(p: Lathe, context: Context) -> _Layout:
    axis = np.eye(3)["xyz".index(p.axis)] if isinstance(p.axis, str) else np.asarray(p.axis, float)
    return _layout(the_curve(context), tuple(axis.tolist()), tuple(p.at), p.angle > 0)


@lru_cache(64)
def _layout(curve: Curve, direction: tuple[float, float, float], at: tuple[float, float, float], ahead: bool) -> _Layout:
    line = curve.divided
    if (np.diff(line.offsets) < 2).any():
        raise StepError("a run of the curve is a single point; draw it on, or take it out")
    axis = np.asarray(direction) / np.linalg.norm(direction)
    origin = np.asarray(at)
    height = (line.points - origin) @ axis
    foot = origin + height[:, None] * axis
    radius = lengths(line.points - foot)
    extent = max(float(np.ptp(line.points, axis=0).max()), float(radius.max()))
    on_axis = radius <= _ON_AXIS * extent
    if on_axis.all():
        raise StepError("the whole curve lies on the axis; draw it beside it, or take another axis", "axis")
    # the half plane in which the outline is drawn: distances to one side of the axis are positive
    far = int(np.argmax(radius))
    right = unit((line.points[far] - foot[far])[None])[0]
    flat = np.stack([(line.points - origin) @ right, height], axis=1)
    arm = line.points - foot
    in_one_plane = lengths(arm - flat[:, :1] * right).max() <= 1e-6 * extent
    beyond = float(-flat[:, 0].min())
    if in_one_plane and beyond > 1e-6 * extent:
        raise StepError("the curve lies on both sides of the axis, and what it turns out would pass through itself; move "
                        "it, or the axis, by {length}, or take away what lies beyond", "at", length=beyond)
    turned = np.zeros(line.closed.size, bool)
    ends = []
    for run in range(line.closed.size):
        mine = line.run(run)
        r, h = flat[mine].T
        r2, h2 = np.roll(r, -1), np.roll(h, -1)
        pieces = slice(None) if line.closed[run] else slice(None, -1)
        volume = float(((r * r + r * r2 + r2 * r2) * (h2 - h))[pieces].sum())
        rise = float((r2 * r2 - r * r)[pieces].sum())
        # faces look away from the axis where the outline rises, up where it comes in
        turned[run] = (volume > 0 if abs(volume) > 1e-12 * extent**3 else rise < 0) == ahead
        if not line.closed[run] and mine.stop - mine.start > 2 and on_axis[mine][[0, -1]].all():
            ends.append(run)
    shut = np.flatnonzero(line.closed)
    closed: tuple[Closed, ...] = ()
    if shut.size:
        nest = nested([flat[line.run(int(r))] for r in shut])
        turned[shut] = [t != ahead for t in nest.turned]
        normal = cross(right[None], axis[None])[0]
        closed = closed_by(line, nest, normal, "ngon")
    return _Layout(line, axis, foot, radius, on_axis, tuple(bool(t) for t in turned), closed, tuple(ends))
