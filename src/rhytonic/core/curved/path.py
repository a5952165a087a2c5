"""Path: a curve through points given one by one."""

from __future__ import annotations

from typing import Annotated, Any, Literal

import numpy as np
from pydantic import BeforeValidator, Field, model_validator

from ..curve.corners import trims
from ..curve.curve import ARC, CUBIC, STEPS, STRAIGHT, Curve, Wires
from ..curve.empty_spans import empty_spans, without_empty_spans
from ..errors import BadParameter
from ..mesh.geometry import lengths, unit
from ..mesh.mesh import Floats
from ..mesh.topology import Bools, Ints
from ..params import Count, Flag, NonNegativeLength, Point, Strict
from ..step.kind import Context, Step
from .common import CurveStart, point_ids

CORNERS = ("sharp", "fillet", "chamfer", "soft")


class PathPoint(Strict):
    """A point and what happens there. ``size`` is a fillet's radius, or a chamfer's width along each side. ``in`` and
    ``out`` are handles of a soft point, told from the point; sharp ones that have some are corners of soft spans."""

    at: Point
    corner: Literal["sharp", "fillet", "chamfer", "soft"] = "sharp"
    size: NonNegativeLength = 0.0
    in_: Annotated[Point | None, Field(alias="in")] = None
    out: Point | None = None


def _as_point(given: Any) -> Any:
    return {"at": given} if isinstance(given, list | tuple) else given


class Path(Step):
    kind: Literal["path"]
    points: Annotated[list[Annotated[PathPoint, BeforeValidator(_as_point)]], Field(min_length=1, max_length=100_000)]
    closed: Flag = False
    steps: Annotated[Count, Field(le=1000)] = STEPS

    @model_validator(mode="after")
    def _closable(self) -> Path:
        if self.closed and len(self.points) < 3:
            raise ValueError(f"a closed path needs 3 points or more, and this has {len(self.points)}")
        return self


class PathKind(CurveStart[Path]):
    """Straight spans between points; an arc where a corner is a fillet, a short straight span where it is a chamfer; cubics
    on either side of a soft point, its handles parallel to the chord of its neighbours and a third of each span long."""

    word, title, model = "path", "Path", Path
    numbers = frozenset({"points"})
    summary = ("points",)

    def depends_on(self, p: Path, context: Context) -> str:
        """Points, which of them become two, and which of those fall together as a side is used up; not where they are."""
        double = _taken_off(p)
        used_up = np.packbits(empty_spans(self._whole(p, context))).tobytes().hex() if double.any() else ""
        return "".join("2" if taken else "1" for taken in double.tolist()) + used_up

    def curve(self, p: Path, context: Context) -> Curve:
        return without_empty_spans(self._whole(p, context))[0]

    def _whole(self, p: Path, context: Context) -> Curve:
        """With two points for every corner that is taken off."""
        points = np.array([q.at for q in p.points], float)
        n = len(points)
        corner = np.array([CORNERS.index(q.corner) for q in p.points])
        size = np.array([q.size for q in p.points])
        before, after = np.arange(n) - 1, np.arange(n) + 1
        before[0], after[-1] = (n - 1, 0) if p.closed else (-1, -1)
        _refuse_doubled(points, after)
        double = _taken_off(p)
        taken = trims(points, before, after, corner == 1, np.where(double, size, 0.0))
        _refuse_wide(points, after, taken.trim, size, corner)
        # each corner that is taken off becomes two points, named after it
        number = np.repeat(np.arange(n), 1 + double)
        second = np.concatenate([[False], number[1:] == number[:-1]])
        first = double[number] & ~second
        to_before = unit(points[np.maximum(before, 0)] - points)
        to_after = unit(points[np.maximum(after, 0)] - points)
        at = points[number]
        at = at + np.where(first, taken.trim[number], 0.0)[:, None] * to_before[number]
        at = at + np.where(second, taken.trim[number], 0.0)[:, None] * to_after[number]
        kind = np.full(number.size, STRAIGHT)
        fillet = first & (corner[number] == 1) & (taken.turn[number] > 0)
        kind[fillet] = ARC
        steps = np.full(number.size, p.steps)
        steps[fillet] = np.maximum(1, np.round(p.steps * taken.turn[number][fillet] / (np.pi / 2) - 1e-9)).astype(int)
        weight = np.where(fillet, np.cos(taken.turn[number] / 2), 1.0)
        controls = np.repeat(at[:, None], 2, axis=1)
        controls[fillet] = points[number[fillet]][:, None]
        ends = np.arange(number.size) + 1
        ends[-1] = 0 if p.closed else -1
        soft = corner[number] == 3
        given_out = np.array([q.out is not None for q in p.points])[number]
        given_in = np.array([q.in_ is not None for q in p.points])[number]
        cubic = (ends >= 0) & ~first & (soft | soft[ends] | given_out | given_in[ends])
        kind[cubic] = CUBIC
        out, into = _handles(p, points, before, after)
        s = np.flatnonzero(cubic)
        chord = (at[ends[s]] - at[s]) / 3
        controls[s, 0] = at[s] + np.where((soft | given_out)[s][:, None], out[number[s]], chord)
        controls[s, 1] = at[ends[s]] + np.where((soft | given_in)[ends[s]][:, None], into[number[ends[s]]], -chord)
        wires = Wires(np.array([0, number.size]), np.array([p.closed]), kind, weight, steps)
        which = np.where(double[number], 1 + second, 0)
        return Curve(at, controls, wires, point_ids(context.step, number, which))


