"""Outlines set down on a grid of cells, each at the lowest place where its cells are free.

An outline, grown by half the margin, is the runs of cells it touches in each row; the grid keeps for every cell how long the
free, or the taken, run is that begins there, so that a run of an outline is looked up at once and a place that is taken is
passed at one step, and for every row how long its longest free run is, so that a row too full is passed at once (the
bottom-left rule of B. S. Baker, E. G. Coffman, R. L. Rivest, Orthogonal Packings in Two Dimensions, SIAM Journal on
Computing 9(4), 1980, for shapes of cells). Gaps and the holes of rings are filled too.
"""

from __future__ import annotations

import numpy as np

from ...compiled import COUNT, INTS, NEW_FLOATS, NEW_INTS, NEW_POINTS, NEW_ROWS, NEW_SHORT_ROWS, NUMBER, POINTS, compiled
from ...mesh.geometry import Floats
from ...mesh.topology import Ints, Shorts


@compiled(NEW_ROWS, POINTS, COUNT, COUNT, COUNT, NUMBER, NUMBER, NUMBER, NUMBER, NUMBER, COUNT, COUNT)
def _cells(segments: Floats, first: int, last: int, turn: int, scale: float, left: float, below: float, cell: float,
           half: float, wide: int, high: int) -> Ints:
    """(high, wide) 1 for the cells that an outline touches, encloses, or comes nearer to than ``half``; what lies at
    ``left``, ``below`` once it is turned and scaled comes to the grid's lower left."""
    out = np.zeros((high, wide), np.int64)
    touched = np.zeros((high, wide), np.bool_)
    parity = np.zeros((high, wide + 1), np.bool_)
    for s in range(first, last):
        x0, y0, x1, y1 = segments[s, 0], segments[s, 1], segments[s, 2], segments[s, 3]
        if turn == 1:
            x0, y0, x1, y1 = -y0, x0, -y1, x1
        elif turn == 2:
            x0, y0, x1, y1 = -x0, -y0, -x1, -y1
        elif turn == 3:
            x0, y0, x1, y1 = y0, -x0, y1, -x1
        x0, y0 = (x0 * scale - left) / cell, (y0 * scale - below) / cell
        x1, y1 = (x1 * scale - left) / cell, (y1 * scale - below) / cell
        if y0 > y1:
            x0, y0, x1, y1 = x1, y1, x0, y0
        for row in range(max(int(np.floor(y0)), 0), min(int(np.floor(y1)), high - 1) + 1):
            a, b = x0, x1
            if y1 > y0:
                a = x0 + (x1 - x0) * (max(y0, row) - y0) / (y1 - y0)
                b = x0 + (x1 - x0) * (min(y1, row + 1) - y0) / (y1 - y0)
            a, b = min(a, b) - 1e-9, max(a, b) + 1e-9
            for c in range(max(int(np.floor(a)), 0), min(int(np.floor(b)), wide - 1) + 1):
                touched[row, c] = True
            middle = row + 0.5
            if y0 <= middle < y1:
                x = x0 + (x1 - x0) * (middle - y0) / (y1 - y0)
                c = min(max(int(np.ceil(x - 0.5)), 0), wide)
                parity[row, c] = not parity[row, c]
    beside = int(np.ceil(half / cell)) + 1
    for row in range(high):
        inside = False
        for c in range(wide):
            if parity[row, c]:
                inside = not inside
            if inside:
                out[row, c] = 1
            if not touched[row, c]:
                continue
            for dy in range(-beside, beside + 1):
                for dx in range(-beside, beside + 1):
                    ax, ay = max(abs(dx) - 1, 0) * cell, max(abs(dy) - 1, 0) * cell
                    near = (dx == 0 and dy == 0) or ax * ax + ay * ay < half * half
                    if near and 0 <= row + dy < high and 0 <= c + dx < wide:
                        out[row + dy, c + dx] = 1
    return out


@compiled(COUNT, NEW_SHORT_ROWS, NEW_INTS, COUNT)
def _count(runs: Shorts, longest: Ints, row: int) -> int:
    """Tell anew how long the free (positive) and taken (negative) runs of a row are that begin at each cell."""
    n = runs.shape[1]
    length, most = 0, 0
    before = False
    for c in range(n - 1, -1, -1):
        taken = runs[row, c] < 0
        length = length + 1 if taken == before else 1
        before = taken
        runs[row, c] = -length if taken else length
        if not taken and length > most:
            most = length
    longest[row] = most
    return 0


@compiled(NEW_FLOATS, POINTS, COUNT, COUNT, COUNT)
def _box(segments: Floats, first: int, last: int, turn: int) -> Floats:
    """(4,) the lowest and highest places of a turned outline."""
    low_x, low_y, high_x, high_y = np.inf, np.inf, -np.inf, -np.inf
    for s in range(first, last):
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
    return np.array([low_x, low_y, high_x, high_y])


