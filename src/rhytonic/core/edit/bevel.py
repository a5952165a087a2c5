"""Bevel: edges become strips, vertices become corners."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from ..construct.bevel.corner_patch import corner_patch
from ..construct.bevel.faces import add_faces, add_points, moved_edges, pick_layout, strip_corners
from ..construct.bevel.layout import Layout
from ..construct.bevel.points import Corners, once, place_points, slid_ends, widest
from ..construct.bevel.widest import Watch, doubtful, largest_sound
from ..construct.held_plane import HoldPlane
from ..construct.rebuild import Rebuild, with_new
from ..mesh.geometry import Floats
from ..mesh.mesh import Mesh
from ..mesh.topology import Ints, Topology
from ..params import Flag, PositiveLength, Quantity, Share
from ..pick.resolve import Picked
from ..step.draft import Draft, edge_source
from ..step.kind import Context, Edit, Remark, StepKind
from ..tolerance import BEFORE_COLLAPSE
from ..waiting import check


class Bevel(Edit):
    kind: Literal["bevel"]
    width: PositiveLength
    segments: Annotated[int, Field(strict=True, ge=1, le=64), Quantity("count")] = 1
    roundness: Share = 1.0
    limit: Flag = True
    hold_plane: HoldPlane = "none"


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
    extends_layout = True
    takes = ("edges", "vertices")
    roles = ("strip", "corner", "rail")
    numbers = frozenset({"width", "roundness", "limit"})
    summary = ("width", "segments")

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
        return _fitted(p, draft, mesh).points

    def remarks(self, p: Bevel, draft: Draft, mesh: Mesh, made: Mesh, context: Context) -> tuple[Remark, ...]:
        fitted = _fitted(p, draft, mesh)
        if fitted.width >= p.width:
            return ()
        if fitted.crossing:
            return (Remark("width limited to {length}, beyond which faces would pass through each other", fitted.width),)
        most, where = widest(draft.data.layout, mesh)
        return (Remark("width limited to {length}, where the edge at {point} is used up", most, tuple(where.tolist())),)


@dataclass(frozen=True)
class _Fitted:
    """Points at the width that was used, and whether faces would have passed through each other at a larger one."""

    points: Floats
    width: float
    crossing: bool


def _fitted(p: Bevel, draft: Draft, mesh: Mesh) -> _Fitted:
    said = f"fitted {p.width!r} {p.roundness!r} {p.limit}"
    return once(said, draft.data.layout, mesh, lambda layout, above: _fit(p, draft, above))


def _fit(p: Bevel, draft: Draft, mesh: Mesh) -> _Fitted:
    """Points at the width asked for, or, with ``limit``, at the largest that leaves sound faces.

    Raises:
        StepError: there is none.
    """
    data: Beveled = draft.data

    def at(width: float, swell: float = 1.0, room: bool = False) -> Floats:
        new = place_points(data.layout, mesh, width, data.segments, p.roundness, data.corners, swell, room)
        return with_new(draft, mesh, new, slid_ends(data.layout, mesh, width, room=room))

    if not p.limit:
        return _Fitted(at(p.width), p.width, False)
    width = min(p.width, BEFORE_COLLAPSE * widest(data.layout, mesh)[0])
    points = at(width)
    vertices = once("doubtful", data.layout, mesh, doubtful)
    if width == p.width and not vertices.any():
        return _Fitted(points, width, False)
    watch = Watch.over(draft, vertices if width == p.width else None)
    if watch.sound(points) or not once("was sound", data.layout, mesh, lambda _, above: watch.was_sound(draft, above)):
        return _Fitted(points, width, False)
    for swell in (1.0, 0.5, 0.0):  # where hollow and bulging edges meet, a sphere may reach beyond its corner
        calmer = at(width, swell, True)
        if watch.sound(calmer):
            return _Fitted(calmer, width, False)
    share = largest_sound(lambda share: watch.sound(at(share * width, 0.0, True)))
    if share == 0.0:
        raise watch.refusal(points, ", or switch the limit off")
    return _Fitted(at(share * width, 0.0, True), share * width, True)


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


def _add_strips(build: Rebuild, mesh: Mesh, layout: Layout, edges: Ints, segments: int, arc_place: Ints,
                role: str) -> Ints:
    """Quads along each picked edge, and the pairs of vertices of the lengthwise edges inside."""
    check()
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


def _alike(layout: Layout, segments: int) -> list[Ints]:
    """Corners whose outlines have the same sides divided, in the order of the first of each sort."""
    length = np.diff(layout.loop_start)
    out: list[Ints] = []
    for k in np.unique(length):
        which = np.flatnonzero(length == k)
        divided = (layout.loop_arc[layout.loop_start[which][:, None] + np.arange(k)] >= 0) & (segments > 1)
        packed = np.packbits(divided, axis=1)
        sort = np.unique(packed.view(f"V{packed.shape[1]}").ravel(), return_inverse=True)[1]
        order = np.argsort(sort, kind="stable")
        out += np.split(which[order], np.flatnonzero(np.diff(sort[order])) + 1)
    return sorted(out, key=lambda at: int(at[0]))


def _add_corners(build: Rebuild, mesh: Mesh, layout: Layout, segments: int, arc_place: Ints,
                 role: str) -> tuple[Corners, ...]:
    """Faces over the corners' outlines, grouped by how their sides are divided."""
    check()
    t = mesh.topology
    out = []
    for at in _alike(layout, segments):
        k = int(layout.loop_start[at[0] + 1] - layout.loop_start[at[0]])
        rows = layout.loop_start[at][:, None] + np.arange(k)
        sides = tuple(np.where(layout.loop_arc[rows[0]] >= 0, segments, 1).tolist())
        patch = corner_patch(sides)
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
