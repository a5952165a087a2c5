"""Ridge: edges become raised ribs, or sunk grooves."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

from ..construct.bevel.faces import add_faces, add_points, moved_edges, pick_layout, strip_corners
from ..construct.bevel.layout import Layout
from ..construct.bevel.points import first_points, once, slid_ends, widest
from ..construct.bevel.run_outs import RunOuts, run_outs
from ..construct.bevel.widest import Watch, doubtful, largest_sound
from ..construct.caps.open_loops import open_half_edges
from ..construct.held_plane import HoldPlane
from ..construct.rebuild import Parent, Rebuild, none, with_new
from ..construct.regions.raised import limited
from ..errors import BadParameter
from ..mesh.geometry import Floats, loop_area_vectors, shortest_offsets, unit
from ..mesh.mesh import Mesh
from ..mesh.topology import Bools, Ints, Topology, ranges
from ..params import Length, PositiveLength
from ..pick.resolve import Picked
from ..step.draft import Draft
from ..step.facts import Knob, Offer
from ..step.kind import Context, Edit, Remark, StepKind


class Ridge(Edit):
    kind: Literal["ridge"]
    height: Length
    width: PositiveLength
    hold_plane: HoldPlane = "none"


@dataclass(frozen=True)
class _Faces:
    """Faces of a ridge's floor, ragged: points of the layout, the old corner each takes after, and what names the face."""

    corners: Ints
    sides: Ints
    source: Ints
    parents: tuple[Ints, Ints]
    index: Ints


@dataclass(frozen=True)
class _Data:
    layout: Layout
    floor: _Faces
    lifted: Ints
    outs: RunOuts


