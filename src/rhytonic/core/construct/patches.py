"""Loops of vertices filled with faces: one, a fan, or a grid of quads."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from ..errors import StepError
from ..mesh.geometry import Floats
from ..mesh.topology import Ints
from .quad_grid import QuadGrid

Style = Literal["ngon", "fan", "quads"]


@dataclass(frozen=True)
class Patch:
    """Faces over a loop of n points: ``faces`` (f, k) number the loop's points from 0 and the new ones from n on.

    ``start`` is the loop's point the grid begins at, ``added`` how many new points there are.
    """

    faces: Ints
    start: int
    added: int
    style: Style

    def points(self, loop: Floats) -> Floats:
        """(added, 3) the new points."""
        if self.style == "fan":
            middle: Floats = loop.mean(axis=0)
            return middle[None]
        if self.style == "quads" and self.added:
            return QuadGrid.for_loop(len(loop)).coons(np.roll(loop, -self.start, axis=0))
        return np.zeros((0, 3))


def patch(loop: Floats, style: Style) -> Patch:
    """Fill a loop (n, 3) of points, turning as the loop does.

    Raises:
        StepError: quads are asked for and n is odd.
    """
    n = len(loop)
    if style == "ngon":
        return Patch(np.arange(n)[None], 0, 0, style)
    if style == "fan":
        k = np.arange(n)
        return Patch(np.stack([k, (k + 1) % n, np.full(n, n)], axis=1), 0, 1, style)
    if n % 2:
        raise StepError(f"a loop of {n} corners cannot become quads alone without a new point on it, as every quad grid has "
                        "an even outline; add or dissolve one of its points", "pick")
    grid = QuadGrid.for_loop(n)
    start = best_start(loop, grid)
    faces = grid.faces()
    return Patch(np.where(faces < n, (faces + start) % n, faces), start, grid.inner, style)


def best_start(loop: Floats, grid: QuadGrid) -> int:
    """The corner to begin at so that the grid's edges are shortest in sum of squares; ties to the earliest."""
    n, g = len(loop), grid.lattice
    pairs = np.concatenate([np.stack([g[:, :-1].ravel(), g[:, 1:].ravel()], axis=1),
                            np.stack([g[:-1].ravel(), g[1:].ravel()], axis=1)])
    costs = np.empty(n)
    for start in range(n):  # once for each corner of the pick
        turned = np.roll(loop, -start, axis=0)
        points = np.concatenate([turned, grid.coons(turned)]) if grid.inner else turned
        costs[start] = ((points[pairs[:, 0]] - points[pairs[:, 1]]) ** 2).sum()
    return int(np.flatnonzero(costs <= costs.min() * (1 + 1e-9))[0])
