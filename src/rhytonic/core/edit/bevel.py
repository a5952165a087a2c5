"""Bevel: edges become strips, vertices become corners."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from ..errors import NotManifold
from ..mesh.geometry import Floats
from ..mesh.mesh import Mesh
from ..mesh.names import reduced
from ..mesh.topology import Bools, Ints, Topology, ranges
from ..pick.resolve import Picked
from ..recipe.draft import Draft, edge_source
from ..recipe.kind import Context, Edit, Remark, StepKind
from ..recipe.params import Flag, PositiveLength, Quantity, Share
from .bevel_layout import Layout, edge_layout, vertex_layout
from .bevel_points import Corners, place_points, widest
from .corner_patch import corner_patch
from .rebuild import Rebuild, none, with_new


class Bevel(Edit):
    kind: Literal["bevel"]
    width: PositiveLength
    segments: Annotated[int, Field(strict=True, ge=1, le=64), Quantity("count")] = 1
    roundness: Share = 1.0
    limit: Flag = True


@dataclass(frozen=True)
class Beveled:
    """What positions need of a plan."""

    layout: Layout
    segments: int
    corners: tuple[Corners, ...]


class BevelKind(StepKind[Bevel]):
    """``width`` is measured in each adjoining face, square to the edge; beside an unpicked edge the new vertex slides along
    it, between two picked edges it is the inset point. ``roundness`` 1 is the arc tangent to both faces, 0 its chord. A
    picked vertex moves ``width`` along each edge. With ``limit`` the width stops where an edge would be used up."""

    word, title, model = "bevel", "Bevel", Bevel
    takes = ("edges", "vertices")
    roles = ("strip", "corner", "rail")
    numbers = frozenset({"width", "roundness", "limit"})

    def estimate(self, p: Bevel, topology: Topology, picked: Picked | None, context: Context) -> tuple[int, str]:
        assert picked is not None
        n = picked.elements.size
        return topology.face_count + n * p.segments * (1 + p.segments), "segments"

    def plan(self, p: Bevel, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        assert picked is not None
        t = mesh.topology
        layout, edges, notes = pick_layout(t, picked)
        return _draft(mesh, layout, edges, p.segments, notes)

    def positions(self, p: Bevel, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        data: Beveled = draft.data
        width = min(p.width, widest(data.layout, mesh)[0]) if p.limit else p.width
        return with_new(draft, mesh, place_points(data.layout, mesh, width, data.segments, p.roundness, data.corners))

    def remarks(self, p: Bevel, draft: Draft, mesh: Mesh) -> tuple[Remark, ...]:
        if not p.limit:
            return ()
        most, where = widest(draft.data.layout, mesh)
        if most >= p.width:
            return ()
        return (Remark("width limited to {length}, where the edge at {point} is used up", most, tuple(where.tolist())),)


def pick_layout(t: Topology, picked: Picked) -> tuple[Layout, Ints, tuple[str, ...]]:
    """The layout of a pick, the edges that become strips, and what there is to note.

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


def _draft(mesh: Mesh, layout: Layout, edges: Ints, segments: int, notes: tuple[str, ...]) -> Draft:
    """The draft of a layout: faces with their corners moved, strips of ``segments`` quads, and corners."""
    t = mesh.topology
    build = Rebuild(mesh)
    arc_place = add_points(build, mesh, layout, segments)
    add_faces(build, t, layout, arc_place)
    rails = _add_strips(build, mesh, layout, edges, segments, arc_place, "strip")
    corners = _add_corners(build, mesh, layout, segments, arc_place, "corner")
    moved = moved_edges(t, layout, edges)
    draft: Draft = build.draft(
        data=Beveled(layout, segments, corners), replaced_edges=moved, notes=notes,
        edges=lambda topology: _roles(topology, build.number[rails], t.vertex_count, draft),
        edge_source=lambda: _edge_source(draft, t, build.number[rails]))
    return draft


def _roles(topology: Topology, rails: Ints, old: int, draft: Draft) -> dict[str, Ints]:
    new = draft.kept_vertices < 0
    made = topology.edges[new[topology.edges].any(axis=1)]
    is_rail = np.zeros(topology.edge_count, bool)
    if len(rails):
        is_rail[topology.find_edges(rails[:, 0], rails[:, 1])] = True
    at = topology.find_edges(made[:, 0], made[:, 1])
    return {"": made[~is_rail[at]], "rail": topology.edges[is_rail]}


def _edge_source(draft: Draft, before: Topology, rails: Ints) -> Ints:
    """By default the edge between the sources of the ends; the inner edges of strips start without marks."""
    plain = Draft(draft.topology, draft.kept_vertices, draft.kept_faces, draft.vertex_source, draft.face_source,
                  draft.corner_source)
    source = edge_source(plain, before)
    if len(rails):
        source[draft.topology.find_edges(rails[:, 0], rails[:, 1])] = -1
    return source


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


def add_faces(build: Rebuild, t: Topology, layout: Layout, arc_place: Ints) -> None:
    """Every old face, its corners opened."""
    inner = arc_place.shape[1]
    changed = np.zeros(t.face_count, bool)
    changed[t.corner_face[layout.opened]] = True
    faces = np.flatnonzero(changed)
    build.keep(np.flatnonzero(~changed))
    at = t.corners_of(faces)
    before, after, taken = layout.before[at], layout.after[at], layout.takes[at]
    double = before != after
    takes = double & (taken >= 0)
    size = 1 + double + np.where(takes, inner, 0)
    begin = np.cumsum(size) - size
    corners = np.empty(int(size.sum()), np.int64)
    corners[begin] = before
    corners[(begin + size - 1)[double]] = after[double]
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