class RidgeKind(StepKind[Ridge]):
    """Each edge opens into a strip ``width`` wide, half on each face; the strip and the corners between strips are lifted by
    ``height`` along their surface, sunk where it is negative, and walled round; an end at a sharp edge runs out open."""

    word, title, model = "ridge", "Ridge", Ridge
    extends_layout = True
    takes = ("edges",)
    roles = ("crest", "flank")
    numbers = frozenset({"height", "width"})
    reads_points = True
    proposal = (Offer("width", of_size=0.08), Offer("height", of_size=0.04))
    knob = Knob("height")

    def estimate(self, p: Ridge, topology: Topology, picked: Picked | None, context: Context) -> tuple[int, str]:
        assert picked is not None
        return topology.face_count + 8 * picked.elements.size, "pick"

    def plan(self, p: Ridge, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        assert picked is not None
        t = mesh.topology
        layout, edges, notes = pick_layout(t, picked)
        build = Rebuild(mesh)
        no_arcs = add_points(build, mesh, layout, 1)
        crossed = np.bincount(np.repeat(np.arange(layout.loop_start.size - 1), np.diff(layout.loop_start)),
                              layout.loop_arc >= 0, layout.loop_start.size - 1)
        floor = _joined(_strips(mesh, layout, edges), _corners(layout, crossed > 1))
        on_floor = np.zeros(build.total, bool)
        on_floor[floor.corners] = True
        lifted = np.flatnonzero(on_floor)
        raised = _lift(build, t, layout, lifted)
        top = np.arange(build.total)
        top[lifted] = raised
        outs = run_outs(mesh, layout)
        mouths = np.stack([layout.arc_from, layout.arc_to], axis=1)[outs.arc]
        over = np.arange(build.total)
        over[mouths] = top[mouths]
        add_faces(build, t, layout, no_arcs, over)
        ends = _corners(layout, crossed <= 1)  # the end of one strip stays in its surface
        build.faces("", over[ends.corners], [("vertex", ends.parents[0])], ends.index, t.corner_face[_first(ends)],
                    ends.source, sides=ends.sides)
        build.faces("crest", top[floor.corners], [("vertex", floor.parents[0]), ("vertex", floor.parents[1])], floor.index,
                    t.corner_face[_first(floor)], floor.source, sides=floor.sides)
        _add_flanks(build, t, floor, top, mouths)
        return build.draft(data=_Data(layout, floor, lifted, outs), replaced_edges=moved_edges(t, layout, edges),
                           notes=notes)

    def positions(self, p: Ridge, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        return _fitted(p, draft, mesh)[0]

    def remarks(self, p: Ridge, draft: Draft, mesh: Mesh, made: Mesh, context: Context) -> tuple[Remark, ...]:
        _, height, width = _fitted(p, draft, mesh)
        told = []
        for what, used, wanted in (("height", height, p.height), ("width", width, p.width)):
            if used != wanted:
                told.append(Remark(f"{what} limited to {{length}}, beyond which faces would pass through each other", used))
        return tuple(told)


def _fitted(p: Ridge, draft: Draft, mesh: Mesh) -> tuple[Floats, float, float]:
    """Points at the largest height, and where none will do at the largest height and width, that leaves sound faces; and
    those."""
    return once(f"ridge {p.height!r} {p.width!r}", draft.data.layout, mesh, lambda layout, above: _fit(p, draft, above))


def _fit(p: Ridge, draft: Draft, mesh: Mesh) -> tuple[Floats, float, float]:
    points = _placed(draft, mesh, p.height, p.width)
    vertices = once("doubtful", draft.data.layout, mesh, lambda layout, above: doubtful(layout, above, True))
    if not vertices.any():
        return points, p.height, p.width
    watch = Watch.over(draft)
    if watch.sound(points) or not once("was sound", draft.data.layout, mesh, lambda _, above: watch.was_sound(draft, above)):
        return points, p.height, p.width
    roomy = _placed(draft, mesh, p.height, p.width, True)
    if watch.sound(roomy):
        return roomy, p.height, p.width
    share = largest_sound(lambda s: watch.sound(_placed(draft, mesh, s * p.height, p.width, True)))
    if share > 0.0:
        return _placed(draft, mesh, share * p.height, p.width, True), share * p.height, p.width
    share = largest_sound(lambda s: watch.sound(_placed(draft, mesh, s * p.height, s * p.width, True)))
    if share == 0.0:
        raise watch.refusal(points)
    return _placed(draft, mesh, share * p.height, share * p.width, True), share * p.height, share * p.width


def _placed(draft: Draft, mesh: Mesh, height: float, width: float, room: bool = False) -> Floats:
    """Points at a height and a width.

    Raises:
        BadParameter: an edge would be used up.
    """
    data: _Data = draft.data
    most, _ = widest(data.layout, mesh)
    if width / 2 > most:
        raise BadParameter("the strips would cross; the widest that works is {most}", "width", 2 * most)
    base = first_points(data.layout, mesh, width / 2)
    known = np.concatenate([mesh.points, base])
    floor = data.floor
    normals = unit(loop_area_vectors(known[floor.corners], np.cumsum(floor.sides) - floor.sides, floor.sides))
    group = np.searchsorted(data.lifted, floor.corners)
    lift = shortest_offsets(group, np.repeat(normals, floor.sides, axis=0), data.lifted.size, height)
    lift = limited(lift, height, "height")
    data.outs.turned(data.layout, data.lifted, lift)
    mouth = data.outs.mouth(data.layout, known, data.lifted, lift)
    return with_new(draft, mesh, np.concatenate([base, known[data.lifted] + lift]),
                    slid_ends(data.layout, mesh, width / 2, mouth, room))


def _strips(mesh: Mesh, layout: Layout, edges: Ints) -> _Faces:
    """The strip along each edge: four points, three where an end is closed."""
    t = mesh.topology
    c, nc, d, nd = strip_corners(mesh, edges)
    corners = np.stack([layout.before[nc], layout.after[c], layout.before[nd], layout.after[d]], axis=1)
    source = np.stack([nc, c, nd, d], axis=1)
    keep = np.ones(corners.shape, bool)
    keep[:, 2] = corners[:, 1] != corners[:, 2]
    keep[:, 3] = corners[:, 3] != corners[:, 0]
    whole = keep.sum(axis=1) >= 3
    keep &= whole[:, None]
    n = int(whole.sum())
    return _Faces(corners[keep], keep.sum(axis=1)[whole], source[keep], (t.corners[c][whole], t.corners[nc][whole]),
                  np.full((n, 2), -1))


def _corners(layout: Layout, which: Bools) -> _Faces:
    """Corners whose outlines are told by a mask."""
    at = np.flatnonzero(which)
    sides = np.diff(layout.loop_start)[at]
    place = ranges(layout.loop_start[at], sides)
    vertex = layout.loop_vertex[at]
    return _Faces(layout.loop[place], sides, layout.loop_corner[place], (vertex, vertex),
                  np.stack([layout.loop_fan[at], np.zeros_like(at)], axis=1))


def _joined(a: _Faces, b: _Faces) -> _Faces:
    def both(one: Ints, two: Ints) -> Ints:
        return np.concatenate([one, two])

    return _Faces(both(a.corners, b.corners), both(a.sides, b.sides), both(a.source, b.source),
                  (both(a.parents[0], b.parents[0]), both(a.parents[1], b.parents[1])), both(a.index, b.index))


def _first(faces: _Faces) -> Ints:
    """The old corner that the first of each face's takes after."""
    out: Ints = faces.source[np.cumsum(faces.sides) - faces.sides]
    return out


def _lift(build: Rebuild, t: Topology, layout: Layout, points: Ints) -> Ints:
    """New vertices over points of the layout, named as those are: by vertex and face, vertex and edge, or vertex."""
    v, i = t.vertex_count, layout.inset.size
    out = np.empty(points.size, np.int64)
    old, inset, slide = points < v, (points >= v) & (points < v + i), points >= v + i
    corner = layout.inset[points[inset] - v]
    leg = layout.slide[points[slide] - v - i]
    ends = t.edges[leg // 2]
    here = ends[np.arange(leg.size), leg % 2]
    groups: list[tuple[Bools, list[Parent], Ints]] = [
        (old, [("vertex", points[old])], points[old]),
        (inset, [("vertex", t.corners[corner]), ("face", t.corner_face[corner])], t.corners[corner]),
        (slide, [("vertex", here), ("vertex", ends.sum(axis=1) - here)], here)]
    for which, parents, source in groups:
        out[which] = build.vertices("crest", parents, none(source.size), source)
    return out


def _add_flanks(build: Rebuild, t: Topology, floor: _Faces, top: Ints, opening: Ints) -> None:
    """A wall on every edge of the floor that no other face of it shares, but for those that are ``opening`` (n, 2)."""
    loose = open_half_edges(floor.corners, floor.sides)
    if len(opening):
        loose = loose[~np.isin(_pairs(loose[:, :2], top.size), _pairs(opening, top.size))]
    a, b, place = loose.T
    face = np.repeat(np.arange(floor.sides.size), floor.sides)
    starts = np.cumsum(floor.sides) - floor.sides
    onward = np.arange(1, floor.corners.size + 1)
    onward[starts + floor.sides - 1] = starts
    one, two = floor.source[place], floor.source[onward[place]]
    owner = face[place]
    index = np.column_stack([floor.index[owner], place - starts[owner]])
    build.faces("flank", np.stack([a, b, top[b], top[a]], axis=1),
                [("vertex", floor.parents[0][owner]), ("vertex", floor.parents[1][owner])], index,
                t.corner_face[one], np.stack([one, two, two, one], axis=1))


def _pairs(ends: Ints, count: int) -> Ints:
    """(n,) one number for each unordered pair of vertices."""
    out: Ints = ends.min(axis=1) * count + ends.max(axis=1) if len(ends) else np.zeros(0, np.int64)
    return out
