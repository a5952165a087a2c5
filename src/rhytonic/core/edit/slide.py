"""Slide: move edges or vertices along the edges beside them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from ..construct.held_plane import HoldPlane
from ..construct.spread import is_lower
from ..curve.curve import Curve, points_on
from ..curve.spans import Spans
from ..errors import StepError
from ..mesh.mesh import Floats, Mesh
from ..mesh.names import Ids
from ..mesh.topology import Ints, Topology, components
from ..params import Ratio
from ..pick.resolve import Picked
from ..step.curve_edit import CurveEdit
from ..step.draft import Draft, unchanged
from ..step.facts import Offer
from ..step.kind import Context, Edit, StepKind


class Slide(Edit):
    kind: Literal["slide"]
    amount: Annotated[Ratio, Field(ge=-1, le=1)]
    hold_plane: HoldPlane = "none"


@dataclass(frozen=True)
class _Ways:
    """Where each vertex goes at 1 and at −1; itself where there is no way."""

    vertices: Ints
    up: Ints
    down: Ints


class SlideKind(StepKind[Slide]):
    """At 1 a vertex has reached the neighbour on one side, at −1 the one on the other. Picked edges slide together: 1 is
    towards the side of the face with the lowest id. A picked vertex slides towards its highest neighbour (y, then x, then
    z) at 1 and its lowest at −1. Points of a curve slide along their spans."""

    word, title, model = "slide", "Slide", Slide
    extends_layout = True
    takes = ("edges", "vertices")
    curve_role = "makes"
    curve_takes = ("vertices",)
    numbers = frozenset({"amount"})
    reads_points = True
    keeps_pick = True
    proposal = (Offer("amount", 0.25),)

    def remade(self, p: Slide, curve: Curve, picked: Picked | None, context: Context) -> CurveEdit:
        assert picked is not None
        spans = Spans.of(curve)
        links = np.stack([spans.begin, spans.end], axis=1)
        ways = _vertex_ways(links, picked.elements, curve.points)
        goal = ways.up if p.amount >= 0 else ways.down
        goes = goal != ways.vertices
        if not goes.any():
            raise StepError("no span leads away from these to slide along", "pick")
        here, goal = ways.vertices[goes], goal[goes]
        ahead = curve.wires.following[here] == goal
        points = curve.points.copy()
        way = abs(p.amount)
        points[here] = points_on(curve, np.where(ahead, here, goal), np.where(ahead, way, 1 - way))
        return CurveEdit(curve.moved(points), np.arange(len(points)))

    def plan(self, p: Slide, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        assert picked is not None
        t = mesh.topology
        ways = _edge_ways(t, picked.elements, mesh.names.face) if picked.kind == "edges" \
            else _vertex_ways(t.edges, picked.elements, mesh.points)
        if ((ways.up == ways.vertices) & (ways.down == ways.vertices)).all():
            raise StepError("no edge leads away from these to slide along", "pick")
        return unchanged(mesh, ways)

    def positions(self, p: Slide, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        ways: _Ways = draft.data
        points = mesh.points.copy()
        goal = mesh.points[ways.up if p.amount >= 0 else ways.down]
        here = mesh.points[ways.vertices]
        points[ways.vertices] = here + abs(p.amount) * (goal - here)
        return points


def _edge_ways(t: Topology, edges: Ints, face_ids: Ids) -> _Ways:
    """Ends of the unpicked edges beside picked ones, by the side they lie on.

    A half-edge of a picked edge sees the edge before it leave its first vertex and the edge after it leave its last. Sides
    of neighbouring picked edges are one side where the fan between them holds no other picked edge.
    """
    picked = np.zeros(t.edge_count, bool)
    picked[edges] = True
    half = np.flatnonzero(picked[t.corner_edge])
    # round each vertex, sectors between picked edges; corners of one sector are on one side
    onward = t.twin[t.previous_corner]
    link = np.flatnonzero((onward >= 0) & ~picked[t.corner_edge[t.previous_corner]])
    sector = components(t.corner_count, link, onward[link])
    # a half-edge joins the sector at its start with the one at its end: both lie on its left
    count = int(sector.max(initial=-1)) + 1
    side = components(count, sector[half], sector[t.next_corner[half]])
    of_half = side[sector[half]]
    vertices = np.unique(t.edges[edges])
    lowest = np.full(int(side.max(initial=-1)) + 1, np.iinfo(np.uint64).max, np.uint64)
    np.minimum.at(lowest, of_half, face_ids[t.corner_face[half]])
    twin = t.twin[half]
    partner = np.full(lowest.size, -1, np.int64)
    real = twin >= 0
    partner[of_half[real]] = side[sector[twin[real]]]
    up_side = np.zeros(lowest.size, bool)
    sides = np.unique(of_half)
    up_side[sides] = (partner[sides] < 0) | (lowest[sides] <= lowest[np.maximum(partner[sides], 0)])
    up, down = vertices.copy(), vertices.copy()
    # the first unpicked edge beside a picked one at each end, on its left
    before = t.previous_corner[half]
    first_ok = ~picked[t.corner_edge[before]]
    after = t.next_corner[half]
    last_ok = ~picked[t.corner_edge[after]]
    at = np.concatenate([t.corners[half][first_ok], t.corners[after][last_ok]])
    to = np.concatenate([t.corners[before][first_ok], t.corners[t.next_corner[after]][last_ok]])
    is_up = up_side[np.concatenate([of_half[first_ok], of_half[last_ok]])]
    order = np.argsort(face_ids[t.corner_face[np.concatenate([half[first_ok], half[last_ok]])]], kind="stable")[::-1]
    for which, goal in ((True, up), (False, down)):
        rows = order[is_up[order] == which]
        goal[np.searchsorted(vertices, at[rows])] = to[rows]  # the lowest face is written last
    return _Ways(vertices, up, down)


def _vertex_ways(edges: Ints, vertices: Ints, points: Floats) -> _Ways:
    a = np.concatenate([edges[:, 0], edges[:, 1]])
    b = np.concatenate([edges[:, 1], edges[:, 0]])
    wanted = np.isin(a, vertices)
    a, b = a[wanted], b[wanted]
    order = np.lexsort((points[b, 2], points[b, 0], points[b, 1]))
    up, down = vertices.copy(), vertices.copy()
    up[np.searchsorted(vertices, a[order])] = b[order]
    down[np.searchsorted(vertices, a[order[::-1]])] = b[order[::-1]]
    # a neighbour on the other side of the vertex only: never both ways along one edge
    single = up == down
    higher = is_lower(points[vertices], points[up])
    up[single & ~higher] = vertices[single & ~higher]
    down[single & higher] = vertices[single & higher]
    return _Ways(vertices, up, down)
