"""A curve and its image beyond a plane, joined where they meet."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..errors import StepError
from ..mesh.mesh import Floats
from ..mesh.names import Ids, name
from ..mesh.topology import Ints
from .curve import ARC, CUBIC, Curve, points_on
from .spans import Spans, as_one, assembled, piece


@dataclass(frozen=True, eq=False)
class Reflected:
    """The curve, the old point each of its points is or is an image of (−1: where the plane cuts), and which are images."""

    curve: Curve
    source: Ints
    image: np.ndarray


def reflected(curve: Curve, axis: int, at: float, keep: float, clip: bool, near: float, step: str) -> Reflected:
    """What lies on one side of a plane across an axis, and its image.

    Points nearer the plane than ``near`` are put onto it and are their own image where a run ends there; with ``clip``
    what lies beyond is cut off, spans exactly; spans that lie in the plane go.

    Args:
        keep: 1 for the side of the axis' positive end, −1 for the other.

    Raises:
        StepError: nothing lies on the side that is kept.
    """
    points = curve.points.copy()
    close = np.abs(points[:, axis] - at) < near
    points[close, axis] = at
    snapped = curve.moved(points) if close.any() else curve
    spans, points, ids = Spans.of(snapped), snapped.points, snapped.ids
    if clip:
        spans, points, ids = _cut(snapped, axis, at, step)
    height = (points[:, axis] - at) * keep
    middle = np.array([_middle(points, spans, i) for i in range(spans.count)]).reshape(-1, 3)
    side = (middle[:, axis] - at) * keep
    scale = max(float(np.ptp(points, axis=0).max(initial=0.0)), 1e-300)
    flat = (height[spans.begin] == 0) & (height[spans.end] == 0) & (np.abs(side) <= 1e-12 * scale)
    stays = (side > 0) & ~flat if clip else ~flat
    spans = spans.only(stays)
    old = len(curve.points)
    lone = np.ones(len(points), bool)
    every = Spans.of(snapped)
    lone[every.begin] = lone[every.end] = False
    lone[old:] = False
    lone &= (height >= 0) | (not clip)
    if not spans.count and not lone.any():
        raise StepError(f"nothing lies on the {'+' if keep > 0 else '-'} side of the plane; keep the other side or move "
                        "the plane", "keep")
    degree = np.bincount(np.concatenate([spans.begin, spans.end]), minlength=len(points))
    used = (degree > 0) | lone
    own = np.flatnonzero(used & ~((height == 0) & (degree <= 1)))
    image = np.arange(len(points))
    image[own] = len(points) + np.arange(own.size)
    signs = np.ones(3)
    signs[axis] = -1.0
    shift = np.zeros(3)
    shift[axis] = 2 * at
    mirrored = spans.mapped(np.diag(signs), shift).numbered(lambda v: image[v])
    named = name(step, "vertex", "image", own.size, ids[own][:, None], np.zeros((own.size, 0), np.int64))
    made, order = assembled(np.concatenate([points, points[own] * signs + shift]), np.concatenate([ids, named]),
                            as_one(spans, mirrored), np.concatenate([lone, lone[own]]))
    source = np.concatenate([np.arange(old), np.full(len(points) - old, -1), np.where(own < old, own, -1)])
    return Reflected(made, source[order], order >= len(points))


def _middle(points: Floats, spans: Spans, i: int) -> Floats:
    """(3,) a point amid a span."""
    a, b = points[spans.begin[i]], points[spans.end[i]]
    c, d = spans.controls[i]
    if spans.kind[i] == ARC:
        w = spans.weight[i]
        return np.asarray((a + 2 * w * c + b) / (2 + 2 * w))
    if spans.kind[i] == CUBIC:
        return np.asarray((a + 3 * c + 3 * d + b) / 8)
    return np.asarray((a + b) / 2)


def _cut(curve: Curve, axis: int, at: float, step: str) -> tuple[Spans, Floats, Ids]:
    """Spans cut where the plane crosses them, with the points that come in, named after the span's ends."""
    w, whole = curve.wires, Spans.of(curve)
    points, ids, groups = [curve.points], [curve.ids], []
    count = len(curve.points)
    for i in range(whole.count):  # once for each span
        s = int(whole.begin[i])
        cuts = _crossings(curve, whole, i, axis, at)
        if not cuts.size:
            groups.append(whole.only(np.array([i])))
            continue
        places = points_on(curve, np.full(cuts.size, s), cuts)
        places[:, axis] = at
        number = count + np.arange(cuts.size)
        count += cuts.size
        points.append(places)
        parents = np.tile(curve.ids[[s, w.following[s]]], (cuts.size, 1))
        ids.append(name(step, "vertex", "cut", cuts.size, parents, np.arange(cuts.size)[:, None]))
        share = np.concatenate([[0.0], cuts, [1.0]])
        controls, weight = piece(curve, np.full(cuts.size + 1, s), share[:-1], share[1:])
        steps = np.maximum(1, np.round(whole.steps[i] * np.diff(share))).astype(np.int64)
        groups.append(Spans(np.concatenate([[whole.begin[i]], number]), np.concatenate([number, [whole.end[i]]]),
                            np.full(cuts.size + 1, whole.kind[i]), weight, steps, controls))
    spans = as_one(*groups) if groups else whole
    return spans, np.concatenate(points), np.concatenate(ids)


def _crossings(curve: Curve, spans: Spans, i: int, axis: int, at: float) -> Floats:
    """Where, from 0 to 1, a span passes through the plane, its ends left out."""
    a, b = curve.points[spans.begin[i], axis] - at, curve.points[spans.end[i], axis] - at
    c, d = spans.controls[i, :, axis] - at
    if spans.kind[i] == CUBIC:
        roots = np.roots([b - 3 * d + 3 * c - a, 3 * (d - 2 * c + a), 3 * (c - a), a])
        t = np.sort(roots[np.abs(roots.imag) < 1e-9].real)
    elif spans.kind[i] == ARC:
        w = float(spans.weight[i])
        half = float(np.arccos(np.clip(w, -1.0, 1.0)))
        roots = np.roots([a - 2 * w * c + b, 2 * w * c - 2 * a, a])  # of the numerator of the rational quadratic
        u = np.sort(roots[np.abs(roots.imag) < 1e-9].real)
        u = u[(u > 0) & (u < 1)]
        # sin(half·t) : sin(half·(1−t)) = u : 1−u
        t = np.arctan2(u * np.sin(half), (1 - u) + u * np.cos(half)) / half
    else:
        t = np.array([a / (a - b)]) if a * b < 0 else np.zeros(0)
    out: Floats = t[(t > 1e-9) & (t < 1 - 1e-9)]
    return out
