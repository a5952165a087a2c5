"""Islands packed into the square: each set down on the skyline of those before it, with the outline that it has.

A strip of columns holds what is packed so far by the height reached in each; an island is put where, in one of its
quarter turns, its outline comes to rest lowest (B. Lévy et al., Least Squares Conformal Maps, ACM TOG 21(3), 2002,
section 4: packing by horizons). Along v places are exact, along u they are whole columns.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ...compiled import COUNT, FLOATS, INTS, NEW_POINTS, NUMBER, POINTS, compiled
from ...mesh.geometry import Floats
from ...mesh.topology import Ints
from ...waiting import check

COLUMNS = 1024
#: how near to the largest density a search comes
_NEAR = 1e-3


@dataclass(frozen=True)
class Packed:
    """Where islands go: turned by quarter turns, then moved.

    Attributes:
        scale: what places are multiplied by first. quarter: (n,) quarter turns, counter-clockwise. corner: (n, 2) where the
            lower left corner of each turned island's box goes.
    """

    scale: float
    quarter: Ints
    corner: Floats


@dataclass(frozen=True)
class Outlines:
    """Outlines of islands.

    Attributes:
        segments: (s, 4) from u, v to u, v, island after island; starts: (n + 1,) where each island's begin.
    """

    segments: Floats
    starts: Ints

    def sizes(self) -> Floats:
        """(n, 2) width and height of the box of each."""
        if self.starts.size < 2:
            return np.zeros((0, 2))
        s = self.segments
        begin = self.starts[:-1]
        low = np.minimum(np.minimum.reduceat(s[:, :2], begin), np.minimum.reduceat(s[:, 2:], begin))
        high = np.maximum(np.maximum.reduceat(s[:, :2], begin), np.maximum.reduceat(s[:, 2:], begin))
        out: Floats = high - low
        return out


def pack(outlines: Outlines, margin: float, turning: bool, skyline: Floats, scale: float | None = None) -> Packed | None:
    """Islands in the square above a ``skyline`` (COLUMNS,), ``margin`` (in squares) apart and from the rim; at ``scale``, or
    at the largest at which they fit. None where they do not.
    """
    sizes = outlines.sizes()
    if not len(sizes):
        return Packed(scale or 1.0, np.zeros(0, np.int64), np.zeros((0, 2)))
    orders = _orders(sizes)

    def tried(at: float) -> tuple[Floats, float] | None:
        check()
        for order in orders:
            for waste in (0.0, 1.0):
                out = _set_down(outlines.segments, outlines.starts, order, at, margin, 4 if turning else 1, skyline, waste)
                reached = float(out[-1, 0])
                if reached <= 1 - margin / 2 + 1e-12:
                    return out, at
        return None

    if scale is not None:
        found = tried(scale)
        return None if found is None else _told(found[0], scale)
    area = float((sizes[:, 0] * sizes[:, 1]).sum())
    high = min((1 - 2 * margin) / max(float(sizes.max()), 1e-300), 1.5 / np.sqrt(max(area, 1e-300)))
    found = tried(high)
    low = high
    while found is None and low > 1e-6 * high:
        low *= 0.8
        found = tried(low)
    if found is None:
        return None
    top = min(low / 0.8, high)
    while top > low * (1 + _NEAR):
        middle = (low + top) / 2
        better = tried(middle)
        if better is None:
            top = middle
        else:
            low, found = middle, better
    return _told(found[0], low)


def _told(out: Floats, scale: float) -> Packed:
    return Packed(scale, out[:-1, 2].astype(np.int64), out[:-1, :2].copy())


def _orders(sizes: Floats) -> list[Ints]:
    """Orders to try: by height, by longer side, by area; islands about alike in the order of their faces."""
    number = np.arange(len(sizes))
    keys = (sizes[:, 1], sizes.max(axis=1), np.sqrt(sizes[:, 0] * sizes[:, 1]))
    out = []
    for key in keys:
        out.append(np.lexsort((number, -np.round(8 * np.log2(np.maximum(key, 1e-12))))))
    return out


def horizon(outlines: Outlines, margin: float) -> Floats:
    """(COLUMNS,) the skyline of islands that stay where they are."""
    out: Floats = _horizon_rows(outlines.segments, COLUMNS, margin)[0]
    return out


@compiled(NEW_POINTS, POINTS, INTS, INTS, NUMBER, NUMBER, COUNT, FLOATS, NUMBER)
def _set_down(segments: Floats, starts: Ints, order: Ints, scale: float, margin: float, turns: int, skyline: Floats,
              waste: float) -> Floats:
    """(n + 1, 3) lower left corner and quarter turns of each island; the height reached in the last row, infinite where one
    is wider than the square."""
    columns = len(skyline)
    n = len(starts) - 1
    out = np.zeros((n + 1, 3))
    usable = 1.0 - margin
    cell = usable / columns
    sky = skyline.copy()
    half = margin / 2
    beside = int(np.floor(half / cell)) + 1
    offset = beside * cell
    bottom, top = np.empty(columns + 1), np.empty(columns + 1)
    wide, tall = np.empty(columns + 1), np.empty(columns + 1)
    best_bottom, best_top = np.empty(columns + 1), np.empty(columns + 1)
    reached = 0.0
    for which in range(n):
        i = order[which]
        best, best_x, best_y, best_turn, best_count = np.inf, -1, 0.0, 0, 0
        for turn in range(turns):
            low_x, low_y, high_x, high_y = np.inf, np.inf, -np.inf, -np.inf
            for s in range(starts[i], starts[i + 1]):
                for k in (0, 2):
                    a, b = segments[s, k], segments[s, k + 1]
                    if turn == 1:
                        a, b = -b, a
                    elif turn == 2:
                        a, b = -a, -b
                    elif turn == 3:
                        a, b = b, -a
                    low_x, high_x = min(low_x, a), max(high_x, a)
                    low_y, high_y = min(low_y, b), max(high_y, b)
            width, height = (high_x - low_x) * scale, (high_y - low_y) * scale
            count = int(np.floor((width + offset) / cell)) + 1 + beside
            if count > columns:
                continue
            for c in range(count):
                bottom[c], top[c] = np.inf, -np.inf
            for s in range(starts[i], starts[i + 1]):
                x0, y0, x1, y1 = segments[s, 0], segments[s, 1], segments[s, 2], segments[s, 3]
                if turn == 1:
                    x0, y0, x1, y1 = -y0, x0, -y1, x1
                elif turn == 2:
                    x0, y0, x1, y1 = -x0, -y0, -x1, -y1
                elif turn == 3:
                    x0, y0, x1, y1 = y0, -x0, y1, -x1
                x0, x1 = (x0 - low_x) * scale + offset, (x1 - low_x) * scale + offset
                y0, y1 = (y0 - low_y) * scale + half, (y1 - low_y) * scale + half
                if x0 > x1:
                    x0, y0, x1, y1 = x1, y1, x0, y0
                first, last = int(np.floor(x0 / cell)), int(np.floor(x1 / cell))
                for c in range(first, min(last, count - 1) + 1):
                    a, b = max(x0, c * cell), min(x1, (c + 1) * cell)
                    if x1 > x0:
                        ya = y0 + (y1 - y0) * (a - x0) / (x1 - x0)
                        yb = y0 + (y1 - y0) * (b - x0) / (x1 - x0)
                    else:
                        ya, yb = y0, y1
                    bottom[c] = min(bottom[c], ya, yb)
                    top[c] = max(top[c], ya, yb)
            for c in range(count):  # grown by half the margin, so that two are a whole one apart
                b, t = np.inf, -np.inf
                for d in range(max(c - beside, 0), min(c + beside, count - 1) + 1):
                    b, t = min(b, bottom[d]), max(t, top[d])
                wide[c], tall[c] = b - half, t + half
            grown = height + margin
            for x in range(columns - count + 1):
                y = 0.0
                for c in range(count):
                    y = max(y, sky[x + c] - wide[c])
                    if y + grown >= best:
                        break
                score = y + grown
                if score >= best:
                    continue
                if waste > 0:
                    lost = 0.0
                    for c in range(count):
                        lost += y + wide[c] - sky[x + c]
                    score += waste * lost / count
                    if score >= best:
                        continue
                best, best_x, best_y, best_turn, best_count = score, x, y, turn, count
                for c in range(count):
                    best_bottom[c], best_top[c] = wide[c], tall[c]
        if best_x < 0:
            out[n, 0] = np.inf
            return out
        for c in range(best_count):
            sky[best_x + c] = max(sky[best_x + c], best_y + best_top[c])
            reached = max(reached, best_y + best_top[c])
        out[i, 0] = half + best_x * cell + offset
        out[i, 1] = half + best_y + half
        out[i, 2] = best_turn
    out[n, 0] = reached + half
    return out


@compiled(NEW_POINTS, POINTS, COUNT, NUMBER)
def _horizon_rows(segments: Floats, columns: int, margin: float) -> Floats:
    """(1, columns) heights that segments reach, grown by half the margin."""
    half = margin / 2
    cell = (1.0 - margin) / columns
    beside = int(np.floor(half / cell)) + 1
    own = np.zeros(columns)
    for s in range(len(segments)):
        x0, y0, x1, y1 = segments[s, 0] - half, segments[s, 1], segments[s, 2] - half, segments[s, 3]
        high = max(y0, y1)
        for c in range(max(int(np.floor(min(x0, x1) / cell)), 0), min(int(np.floor(max(x0, x1) / cell)), columns - 1) + 1):
            own[c] = max(own[c], high)
    out = np.zeros((1, columns))
    for c in range(columns):
        for d in range(max(c - beside, 0), min(c + beside, columns - 1) + 1):
            if own[d] > 0:
                out[0, c] = max(out[0, c], own[d])
    return out
