"""Round corner: corners of straight spans made round or cut off."""

from __future__ import annotations

from typing import Literal

import numpy as np

from ..curve.corners import trims
from ..curve.curve import ARC, STEPS, STRAIGHT, Curve, Wires
from ..curve.empty_spans import without_empty_spans
from ..errors import BadParameter, StepError
from ..mesh.geometry import lengths, unit
from ..mesh.names import name
from ..mesh.topology import Ints
from ..params import PositiveLength
from ..pick.resolve import Picked
from ..pick.rules import Pick
from ..step.curve_edit import CurveEdit
from ..step.facts import Knob, Offer
from ..step.kind import Context, Edit
from .common import CurveStep


class RoundCorner(Edit):
    kind: Literal["round_corner"]
    pick: Pick
    radius: PositiveLength
    style: Literal["fillet", "chamfer"] = "fillet"


class RoundCornerKind(CurveStep[RoundCorner]):
    """Each picked corner gives way to two points: joined by an arc of the radius that touches both sides, or by a straight
    span that takes the radius off either side."""

    word, title, model = "round_corner", "Round corner", RoundCorner
    takes = ("vertices",)
    curve_takes = ("vertices",)
    proposal = (Offer("radius", of_size=0.1),)
    knob = Knob("radius")
    summary = ("radius", "style")

    def remade(self, p: RoundCorner, curve: Curve, picked: Picked | None, context: Context) -> CurveEdit:
        assert picked is not None
        w, points, n = curve.wires, curve.points, len(curve.points)
        before, after = w.preceding, w.following
        chosen = np.zeros(n, bool)
        chosen[picked.elements] = True
        taken = trims(points, before, after, np.full(n, p.style == "fillet"), np.where(chosen, p.radius, 0.0))
        corner = taken.trim > 0
        if not corner.any():
            raise StepError("none of these is a corner: they are ends, or the curve goes straight on there", "pick")
        bent = corner & ((w.kind[np.maximum(before, 0)] != STRAIGHT) | (w.kind != STRAIGHT))
        if bent.any():
            raise StepError("a span beside {point} is curved; only corners between straight spans are made round, so leave "
                            "this one out", "pick", point=points[int(np.flatnonzero(bent)[0])])
        _refuse_wide(points, after, taken.trim, p.radius, p.style)
        number = np.repeat(np.arange(n), 1 + corner)
        second = np.concatenate([[False], number[1:] == number[:-1]])
        first = corner[number] & ~second
        at = points[number].copy()
        f, s = number[first], number[second]
        at[first] += taken.trim[f, None] * unit(points[before[f]] - points[f])
        at[second] += taken.trim[s, None] * unit(points[after[s]] - points[s])
        kind = np.where(first, ARC if p.style == "fillet" else STRAIGHT, w.kind[number])
        weight = np.where(first & (p.style == "fillet"), np.cos(taken.turn[number] / 2), w.weight[number])
        turned = np.maximum(1, np.round(STEPS * taken.turn[number] / (np.pi / 2) - 1e-9)).astype(np.int64)
        steps = np.where(first, turned if p.style == "fillet" else 1, w.steps[number])
        controls = np.where(first[:, None, None], points[number][:, None], curve.controls[number])
        ids = curve.ids[number].copy()
        for which, index in ((first, 1), (second, 2)):
            k = int(which.sum())
            ids[which] = name(context.step, "vertex", "corner", k, curve.ids[number[which]][:, None], np.full((k, 1), index))
        count = np.bincount(w.run[number], minlength=w.closed.size)
        wires = Wires(np.concatenate([[0], np.cumsum(count)]), w.closed, kind, weight, steps)
        made, kept = without_empty_spans(Curve(at, controls, wires, ids))
        return CurveEdit(made, number[kept])


def _refuse_wide(points: np.ndarray, after: Ints, trim: np.ndarray, radius: float, style: str) -> None:
    """Raises BadParameter where corners want more of the side between them than there is, telling what would fit."""
    side = np.where(after >= 0, lengths(points[after] - points), np.inf)
    wanted = trim + np.where(after >= 0, trim[after], 0.0)
    over = wanted > side * (1 + 1e-9)
    if over.any():
        most = radius * float((side[over] / wanted[over]).min())
        word = "radius" if style == "fillet" else "width"
        raise BadParameter(f"corners are wider than the side between them; a {word} of {{most}} fits", "radius", most)
