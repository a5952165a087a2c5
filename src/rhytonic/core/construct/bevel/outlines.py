"""The outlines of a bevel's corners: the points of a fan of faces in turning order."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ...mesh.topology import Bools, Ints, Topology


@dataclass(frozen=True)
class Loops:
    """(n,) points in turning order, fan after fan, no two neighbours alike; and the arc that follows each."""

    point: Ints
    arc: Ints
    fan: Ints
    corner: Ints


def loops_of(t: Topology, corners: Ints, before: Ints, after: Ints, arc_before: Ints) -> Loops:
    """The outlines of the fans that ``corners`` belong to.

    Args:
        before, after: (C,) the point each corner begins and ends with, as its face runs.
        arc_before: (C,) the arc that leads into each corner, −1 for none.
    """
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
    return Loops(point[kept], lead[following] if kept.size else lead[:0], fan[kept], corner[kept])


def kept(t: Topology, loops: Loops, keep: Bools) -> tuple[Ints, Ints, Ints, Ints, Ints, Ints]:
    """Those of the outlines that become faces, as a layout tells them: points (n,), arcs (n,), starts (f+1,), vertices (f,),
    ranks of fans (f,), corners (n,)."""
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
