"""Boxes round triangles, in a tree."""

from __future__ import annotations

import numpy as np

from ...mesh.mesh import Floats
from ...mesh.topology import Bools, Ints

#: a leaf of the tree of boxes holds at most so many triangles
_LEAF = 4


class BoxTree:
    """Boxes round triangles, halved level by level at the middle of their longest side; the two below box n are 2n + 1 and
    2n + 2.

    Attributes:
        triangles: (n, 3, 3), in the order of the leaves; ``order`` (n,) which of those given each is.
        depth: levels below the first.
        starts: (2**depth + 1,) first triangle of each leaf.
        middle, half: (2**(depth + 1) − 1, 3) of the boxes.
        group: (n,) what each triangle belongs to, as the caller counts.
    """

    def __init__(self, triangles: Floats, group: Ints | None = None) -> None:
        n = len(triangles)
        self.depth = max(int(np.ceil(np.log2(max(n, 1) / _LEAF))), 0)
        centre = triangles.mean(axis=1)
        order = np.arange(n)
        bounds = [(np.arange(2**level + 1) * n) >> level for level in range(self.depth + 1)]
        for level in range(self.depth):
            starts = bounds[level]
            node = np.repeat(np.arange(2**level), np.diff(starts))
            c = centre[order]
            size = np.maximum.reduceat(c, starts[:-1]) - np.minimum.reduceat(c, starts[:-1])
            along = c[np.arange(n), size.argmax(axis=1)[node]]
            order = order[np.lexsort((along, node))]
        self.order = order
        self.starts: Ints = bounds[self.depth]
        self.triangles = np.ascontiguousarray(triangles[order])
        self.group = np.zeros(n, np.int64) if group is None else group[order]
        low, high = self.triangles.min(axis=1), self.triangles.max(axis=1)
        lows = np.concatenate([np.minimum.reduceat(low, b[:-1]) for b in bounds])
        highs = np.concatenate([np.maximum.reduceat(high, b[:-1]) for b in bounds])
        self.middle, self.half = (lows + highs) / 2, (highs - lows) / 2

    def leaves(self, nodes: Ints) -> tuple[Ints, Bools]:
        """(n, m) triangles of leaves, and which of them are there."""
        b = self.starts
        most = int(np.diff(b).max(initial=0))
        at = b[nodes][:, None] + np.arange(most)
        there = at < b[nodes + 1][:, None]
        return np.where(there, at, 0), there
