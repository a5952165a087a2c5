"""Where a bevel's points lie along the fans of faces it opens, before any of them has a position.

Round each touched vertex every face keeps one point of its own between two picked edges (an *inset*), or one on the
unpicked edge beside a picked one (a *slide*), or two where both its edges slide. Across each picked edge an *arc* joins the
points on either side. What the points and arcs of a fan enclose is its corner.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from ..mesh.patch import TopologyPatch, faces_at, patch_of
from ..mesh.topology import Bools, Ints, Topology


@dataclass(frozen=True)
class Layout:
    """The plan of a bevel's points.

    A *leg* is one end of an edge, numbered 2·edge + (0 at its first vertex, 1 at its second). Points are numbered: old
    vertices, insets, slides.

    Attributes:
        inset: (i,) corner each inset lies in.
        slide: (l,) leg each slide lies on.
        demand: (d, 2) corner and slide: the corner's picked edge asks the slide to be as far as the width from it.
        before, after: (C,) point each corner begins and ends with, as its face runs.
        arc_leg: (a,) leg of the picked edge an arc crosses, −1 − corner for arcs inside a face.
        arc_from, arc_to: (a,) its points, counter-clockwise round the vertex.
        arc_twin: (a,) the arc it is the same as, run backwards; itself for most.
        takes: (C,) arc a corner's face takes between its two points, −1 for none; ``takes_back`` where it runs against it.
        arcs_of_leg: (2E,) arc of each picked leg, −1 for none.
        loop: (n,) points of the corners' outlines, loop after loop; ``loop_arc`` (n,) the arc that follows each, −1 for
            none; ``loop_corner`` (n,) the corner it belongs to; ``loop_start`` (p+1,); ``loop_vertex`` (p,) the vertex,
            ``loop_fan`` (p,) rank of the fan at its vertex.
        crossed: (a,) number of picked edges in the arc's fan.
        opened: corners whose half-edge gets shorter or longer.
    """

    inset: Ints
    slide: Ints
    demand: Ints
    before: Ints
    after: Ints
    arc_leg: Ints
    arc_from: Ints
    arc_to: Ints
    arc_twin: Ints
    takes: Ints
    takes_back: Bools
    arcs_of_leg: Ints
    loop: Ints
    loop_arc: Ints
    loop_start: Ints
    loop_vertex: Ints
    loop_fan: Ints
    loop_corner: Ints
    crossed: Ints
    opened: Ints


def legs(t: Topology, edge: Ints, vertex: Ints) -> Ints:
    """Leg of each edge at one of its vertices."""
    out: Ints = 2 * edge + (t.edges[edge, 1] == vertex)
    return out


def edge_layout(t: Topology, edges: Ints) -> Layout:
    """The layout for picked edges; each has two faces that run it in opposite directions."""
    touched = np.zeros(t.vertex_count, bool)
    touched[t.edges[edges]] = True
    patch = patch_of(t, faces_at(t, touched))
    picked = np.zeros(t.edge_count, bool)
    picked[edges] = True
    return _in_whole(_edge_layout(patch.topology, picked[patch.edges]), patch, t)


def vertex_layout(t: Topology, vertices: Ints) -> Layout:
    """The layout for picked vertices: every edge at them slides, and each face takes an arc."""
    picked = np.zeros(t.vertex_count, bool)
    picked[vertices] = True
    patch = patch_of(t, faces_at(t, picked))
    return _in_whole(_vertex_layout(patch.topology, picked[patch.vertices]), patch, t)


def _in_whole(a: Layout, patch: TopologyPatch, t: Topology) -> Layout:
    """A layout of a patch in the numbers of the whole."""
    edge = patch.edges
    point = np.concatenate([patch.vertices, t.vertex_count + np.arange(a.inset.size + a.slide.size)])
    before, after = t.corners.copy(), t.corners.copy()
    before[patch.corners], after[patch.corners] = point[a.before], point[a.after]
    takes, takes_back = np.full(t.corner_count, -1, np.int64), np.zeros(t.corner_count, bool)
    takes[patch.corners], takes_back[patch.corners] = a.takes, a.takes_back

    def leg(local: Ints) -> Ints:  # the ends of an edge keep their order
        return 2 * edge[local // 2] + local % 2

    crossing = a.arc_leg >= 0
    arc_leg = np.where(crossing, leg(np.maximum(a.arc_leg, 0)), -1 - patch.corners[np.where(crossing, 0, -1 - a.arc_leg)])
    arcs_of_leg = np.full(2 * t.edge_count, -1, np.int64)
    arcs_of_leg[leg(np.arange(2 * patch.topology.edge_count))] = a.arcs_of_leg
    demand = np.stack([patch.corners[a.demand[:, 0]], a.demand[:, 1]], axis=1)
    return Layout(patch.corners[a.inset], leg(a.slide), demand, before, after, arc_leg, point[a.arc_from], point[a.arc_to],
                  a.arc_twin, takes, takes_back, arcs_of_leg, point[a.loop], a.loop_arc, a.loop_start,
                  patch.vertices[a.loop_vertex], a.loop_fan, patch.corners[a.loop_corner], a.crossed,
                  patch.corners[a.opened])


def _opened(t: Topology, before: Ints, after: Ints) -> Ints:
    new = (before >= t.vertex_count) | (after >= t.vertex_count)
    return np.flatnonzero(new | new[t.next_corner])


def _edge_layout(t: Topology, picked: Bools) -> Layout:
    out_edge, in_edge = t.corner_edge, t.corner_edge[t.previous_corner]
    out_leg, in_leg = legs(t, out_edge, t.corners), legs(t, in_edge, t.corners)
    po, pi = picked[out_edge], picked[in_edge]
    fan = t.corner_fan
    fans = int(fan.max(initial=-1)) + 1
    crossed = np.bincount(fan, po, fans).astype(np.int64)  # each picked edge leaves the vertex in one corner
    crossed = np.maximum(crossed, np.bincount(fan, pi, fans).astype(np.int64))
    touched = crossed[fan] > 0
    slid = np.zeros(2 * t.edge_count, bool)
    slid[out_leg[pi & ~po]] = True
    slid[in_leg[po & ~pi]] = True
    # runs of edges that neither are picked nor slide; more than one in a fan would visit the vertex twice
    plain_out, plain_in = ~po & ~slid[out_leg], ~pi & ~slid[in_leg]
    begins = touched & plain_in & ~plain_out & ~pi
    border_out = t.twin < 0
    begins_at_border = touched & plain_out & border_out
    runs = np.bincount(fan[begins], minlength=fans) + np.bincount(fan[begins_at_border], minlength=fans)
    crowded = touched & (runs[fan] > 1)
    slid[out_leg[crowded & ~po]] = True
    slid[in_leg[crowded & ~pi]] = True
    # numbers of points
    v = t.vertex_count
    inset = np.flatnonzero(po & pi)
    slide = np.flatnonzero(slid)
    point_of_leg = np.full(2 * t.edge_count, -1, np.int64)
    point_of_leg[slide] = v + inset.size + np.arange(slide.size)
    before, after = t.corners.copy(), t.corners.copy()
    on_in, on_out = slid[in_leg] & touched, slid[out_leg] & touched
    before[on_in] = point_of_leg[in_leg[on_in]]
    after[on_out] = point_of_leg[out_leg[on_out]]
    one = pi & ~po
    before[one] = after[one]
    one = po & ~pi
    after[one] = before[one]
    before[inset] = after[inset] = v + np.arange(inset.size)
    asks = np.concatenate([np.flatnonzero(pi & ~po), np.flatnonzero(po & ~pi)])
    asked = point_of_leg[np.concatenate([out_leg[pi & ~po], in_leg[po & ~pi]])] - v - inset.size
    # arcs: into each corner that a picked edge leaves, from the corner on the edge's other side
    into = np.flatnonzero(po)
    from_ = t.next_corner[t.twin[into]]
    arcs_of_leg = np.full(2 * t.edge_count, -1, np.int64)
    arcs_of_leg[out_leg[into]] = np.arange(into.size)
    arc_before = np.full(t.corner_count, -1, np.int64)
    arc_before[into] = np.arange(into.size)
    loops = _loops(t, np.flatnonzero(touched), before, after, arc_before)
    arc_from, arc_to = before[from_], after[into]
    twin: Ints = np.arange(into.size)
    takes = np.full(t.corner_count, -1, np.int64)
    point_count, arc_count = np.bincount(loops.fan, minlength=fans), crossed
    open_fan = np.zeros(fans, bool)
    open_fan[fan[border_out]] = True
    # two arcs between the same two points are one
    pair = np.flatnonzero((point_count == 2) & (arc_count == 2) & ~open_fan)
    if pair.size:
        members = np.flatnonzero(np.isin(fan[into], pair))
        doubles = members[np.argsort(fan[into[members]], kind="stable")].reshape(-1, 2)
        twin[doubles[:, 1]] = doubles[:, 0]
    # a lone arc across one face is that face's own
    lone = (point_count == 2) & (arc_count == 1) & ~open_fan
    own = np.flatnonzero(lone[fan] & touched & ~po & ~pi & (before != after))
    arc_of_fan = np.full(fans, -1, np.int64)
    arc_of_fan[fan[into]] = np.arange(into.size)
    takes[own] = arc_of_fan[fan[own]]
    emitted = (point_count >= 3) | ((point_count == 2) & (arc_count > 2))
    keep = emitted[loops.fan]
    return Layout(inset, slide, np.stack([asks, asked], axis=1), before, after, out_leg[into], arc_from, arc_to, twin, takes,
                  np.zeros(t.corner_count, bool), arcs_of_leg, *_kept(t, loops, keep), crossed[fan[into]],
                  _opened(t, before, after))


def _vertex_layout(t: Topology, picked: Bools) -> Layout:
    out_leg = legs(t, t.corner_edge, t.corners)
    in_leg = legs(t, t.corner_edge[t.previous_corner], t.corners)
    touched = picked[t.corners]
    slide = np.unique(np.concatenate([out_leg[touched], in_leg[touched]]))
    v = t.vertex_count
    point = np.full(2 * t.edge_count, -1, np.int64)
    point[slide] = v + np.arange(slide.size)
    before, after = t.corners.copy(), t.corners.copy()
    before[touched], after[touched] = point[in_leg[touched]], point[out_leg[touched]]
    inside = np.flatnonzero(touched)
    number = np.full(t.corner_count, -1, np.int64)
    number[inside] = np.arange(inside.size)
    loops = _loops(t, inside, before, after, np.full(t.corner_count, -1, np.int64))
    # an arc runs, counter-clockwise, from its face's edge out to its edge in; each point begins one
    of_point = np.full(v + slide.size, -1, np.int64)
    of_point[after[inside]] = number[inside]
    loops = replace(loops, arc=of_point[loops.point])
    count = np.bincount(loops.fan, minlength=int(t.corner_fan.max(initial=-1)) + 1)
    twin: Ints = np.arange(inside.size)
    pair = np.flatnonzero(count == 2)
    members = np.flatnonzero(np.isin(t.corner_fan[inside], pair))
    order: Ints = members[np.argsort(t.corner_fan[inside[members]], kind="stable")]
    if order.size and order.size % 2 == 0:
        two = order.reshape(-1, 2)
        two = two[after[inside[two[:, 0]]] == before[inside[two[:, 1]]]]
        twin[two[:, 1]] = two[:, 0]
    empty = np.zeros(0, np.int64)
    return Layout(empty, slide, np.zeros((0, 2), np.int64), before, after, -1 - inside, after[inside], before[inside], twin,
                  number, np.ones(t.corner_count, bool), np.full(2 * t.edge_count, -1, np.int64),
                  *_kept(t, loops, (count >= 3)[loops.fan]), np.full(inside.size, 1), _opened(t, before, after))


@dataclass(frozen=True)
class _Loops:
    """Points in turning order, fan after fan, no two neighbours alike; and the arc that follows each."""

    point: Ints
    arc: Ints
    fan: Ints
    corner: Ints


def _loops(t: Topology, corners: Ints, before: Ints, after: Ints, arc_before: Ints) -> _Loops:
    order, _ = t.ordered_fans
    wanted = np.zeros(t.corner_count, bool)
    wanted[corners] = True
    turn = order[wanted[order]]
    # counter-clockwise a corner shows its edge out, then its edge in
    point = np.stack([after[turn], before[turn]], axis=1).ravel()
    lead = np.stack([arc_before[turn], np.full(turn.size, -1)], axis=1).ravel()
    fan = np.repeat(t.corner_fan[turn], 2)
    corner = np.repeat(turn, 2)
    n = point.size
    new_fan = np.ones(n, bool)
    new_fan[1:] = fan[1:] != fan[:-1]
    same = np.zeros(n, bool)
    same[1:] = (point[1:] == point[:-1]) & ~new_fan[1:]
    drop = same.copy()
    # where one point stands at both ends of the round it is told once: the entry that no arc leads to goes
    firsts = np.flatnonzero(new_fan)
    held = np.maximum.accumulate(np.where(~same, np.arange(n), 0))
    lasts = held[np.append(firsts[1:], n) - 1] if n else firsts
    wraps = (point[lasts] == point[firsts]) & (lasts != firsts)
    drop[np.where(lead[lasts] >= 0, firsts, lasts)[wraps]] = True
    kept = np.flatnonzero(~drop)
    following = np.append(kept[1:], 0)
    group_end = np.ones(kept.size, bool)
    group_end[:-1] = fan[kept][1:] != fan[kept][:-1]
    first_of = np.maximum.accumulate(np.where(np.concatenate([[True], group_end[:-1]]), np.arange(kept.size), 0)) \
        if kept.size else np.zeros(0, np.int64)
    following = np.where(group_end, kept[first_of], following) if kept.size else following
    return _Loops(point[kept], lead[following] if kept.size else lead[:0], fan[kept], corner[kept])


def _kept(t: Topology, loops: _Loops, keep: Bools) -> tuple[Ints, Ints, Ints, Ints, Ints, Ints]:
    fan = loops.fan[keep]
    new = np.ones(fan.size, bool)
    new[1:] = fan[1:] != fan[:-1]
    start = np.append(np.flatnonzero(new), fan.size).astype(np.int64)
    corner = loops.corner[keep]
    vertex = t.corners[corner[start[:-1]]]
    rank = np.zeros(vertex.size, np.int64)
    if vertex.size:
        order = np.argsort(vertex, kind="stable")
        run = np.ones(vertex.size, bool)
        run[1:] = vertex[order][1:] != vertex[order][:-1]
        rank[order] = np.arange(vertex.size) - np.maximum.accumulate(np.where(run, np.arange(vertex.size), 0))
    return loops.point[keep], loops.arc[keep], start, vertex, rank, corner
