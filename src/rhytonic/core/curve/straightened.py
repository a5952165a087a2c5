"""Curved spans made of straight ones."""

from __future__ import annotations

import numpy as np

from ..mesh.geometry import lengths
from ..mesh.names import name
from ..mesh.topology import Bools
from .curve import ARC, STRAIGHT, Curve, Wires


def straightened(curve: Curve, step: str, which: Bools | None = None) -> Curve:
    """The curve with some of its curved spans divided into straight ones; all of them where ``which`` (P,) is left out.

    Points that come in are named after the one their span begins at and their share of it.
    """
    w = curve.wires
    bent = (w.kind != STRAIGHT) & (w.following >= 0)
    chosen = bent if which is None else bent & which
    if not chosen.any():
        return curve
    line = curve.divided
    at_point = line.step == 0
    keep = at_point | chosen[line.span]
    points, span, share = line.points[keep], line.span[keep], line.step[keep]
    inner = share > 0
    divisor = np.gcd(share, line.steps[keep])
    index = np.stack([share // np.maximum(divisor, 1), line.steps[keep] // np.maximum(divisor, 1)], axis=1)
    ids = curve.ids[span].copy()
    ids[inner] = name(step, "vertex", "between", int(inner.sum()), curve.ids[span[inner]][:, None], index[inner])
    run = w.run[span]
    counts = np.bincount(run, minlength=w.closed.size)
    stays = (w.kind[span] != STRAIGHT) & ~chosen[span]
    kind = np.where(stays, w.kind[span], STRAIGHT)
    controls = np.where(stays[:, None, None], curve.controls[span], points[:, None])
    wires = Wires(np.concatenate([[0], np.cumsum(counts)]), w.closed, kind, np.where(stays, w.weight[span], 1.0),
                  np.where(stays, w.steps[span], 1))
    return Curve(points, controls, wires, ids)


def round_arcs(curve: Curve) -> Bools:
    """(P,) spans that are arcs of circles; an arc stretched in one direction is part of an ellipse."""
    w = curve.wires
    a, b, c = curve.points, curve.points[np.maximum(w.following, 0)], curve.controls[:, 0]
    one, other = lengths(c - a), lengths(c - b)
    chord = lengths(b - a)
    arc = (w.kind == ARC) & (w.following >= 0)
    size = np.maximum(one, 1e-300)
    # tangents of one length, and a chord that fits the turn: |ab| = 2 |ac| cos of half the turn
    out: Bools = arc & (np.abs(one - other) <= 1e-9 * size) & (np.abs(chord - 2 * one * w.weight) <= 1e-9 * size)
    return out
