"""Which vertices of two chains belong together."""

from __future__ import annotations

import numpy as np

from ...mesh.geometry import Floats, lengths
from ...mesh.names import Ids
from ...mesh.topology import Ints

#: costs closer than this share of the spread tie
_TIE = 1e-9


def best_turn(a: Floats, b: Floats, ids: Ids) -> int:
    """The turn s of a closed chain b (n, 3) that minimises Σ|aᵢ − b(i+s)|²; ties to the lowest of b's ids at its start."""
    n = len(a)
    middle = (a.mean(axis=0) + b.mean(axis=0)) / 2
    p, q = a - middle, b - middle
    # the sum differs from turn to turn only by −2 Σ aᵢ·b(i+s), a circular correlation
    spectrum = np.conj(np.fft.rfft(p, axis=0)) * np.fft.rfft(q, axis=0)
    cost = -np.fft.irfft(spectrum.sum(axis=1), n)
    slack = _TIE * max(float((p**2).sum() + (q**2).sum()), 1e-300)
    best = np.flatnonzero(cost <= cost.min() + slack)
    return int(best[np.argmin(ids[best])])


def parameters(points: Floats, closed: bool) -> Floats:
    """(n,) share of the length at which each point lies; of a closed chain the way back to the first counts too."""
    steps = lengths(np.diff(points, axis=0))
    total = float(steps.sum()) + (float(np.linalg.norm(points[0] - points[-1])) if closed else 0.0)
    at = np.concatenate([[0.0], np.cumsum(steps)])
    if total <= 0.0:
        return np.linspace(0.0, 1.0, len(points), endpoint=not closed)
    return at / total


def match(a: Floats, b: Floats, closed: bool, twist: int, ids: Ids) -> Ints:
    """(L, 2) pairs of places in a and b, each chain advancing by one or standing still from row to row; for closed chains
    the last row is the first again, counted on past the end.

    Chains of equal length go in step. Otherwise each point of the longer one goes with the nearest of the other by length
    along the chain; a closed one is turned to where the squared distances are least.
    """
    n, m = len(a), len(b)
    if n == m:
        s = (best_turn(a, b, ids) + twist) % n if closed else 0
        i = np.arange(n + closed)
        return np.stack([i, i + s], axis=1)
    if n < m:
        swapped = match(b, a, closed, 0, ids)  # the longer chain leads
        rows = swapped[:, ::-1] - np.array([swapped[0, 1] // n * n, 0])
        return _turned(rows, twist) if closed else rows
    w = parameters(b, closed)
    if not closed:
        near = np.abs(parameters(a, False)[:, None] - w).argmin(axis=1)
        near[0], near[-1] = 0, m - 1
        return _path(np.maximum.accumulate(near), 0)
    u = parameters(a, True)
    wide = np.append(w, 1.0)
    best: tuple[float, int, Ints] | None = None
    for s in range(n):  # every turn of the longer chain against the start of the other
        turned = np.mod(np.roll(u, -s) - u[s], 1.0)
        near = np.abs(turned[:, None] - wide).argmin(axis=1)
        cost = float(((np.roll(a, -s, axis=0) - b[near % m]) ** 2).sum())
        if best is None or cost < best[0] * (1 - _TIE):
            best = cost, s, near
    assert best is not None
    _, s, near = best
    return _turned(_path(np.append(near, m), s), twist)


def _turned(rows: Ints, twist: int) -> Ints:
    """The second chain turned on by whole vertices."""
    out: Ints = rows + np.array([0, twist])
    return out


def _path(near: Ints, start: int) -> Ints:
    """Rows that walk to each (i, near[i]) in single steps: both ahead, then the second alone."""
    rows = [(0, int(near[0]))]
    for i in range(1, near.size):  # as many rows as the chains have points
        j = rows[-1][1]
        rows.append((i, min(j + 1, int(near[i]))))
        rows += [(i, k) for k in range(j + 2, int(near[i]) + 1)]
    out: Ints = np.array(rows, np.int64) + np.array([start, 0])
    return out