def _taken_off(p: Path) -> Bools:
    """(n,) corners that become two points; the ends of an open path have no corner."""
    out = np.array([q.corner in ("fillet", "chamfer") and q.size > 0 for q in p.points])
    if not p.closed:
        out[[0, -1]] = False
    return out


def _handles(p: Path, points: Floats, before: Ints, after: Ints) -> tuple[Floats, Floats]:
    """(n, 3) handles ahead of and behind each point, told from it."""
    ahead = np.where((after >= 0)[:, None], points[np.maximum(after, 0)] - points, 0.0)
    behind = np.where((before >= 0)[:, None], points[np.maximum(before, 0)] - points, 0.0)
    along = unit(ahead - behind)
    out, into = along * lengths(ahead)[:, None] / 3, -along * lengths(behind)[:, None] / 3
    for i, q in enumerate(p.points):  # as many as are typed
        if q.out is not None:
            out[i] = q.out
        if q.in_ is not None:
            into[i] = q.in_
    return out, into


def _refuse_doubled(points: Floats, after: Ints) -> None:
    has = after >= 0
    gap = lengths(points[after] - points)
    same = np.flatnonzero(has & (gap <= 1e-12 * max(float(np.abs(points).max(initial=0)), 1e-6)))
    if same.size:
        raise BadParameter(f"points {same[0] + 1} and {after[same[0]] + 1} are at one place; take one of them out", "points")


def _refuse_wide(points: Floats, after: Ints, trim: Floats, size: Floats, corner: Ints) -> None:
    """Raises BadParameter where two corners want more of the side between them than there is, telling what would fit."""
    side = np.where(after >= 0, lengths(points[after] - points), np.inf)
    wanted = trim + trim[after]
    over = np.flatnonzero((after >= 0) & (wanted > side * (1 + 1e-9)))
    if not over.size:
        return
    i = int(over[np.argmax(wanted[over] / side[over])])
    at = i if trim[i] >= trim[after[i]] else int(after[i])
    most = size[at] * side[i] / wanted[i]
    word = "radius" if corner[at] == 1 else "width"
    told = f"the {CORNERS[corner[at]]} at point {at + 1} is wider than its side; a {word} of {{most}} fits"
    raise BadParameter(told, "points", float(most))
