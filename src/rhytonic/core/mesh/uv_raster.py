"""The texture square in cells: which are covered, and how often."""

from __future__ import annotations

import numpy as np

from ..compiled import COUNT, NEW_INTS, NUMBER, STACK, compiled
from .geometry import Floats
from .topology import Bools, Ints

#: cells along each side when islands are looked at for lying over each other
CELLS = 2048


def coverage(places: Floats, cells: int) -> Ints:
    """(cells, cells) how many of the triangles (T, 3, 2) hold each cell's middle, rows from v = 0 up.

    A middle on the edge between two triangles belongs to one of them: the rule of rasterization that leaves no gap and draws
    nothing twice.
    """
    out = np.zeros(cells * cells, np.int64)
    _drawn(places, cells, _ON_EDGES, out, np.zeros(0, np.int64))
    return out.reshape(cells, cells)


def crowded(places: Floats, cells: int) -> tuple[float, Bools]:
    """Share of the cells covered whose middle lies within two triangles, and (T,) the triangles that hold one of those.
    Triangles that touch, to a millionth of a cell, do not lie over each other."""
    used = int((coverage(places, cells) > 0).sum())
    count = np.zeros(cells * cells, np.int64)
    _drawn(places, cells, _WITHIN, count, np.zeros(0, np.int64))
    twice = int((count > 1).sum())
    if not twice:
        return 0.0, np.zeros(len(places), bool)
    hit = np.zeros(len(places), np.int64)
    _drawn(places, cells, _WITHIN, count, hit)
    return twice / max(used, 1), hit > 0


#: how far inside its edges a triangle holds a place, in cells; below nothing: edges are shared out by the rule
_ON_EDGES, _WITHIN = -1.0, 1e-6


@compiled(COUNT, STACK, COUNT, NUMBER, NEW_INTS, NEW_INTS)
def _drawn(places: Floats, cells: int, least: float, count: Ints, hit: Ints) -> int:
    """Add each triangle to ``count`` (cells²,), or where ``hit`` (T,) is given, add to that the cells counted more than once
    that each holds; how many were added."""
    added = 0
    for i in range(len(places)):
        ax, ay = places[i, 0, 0] * cells - 0.5, places[i, 0, 1] * cells - 0.5
        bx, by = places[i, 1, 0] * cells - 0.5, places[i, 1, 1] * cells - 0.5
        cx, cy = places[i, 2, 0] * cells - 0.5, places[i, 2, 1] * cells - 0.5
        area = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax)
        if area < 0:
            bx, by, cx, cy = cx, cy, bx, by
        if area == 0:
            continue
        first, last = max(int(np.ceil(min(ay, by, cy))), 0), min(int(np.floor(max(ay, by, cy))), cells - 1)
        left, right = max(int(np.ceil(min(ax, bx, cx))), 0), min(int(np.floor(max(ax, bx, cx))), cells - 1)
        for y in range(first, last + 1):
            for x in range(left, right + 1):
                inside = True
                for px, py, qx, qy in ((ax, ay, bx, by), (bx, by, cx, cy), (cx, cy, ax, ay)):
                    side = (qx - px) * (y - py) - (qy - py) * (x - px)
                    if least >= 0:
                        inside = side > least * np.sqrt((qx - px) ** 2 + (qy - py) ** 2)
                    else:
                        inside = side > 0 or (side == 0 and (qy < py or (qy == py and qx > px)))
                    if not inside:
                        break
                if not inside:
                    continue
                if len(hit) == 0:
                    count[y * cells + x] += 1
                    added += 1
                elif count[y * cells + x] > 1:
                    hit[i] += 1
                    added += 1
    return added
