"""A loop of an even number of corners filled with four-sided faces, without new points on the loop."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Ints = NDArray[np.int64]
Floats = NDArray[np.float64]


@dataclass(frozen=True)
class QuadGrid:
    """An r × c grid laid into a loop of n = 2(r + c) corners.

    Attributes:
        rows, columns: r and c, with r the whole number nearest n/4 (the smaller on a tie).
        lattice: (r+1, c+1) loop position of outline points, n + k for the k-th inner point.
    """

    rows: int
    columns: int
    lattice: Ints

    @classmethod
    def for_loop(cls, n: int) -> QuadGrid:
        """The grid for a loop of ``n`` corners, starting at its first. ``n`` must be even and at least 4."""
        half = n // 2
        rows = max(1, (n + 1) // 4)
        columns = half - rows
        lattice = np.zeros((rows + 1, columns + 1), np.int64)
        lattice[0, :] = np.arange(columns + 1)
        lattice[:, columns] = np.arange(columns, columns + rows + 1)
        lattice[rows, ::-1] = np.arange(columns + rows, 2 * columns + rows + 1)
        lattice[::-1, 0] = np.arange(2 * columns + rows, n + 1) % n
        lattice[1:-1, 1:-1] = n + np.arange((rows - 1) * (columns - 1)).reshape(rows - 1, columns - 1)
        return cls(rows, columns, lattice)

    @property
    def inner(self) -> int:
        """How many points lie inside the loop."""
        return (self.rows - 1) * (self.columns - 1)

    def faces(self) -> Ints:
        """(r·c, 4) corners as loop positions, turning the way the loop does."""
        g = self.lattice
        return np.stack([g[:-1, :-1], g[:-1, 1:], g[1:, 1:], g[1:, :-1]], axis=2).reshape(-1, 4)

    def fractions(self) -> Ints:
        """(inner, 4): row, rows, column, columns of the inner points."""
        i, j = np.meshgrid(np.arange(1, self.rows), np.arange(1, self.columns), indexing="ij")
        return np.stack([i.ravel(), np.full(i.size, self.rows), j.ravel(), np.full(i.size, self.columns)], axis=1)

    def coons(self, loop: Floats) -> Floats:
        """(inner, 3) inner points of the bilinearly blended Coons patch over the loop (S. Coons, MIT MAC-TR-41, 1967)."""
        g = self.lattice
        v = (np.arange(1, self.rows) / self.rows)[:, None, None]
        u = (np.arange(1, self.columns) / self.columns)[None, :, None]
        bottom, top = loop[g[0, 1:-1]][None], loop[g[-1, 1:-1]][None]
        left, right = loop[g[1:-1, 0]][:, None], loop[g[1:-1, -1]][:, None]
        p00, p01, p10, p11 = (loop[g[i, j]] for i in (0, -1) for j in (0, -1))
        ruled = (1 - v) * bottom + v * top + (1 - u) * left + u * right
        corners = (1 - v) * ((1 - u) * p00 + u * p01) + v * ((1 - u) * p10 + u * p11)
        out: Floats = (ruled - corners).reshape(-1, 3)
        return out
