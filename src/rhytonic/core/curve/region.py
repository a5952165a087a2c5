"""The region closed curves enclose, and curves round a region, arcs kept where they were."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import reduce

import numpy as np
import scipy
import shapely

from ..mesh.mesh import Floats
from ..mesh.names import Ids, name
from ..mesh.topology import Ints
from .curve import STRAIGHT, Curve, Wires
from .nest import areal
from .plane import CurvePlane
from .spans import piece


def region_of(curve: Curve, plane: CurvePlane) -> shapely.Geometry:
    """What the closed runs of a curve enclose, even–odd, in its plane."""
    line = curve.divided
    flat = plane.flat(line.points)
    shapes = [areal(shapely.Polygon(flat[line.run(i)])) for i in range(line.closed.size)
              if line.closed[i] and np.diff(line.offsets)[i] >= 3]
    return reduce(lambda a, b: a.symmetric_difference(b), shapes, shapely.Polygon())


def rings_of(region: shapely.Geometry) -> list[Floats]:
    """Outlines (n, 2) of a region, counter-clockwise, holes clockwise, the last point not the first again; largest first."""
    polygons = [g for g in shapely.get_parts(region, return_index=False) if isinstance(g, shapely.Polygon) and g.area > 0]
    most = max((g.area for g in polygons), default=0.0)
    polygons = sorted((g for g in polygons if g.area > 1e-12 * most), key=lambda g: -g.area)
    rings = []
    for polygon in polygons:
        whole = shapely.orient_polygons(polygon)
        rings += [np.asarray(r.coords)[:-1] for r in (whole.exterior, *whole.interiors)]
    return rings


@dataclass(frozen=True, eq=False)
class Traced:
    """A curve made of pieces of others.

    Attributes:
        curve: its points named: those of sources whose names stay by these, all others anew.
        source, point: (P,) which source each point is one of, and its number there; −1 for others.
    """

    curve: Curve
    source: Ints
    point: Ints


class _Table:
    """The points of several divided curves, found by place."""

    def __init__(self, curves: Sequence[Curve], plane: CurvePlane) -> None:
        self.curves = curves
        lines = [c.divided for c in curves]
        self.which = np.repeat(np.arange(len(lines)), [len(x.points) for x in lines])
        self.own = np.concatenate([np.arange(len(x.points)) for x in lines])
        begin = np.concatenate([[0], np.cumsum([len(x.points) for x in lines])])
        self.following = np.full(self.own.size, -1)
        for k, line in enumerate(lines):
            self.following[begin[k] + line.edges[:, 0]] = begin[k] + line.edges[:, 1]
        self.span = np.concatenate([x.span for x in lines])
        self.step = np.concatenate([x.step for x in lines])
        self.steps = np.concatenate([x.steps for x in lines])
        bent = np.concatenate([c.wires.kind[x.span] != STRAIGHT for c, x in zip(curves, lines, strict=True)])
        on = np.maximum(self.following, 0)
        inside = (self.span[on] == self.span) & (self.step[on] == self.step + 1)
        # a point that falls onto the one before it is left out of a divided curve, and the piece there is not the span's
        self.bent = bent & (self.following >= 0) & (inside | ((self.step + 1 == self.steps) & (self.step[on] == 0)))
        flat = plane.flat(np.concatenate([x.points for x in lines]))
        self.flat = flat
        self.near = 1e-8 * max(float(np.ptp(flat, axis=0).max(initial=0.0)), 1e-300)
        self._tree = scipy.spatial.cKDTree(flat)

    def find(self, flat: Floats) -> Ints:
        """(n,) the point at each place, −1 where there is none."""
        apart, at = self._tree.query(flat)
        return np.where(apart <= self.near, at, -1).astype(np.int64)

    def edges(self, at: Ints) -> tuple[Ints, Ints]:
        """(n,) the point that begins the piece between each of a ring's points and its next, −1 where that is no piece of a
        bent span, and 1 for pieces run forward, −1 for those run back."""
        on = np.roll(at, -1)
        real = (at >= 0) & (on >= 0)
        ahead = real & (self.following[np.maximum(at, 0)] == on)
        back = real & ~ahead & (self.following[np.maximum(on, 0)] == at)
        begin = np.where(ahead, at, np.where(back, on, -1))
        begin = np.where((begin >= 0) & self.bent[np.maximum(begin, 0)], begin, -1)
        return begin, np.where(ahead, 1, -1)


def traced(rings: Sequence[Floats], curves: Sequence[Curve], stay: Sequence[bool], plane: CurvePlane, step: str,
           closed: bool = True) -> Traced | None:
    """Curves along rings made of the points of others' divided runs and of where those cross; None where nothing is left.

    Args:
        rings: (n, 2) each, places in the plane.
        curves: what the rings were made of; stay: of each, whether its points keep their names.
    """
    table = _Table(curves, plane)
    points, controls, kinds, weights, steps, ids, sources, numbers, counts = [], [], [], [], [], [], [], [], []
    for ring in rings:
        at = table.find(ring)
        ring = np.where((at >= 0)[:, None], table.flat[np.maximum(at, 0)], ring)
        there = _bends(ring, closed) | (at >= 0)
        gap = ring - np.roll(ring, 1, axis=0)
        there &= (np.hypot(gap[:, 0], gap[:, 1]) > table.near) | (not closed and np.arange(len(ring)) == 0)
        ring, at = ring[there], at[there]
        if len(ring) < (3 if closed else 2):
            continue
        begin, way = table.edges(at)
        if not closed:
            begin[-1] = -1
        groups = _grouped(table, begin, way, closed)
        first = groups[:, 0]
        found = at[first]
        names, source, number = _named(table, found, stay, step)
        points.append(plane.lifted(ring[first]))
        ids.append(names)
        sources.append(source)
        numbers.append(number)
        counts.append(first.size)
        kind, weight, count = np.full(first.size, STRAIGHT), np.ones(first.size), np.ones(first.size, np.int64)
        shaped = np.repeat(points[-1][:, None], 2, axis=1)
        for k in np.flatnonzero(begin[first] >= 0):  # as many as there are arcs and soft spans
            e = begin[first[k]]
            last = begin[groups[k, 1]]
            low, high = min(table.step[e], table.step[last]), max(table.step[e], table.step[last]) + 1
            span, total = np.array([table.span[e]]), int(table.steps[e])
            c, w = piece(curves[table.which[e]], span, np.array([low / total]), np.array([high / total]))
            shaped[k] = c[0] if way[first[k]] > 0 else c[0, ::-1]
            kind[k], weight[k], count[k] = curves[table.which[e]].wires.kind[span[0]], w[0], high - low
        controls.append(shaped)
        kinds.append(kind)
        weights.append(weight)
        steps.append(count)
    if not counts:
        return None
    wires = Wires(np.concatenate([[0], np.cumsum(counts)]), np.full(len(counts), closed), np.concatenate(kinds),
                  np.concatenate(weights), np.concatenate(steps))
    curve = Curve(np.concatenate(points), np.concatenate(controls), wires, _told_apart(np.concatenate(ids), step))
    return Traced(curve, np.concatenate(sources), np.concatenate(numbers))


def _told_apart(ids: Ids, step: str) -> Ids:
    """Ids where a point is met again, as where outlines touch, named anew from the second time on."""
    _, first, which = np.unique(ids, return_index=True, return_inverse=True)
    again = np.flatnonzero(first[which] != np.arange(ids.size))
    if again.size:
        ids = ids.copy()
        order = np.arange(again.size)
        ids[again] = name(step, "vertex", "again", again.size, ids[again][:, None], order[:, None])
    return ids


def _bends(ring: Floats, closed: bool) -> np.ndarray:
    """(n,) points at which a ring does not go straight on."""
    into, out = ring - np.roll(ring, 1, axis=0), np.roll(ring, -1, axis=0) - ring
    turn = into[:, 0] * out[:, 1] - into[:, 1] * out[:, 0]
    size = np.hypot(into[:, 0], into[:, 1]) * np.hypot(out[:, 0], out[:, 1])
    bends: np.ndarray = np.abs(turn) > 1e-7 * np.maximum(size, 1e-300)
    if not closed:
        bends[[0, -1]] = True
    return bends


def _grouped(table: _Table, begin: Ints, way: Ints, closed: bool) -> Ints:
    """(k, 2) first and last edge of each stretch of a ring that is one span of the result."""
    n = begin.size
    same = np.zeros(n, bool)  # whether an edge goes on with the span of the one before it
    before = np.roll(begin, 1)
    real = (begin >= 0) & (before >= 0)
    a, b = np.maximum(before, 0), np.maximum(begin, 0)
    same[real] = ((table.which[a] == table.which[b]) & (table.span[a] == table.span[b]) & (np.roll(way, 1) == way)
                  & (table.following[np.where(way > 0, a, b)] == np.where(way > 0, b, a)))[real]
    if not closed or same.all():
        same[0] = False
    starts = np.flatnonzero(~same)
    ends = (np.roll(starts, -1) - 1) % n
    return np.stack([starts, ends], axis=1)


def _named(table: _Table, found: Ints, stay: Sequence[bool], step: str) -> tuple[Ids, Ints, Ints]:
    """Names of a ring's points, and the source and point each of them is."""
    n = found.size
    ids = np.zeros(n, np.uint64)
    real = found >= 0
    f = np.maximum(found, 0)
    which, span, share, total = table.which[f], table.span[f], table.step[f], table.steps[f]
    parent = np.zeros(n, np.uint64)
    for k, curve in enumerate(table.curves):
        mine = real & (which == k)
        parent[mine] = curve.ids[span[mine]]
    at_point = real & (share == 0)
    kept = at_point & np.array(stay)[which]
    ids[kept] = parent[kept]
    divisor = np.maximum(np.gcd(share, total), 1)
    fresh = real & ~kept
    index = np.where(at_point[:, None], 0, np.stack([share // divisor, total // divisor], axis=1))
    ids[fresh] = name(step, "vertex", "point", int(fresh.sum()), parent[fresh][:, None], index[fresh])
    if not real.all():
        _name_crossings(ids, real, step)
    return ids, np.where(at_point, which, -1), np.where(at_point, span, -1)


def _name_crossings(ids: Ids, real: np.ndarray, step: str) -> None:
    """Points where outlines cross are named after the nearest others before and after them."""
    n = real.size
    gone = np.flatnonzero(~real)
    if not real.any():
        ids[:] = name(step, "vertex", "crossing", n, np.zeros((n, 0), np.uint64), np.arange(n)[:, None])
        return
    there = np.flatnonzero(real)
    after = np.searchsorted(there, gone)
    before = there[(after - 1) % there.size]
    parents = np.stack([ids[before], ids[there[after % there.size]]], axis=1)
    ids[gone] = name(step, "vertex", "crossing", gone.size, parents, ((gone - before) % n)[:, None])
