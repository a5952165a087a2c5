"""Smooth curve: corners worn down by refinement."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from .. import tolerance
from ..curve.curve import Curve, Wires
from ..curve.straightened import straightened
from ..errors import BadParameter
from ..mesh.names import name
from ..params import Count
from ..pick.resolve import Picked
from ..step.curve_edit import CurveEdit
from ..step.kind import Context, Step
from .common import CurveStep


class SmoothCurve(Step):
    kind: Literal["smooth_curve"]
    levels: Annotated[Count, Field(le=8)] = 1


class SmoothCurveKind(CurveStep[SmoothCurve]):
    """Each level puts a point amid every span and moves those that were there to (1, 6, 1)/8 of themselves and their
    neighbours, ends kept: the uniform cubic B-spline (J. Lane, R. Riesenfeld, IEEE PAMI 2(1), 1980). Curved spans are taken
    as the straight ones they are divided into."""

    word, title, model = "smooth_curve", "Smooth curve", SmoothCurve
    summary = ("levels",)

    def remade(self, p: SmoothCurve, curve: Curve, picked: Picked | None, context: Context) -> CurveEdit:
        plain = straightened(curve, context.step)
        if len(plain.points) << p.levels > tolerance.MOST_CURVE_POINTS:
            raise BadParameter(f"{p.levels} levels make {len(plain.points) << p.levels} points of "
                               f"{len(plain.points)}; take fewer", "levels")
        made = plain
        for level in range(p.levels):
            made = _refined(made, context.step, level)
        order = np.argsort(curve.ids)
        at = np.minimum(np.searchsorted(curve.ids[order], made.ids), len(order) - 1)
        return CurveEdit(made, np.where(curve.ids[order][at] == made.ids, order[at], -1))


def _refined(curve: Curve, step: str, level: int) -> Curve:
    w, points = curve.wires, curve.points
    before, after = w.preceding, w.following
    has = after >= 0
    inner = has & (before >= 0)
    moved = np.where(inner[:, None], (points[before] + 6 * points + points[after]) / 8, points)
    number = np.repeat(np.arange(after.size), 1 + has)
    middle = np.concatenate([[False], number[1:] == number[:-1]])
    s = number[middle]
    at = moved[number]
    at[middle] = (points[s] + points[after[s]]) / 2
    ids = curve.ids[number].copy()
    ids[middle] = name(step, "vertex", "between", s.size, np.stack([curve.ids[s], curve.ids[after[s]]], axis=1),
                       np.full((s.size, 1), level))
    counts = np.bincount(w.run[number], minlength=w.closed.size)
    return Curve(at, np.repeat(at[:, None], 2, axis=1), Wires.straight(counts.tolist(), w.closed.tolist()), ids)
