"""Lines beside a run at a distance, joined at corners: straight spans and arcs of circles stay what they are."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
import shapely

from ..mesh.mesh import Floats
from ..mesh.topology import Ints
from .curve import ARC, STEPS, STRAIGHT, Curve
from .nest import areal
from .plane import CurvePlane

Corners = Literal["mitre", "round"]
#: a mitre longer than so many times the distance is cut off
MITRE_LIMIT = 10.0
#: a joint that turns by more than this, in radians, is two arcs
_WIDE = np.radians(120.0)


@dataclass(frozen=True, eq=False)
class Side:
    """A run moved sideways; one to three points for each of the run's, more where it is joined round the outside.

    Attributes:
        flat: (n, 2) places; corner: (n, 2) where an arc's tangents meet.
        kind, weight, steps: (n,) of the span from each point to the next.
        source: (n,) the curve's point each one stands beside; which: (n,) of that point's several, 0 where it has one.
        closed: whether it comes back.
        sound: whether no span runs backwards and no joint falls on the inside of an arc.
    """

    flat: Floats
    corner: Floats
    kind: Ints
    weight: Floats
    steps: Ints
    source: Ints
    which: Ints
    closed: bool
    sound: bool


@dataclass(frozen=True, eq=False)
class FlatRun:
    """One run in its plane.

    Attributes:
        number: (n,) its points in the curve; at, corner: (n, 2); kind, weight, steps: (n,) of the spans.
        first, last: (m, 2) unit directions in which each of m spans begins and ends.
    """

    number: Ints
    at: Floats
    corner: Floats
    kind: Ints
    weight: Floats
    steps: Ints
    first: Floats
    last: Floats
    closed: bool


def flat_run(curve: Curve, run: int, plane: CurvePlane) -> FlatRun:
    """A run of straight spans and arcs of circles, in a plane."""
    w = curve.wires
    number = np.arange(w.offsets[run], w.offsets[run + 1])
    closed = bool(w.closed[run])
    at, corner = plane.flat(curve.points[number]), plane.flat(curve.controls[number, 0])
    spans = number.size if closed else number.size - 1
    a, b, c = at[:spans], np.roll(at, -1, axis=0)[:spans], corner[:spans]
    arc = (w.kind[number] == ARC)[:spans, None]
    return FlatRun(number, at, corner, w.kind[number], w.weight[number], w.steps[number], _unit(np.where(arc, c, b) - a),
                   _unit(b - np.where(arc, c, a)), closed)


def offset_run(run: FlatRun, distance: float, corners: Corners) -> Side:
    """The run at a distance to its left; to its right where that is negative."""
    n, d = run.number.size, distance
    m = len(run.first)
    begin, end = _left(run.first), _left(run.last)
    # what arrives at each point and what leaves it; at the ends of an open run both are one
    arrives = np.roll(np.arange(n), 1) if run.closed else np.maximum(np.arange(n) - 1, 0)
    leaves = np.arange(n) if run.closed else np.minimum(np.arange(n), m - 1)
    n_in, n_out = end[arrives], begin[leaves]
    if not run.closed:
        n_in[0], n_out[-1] = n_out[0], n_in[-1]
    t_in, t_out = _right(n_in), _right(n_out)
    dot = np.clip(np.einsum("ij,ij->i", n_in, n_out), -1.0, 1.0)
    turn = np.arctan2(t_in[:, 0] * t_out[:, 1] - t_in[:, 1] * t_out[:, 0], dot)
    smooth = np.abs(turn) < 1e-7
    inner = ~smooth & (d * turn > 0)
    outer = ~smooth & ~inner
    arcs = run.kind == ARC
    by_arc = arcs[arrives] | arcs[leaves]
    half = np.cos(turn / 2)
    too_long = half * MITRE_LIMIT < 1
    with np.errstate(divide="ignore", invalid="ignore"):
        mitre = run.at + d * (n_in + n_out) / (1 + dot)[:, None]
    middle = run.at + d * _unit(n_in + n_out)
    wide = np.abs(turn) > _WIDE
    round_joint = outer & (corners == "round")
    count = np.ones(n, np.int64)
    count[round_joint] = np.where(wide, 3, 2)[round_joint]
    mitred = outer & (corners == "mitre")
    count[mitred] = np.where(too_long, 2, np.where(by_arc, 3, 1))[mitred]
    source = np.repeat(np.arange(n), count)
    place = np.arange(source.size) - np.repeat(np.cumsum(count) - count, count)
    total = count[source]
    single, head, tail = total == 1, place == 0, place == total - 1
    ends = np.where(head[:, None], run.at[source] + d * n_in[source], run.at[source] + d * n_out[source])
    mid = np.where((round_joint & wide)[source, None], middle[source], mitre[source])
    back = inner & too_long  # turned back on itself: where both sides meet is far off, and is cut off afterwards
    flat = np.where(single[:, None], np.where((smooth | back)[source, None], ends, mitre[source]),
                    np.where((head | tail)[:, None], ends, mid))
    # spans: the source's own from the last point of each, joints from the others
    own = tail & (leaves[source] == source)
    joint_arc = round_joint[source] & ~tail
    kind = np.where(own & arcs[source], ARC, np.where(joint_arc, ARC, STRAIGHT))
    tangents = np.einsum("ij,ij->i", run.first, run.last)
    own_corner = np.zeros((n, 2))
    with np.errstate(divide="ignore", invalid="ignore"):
        own_corner[:m] = run.corner[:m] + d * (begin + end) / (1 + tangents)[:, None]
    corner = np.where((own & arcs[source])[:, None], own_corner[source], flat)
    weight = np.where(own & arcs[source], run.weight[source], 1.0)
    steps = np.where(own & arcs[source], run.steps[source], 1)
    j = np.flatnonzero(joint_arc)
    if j.size:
        s = source[j]
        part = np.where(wide[s], turn[s] / 2, turn[s])
        at = np.where((place[j] == 0)[:, None], n_in[s], _unit(n_in[s] + n_out[s]))
        aim = _turned(at, part / 2)
        corner[j] = run.at[s] + d * aim / np.cos(part / 2)[:, None]
        weight[j] = np.cos(part / 2)
        steps[j] = np.maximum(1, np.round(STEPS * np.abs(part) / (np.pi / 2) - 1e-9)).astype(np.int64)
    following = np.roll(flat, -1, axis=0)
    goal = np.where((kind == ARC)[:, None], corner, following)
    ahead = np.einsum("ij,ij->i", goal - flat, run.first[leaves[source]])
    sound = not (inner & by_arc).any() and not back.any() and bool((ahead[own] > 0).all())
    return Side(flat, corner, kind, weight, steps, run.number[source], np.where(single, 0, place + 1), run.closed, sound)


def covered(run: FlatRun, curve: Curve, plane: CurvePlane, left: float, right: float, corners: Corners) -> shapely.Geometry:
    """What lies between two lines beside a run, those to its left and right at distances told to the left: for each straight
    piece all that stands square to it, and at each corner what joins those on its outside. Where both lines cross
    themselves this is what they cover all the same."""
    line = curve.divided
    own = (line.span >= run.number[0]) & (line.span <= run.number[-1])
    points = plane.flat(line.points[own])
    span = line.span[own] - run.number[0]
    share = line.step[own] / line.steps[own]
    count = len(points)
    pieces = np.arange(count if run.closed else count - 1)
    on = (pieces + 1) % count
    arc = run.kind[span[pieces]] == ARC
    upto = np.where(share[on] > 0, share[on], 1.0)
    turned = [_between(run, span[pieces], s) for s in (share[pieces], upto)]
    square = _left(_unit(points[on] - points[pieces]))
    one, two = (np.where(arc[:, None], t, square) for t in turned)
    quads = np.stack([points[pieces] + right * one, points[on] + right * two, points[on] + left * two,
                      points[pieces] + left * one], axis=1)
    shapes = [areal(q) for q in shapely.polygons(quads)]
    for distance in (left, right):
        if distance:
            shapes += _joints(run, offset_run(run, distance, corners), distance)
    return shapely.union_all([s for s in shapes if not s.is_empty], grid_size=grid_of(points))


def grid_of(flat: Floats) -> float:
    """What places are rounded to where pieces are put together, so that none leaves a crack to the next."""
    return 1e-10 * max(float(np.ptp(flat, axis=0).max(initial=0.0)), 1e-300)


def _joints(run: FlatRun, side: Side, distance: float) -> list[shapely.Geometry]:
    """What fills the outside of corners: from the corner to the points of its joint."""
    out = []
    n = run.number.size
    begin, end = _left(run.first), _left(run.last)
    inner = range(n) if run.closed else range(1, n - 1)
    for j in inner:  # corners only
        i, k = (j - 1) % n, j
        cross = end[i][0] * begin[k][1] - end[i][1] * begin[k][0]
        if (abs(cross) < 1e-9 and end[i] @ begin[k] > 0) or distance * cross > 0:
            continue
        mine = np.flatnonzero(side.source == run.number[j])
        ring = [run.at[j], run.at[j] + distance * end[i]]
        for p in mine:
            ring.append(side.flat[p])
            if side.kind[p] == ARC and p != mine[-1]:
                turn = 2 * np.arccos(side.weight[p]) * (1 if cross > 0 else -1)
                arm = side.flat[p] - run.at[j]
                ring += [run.at[j] + _turned(arm[None], np.array([turn * s / side.steps[p]]))[0]
                         for s in range(1, int(side.steps[p]))]
        ring.append(run.at[j] + distance * begin[k])
        out.append(areal(shapely.Polygon(ring)))
    return out


def _between(run: FlatRun, span: Ints, share: Floats) -> Floats:
    """(n, 2) unit vectors to the left of arcs at a share of their turn."""
    a, b = run.first[span], run.last[span]
    turn = np.arctan2(a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0], np.einsum("ij,ij->i", a, b))
    return _turned(_left(a), turn * share)


def _left(v: Floats) -> Floats:
    return np.stack([-v[:, 1], v[:, 0]], axis=1)


def _right(v: Floats) -> Floats:
    return np.stack([v[:, 1], -v[:, 0]], axis=1)


def _turned(v: Floats, angle: Floats) -> Floats:
    c, s = np.cos(angle), np.sin(angle)
    return np.stack([c * v[:, 0] - s * v[:, 1], s * v[:, 0] + c * v[:, 1]], axis=1)


def _unit(v: Floats) -> Floats:
    size = np.hypot(v[:, 0], v[:, 1])[:, None]
    return np.divide(v, size, out=np.zeros_like(v), where=size > 0)
