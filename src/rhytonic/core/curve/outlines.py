"""Outlines of outlines: moved sideways, given thickness, put together."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import reduce
from typing import Literal

import numpy as np
import shapely

from ..errors import StepError
from ..mesh.mesh import Floats
from ..mesh.names import Ids, name
from ..mesh.topology import Ints
from .curve import ARC, STEPS, STRAIGHT, Curve, Wires
from .nest import areal, nested
from .parallel import Corners, FlatRun, Side, covered, flat_run, grid_of, offset_run
from .plane import CurvePlane, plane_of
from .region import Traced, region_of, rings_of, traced
from .spans import Spans, as_one, assembled
from .straightened import round_arcs, straightened

Ends = Literal["flat", "round"]
Operation = Literal["unite", "subtract", "intersect"]


@dataclass(frozen=True, eq=False)
class Outlined:
    """A curve made beside another.

    Attributes:
        curve: the new one.
        source: (P,) the point of the other that each stands beside; −1 where lines cross.
        resolved: whether it would have crossed itself, and what crosses was cut off.
    """

    curve: Curve
    source: Ints
    resolved: bool


def offset_curve(curve: Curve, step: str, distance: float, corners: Corners) -> Outlined:
    """Every run at a distance: closed ones outward from what they enclose, open ones to the left as they run, seen against
    the normal of their plane.

    Raises:
        StepError: the curve is not flat, or nothing is left of it.
    """
    plane, plain, runs = _flat(curve, step, "an offset")
    signs = _outward(curve, plane)
    sides = [offset_run(run, distance * sign, corners) for run, sign in zip(runs, signs, strict=True)]
    raw, source = _raw(plain, sides, plane, step, "offset")
    if all(s.sound for s in sides) and _simple(raw, plane) and _nested_alike(plain, raw, plane):
        return Outlined(raw, _points_of(curve, plain, source), False)
    band = shapely.union_all([covered(run, plain, plane, max(d, 0.0), min(d, 0.0), corners)
                              for run, d in ((run, distance * sign) for run, sign in zip(runs, signs, strict=True))])
    found: list[Traced | None] = []
    closed = [i for i, run in enumerate(runs) if run.closed]
    if closed:
        region, grid = region_of(plain, plane), grid_of(plane.flat(plain.points))
        region = region.union(band, grid_size=grid) if distance > 0 else region.difference(band, grid_size=grid)
        found.append(traced(rings_of(region), [raw], [True], plane, step))
    if len(closed) < len(runs):
        found.append(traced(_open_pieces(raw, plain, plane, abs(distance)), [raw], [True], plane, step, closed=False))
    return _resolved(curve, plain, found, source, "nothing is left of the curve at a distance of {length}; "
                     "take a shorter one", abs(distance))


def thickened(curve: Curve, step: str, left: float, right: float, ends: Ends, corners: Corners) -> Outlined:
    """The outline of a curve with a thickness to its left and right: one closed run for each open one, two for a closed.

    Raises:
        StepError: the curve is not flat, or has no length.
    """
    plane, plain, runs = _flat(curve, step, "a thickness")
    raws = [_banded(plain, run, left, right, ends, corners, plane, step) for run in runs]
    raw = _as_one([r for r, _, _ in raws])
    source = np.concatenate([s for _, s, _ in raws])
    if all(ok for _, _, ok in raws) and _simple(raw, plane):
        return Outlined(raw, _points_of(curve, plain, source), False)
    bands = [_covered_band(run, plain, plane, left, right, ends, corners) for run in runs]
    region = bands[0] if len(bands) == 1 else shapely.union_all(bands, grid_size=grid_of(plane.flat(plain.points)))
    found = [traced(rings_of(region), [raw], [True], plane, step)]
    return _resolved(curve, plain, found, source, "nothing is left of the outline", 0.0)


def combined(curve: Curve, others: Sequence[Curve], operation: Operation, step: str) -> Outlined:
    """What the closed runs of a curve enclose united with, cut by, or cut down to what others enclose in its plane.

    Raises:
        StepError: a curve is open or not in the plane of the first, or nothing is left.
    """
    plane = plane_of(curve, "combining")
    for k, one in enumerate((curve, *others)):
        who = "this curve" if k == 0 else f"curve {k} of the others"
        if not one.wires.closed.size or not one.wires.closed.all():
            raise StepError(f"{who} is open; combining works on closed curves", "parts" if k else None)
        off = np.abs((one.divided.points - plane.origin) @ plane.normal)
        reach = float(np.ptp(curve.divided.points, axis=0).max())
        if off.max(initial=0.0) > 1e-6 * reach:
            raise StepError(f"{who} lies off the plane of this one by up to {{length}}; move or flatten it", "parts",
                            float(off.max()))
    regions = [region_of(one, plane) for one in (curve, *others)]
    if operation == "unite":
        region = shapely.union_all(regions)
    elif operation == "subtract":
        region = regions[0].difference(shapely.union_all(regions[1:]))
    else:
        region = reduce(lambda a, b: a.intersection(b), regions)
    out = traced(rings_of(region), [curve, *others], [True] + [False] * len(others), plane, step)
    if out is None:
        told = {"subtract": "nothing is left: the others cover this curve", "unite": "the curves enclose nothing",
                "intersect": "the curves have no area in common"}[operation]
        raise StepError(told, "parts")
    return Outlined(out.curve, np.where(out.source == 0, out.point, -1), False)


def _flat(curve: Curve, step: str, what: str) -> tuple[CurvePlane, Curve, list[FlatRun]]:
    """The plane, the curve with soft spans and arcs of ellipses divided, and its runs."""
    plane = plane_of(curve, what)
    w = curve.wires
    if not w.closed.size or (np.diff(w.offsets) < 2).any():
        raise StepError(f"{what} needs a curve that has a length, and a run of this one is a single point")
    plain = straightened(curve, step, (w.kind != STRAIGHT) & ~round_arcs(curve))
    return plane, plain, [flat_run(plain, r, plane) for r in range(w.closed.size)]


def _outward(curve: Curve, plane: CurvePlane) -> list[float]:
    """Of each run, −1 where outward is to its right, as for one that has what is enclosed on its left; else 1."""
    line = curve.divided
    flat = plane.flat(line.points)
    closed = np.flatnonzero(line.closed).tolist()
    out = [1.0] * line.closed.size
    if closed:
        for run, turned in zip(closed, nested([flat[line.run(r)] for r in closed]).turned, strict=True):
            out[run] = 1.0 if turned else -1.0
    return out


def _raw(curve: Curve, sides: Sequence[Side], plane: CurvePlane, step: str, role: str) -> tuple[Curve, Ints]:
    flat, corner = (np.concatenate([getattr(s, n) for s in sides]) for n in ("flat", "corner"))
    source, which = (np.concatenate([getattr(s, n) for s in sides]) for n in ("source", "which"))
    kind, weight, steps = (np.concatenate([getattr(s, n) for s in sides]) for n in ("kind", "weight", "steps"))
    wires = Wires(np.concatenate([[0], np.cumsum([len(s.flat) for s in sides])]), np.array([s.closed for s in sides]),
                  kind, weight, steps)
    ids = name(step, "vertex", role, source.size, curve.ids[source][:, None], which[:, None])
    return Curve(plane.lifted(flat), np.repeat(plane.lifted(corner)[:, None], 2, axis=1), wires, ids), source


def _as_one(curves: Sequence[Curve]) -> Curve:
    """Curves as the runs of one."""
    w = [c.wires for c in curves]
    begin = np.concatenate([[0], np.cumsum([len(c.points) for c in curves])])
    offsets = np.concatenate([[0], *(x.offsets[1:] + b for x, b in zip(w, begin, strict=False))])
    wires = Wires(offsets, np.concatenate([x.closed for x in w]), np.concatenate([x.kind for x in w]),
                  np.concatenate([x.weight for x in w]), np.concatenate([x.steps for x in w]))
    return Curve(np.concatenate([c.points for c in curves]), np.concatenate([c.controls for c in curves]), wires,
                 np.concatenate([c.ids for c in curves]))


def _banded(curve: Curve, run: FlatRun, left: float, right: float, ends: Ends, corners: Corners, plane: CurvePlane,
            step: str) -> tuple[Curve, Ints, bool]:
    """The outline round one run as it comes, the point each of its own stands beside, and whether it is sound."""
    sides = [offset_run(run, -right, corners), offset_run(run, left, corners)]
    ok = all(s.sound for s in sides)
    one, source = _raw(curve, sides[:1], plane, step, "right")
    two, source_two = _raw(curve, sides[1:], plane, step, "left")
    sources = np.concatenate([source, source_two])
    if run.closed:
        return _as_one([one, two]), sources, ok
    n, m = len(one.points), len(two.points)
    points, ids = np.concatenate([one.points, two.points]), np.concatenate([one.ids, two.ids])
    spans = [Spans.of(one), Spans.of(two).numbered(lambda v: v + n)]
    spans[1] = spans[1].backward(np.ones(spans[1].count, bool))
    for end, (a, b), out in ((0, (n - 1, n + m - 1), run.last[-1]), (1, (n, 0), -run.first[0])):
        number = np.array([run.number[-1 if end == 0 else 0]])
        if ends == "flat":
            spans.append(Spans.straight(np.array([a]), np.array([b])))
            continue
        reach = (left + right) / 2 * plane.axes.T @ out
        top = (points[a] + points[b]) / 2 + reach
        at = len(points)
        points, sources = np.concatenate([points, top[None]]), np.concatenate([sources, number])
        ids = np.concatenate([ids, name(step, "vertex", "end", 1, curve.ids[number][:, None], np.array([[end]]))])
        controls = np.stack([np.tile(points[a] + reach, (2, 1)), np.tile(points[b] + reach, (2, 1))])
        spans.append(Spans(np.array([a, at]), np.array([at, b]), np.full(2, ARC), np.full(2, np.sqrt(0.5)),
                           np.full(2, STEPS), controls))
    made, order = assembled(points, ids, as_one(*spans))
    return made, sources[order], ok


def _covered_band(run: FlatRun, curve: Curve, plane: CurvePlane, left: float, right: float, ends: Ends,
                  corners: Corners) -> shapely.Geometry:
    shapes = [covered(run, curve, plane, left, -right, corners)]
    if ends == "round" and not run.closed:
        for at, out, more in ((run.at[-1], run.last[-1], left - right), (run.at[0], -run.first[0], right - left)):
            across = np.array([-out[1], out[0]])
            middle, radius = at + across * more / 2, (left + right) / 2
            angle = np.linspace(0, np.pi, 2 * STEPS + 1)
            arms = np.cos(angle)[:, None] * -across + np.sin(angle)[:, None] * out
            shapes.append(shapely.Polygon(middle + radius * arms))
    return shapes[0] if len(shapes) == 1 else shapely.union_all(shapes, grid_size=grid_of(run.at))


def _simple(curve: Curve, plane: CurvePlane) -> bool:
    """Whether no two pieces cross, and none touches another."""
    line = curve.divided
    flat = plane.flat(line.points)
    rings = [flat[line.run(i)] for i in range(line.closed.size)]
    lines = [np.concatenate([r, r[:1]]) if c else r for r, c in zip(rings, line.closed, strict=True)]
    return bool(shapely.is_simple(shapely.MultiLineString(lines)))


def _nested_alike(before: Curve, after: Curve, plane: CurvePlane) -> bool:
    """Whether closed runs lie in each other as they did: one may pass another without crossing it."""
    closed = np.flatnonzero(before.wires.closed)
    if closed.size < 2:
        return True

    def inside(curve: Curve) -> list[tuple[int, int]]:
        line = curve.divided
        flat = plane.flat(line.points)
        shapes = [areal(shapely.Polygon(flat[line.run(int(i))])) for i in closed]
        tree = shapely.STRtree(shapes)
        a, b = tree.query(shapes, predicate="within")
        return sorted((int(i), int(j)) for i, j in zip(a, b, strict=True) if i != j)

    return inside(before) == inside(after)


def _open_pieces(raw: Curve, curve: Curve, plane: CurvePlane, distance: float) -> list[Floats]:
    """Of the lines beside open runs, what keeps the distance from all of them; in the order they run."""
    line, source = raw.divided, curve.divided
    flat, own = plane.flat(line.points), plane.flat(source.points)
    is_open = [i for i in range(line.closed.size) if not line.closed[i]]
    path = shapely.MultiLineString([own[source.run(i)] for i in is_open])
    noded = shapely.node(shapely.MultiLineString([flat[line.run(i)] for i in is_open]))
    parts = [g for g in shapely.get_parts(noded)
             if shapely.distance(shapely.line_interpolate_point(g, 0.5, normalized=True), path) >= distance * (1 - 1e-3)]
    merged = shapely.line_merge(shapely.MultiLineString(parts)) if parts else None
    return [] if merged is None else [np.asarray(g.coords) for g in shapely.get_parts(merged)]


def _resolved(curve: Curve, plain: Curve, some: Sequence[Traced | None], source: Ints, nothing: str,
              length: float) -> Outlined:
    found = [t for t in some if t is not None]
    if not found:
        raise StepError(nothing, "distance", length)
    point = np.concatenate([np.where(t.point >= 0, source[np.maximum(t.point, 0)], -1) for t in found])
    return Outlined(_as_one([t.curve for t in found]), _points_of(curve, plain, point), True)


def _points_of(curve: Curve, plain: Curve, source: Ints) -> Ints:
    """Points of a straightened curve as those of the one it was made of; −1 for those that came in."""
    if plain is curve:
        return source
    ids: Ids = plain.ids[np.maximum(source, 0)]
    order = np.argsort(curve.ids)
    at = np.minimum(np.searchsorted(curve.ids[order], ids), curve.ids.size - 1)
    return np.where((source >= 0) & (curve.ids[order][at] == ids), order[at], -1)
