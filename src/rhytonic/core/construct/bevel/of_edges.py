"""The layout of a bevel of edges: insets between picked edges, slides beside them, arcs across them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ...mesh.patch import faces_at, patch_of
from ...mesh.topology import Bools, Ints, Topology
from .layout import Layout, in_whole, legs, opened
from .outlines import Loops, kept, loops_of


def edge_layout(t: Topology, edges: Ints) -> Layout:
    """The layout for picked edges; each has two faces that run it in opposite directions."""
    touched = np.zeros(t.vertex_count, bool)
    touched[t.edges[edges]] = True
    patch = patch_of(t, faces_at(t, touched))
    picked = np.zeros(t.edge_count, bool)
    picked[edges] = True
    return in_whole(_edge_layout(patch.topology, picked[patch.edges]), patch, t)


@dataclass(frozen=True)
class _Fans:
    """Every corner as it lies between two edges of its vertex, and its fan.

    Attributes:
        out_leg, in_leg: (C,) leg of the edge its face leaves the vertex by, and of the one it comes by.
        out, in_: (C,) whether those are picked.
        crossed: (f,) picked edges of each fan.
        touched: (C,) whether the corner's fan has any.
    """

    out_leg: Ints
    in_leg: Ints
    out: Bools
    in_: Bools
    fan: Ints
    crossed: Ints
    touched: Bools

    @property
    def between(self) -> Bools:
        """(C,) corners between two picked edges."""
        return self.out & self.in_

    @property
    def count(self) -> int:
        return int(self.crossed.size)


def _fans(t: Topology, picked: Bools) -> _Fans:
    out_edge, in_edge = t.corner_edge, t.corner_edge[t.previous_corner]
    out, in_ = picked[out_edge], picked[in_edge]
    fan = t.corner_fan
    count = int(fan.max(initial=-1)) + 1
    # each picked edge leaves the vertex in one corner and comes to it in another; at a border one of them is not there
    crossed = np.maximum(np.bincount(fan, out, count), np.bincount(fan, in_, count)).astype(np.int64)
    return _Fans(legs(t, out_edge, t.corners), legs(t, in_edge, t.corners), out, in_, fan, crossed, crossed[fan] > 0)


def _slid_legs(t: Topology, f: _Fans) -> Bools:
    """(2E,) legs that a point slides along: those beside a picked edge, and all others of a fan that would else come to its
    vertex twice."""
    slid = np.zeros(2 * t.edge_count, bool)
    slid[f.out_leg[f.in_ & ~f.out]] = True
    slid[f.in_leg[f.out & ~f.in_]] = True
    # runs of edges that neither are picked nor slide: where a fan has more than one, the vertex would be visited twice
    plain_out, plain_in = ~f.out & ~slid[f.out_leg], ~f.in_ & ~slid[f.in_leg]
    begins = f.touched & plain_in & ~plain_out & ~f.in_
    begins_at_border = f.touched & plain_out & (t.twin < 0)
    runs = np.bincount(f.fan[begins], minlength=f.count) + np.bincount(f.fan[begins_at_border], minlength=f.count)
    crowded = f.touched & (runs[f.fan] > 1)
    slid[f.out_leg[crowded & ~f.out]] = True
    slid[f.in_leg[crowded & ~f.in_]] = True
    return slid


@dataclass(frozen=True)
class _Points:
    """Insets and slides, the point each corner begins and ends with, and which slide a corner's picked edge asks for a
    distance."""

    inset: Ints
    slide: Ints
    before: Ints
    after: Ints
    demand: Ints


def _points(t: Topology, f: _Fans, slid: Bools) -> _Points:
    v = t.vertex_count
    inset, slide = np.flatnonzero(f.between), np.flatnonzero(slid)
    point_of_leg = np.full(2 * t.edge_count, -1, np.int64)
    point_of_leg[slide] = v + inset.size + np.arange(slide.size)
    before, after = t.corners.copy(), t.corners.copy()
    on_in, on_out = slid[f.in_leg] & f.touched, slid[f.out_leg] & f.touched
    before[on_in] = point_of_leg[f.in_leg[on_in]]
    after[on_out] = point_of_leg[f.out_leg[on_out]]
    beside_in, beside_out = f.in_ & ~f.out, f.out & ~f.in_
    before[beside_in] = after[beside_in]
    after[beside_out] = before[beside_out]
    before[inset] = after[inset] = v + np.arange(inset.size)
    asks = np.concatenate([np.flatnonzero(beside_in), np.flatnonzero(beside_out)])
    asked = point_of_leg[np.concatenate([f.out_leg[beside_in], f.in_leg[beside_out]])] - v - inset.size
    return _Points(inset, slide, before, after, np.stack([asks, asked], axis=1))


def _same_arcs(f: _Fans, into: Ints, pair: Bools) -> Ints:
    """(a,) for each arc the one it is the same as: in fans of ``pair`` two arcs join the same two points."""
    twin: Ints = np.arange(into.size)
    members = np.flatnonzero(pair[f.fan[into]])
    doubles = members[np.argsort(f.fan[into[members]], kind="stable")].reshape(-1, 2)
    twin[doubles[:, 1]] = doubles[:, 0]
    return twin


def _taken_arcs(f: _Fans, p: _Points, into: Ints, lone: Bools) -> Ints:
    """(C,) the arc a corner's face takes as its own: in fans of ``lone`` a single arc crosses a single face."""
    takes = np.full(f.fan.size, -1, np.int64)
    own = np.flatnonzero(lone[f.fan] & f.touched & ~f.out & ~f.in_ & (p.before != p.after))
    arc_of_fan = np.full(f.count, -1, np.int64)
    arc_of_fan[f.fan[into]] = np.arange(into.size)
    takes[own] = arc_of_fan[f.fan[own]]
    return takes


