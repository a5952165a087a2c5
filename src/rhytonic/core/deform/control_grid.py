"""A box of control points that carries what lies in it."""

from __future__ import annotations

import math
from collections import OrderedDict
from dataclasses import dataclass, field
from functools import cached_property
from threading import Lock
from typing import Literal

import numpy as np

from ..mesh.geometry import Floats
from ..mesh.topology import Bools, Ints

Basis = Literal["bernstein", "bspline"]
#: beside the box's size, by how much a point may lie outside it and still count as on its face
_SLACK = 1e-9
#: numbers of a table of weights that is worth keeping whole
_MOST_WEIGHTS = 6_000_000
#: tables that one lattice keeps: of what it acts on now, and of what it acted on a moment ago
_TABLES = 2


def bernstein(count: int, u: Floats) -> Floats:
    """(n, count + 1) Bernstein polynomials of that degree at u in 0…1.

    G. Farin, Curves and Surfaces for CAGD, 5th edition, 2002, section 5.1.
    """
    i = np.arange(count + 1)
    ways = np.array([float(math.comb(count, k)) for k in range(count + 1)])
    out: Floats = ways * u[:, None] ** i * (1.0 - u)[:, None] ** (count - i)
    return out


def bspline(count: int, u: Floats) -> Floats:
    """(n, count + 1) weights of control points that stand evenly, by uniform cubic B-splines whose phantom points beyond the
    ends lie on the line of the last two: the ends are met, lines stay lines, a pull is felt two cells far.

    R. Bartels, J. Beatty, B. Barsky, An Introduction to Splines, 1987, chapter 4 (uniform) and 4.4 (phantom vertices).
    """
    t = u * count
    cell = np.clip(np.floor(t).astype(np.int64), 0, count - 1)
    f = t - cell
    four = np.stack([(1 - f) ** 3, 3 * f**3 - 6 * f**2 + 4, -3 * f**3 + 3 * f**2 + 3 * f + 1, f**3], axis=1) / 6
    wide = np.zeros((len(u), count + 3))  # with a phantom at each end
    rows = np.arange(len(u))
    for k in range(4):
        wide[rows, cell + k] = four[:, k]
    out = wide[:, 1:-1].copy()
    out[:, 0] += 2 * wide[:, 0]
    out[:, 1] -= wide[:, 0]
    out[:, -1] += 2 * wide[:, -1]
    out[:, -2] -= wide[:, -1]
    return out


def weights(basis: Basis, count: int, u: Floats) -> Floats:
    """(n, count + 1) weights along one axis."""
    return bernstein(count, u) if basis == "bernstein" else bspline(count, u)


class Tables:
    """Weights worked out for points, kept for as long as the same array of points comes: the points of a drag."""

    def __init__(self, points: int = 0, controls: int = 0) -> None:
        """For about so many points and control points."""
        self.room = 8 * _TABLES * min(points * controls, _MOST_WEIGHTS)
        self._lock = Lock()
        self._known: OrderedDict[tuple[int, bytes], tuple[Floats, Floats | None]] = OrderedDict()

    def get(self, points: Floats, moved: bytes) -> Floats | None:
        """(n, c) weights kept for points, None where there are none."""
        with self._lock:
            held = self._known.get((id(points), moved))
            return held[1] if held is not None and held[0] is points else None

    def put(self, points: Floats, moved: bytes, table: Floats) -> None:
        """Keep weights within the budget."""
        if points.flags.writeable or table.size > _MOST_WEIGHTS:
            return
        with self._lock:
            self._known[(id(points), moved)] = points, table
            while len(self._known) > _TABLES:
                self._known.popitem(last=False)


