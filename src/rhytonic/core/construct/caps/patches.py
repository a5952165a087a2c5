"""Loops of vertices filled with faces: one, a fan, or a grid of quads."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.lib.stride_tricks import sliding_window_view

from ...errors import StepError
from ...mesh.geometry import Floats
from ...mesh.topology import Ints
from .quad_grid import QuadGrid

#: corners that are tried together
_AT_ONCE = 1024

#: of every start: points (s, 3, k+1) of a side, the sign that its ways have, and its ways (s, 3, k)
Side = tuple[Floats, float, Floats]
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
    """The corner to begin at so that the grid's edges are shortest in sum of squares; ties to the earliest.

    Begun at the corner opposite it is the same grid, and a square one from every corner: the first of them are tried.
    """
    n = len(loop) // (4 if grid.rows == grid.columns else 2)
    costs = np.concatenate([_costs(loop, grid, at, min(_AT_ONCE, n - at)) for at in range(0, n, _AT_ONCE)])
    return int(np.flatnonzero(costs <= costs.min() * (1 + 1e-9))[0])


def _costs(loop: Floats, grid: QuadGrid, start: int, count: int) -> Floats:
    """(count,) sum of the squares of the grid's edges when it begins at each corner from ``start`` on.

    A point of the grid is (1−v)·bottom + v·top + (1−u)·left + u·right less the bilinear corners, so that the step from
    one column to the next is the blend of the steps on bottom and top and something that depends on the row alone; the
    squares are summed in closed form.
    """
    r, c = grid.rows, grid.columns
    around = np.concatenate([loop - loop.mean(axis=0)] * 3)[start:]
    onward = np.diff(around, axis=0)

    def side(first: int, steps: int, back: bool) -> Side:
        """A side as a view of the loop."""
        points = sliding_window_view(around[first:first + count + steps], steps + 1, axis=0)
        ways = sliding_window_view(onward[first:first + count + steps - 1], steps, axis=0)
        return (points[:, :, ::-1], -1.0, ways[:, :, ::-1]) if back else (points, 1.0, ways)

    bottom, right = side(0, c, False), side(c, r, False)
    top, left = side(c + r, c, True), side(2 * c + r, r, True)
    return _steps(bottom, top, left[0], right[0]) + _steps(left, right, bottom[0], top[0])


def _steps(one: Side, two: Side, first: Floats, last: Floats) -> Floats:
    """(s,) the squares of the steps along two sides, in all rows between ``first`` and ``last`` (s, 3, r+1)."""
    c, r = one[2].shape[2], first.shape[2] - 1
    v = np.arange(r + 1) / r
    weights = np.stack([1 - v, v])
    square = weights @ weights.T  # of the weights of one and two
    a, b = one[2], two[2]
    out = square[0, 0] * _sum(a, a) + square[1, 1] * _sum(b, b) + 2 * square[0, 1] * one[1] * two[1] * _sum(a, b)
    along = np.stack([points[:, :, -1] - points[:, :, 0] for points, _, _ in (one, two)])  # (2, s, 3)
    blends = np.stack([np.einsum("ski,i->sk", last, w) - np.einsum("ski,i->sk", first, w) for w in weights])
    inner = np.einsum("wsk,wsk->s", along, blends)
    outer = np.einsum("wsk,xsk,wx->s", along, along, square)
    own = _sum(last, last) + _sum(first, first) - 2 * _sum(last, first) - 2 * inner + outer
    # each row's own part of a step is its way from first to last less the blended sides, a c-th of it
    total: Floats = out + (own + 2 * (inner - outer)) / c
    return total


def _sum(a: Floats, b: Floats) -> Floats:
    out: Floats = np.einsum("skj,skj->s", a, b)
    return out