def _ends(t: Topology, f: _Fans, slid: Bools, loops: Loops, into: Ints) -> Ints:
    """(k, 4) the two new points of each outline that has one strip and one old vertex, the middle one of the legs that lead
    on from there, and the strip's own."""
    count = np.bincount(loops.fan, minlength=f.count)
    alone = (count == 3) & (f.crossed == 1)
    alone[f.fan[t.twin < 0]] = False
    new = alone[loops.fan] & (loops.point >= t.vertex_count)
    old = alone[loops.fan] & ~new
    alone &= np.bincount(loops.fan[old], minlength=f.count) == 1
    order, _ = t.ordered_fans
    plain = order[alone[f.fan[order]] & ~f.out[order] & ~slid[f.out_leg[order]]]
    leads = np.bincount(f.fan[plain], minlength=f.count)
    fans = np.flatnonzero(alone & (leads > 0))
    plain = plain[np.argsort(f.fan[plain], kind="stable")]
    first = np.cumsum(leads) - leads
    leg = f.out_leg[plain[first[fans] + leads[fans] // 2]] if fans.size else np.zeros(0, np.int64)
    mine = new & np.isin(loops.fan, fans)
    points = loops.point[mine][np.argsort(loops.fan[mine], kind="stable")].reshape(-1, 2)
    own = np.full(f.count, -1, np.int64)
    own[f.fan[into]] = f.out_leg[into]
    return np.column_stack([points, leg, own[fans]])


def _edge_layout(t: Topology, picked: Bools) -> Layout:
    f = _fans(t, picked)
    slid = _slid_legs(t, f)
    p = _points(t, f, slid)
    # arcs: into each corner that a picked edge leaves, from the corner on the edge's other side
    into = np.flatnonzero(f.out)
    from_ = t.next_corner[t.twin[into]]
    arcs_of_leg = np.full(2 * t.edge_count, -1, np.int64)
    arcs_of_leg[f.out_leg[into]] = np.arange(into.size)
    arc_before = np.full(t.corner_count, -1, np.int64)
    arc_before[into] = np.arange(into.size)
    loops: Loops = loops_of(t, np.flatnonzero(f.touched), p.before, p.after, arc_before)
    points = np.bincount(loops.fan, minlength=f.count)
    closed = np.ones(f.count, bool)
    closed[f.fan[t.twin < 0]] = False
    twin = _same_arcs(f, into, (points == 2) & (f.crossed == 2) & closed)
    takes = _taken_arcs(f, p, into, (points == 2) & (f.crossed == 1) & closed)
    emitted = (points >= 3) | ((points == 2) & (f.crossed > 2))
    return Layout(p.inset, p.slide, p.demand, p.before, p.after, f.out_leg[into], p.before[from_], p.after[into], twin,
                  takes, np.zeros(t.corner_count, bool), arcs_of_leg, *kept(t, loops, emitted[loops.fan]),
                  f.crossed[f.fan[into]], opened(t, p.before, p.after), _ends(t, f, slid, loops, into))