@dataclass(frozen=True)
class ControlGrid:
    """Points (l + 1) × (m + 1) × (n + 1) on a box, each moved by an offset that what is inside follows.

    Trivariate Bernstein polynomials, T. Sederberg and S. Parry, Free-form deformation of solid geometric models, SIGGRAPH
    1986, or uniform cubic B-splines. The offsets are blended, not the places: where none is moved nothing moves.

    Attributes:
        low, high: (3,) corners of the box, metres.
        offsets: (l + 1, m + 1, n + 1, 3) metres.
        basis: how far a pull is felt: everywhere, or nearby.
        follow: whether points beyond the box go with the nearest point on it; else they stay.
        tables: where weights are kept between calls.
    """

    low: Floats
    high: Floats
    offsets: Floats
    basis: Basis = "bernstein"
    follow: bool = False
    tables: Tables = field(default_factory=Tables)

    @cached_property
    def moved(self) -> Ints:
        """(k, 3) indices of the control points that have an offset."""
        return np.argwhere(self.offsets.any(axis=3))

    def inside(self, points: Floats) -> Bools:
        """(n,) which points lie in the box."""
        slack = _SLACK * float(np.max(self.high - self.low, initial=0.0))
        out: Bools = np.logical_and.reduce((points >= self.low - slack) & (points <= self.high + slack), axis=1)
        return out

    def places(self, points: Floats) -> Floats:
        """(n, 3) where points lie in the box, 0…1 along each axis, those beyond it on its faces; ½ across a flat one."""
        size = self.high - self.low
        flat = size <= 0
        out = np.clip((points - self.low) / np.where(flat, 1.0, size), 0.0, 1.0)
        out[:, flat] = 0.5
        return out

    def apply(self, points: Floats) -> Floats:
        """(n, 3) points carried."""
        if not len(self.moved) or not len(points):
            return points
        i, j, k = self.moved.T
        pattern = self.moved.tobytes()
        table = self.tables.get(points, pattern)
        if table is None:
            u, v, w = self.places(points).T
            n = [c - 1 for c in self.offsets.shape[:3]]
            if len(points) * len(i) > _MOST_WEIGHTS:
                return self._factored(points, u, v, w)
            table = weights(self.basis, n[0], u)[:, i]
            table *= weights(self.basis, n[1], v)[:, j]
            table *= weights(self.basis, n[2], w)[:, k]
            if not self.follow:
                table[~self.inside(points)] = 0.0
            self.tables.put(points, pattern, table)
        out: Floats = table @ self.offsets[i, j, k]
        out += points
        return out

    def _factored(self, points: Floats, u: Floats, v: Floats, w: Floats) -> Floats:
        """The same an axis at a time, where the whole table would be too large."""
        k, m, n = (c - 1 for c in self.offsets.shape[:3])
        wu, wv, ww = weights(self.basis, k, u), weights(self.basis, m, v), weights(self.basis, n, w)
        out = points.copy()
        block = 50_000
        for start in range(0, len(points), block):
            some = slice(start, start + block)
            first = (wu[some] @ self.offsets.reshape(k + 1, -1)).reshape(-1, m + 1, (n + 1) * 3)
            second = np.einsum("pj,pjr->pr", wv[some], first).reshape(-1, n + 1, 3)
            move = np.einsum("pk,pkc->pc", ww[some], second)
            if not self.follow:
                move[~self.inside(points[some])] = 0.0
            out[some] += move
        return out

    def displacement(self, places: tuple[Floats, Floats, Floats]) -> Floats:
        """(a, b, c, 3) offsets on a grid of places, 0…1 along each axis."""
        tables = [weights(self.basis, c - 1, x) for c, x in zip(self.offsets.shape[:3], places, strict=True)]
        out: Floats = np.einsum("ai,bj,ck,ijkd->abcd", *tables, self.offsets, optimize=True)
        return out


def redivided(offsets: Floats, divisions: tuple[int, int, int], basis: Basis) -> tuple[Floats, float]:
    """Offsets for other divisions that move what is inside as the given ones do, and the most by which they differ, metres.

    A Bernstein axis with more cells is the same polynomial at a higher degree, exactly:
    d'ᵢ = i/(n+1)·dᵢ₋₁ + (1 − i/(n+1))·dᵢ (Farin 2002, section 6.1). Every other axis is fitted by least
    squares, its ends kept.

    Args:
        offsets: (l + 1, m + 1, n + 1, 3).
        divisions: cells along each axis from now on.
    """
    out = offsets
    for axis, to in enumerate(divisions):
        have = out.shape[axis] - 1
        if to != have:
            out = np.moveaxis(np.tensordot(_redividing(have, to, basis), out, axes=(1, axis)), 0, axis)
    zero = np.zeros(3)
    places = tuple(np.linspace(0.0, 1.0, 8 * max(a - 1, b) + 1 if max(a - 1, b) <= 8 else 65)
                   for a, b in zip(offsets.shape[:3], divisions, strict=True))
    assert len(places) == 3
    old = ControlGrid(zero, zero, offsets, basis).displacement(places)
    new = ControlGrid(zero, zero, out, basis).displacement(places)
    return out, float(np.sqrt(((new - old) ** 2).sum(axis=3)).max())


def _redividing(have: int, to: int, basis: Basis) -> Floats:
    """(to + 1, have + 1) control values of an axis with ``to`` cells for those of one with ``have``."""
    if basis == "bernstein" and to > have:
        out = np.eye(have + 1)
        for n in range(have, to):
            share = np.arange(n + 2)[:, None] / (n + 1)
            nothing = np.zeros((1, have + 1))
            out = share * np.concatenate([nothing, out]) + (1 - share) * np.concatenate([out, nothing])
        return out
    samples, weight = np.polynomial.legendre.leggauss(4 * max(have, to) + 4)
    u, root = (samples + 1) / 2, np.sqrt(weight)[:, None]
    old, new = root * weights(basis, have, u), root * weights(basis, to, u)
    ends = np.zeros((to + 1, have + 1))
    ends[0, 0] = ends[-1, -1] = 1.0
    if to > 1:
        ends[1:-1] = np.linalg.lstsq(new[:, 1:-1], old - new @ ends, rcond=None)[0]
    return ends
