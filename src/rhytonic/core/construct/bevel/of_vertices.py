"""The layout of a bevel of vertices: every edge at them slides, and each face takes an arc."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from ...mesh.patch import faces_at, patch_of
from ...mesh.topology import Bools, Ints, Topology
from .layout import Layout, in_whole, legs, opened
from .outlines import kept, loops_of


def vertex_layout(t: Topology, vertices: Ints) -> Layout:
    """The layout for picked vertices, each of whose fans closes."""
    picked = np.zeros(t.vertex_count, bool)
    picked[vertices] = True
    patch = patch_of(t, faces_at(t, picked))
    return in_whole(_vertex_layout(patch.topology, picked[patch.vertices]), patch, t)


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
    loops = loops_of(t, inside, before, after, np.full(t.corner_count, -1, np.int64))
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
                  *kept(t, loops, (count >= 3)[loops.fan]), np.full(inside.size, 1), opened(t, before, after),
                  np.zeros((0, 4), np.int64))
