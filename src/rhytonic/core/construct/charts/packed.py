"""Islands packed into the square: each set down, in one of its quarter turns, at the lowest place where its cells are free.

The square is a grid of cells. An island, grown by half the margin, is the runs of cells it touches in each row; the grid
keeps for every cell how long the free, or the taken, run is that begins there, so that a run of an island is looked up at
once and a place that is taken is passed at one step (the bottom-left rule of B. S. Baker, E. G. Coffman, R. L. Rivest,
Orthogonal Packings in Two Dimensions, SIAM Journal on Computing 9(4), 1980, for shapes of cells). Gaps and the holes of
rings are filled too.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ...compiled import COUNT, INTS, NEW_POINTS, NEW_ROWS, NUMBER, POINTS, compiled
from ...mesh.geometry import Floats
from ...mesh.topology import Ints
from ...waiting import check

#: cells along the square while a density is sought, and where islands come to lie
_ROUGH, CELLS = 384, 1024
#: how near to the largest density a search comes
_NEAR = 0.006
#: by how much more many islands may grow on the finer cells
_FINER = 0.075


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


    def beside(self, segments: Floats) -> Outlines:
        """With further segments (n, 4), as one more outline."""
        return Outlines(np.concatenate([self.segments, segments]), np.append(self.starts, self.starts[-1] + len(segments)))


def rest_of_square(left: float, below: float, wide: float, high: float) -> Floats:
    """(n, 4) outlines of what lies round a part of the square; empty sides are left out."""
    right, above = left + wide, below + high
    out = []
    for x0, y0, x1, y1 in ((0.0, 0.0, left, 1.0), (right, 0.0, 1.0, 1.0), (left, 0.0, right, below),
                           (left, above, right, 1.0)):
        if x1 - x0 > 1e-9 and y1 - y0 > 1e-9:
            out += [(x0, y0, x1, y0), (x1, y0, x1, y1), (x1, y1, x0, y1), (x0, y1, x0, y0)]
    return np.array(out, np.float64).reshape(-1, 4)


NOTHING = Outlines(np.zeros((0, 4)), np.zeros(1, np.int64))


def pack(outlines: Outlines, margin: float, turning: bool, held: Outlines = NOTHING,
         scale: float | None = None) -> Packed | None:
    """Islands in the square beside those ``held`` where they are, ``margin`` (in squares) apart and from the rim; at
    ``scale``, or at about the largest at which they fit. None where they do not."""
    sizes = outlines.sizes()
    if not len(sizes):
        return Packed(scale or 1.0, np.zeros(0, np.int64), np.zeros((0, 2)))
    order = _order(sizes)
    turns = 4 if turning else 1

    def tried(at: float, cells: int) -> Floats | None:
        check()
        out = _set_down(outlines.segments, outlines.starts, order, at, margin, cells, turns, held.segments)
        return None if out[-1, 0] else out

    if scale is not None:
        if float(sizes.max()) * scale > 1:  # nor are cells counted for what is larger than the square
            return None
        for cells in (CELLS, 2 * CELLS):
            found = tried(scale, cells)
            if found is not None:
                return _told(found, scale)
        return None
    area = float((sizes[:, 0] * sizes[:, 1]).sum())
    high = min((1 - 2 * margin) / max(float(sizes.max()), 1e-300), 1.6 / np.sqrt(max(area, 1e-300)))
    low = high
    while tried(low, _ROUGH) is None:
        low *= 0.85
        if low < 1e-6 * high:
            return None
    top = min(low / 0.85, high)
    while top > low * (1 + 2 * _NEAR):
        middle = (low + top) / 2
        if tried(middle, _ROUGH) is None:
            top = middle
        else:
            low = middle
    # finer cells waste less at their edges: somewhat larger islands fit as well
    at = min(low * (1 + _FINER * len(sizes) / (len(sizes) + 40)), high)
    best = tried(at, CELLS)
    while best is None and at > 1e-6 * high:
        at /= 1 + 2 * _NEAR
        best = tried(at, CELLS)
    if best is None:
        return None
    while at < high and (more := tried(min(at * (1 + 2 * _NEAR), high), CELLS)) is not None:
        at, best = min(at * (1 + 2 * _NEAR), high), more
    return _told(best, at)


def _told(out: Floats, scale: float) -> Packed:
    return Packed(scale, out[:-1, 2].astype(np.int64), out[:-1, :2].copy())


def _order(sizes: Floats) -> Ints:
    """Long islands first; those about as long in the order of their faces, so that a number that changes a little upstream
    does not change places."""
    key = sizes.sum(axis=1)
    return np.lexsort((np.arange(len(sizes)), -np.round(8 * np.log2(np.maximum(key, 1e-12)))))


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


@compiled(COUNT, NEW_ROWS, NEW_ROWS, COUNT)
def _counted(taken: Ints, runs: Ints, row: int) -> int:
    """Tell anew how long the free (positive) and taken (negative) runs of a row are that begin at each cell."""
    n = taken.shape[1]
    length, before = 0, 2
    for c in range(n - 1, -1, -1):
        now = taken[row, c]
        length = length + 1 if now == before else 1
        before = now
        runs[row, c] = -length if now else length
    return 0


@compiled(NEW_POINTS, POINTS, INTS, INTS, NUMBER, NUMBER, COUNT, COUNT, POINTS)
def _set_down(segments: Floats, starts: Ints, order: Ints, scale: float, margin: float, cells: int, turns: int,
              held: Floats) -> Floats:
    """(n + 1, 3) lower left corner and quarter turns of each island; the last row begins with 1 where one found no place."""
    n = len(starts) - 1
    out = np.zeros((n + 1, 3))
    cell, half = 1.0 / cells, margin / 2
    taken = np.zeros((cells, cells), np.int64)
    if len(held) > 0:
        taken[:] = _cells(held, 0, len(held), 0, 1.0, 0.0, 0.0, cell, half, cells, cells)
    rim = int(np.ceil(half / cell - 1e-9))
    for k in range(rim):
        taken[k, :] = 1
        taken[cells - 1 - k, :] = 1
        taken[:, k] = 1
        taken[:, cells - 1 - k] = 1
    runs = np.zeros((cells, cells), np.int64)
    for row in range(cells):
        _counted(taken, runs, row)
    pad = int(np.ceil(half / cell)) + 1
    for which in range(n):
        i = order[which]
        best, best_x, best_y, best_turn = cells + 1, -1, -1, 0
        best_mask = np.zeros((1, 1), np.int64)
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
            wide = int(np.floor((high_x - low_x) * scale / cell)) + 1 + 2 * pad
            high = int(np.floor((high_y - low_y) * scale / cell)) + 1 + 2 * pad
            mask = _cells(segments, starts[i], starts[i + 1], turn, scale, low_x * scale - pad * cell,
                          low_y * scale - pad * cell, cell, half, wide, high)
            first, last, low, top = wide, -1, high, -1  # what is empty round it need not be in the square
            count = 0
            for row in range(high):
                before = 0
                for c in range(wide):
                    if mask[row, c]:
                        first, last, low, top = min(first, c), max(last, c), min(low, row), max(top, row)
                        if not before:
                            count += 1
                    before = mask[row, c]
            if last < 0 or last - first + 1 > cells or top - low + 1 > cells:
                continue
            spans = np.empty((count, 3), np.int64)
            at = 0
            for row in range(low, top + 1):
                c = first
                while c <= last:
                    if mask[row, c]:
                        end = c
                        while end <= last and mask[row, end]:
                            end += 1
                        spans[at, 0], spans[at, 1], spans[at, 2] = row - low, c - first, end - c
                        at += 1
                        c = end
                    else:
                        c += 1
            tall, across = top - low + 1, last - first + 1
            failed = 0
            for y in range(cells - tall + 1):
                if y + tall >= best:
                    break
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
                        break
                    x += step
                if x <= cells - across:
                    best, best_x, best_y, best_turn = y + tall, x - first, y - low, turn
                    best_mask = mask
                    break
        if best > cells:
            out[n, 0] = 1
            return out
        for row in range(best_mask.shape[0]):
            any_here = False
            for c in range(best_mask.shape[1]):
                if best_mask[row, c]:
                    taken[best_y + row, best_x + c] = 1
                    any_here = True
            if any_here:
                _counted(taken, runs, best_y + row)
        out[i, 0], out[i, 1], out[i, 2] = (best_x + pad) * cell, (best_y + pad) * cell, best_turn
    return out
