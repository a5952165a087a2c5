"""The points and faces that opened edges and corners leave, for the kinds that open them: bevel and ridge."""

from __future__ import annotations

import numpy as np

from ...errors import NotManifold
from ...mesh.mesh import Mesh
from ...mesh.names import reduced
from ...mesh.topology import Bools, Ints, Topology, ranges
from ...pick.resolve import Picked
from ..rebuild import Rebuild, none
from .layout import Layout
from .of_edges import edge_layout
from .of_vertices import vertex_layout


def pick_layout(t: Topology, picked: Picked) -> tuple[Layout, Ints, tuple[str, ...]]:
    """The layout of a pick, the edges (n,) that become strips, and what there is to note.

    Raises:
        NotManifold: nothing of the pick lies between two faces that fit together.
    """
    if picked.kind == "vertices":
        mask = np.zeros(t.vertex_count, bool)
        mask[picked.elements] = True
        fan_ok = (t.vertex_fan_count == 1)
        border = np.zeros(t.vertex_count, bool)
        border[t.edges[t.edge_face_count != 2]] = True
        mask &= fan_ok & ~border
        if not mask.any():
            raise NotManifold("a vertex can be bevelled where faces close round it; these lie on a border", "pick")
        left = picked.elements.size - int(mask.sum())
        return vertex_layout(t, np.flatnonzero(mask)), np.zeros(0, np.int64), _left_out(left, "vertex", "vertices")
    order, starts = t.edge_corners
    edges = picked.elements[t.twin[order[starts[picked.elements]]] >= 0]
    if not edges.size:
        raise NotManifold("an edge can be bevelled where two faces meet that face the same way; these lie on a border, or "
                          "three faces meet there", "pick")
    return edge_layout(t, edges), edges, _left_out(picked.elements.size - edges.size, "edge", "edges")


def _left_out(count: int, one: str, many: str) -> tuple[str, ...]:
    told = f"1 {one} on a border left as it is" if count == 1 else f"{count} {many} on a border left as they are"
    return (told,) if count else ()


def add_points(build: Rebuild, mesh: Mesh, layout: Layout, segments: int) -> Ints:
    """Insets, slides and the points of arcs as new vertices; the numbers (a, segments−1) of the latter."""
    t = mesh.topology
    at = t.corners[layout.inset]
    build.vertices("corner", [("vertex", at), ("face", t.corner_face[layout.inset])], none(at.size), at, continues=at)
    ends = t.edges[layout.slide // 2]
    here = ends[np.arange(len(ends)), layout.slide % 2]
    build.vertices("corner", [("vertex", here), ("vertex", ends.sum(axis=1) - here)], none(here.size), here, continues=here)
    inner = segments - 1
    place = np.full((layout.arc_leg.size, inner), -1, np.int64)
    own = (layout.arc_twin == np.arange(layout.arc_leg.size)) & (layout.arc_from != layout.arc_to)
    which = np.flatnonzero(own)
    leg = layout.arc_leg[which]
    crossing = leg >= 0
    edge = np.where(crossing, leg // 2, 0)
    ends = t.edges[edge] if t.edge_count else np.zeros((leg.size, 2), np.int64)
    corner = np.where(crossing, 0, -1 - leg)
    vertex = np.where(crossing, ends[np.arange(leg.size), np.maximum(leg, 0) % 2], t.corners[corner])
    share = np.tile(reduced(np.arange(1, segments), segments), (which.size, 1)) if inner else np.zeros((0, 2), np.int64)
    if crossing.all():
        parents: list[tuple[str, Ints]] = [("vertex", np.repeat(vertex, inner)),
                                           ("vertex", np.repeat(ends.sum(axis=1) - vertex, inner))]
    else:
        parents = [("vertex", np.repeat(vertex, inner)), ("face", np.repeat(t.corner_face[corner], inner))]
    numbers = build.vertices("strip", parents, share, np.repeat(vertex, inner))  # type: ignore[arg-type]
    place[which] = numbers.reshape(which.size, inner)
    twins = np.flatnonzero(layout.arc_twin != np.arange(layout.arc_leg.size))
    place[twins] = place[layout.arc_twin[twins]][:, ::-1]
    collapsed = layout.arc_from == layout.arc_to
    place[collapsed] = layout.arc_from[collapsed][:, None]
    return place


def add_faces(build: Rebuild, t: Topology, layout: Layout, arc_place: Ints, over: Ints | None = None) -> None:
    """Every old face, its corners opened; ``over`` is the vertex that each point leads to in a face that has two, itself for
    most."""
    inner = arc_place.shape[1]
    changed = np.zeros(t.face_count, bool)
    changed[t.corner_face[layout.opened]] = True
    faces = np.flatnonzero(changed)
    build.keep(np.flatnonzero(~changed))
    at = t.corners_of(faces)
    before, after, taken = layout.before[at], layout.after[at], layout.takes[at]
    double = before != after
    takes = double & (taken >= 0)
    more = np.zeros((2, at.size), bool) if over is None else \
        np.stack([double & (over[before] != before), double & (over[after] != after)])
    size = 1 + double + np.where(takes, inner, 0) + more.sum(axis=0)
    begin = np.cumsum(size) - size
    corners = np.empty(int(size.sum()), np.int64)
    corners[begin] = before
    corners[(begin + size - 1)[double]] = after[double]
    if over is not None:
        corners[(begin + 1)[more[0]]] = over[before[more[0]]]
        corners[(begin + size - 2)[more[1]]] = over[after[more[1]]]
    if inner and takes.any():
        c = np.flatnonzero(takes)
        run = arc_place[taken[c]]
        run = np.where(layout.takes_back[at[c]][:, None], run[:, ::-1], run)
        corners[ranges(begin[c] + 1, np.full(c.size, inner))] = run.ravel()
    sides = t.sides[faces]
    starts = np.cumsum(sides) - sides
    build.keep(faces, corners, np.add.reduceat(size, starts) if faces.size else sides, np.repeat(at, size), check=True)


def strip_corners(mesh: Mesh, edges: Ints) -> tuple[Ints, Ints, Ints, Ints]:
    """(e,) corners at the ends of each strip: where its half-edge begins (at the end with the lower id) and ends, and the
    same of the half-edge on its other side."""
    t, ids = mesh.topology, mesh.names.vertex
    order, starts = t.edge_corners
    one = order[starts[edges]]
    c = np.where(ids[t.corners[one]] < ids[t.corners[t.next_corner[one]]], one, t.twin[one])
    d = t.twin[c]
    return c, t.next_corner[c], d, t.next_corner[d]


def moved_edges(t: Topology, layout: Layout, edges: Ints) -> tuple[Ints, Ints]:
    """(n, 2) each: unpicked edges whose ends slide, before and after."""
    gone = np.zeros(t.edge_count, bool)
    gone[edges] = True
    ends = t.edges.copy()
    point = t.vertex_count + layout.inset.size + np.arange(layout.slide.size)
    ends[layout.slide // 2, layout.slide % 2] = point
    moved = np.zeros(t.edge_count, bool)
    moved[layout.slide // 2] = True
    which: Bools = moved & ~gone
    return t.edges[which], ends[which]