def _add_strips(build: Rebuild, mesh: Mesh, layout: Layout, edges: Ints, segments: int, arc_place: Ints,
                role: str) -> Ints:
    """Quads along each picked edge, and the pairs of vertices of the lengthwise edges inside."""
    t = mesh.topology
    if not edges.size:
        return np.zeros((0, 2), np.int64)
    c, nc, d, nd = strip_corners(mesh, edges)
    leg_a = 2 * edges + (t.edges[edges, 1] == t.corners[c])
    leg_b = 2 * edges + (t.edges[edges, 1] == t.corners[d])
    arc_a, arc_b = layout.arcs_of_leg[leg_a], layout.arcs_of_leg[leg_b]
    row_a = np.column_stack([layout.after[c], arc_place[arc_a][:, ::-1], layout.before[nd]])
    row_b = np.column_stack([layout.before[nc], arc_place[arc_b], layout.after[d]])
    quads = np.stack([row_b[:, :-1], row_a[:, :-1], row_a[:, 1:], row_b[:, 1:]], axis=2)  # (e, segments, 4)
    first_half = (np.arange(segments) < segments / 2)[None, :, None]
    near = np.stack([nc, c, c, nc], axis=1)[:, None]
    far = np.stack([d, nd, nd, d], axis=1)[:, None]
    source = np.where(first_half, near, far)
    if segments == 1:
        source = np.stack([nc, c, nd, d], axis=1)[:, None]
    face = np.where(first_half[:, :, 0], t.corner_face[c][:, None], t.corner_face[d][:, None])
    index = np.tile(np.arange(segments), (edges.size, 1))
    shut_a, shut_b = row_a[:, 0] == row_a[:, -1], row_b[:, 0] == row_b[:, -1]
    whole = ~shut_a & ~shut_b
    a, b = t.corners[c], t.corners[d]
    for which, columns in ((whole, [0, 1, 2, 3]), (shut_a & ~shut_b, [0, 1, 3]), (shut_b & ~shut_a, [0, 1, 2])):
        n = int(which.sum()) * segments
        if n == 0:
            continue
        build.faces(role, quads[which][:, :, columns].reshape(n, len(columns)),
                    [("vertex", np.repeat(a[which], segments)), ("vertex", np.repeat(b[which], segments))],
                    index[which].reshape(n, 1), face[which].ravel(), source[which][:, :, columns].reshape(n, len(columns)))
    open_ = ~(shut_a & shut_b)
    return np.stack([row_a[open_, 1:-1].ravel(), row_b[open_, 1:-1].ravel()], axis=1)


def _add_corners(build: Rebuild, mesh: Mesh, layout: Layout, segments: int, arc_place: Ints,
                 role: str) -> tuple[Corners, ...]:
    """Faces over the corners' outlines, grouped by how their sides are divided."""
    t = mesh.topology
    groups: dict[tuple[int, ...], list[int]] = {}
    starts = layout.loop_start.tolist()
    counts = np.where(layout.loop_arc >= 0, segments, 1).tolist()
    for i in range(len(starts) - 1):  # one entry for each corner: bounded by the pick
        groups.setdefault(tuple(counts[starts[i]:starts[i + 1]]), []).append(i)
    out = []
    for sides, members in groups.items():
        patch = corner_patch(sides)
        at = np.array(members, np.int64)
        k = len(sides)
        rows = layout.loop_start[at][:, None] + np.arange(k)
        columns = []
        for j in range(k):
            columns.append(layout.loop[rows[:, j]][:, None])
            if sides[j] > 1:
                columns.append(arc_place[layout.loop_arc[rows[:, j]]])
        outline = np.concatenate(columns, axis=1)
        vertex, fan = layout.loop_vertex[at], layout.loop_fan[at]
        m, inner = at.size, patch.inner
        index = np.column_stack([np.repeat(fan, inner), np.tile(np.arange(inner), m)])
        fresh = build.vertices(role, [("vertex", np.repeat(vertex, inner))], index, np.repeat(vertex, inner))
        every = np.concatenate([outline, fresh.reshape(m, inner)], axis=1)
        faces = np.tile(np.arange(patch.sides.size), m)
        corner = layout.loop_corner[rows[:, 0]]
        n = patch.sides.size
        build.faces(role, every[:, patch.corners].ravel(), [("vertex", np.repeat(vertex, n))],
                    np.column_stack([np.repeat(fan, n), faces]), np.repeat(t.corner_face[corner], n),
                    np.repeat(corner, patch.corners.size), sides=np.tile(patch.sides, m))
        out.append(Corners(patch, outline))
    return tuple(out)


def moved_edges(t: Topology, layout: Layout, edges: Ints) -> tuple[Ints, Ints]:
    """Unpicked edges whose ends slide, before and after."""
    gone = np.zeros(t.edge_count, bool)
    gone[edges] = True
    ends = t.edges.copy()
    point = t.vertex_count + layout.inset.size + np.arange(layout.slide.size)
    ends[layout.slide // 2, layout.slide % 2] = point
    moved = np.zeros(t.edge_count, bool)
    moved[layout.slide // 2] = True
    which: Bools = moved & ~gone
    return t.edges[which], ends[which]