@compiled(NEW_ROWS, NEW_ROWS)
def _runs(mask: Ints) -> Ints:
    """(k + 1, 3) row, first cell and length of each run of marked cells; the last row is how many cells and rows before the
    first marked one are empty, and 0."""
    high, wide = mask.shape
    count, low, first = 0, high, wide
    for row in range(high):
        before = 0
        for c in range(wide):
            if mask[row, c] and not before:
                count, low, first = count + 1, min(low, row), min(first, c)
            before = mask[row, c]
    out = np.empty((count + 1, 3), np.int64)
    at = 0
    for row in range(high):
        c = 0
        while c < wide:
            if not mask[row, c]:
                c += 1
                continue
            end = c
            while end < wide and mask[row, end]:
                end += 1
            out[at, 0], out[at, 1], out[at, 2] = row - low, c - first, end - c
            at += 1
            c = end
    out[count, 0], out[count, 1], out[count, 2] = low, first, 0
    return out


@compiled(NEW_INTS, NEW_ROWS, NEW_SHORT_ROWS, NEW_INTS, COUNT)
def _lowest(spans: Ints, runs: Shorts, longest: Ints, best: int) -> Ints:
    """(2,) the lowest and there the leftmost cell at which all spans are free and the topmost stays below ``best``; −1 where
    there is none."""
    cells = runs.shape[0]
    count = len(spans) - 1
    tall, across, widest = 0, 0, 0
    for k in range(count):
        tall, across = max(tall, spans[k, 0] + 1), max(across, spans[k, 1] + spans[k, 2])
        if spans[k, 2] > spans[widest, 2]:
            widest = k
    failed = widest
    for y in range(min(cells - tall + 1, best - tall)):
        if longest[y + spans[widest, 0]] < spans[widest, 2] or longest[y + spans[failed, 0]] < spans[failed, 2]:
            continue
        x = 0
        while x <= cells - across:
            step = 0
            for k in range(count):
                s = k + failed if k + failed < count else k + failed - count
                row, c, long = y + spans[s, 0], x + spans[s, 1], spans[s, 2]
                free = runs[row, c]
                if free >= long:
                    continue
                step = -free if free < 0 else free - runs[row, c + free]
                failed = s
                break
            if step == 0:
                return np.array([x, y])
            x += step
    return np.array([-1, -1])


@compiled(NEW_POINTS, POINTS, INTS, INTS, NUMBER, NUMBER, COUNT, COUNT, POINTS)
def set_down(segments: Floats, starts: Ints, order: Ints, scale: float, margin: float, cells: int, turns: int,
             held: Floats) -> Floats:
    """Outlines in the square, one after the other in this order.

    Args:
        segments: (s, 4) from u, v to u, v, outline after outline; starts: (n + 1,) where each one's begin; order: (n,).
        margin: how far apart and from the rim, in squares; cells: along the square; turns: 4 quarter turns are tried, or 1.
        held: (m, 4) segments that lie in the square already.

    Returns:
        (n + 1, 3) lower left corner and quarter turns of each; the last row begins with 1 where one found no place.
    """
    n = len(starts) - 1
    out = np.zeros((n + 1, 3))
    cell, half = 1.0 / cells, margin / 2
    runs = np.ones((cells, cells), np.int16)
    longest = np.zeros(cells, np.int64)
    if len(held) > 0:
        taken = _cells(held, 0, len(held), 0, 1.0, 0.0, 0.0, cell, half, cells, cells)
        for row in range(cells):
            for c in range(cells):
                if taken[row, c]:
                    runs[row, c] = -1
    rim = int(np.ceil(half / cell - 1e-9))
    for k in range(rim):
        runs[k, :] = -1
        runs[cells - 1 - k, :] = -1
        runs[:, k] = -1
        runs[:, cells - 1 - k] = -1
    for row in range(cells):
        _count(runs, longest, row)
    pad = int(np.ceil(half / cell)) + 1
    for which in range(n):
        i = order[which]
        best, best_x, best_y, best_turn = cells + 1, -1, -1, 0
        best_spans = np.zeros((1, 3), np.int64)
        for turn in range(turns):
            box = _box(segments, starts[i], starts[i + 1], turn)
            wide = int(np.floor((box[2] - box[0]) * scale / cell)) + 1 + 2 * pad
            high = int(np.floor((box[3] - box[1]) * scale / cell)) + 1 + 2 * pad
            mask = _cells(segments, starts[i], starts[i + 1], turn, scale, box[0] * scale - pad * cell,
                          box[1] * scale - pad * cell, cell, half, wide, high)
            spans = _runs(mask)
            if len(spans) == 1:
                continue
            place = _lowest(spans, runs, longest, best)
            if place[0] < 0:
                continue
            tall = 0
            for k in range(len(spans) - 1):
                tall = max(tall, spans[k, 0] + 1)
            best, best_x, best_y, best_turn = place[1] + tall, place[0], place[1], turn
            best_spans = spans
        if best > cells:
            out[n, 0] = 1
            return out
        count = len(best_spans) - 1
        for k in range(count):
            row, c = best_y + best_spans[k, 0], best_x + best_spans[k, 1]
            runs[row, c:c + best_spans[k, 2]] = -1
            if k + 1 == count or best_spans[k + 1, 0] != best_spans[k, 0]:
                _count(runs, longest, row)
        out[i, 0] = (best_x - best_spans[count, 1] + pad) * cell
        out[i, 1] = (best_y - best_spans[count, 0] + pad) * cell
        out[i, 2] = best_turn
    return out
