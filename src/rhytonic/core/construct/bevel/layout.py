"""Where a bevel's points lie along the fans of faces it opens, before any of them has a position.

Round each touched vertex every face keeps one point of its own between two picked edges (an *inset*), or one on the
unpicked edge beside a picked one (a *slide*), or two where both its edges slide. Across each picked edge an *arc* joins the
points on either side. What the points and arcs of a fan enclose is its corner.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ...mesh.patch import TopologyPatch
from ...mesh.topology import Bools, Ints, Topology


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
        ends: (k, 4) where a single strip ends beside an old vertex: the points on either side of its end, the leg of an
            edge that leads on from the vertex, and the strip's own leg.
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
    ends: Ints


def legs(t: Topology, edge: Ints, vertex: Ints) -> Ints:
    """(n,) leg of each edge at one of its vertices."""
    out: Ints = 2 * edge + (t.edges[edge, 1] == vertex)
    return out


def in_whole(a: Layout, patch: TopologyPatch, t: Topology) -> Layout:
    """A layout of a patch in the numbers of the whole mesh, whose topology is ``t``."""
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
    ends = np.column_stack([point[a.ends[:, :2]], leg(a.ends[:, 2:])])
    demand = np.stack([patch.corners[a.demand[:, 0]], a.demand[:, 1]], axis=1)
    return Layout(patch.corners[a.inset], leg(a.slide), demand, before, after, arc_leg, point[a.arc_from], point[a.arc_to],
                  a.arc_twin, takes, takes_back, arcs_of_leg, point[a.loop], a.loop_arc, a.loop_start,
                  patch.vertices[a.loop_vertex], a.loop_fan, patch.corners[a.loop_corner], a.crossed,
                  patch.corners[a.opened], ends)


def opened(t: Topology, before: Ints, after: Ints) -> Ints:
    """Corners whose half-edge gets shorter or longer, from (C,) the points each corner begins and ends with."""
    new = (before >= t.vertex_count) | (after >= t.vertex_count)
    return np.flatnonzero(new | new[t.next_corner])
