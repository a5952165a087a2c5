"""Points evenly along a curve."""

from __future__ import annotations

import numpy as np

from ..errors import BadParameter
from ..mesh.geometry import lengths
from ..mesh.names import name, reduced
from .curve import STRAIGHT, Curve, Wires, points_on

#: straight pieces a curved span is measured by
_FINE = 256


def respaced(curve: Curve, step: str, count: int | None, spacing: float | None) -> Curve:
    """Each run as so many points evenly along it, on the curve itself, joined by straight spans; open ones keep their ends.

    Points are named after the first of their run and their share of the way.

    Args:
        count: points of each run; or ``spacing``, in metres, made a little more or less so that it comes out even.

    Raises:
        BadParameter: fewer points than a run needs, or a run of a single point.
    """
    w = curve.wires
    points, ids, counts = [], [], []
    for run in range(w.closed.size):  # once for each run
        closed = bool(w.closed[run])
        first = int(w.offsets[run])
        span = np.arange(first, int(w.offsets[run + 1]) - (not closed))
        if not span.size:
            raise BadParameter("a run of a single point has no length to space points along", "count")
        each = np.where(w.kind[span] == STRAIGHT, 1, _FINE)
        s = np.repeat(span, each)
        t = (np.arange(s.size) - np.repeat(np.cumsum(each) - each, each)) / np.repeat(each, each)
        s, t = np.append(s, span[-1]), np.append(t, 1.0)
        along = np.concatenate([[0.0], np.cumsum(lengths(np.diff(points_on(curve, s, t), axis=0)))])
        total = float(along[-1])
        pieces = (count if closed else count - 1) if count is not None else max(1, round(total / (spacing or total)))
        least = 3 if closed else 1
        if count is None:
            pieces = max(pieces, least)
        if pieces < least:
            raise BadParameter(f"a{' closed' if closed else 'n open'} curve needs {3 if closed else 2} points or more",
                               "count")
        n = pieces if closed else pieces + 1
        goal = total * np.arange(n) / pieces
        at = np.clip(np.searchsorted(along, goal, side="right") - 1, 0, along.size - 2)
        gap = along[at + 1] - along[at]
        share = np.clip(np.divide(goal - along[at], gap, out=np.zeros(n), where=gap > 0), 0.0, 1.0)
        until = np.where(t[at + 1] > t[at], t[at + 1], 1.0)
        places = points_on(curve, s[at], t[at] + share * (until - t[at]))
        if not closed:
            places[0], places[-1] = curve.points[first], curve.points[int(w.offsets[run + 1]) - 1]
        points.append(places)
        ids.append(name(step, "vertex", "even", n, np.full((n, 1), curve.ids[first]), reduced(np.arange(n), pieces)))
        counts.append(n)
    every = np.concatenate(points)
    return Curve(every, np.repeat(every[:, None], 2, axis=1), Wires.straight(counts, w.closed.tolist()), np.concatenate(ids))
