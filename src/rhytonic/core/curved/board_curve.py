"""Board curve: the traced outline of a board."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
import shapely
from pydantic import Field

from ..curve.curve import Curve, Wires
from ..mesh.mesh import Floats
from ..params import Id, NonNegativeLength, Quantity
from ..step.facts import Offer
from ..step.kind import Context, Step
from .common import CurveStart, point_ids


class BoardCurve(Step):
    kind: Literal["board_curve"]
    board: Annotated[Id, Quantity("board")]
    tolerance: Annotated[NonNegativeLength | None, Field(
        description="how far the thinned outline may stray; a thousandth of its extent where left out")] = None


class BoardCurveKind(CurveStart[BoardCurve]):
    """One closed run for each outline and hole, with as few of its points as keep within the tolerance (D. Douglas,
    T. Peucker, The Canadian Cartographer 10(2), 1973)."""

    word, title, model = "board_curve", "Board curve", BoardCurve
    summary = ("board", "tolerance")
    proposal = (Offer("tolerance", of_size=0.002),)

    def depends_on(self, p: BoardCurve, context: Context) -> str:
        return b"".join(ring.tobytes() for ring in context.outline(p.board)).hex()

    def curve(self, p: BoardCurve, context: Context) -> Curve:
        rings = context.outline(p.board)
        extent = max(float(np.ptp(ring, axis=0).max()) for ring in rings)
        thin = [_thinned(ring, extent / 1000 if p.tolerance is None else p.tolerance) for ring in rings]
        points = np.concatenate(thin)
        counts = [len(r) for r in thin]
        run = np.repeat(np.arange(len(counts)), counts)
        place = np.concatenate([np.arange(c) for c in counts])
        return Curve(points, np.repeat(points[:, None], 2, axis=1), Wires.straight(counts, [True] * len(counts)),
                     point_ids(context.step, run, place))


def _thinned(ring: Floats, tolerance: float) -> Floats:
    """Fewer points of a flat closed ring; three at least."""
    if np.allclose(ring[0], ring[-1], rtol=0, atol=0):
        ring = ring[:-1]
    centred = ring - ring.mean(axis=0)
    axes = np.linalg.svd(centred, full_matrices=False)[2][:2]
    flat = centred @ axes.T
    # begun at the point farthest from the middle, which no thinning takes
    begin = int(np.argmax(np.einsum("ij,ij->i", flat, flat)))
    order = np.roll(np.arange(len(ring)), -begin)
    kept = np.asarray(shapely.LinearRing(flat[order]).simplify(tolerance, preserve_topology=True).coords)[:-1]
    at = _found(flat[order], kept)
    return np.asarray(ring[order][at])


def _found(flat: Floats, kept: Floats) -> np.ndarray:
    """(k,) places of points among others, in order."""
    out, place = np.zeros(len(kept), np.int64), 0
    for i, point in enumerate(kept):
        while not (flat[place] == point).all():
            place += 1
        out[i] = place
        place += 1
    return out
