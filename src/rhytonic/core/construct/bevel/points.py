"""Where the points of a bevel go, and how wide it may be."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, TypeVar
from weakref import WeakKeyDictionary

import numpy as np

from ...mesh.geometry import Floats, cross, lengths, shortest_offsets, unit
from ...mesh.mesh import Mesh
from ...mesh.topology import Bools, Ints
from ...waiting import check
from .corner_patch import CornerPatch, inner_points
from .layout import Layout
from .profile import arc_points

#: beside an edge that leads straight on, a slide is as long as the width
_STRAIGHT = 1e-6
#: what is off a line by less than this share of a strip's width lies on it
_IN_LINE = 1e-8
#: the share of an edge that its end may be moved along it
_MOST_OF_AN_EDGE = 0.4
_ALL_BUT = 0.95


@dataclass(frozen=True)
class Corners:
    """Corner patches of one kind, and the points (m, n) of their outlines: old vertices, insets, slides and arc points."""

    patch: CornerPatch
    outline: Ints


#: what depends on a layout and the mesh above alone, kept while that mesh is: a drag of the width asks again and again
_known: WeakKeyDictionary[Mesh, list[tuple[Layout, str, Any]]] = WeakKeyDictionary()
T = TypeVar("T")


def once(what: str, layout: Layout, mesh: Mesh, compute: Callable[[Layout, Mesh], T]) -> T:
    """What ``compute`` makes of a layout and a mesh, kept under ``what`` while the mesh is."""
    held = _known.setdefault(mesh, [])
    for of, name, value in held:
        if of is layout and name == what:
            found: T = value
            return found
    made = compute(layout, mesh)
    del held[:-_MOST_KEPT]
    held.append((layout, what, made))
    return made


_MOST_KEPT = 8


def unit_moves(layout: Layout, mesh: Mesh) -> Floats:
    """(i + l, 3) how far insets and slides go from their vertex for each metre of width."""
    return once("moves", layout, mesh, _unit_moves)


def widest(layout: Layout, mesh: Mesh) -> tuple[float, Floats]:
    """The largest width at which no edge of a face has turned over, and the middle (3,) of the edge used up there."""
    return once("widest", layout, mesh, _widest)


def _unit_moves(layout: Layout, mesh: Mesh) -> Floats:
    t, points = mesh.topology, mesh.points
    ends = t.edges[layout.slide // 2]
    here = ends[np.arange(len(ends)), layout.slide % 2]
    along = unit(points[ends.sum(axis=1) - here] - points[here])
    length = np.zeros(layout.slide.size)
    if len(layout.demand):
        corner, slide = layout.demand.T
        sine = np.abs(_corner_sine(mesh, corner))
        np.maximum.at(length, slide, np.where(sine > _STRAIGHT, 1.0 / np.maximum(sine, _STRAIGHT), 1.0))
    length[length == 0.0] = 1.0
    return np.concatenate([_inset_moves(mesh, layout.inset), length[:, None] * along])


def _sides(mesh: Mesh, corner: Ints) -> tuple[Floats, Floats]:
    """Unit directions from corners to the next and to the previous vertex of their face."""
    t, points = mesh.topology, mesh.points
    here = points[t.corners[corner]]
    return (unit(points[t.corners[t.next_corner[corner]]] - here), unit(points[t.corners[t.previous_corner[corner]]] - here))


def _corner_sine(mesh: Mesh, corner: Ints) -> Floats:
    ahead, behind = _sides(mesh, corner)
    return lengths(cross(ahead, behind))


def _inset_moves(mesh: Mesh, corner: Ints) -> Floats:
    """(n, 3) to the point one metre inside both edges of each corner, in the face."""
    if not corner.size:
        return np.zeros((0, 3))
    ahead, behind = _sides(mesh, corner)
    normal = mesh.normals[mesh.topology.corner_face[corner]]
    inward = np.concatenate([unit(cross(normal, ahead)), unit(cross(behind, normal))])
    return shortest_offsets(np.tile(np.arange(corner.size), 2), inward, corner.size, 1.0)


def _widest(layout: Layout, mesh: Mesh) -> tuple[float, Floats]:
    t, points = mesh.topology, mesh.points
    move = np.zeros((t.vertex_count + layout.inset.size + layout.slide.size, 3))
    move[t.vertex_count:] = unit_moves(layout, mesh)
    c = layout.opened
    d = t.next_corner[c]
    span = points[t.corners[d]] - points[t.corners[c]]
    size = lengths(span)
    shrink = np.einsum("ij,ij->i", move[layout.after[c]] - move[layout.before[d]], unit(span))
    uses = shrink > 1e-12
    if not uses.any():
        return np.inf, np.zeros(3)
    limit = np.where(uses, size / np.where(uses, shrink, 1.0), np.inf)
    worst = int(np.argmin(limit))
    return float(limit[worst]), (points[t.corners[c[worst]]] + points[t.corners[d[worst]]]) / 2


def first_points(layout: Layout, mesh: Mesh, width: float) -> Floats:
    """(i + l, 3) insets and slides."""
    t = mesh.topology
    ends = t.edges[layout.slide // 2]
    base = np.concatenate([t.corners[layout.inset], ends[np.arange(len(ends)), layout.slide % 2]])
    out: Floats = mesh.points[base] + width * unit_moves(layout, mesh)
    return out


def place_points(layout: Layout, mesh: Mesh, width: float, segments: int, roundness: float,
                 corners: tuple[Corners, ...], swell: float = 1.0, room: bool = False) -> Floats:
    """(n, 3) points of the new vertices in the order they were asked for: insets, slides, arcs, insides of corners."""
    check()
    t, points = mesh.topology, mesh.points
    v, basic = t.vertex_count, layout.inset.size + layout.slide.size
    first = first_points(layout, mesh, width)
    moved, to = slid_ends(layout, mesh, width, room=room)
    if moved.size:
        points = points.copy()
        points[moved] = to
    known = np.concatenate([points, first])
    arcs_round, arcs_flat = _arcs(layout, mesh, known, segments)
    own = np.flatnonzero((layout.arc_twin == np.arange(layout.arc_leg.size)) & (layout.arc_from != layout.arc_to))
    round_, flat = arcs_round[own].reshape(-1, 3), arcs_flat[own].reshape(-1, 3)
    out = [first, round_ if roundness == 1.0 else roundness * round_ + (1 - roundness) * flat]
    every_round, every_flat = np.concatenate([known, round_]), np.concatenate([known, flat])
    for group in corners:  # a few kinds of corner
        if group.patch.inner:
            inside = inner_points(group.patch, every_round[group.outline], every_flat[group.outline], roundness,
                                  swell)
            out.append(inside.reshape(-1, 3))
    assert v + basic == len(known)
    return np.concatenate(out)


def slid_ends(layout: Layout, mesh: Mesh, width: float,
              mouth: tuple[Floats, Floats, Bools] | None = None, room: bool = False) -> tuple[Ints, Floats]:
    """Old vertices that have to make room where a strip ends beside them, and where they go.

    A vertex in line with the corners of the strip's end would leave a face of no area there, and one behind them, where
    ``room`` is to be made for those too, a face that lies over the strip. It goes along the edge that leads on, until it
    stands in the strip's plane or before its end. ``mouth`` is where the two corners (k, 3) of each end are, by default the
    points on either side, and which ends are open.
    """
    one, two, leg, own = layout.ends.T
    if not leg.size:
        return leg, np.zeros((0, 3))
    t, points = mesh.topology, mesh.points
    here, there = _of_leg(mesh, leg)
    moves, v = unit_moves(layout, mesh), t.vertex_count
    a, b = (points[here] + width * moves[k - v] for k in (one, two)) if mouth is None else mouth[:2]
    open_ = np.zeros(leg.size, bool) if mouth is None else mouth[2]
    along = unit(points[here] - points[_of_leg(mesh, own)[1]])
    normal = unit(cross(along, b - a))
    ahead = unit(cross(normal, b - a))
    ahead *= np.sign(np.einsum("ij,ij->i", ahead, along))[:, None]
    off = points[here] - (a + b) / 2
    way = unit(points[there] - points[here])
    length = lengths(points[there] - points[here])
    behind = -np.einsum("ij,ij->i", off, ahead)
    forward, up = np.einsum("ij,ij->i", way, ahead), np.einsum("ij,ij->i", way, normal)
    height = -np.einsum("ij,ij->i", off, normal)
    pace = lengths(b - a)
    past = np.where(forward > _IN_LINE, np.maximum(behind, 0.0) / np.where(forward > _IN_LINE, forward, 1.0), np.inf)
    into = np.where(np.abs(up) > _IN_LINE, height / np.where(np.abs(up) > _IN_LINE, up, 1.0), np.inf)
    into[into <= _IN_LINE * pace] = np.inf
    in_line = np.abs(height) < _IN_LINE * pace
    past[in_line & ~np.isfinite(past)] = 0.0
    far = np.where(in_line, past, np.minimum(past, into))
    far[~np.isfinite(far)] = np.inf
    far_enough = np.minimum(far, length)
    on_the_line = np.abs(far_enough * forward - behind) < _IN_LINE * pace
    on_the_line &= np.abs(far_enough * up - height) < _IN_LINE * pace
    far = np.where(on_the_line, far + np.minimum(width, _MOST_OF_AN_EDGE * np.maximum(length - far_enough, 0.0)), far)
    wanted = in_line | open_ | (room & (behind > _IN_LINE * pace))
    moved = wanted & (behind > (-_IN_LINE * pace)) & (far < _ALL_BUT * length)
    return here[moved], points[here[moved]] + far[moved][:, None] * way[moved]


def _of_leg(mesh: Mesh, leg: Ints) -> tuple[Ints, Ints]:
    """The vertex of each leg, and the one at the other end of its edge."""
    ends = mesh.topology.edges[leg // 2]
    here = ends[np.arange(leg.size), leg % 2]
    return here, ends.sum(axis=1) - here


def _arcs(layout: Layout, mesh: Mesh, known: Floats, segments: int) -> tuple[Floats, Floats]:
    """(a, segments−1, 3) points on every arc and on its chord."""
    check()
    t, points = mesh.topology, mesh.points
    leg = layout.arc_leg
    if not leg.size or segments == 1:
        empty = np.zeros((leg.size, segments - 1, 3))
        return empty, empty
    p, q = known[layout.arc_from], known[layout.arc_to]
    if leg[0] < 0:  # inside faces: tangent to the face's edges at the vertex
        corner = -1 - leg
        ahead, behind = _sides(mesh, corner)
        angle = np.arctan2(lengths(cross(ahead, behind)), np.einsum("ij,ij->i", ahead, behind))
        return arc_points(p, q, points[t.corners[corner]], angle, segments)
    edge = leg // 2
    ends = t.edges[edge]
    here = ends[np.arange(leg.size), leg % 2]
    along = unit(points[ends.sum(axis=1) - here] - points[here])
    angle = _dihedral(mesh, edge)
    twin = layout.arc_twin
    shared = np.flatnonzero(twin != np.arange(leg.size))
    mean = (angle[shared] + angle[twin[shared]]) / 2
    angle[shared], angle[twin[shared]] = mean, mean
    # where the corner is filled, the arc stands square across its edge, at the mean of how far its points have come along
    corner_point = points[here].copy()
    plain = layout.crossed >= 2
    plain[shared] = False
    plain[twin[shared]] = False
    come = np.einsum("ij,ij->i", (p + q) / 2 - points[here], along)
    corner_point[plain] += (come[:, None] * along)[plain]
    return arc_points(p, q, corner_point, angle, segments)


def _dihedral(mesh: Mesh, edge: Ints) -> Floats:
    """(n,) angle between the two faces of each edge, measured inside either."""
    t = mesh.topology
    order, starts = t.edge_corners
    one, two = order[starts[edge]], order[starts[edge] + 1]
    along = unit(mesh.points[t.corners[t.next_corner[one]]] - mesh.points[t.corners[one]])
    a = cross(mesh.normals[t.corner_face[one]], along)
    b = -cross(mesh.normals[t.corner_face[two]], along)
    out: Floats = np.arctan2(lengths(cross(a, b)), np.einsum("ij,ij->i", a, b))
    return out
