"""Straight spans that corners on either side have used up: what is left of one is a single point."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from ..mesh.geometry import lengths
from ..mesh.topology import Bools, Ints
from .curve import STRAIGHT, Curve, Wires

#: a span shorter than this share of the curve's extent has no length
_NOTHING = 1e-9


def empty_spans(curve: Curve) -> Bools:
    """(P,) straight spans without a length."""
    w, points = curve.wires, curve.points
    if not len(points):
        return np.zeros(0, bool)
    has = (w.following >= 0) & (w.kind == STRAIGHT)
    size = float(np.ptp(points, axis=0).max())
    out: Bools = has & (lengths(points[w.following] - points) <= _NOTHING * size)
    return out


def without_empty_spans(curve: Curve) -> tuple[Curve, Ints]:
    """The curve with the two points of every such span made one, and (P',) which of its points stay.

    The span's end stays, where the next one begins; at the beginning of an open run its start, which then begins the next.
    """
    empty = np.flatnonzero(empty_spans(curve))
    n = len(curve.points)
    if not empty.size:
        return curve, np.arange(n)
    w = curve.wires
    begins = np.arange(n)  # the point whose own span begins at each
    stays = np.ones(n, bool)
    for i in empty.tolist():  # as many as there are corners that use a side up
        if w.preceding[i] >= 0:
            stays[i] = False
            continue
        j = int(w.following[i])
        while w.following[j] >= 0 and j in empty:
            stays[j] = False
            j = int(w.following[j])
        stays[j] = False
        begins[i] = j
    count = np.bincount(w.run[stays], minlength=w.closed.size)
    if (count < np.where(w.closed, 2, 1)).any():
        return curve, np.arange(n)  # it is as small as a point, and told so by whoever works on it
    kept = np.flatnonzero(stays)
    at = begins[kept]
    wires = Wires(np.concatenate([[0], np.cumsum(count)]), w.closed, w.kind[at], w.weight[at], w.steps[at])
    return replace(curve, points=curve.points[kept], controls=curve.controls[at], wires=wires, ids=curve.ids[kept]), kept
