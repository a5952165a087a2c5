"""Islands packed into the square, in one of their quarter turns, at the largest density that is found to fit."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ...mesh.geometry import Floats
from ...mesh.topology import Ints
from ...waiting import check
from .cells import set_down

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
        out = set_down(outlines.segments, outlines.starts, order, at, margin, cells, turns, held.segments)
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
