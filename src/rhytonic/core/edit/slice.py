"""Slice: cut along a plane."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
from pydantic import field_validator

from ..construct.caps.open_loops import closed_loops, flat_faces, open_half_edges
from ..construct.rebuild import with_new
from ..construct.split.by_plane import PlaneCut, plane_cut
from ..construct.split.faces import Split, add_pieces, blended, edge_sources
from ..errors import StepError
from ..mesh.geometry import Floats, unit
from ..mesh.mesh import Mesh
from ..mesh.topology import Bools, Ints, Topology
from ..params import Direction, Flag, Point
from ..pick.resolve import Picked
from ..pick.rules import Pick
from ..step.draft import Draft
from ..step.kind import Context, Picking, StepKind


class Slice(Picking):
    kind: Literal["slice"]
    point: Point
    normal: Direction
    keep: Literal["both", "above", "below"] = "both"
    cap: Flag = False
    pick: Pick | None = None

    @field_validator("normal")
    @classmethod
    def _has_direction(cls, value: Direction) -> Direction:
        if not any(value):
            raise ValueError("a normal cannot be [0, 0, 0]")
        return value


@dataclass(frozen=True)
class _Data:
    cut: PlaneCut
    copied: Ints


class SliceKind(StepKind[Slice]):
    """Faces are cut where the plane passes; ``above`` is the side its normal points to. ``cap`` closes what is cut open;
    with both sides kept, the two come apart as closed shells."""

    word, title, model = "slice", "Slice", Slice
    watches_area = True
    takes = ("faces",)
    roles = ("cap", "cut_edge")
    reads_points = True

    def pick_of(self, p: Slice) -> Pick | None:
        return p.pick

    def estimate(self, p: Slice, topology: Topology, picked: Picked | None, context: Context) -> tuple[int, str]:
        return 2 * topology.face_count, "pick"

    def plan(self, p: Slice, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        t = mesh.topology
        only: Bools | None = None
        if picked is not None:
            only = np.zeros(t.face_count, bool)
            only[picked.elements] = True
        normal = unit(np.asarray(p.normal, float))
        cut = plane_cut(mesh, np.asarray(p.point, float), normal, only)
        along = _along_edges(t, cut.height, only)
        if p.keep == "both" and not p.cap and not len(cut.chords) and not len(along):
            raise StepError("the plane passes through none of these faces", "point")
        s = cut.split(mesh)
        stay, pieces = cut.sides(s)
        stay = _beside(t, cut.height, s.staying, stay)
        wanted = {"both": (-1, 0, 1), "above": (0, 1), "below": (-1, 0)}[p.keep]
        keep_stay, keep_pieces = np.isin(stay, wanted), np.isin(pieces, wanted)
        if only is not None:  # what was not picked is not cut off
            keep_stay |= ~only[s.staying]
        if not keep_stay.any() and not keep_pieces.any():
            raise StepError(f"nothing lies {p.keep} the plane; keep the other side or move the plane", "keep")
        s = add_pieces(s, keep_stay, keep_pieces)
        copied = np.zeros(0, np.int64)
        if p.cap:
            side = np.concatenate([stay[keep_stay], pieces[keep_pieces]])
            if p.keep == "both":
                copied = _come_apart(s, cut, side)
            _close(s, cut, mesh, normal, side, copied)
        number_edges = np.concatenate([cut.chords[:, 1:], along])
        alias = np.arange(s.build.total)
        alias[alias.size - copied.size:] = copied
        halves = s.halves(t)
        draft: Draft = s.build.draft(
            data=_Data(cut, copied), edges=lambda _: {"cut_edge": _still(s.build.number, number_edges)},
            replaced_edges=halves, edge_source=lambda: edge_sources(t, draft.topology, s.build.number, halves),
            vertex_source=lambda: blended(s, t, cut.share, alias)[0],
            corner_source=lambda: blended(s, t, cut.share, alias)[1])
        return draft

    def positions(self, p: Slice, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        data: _Data = draft.data
        points = data.cut.positions(mesh)
        if data.copied.size:
            points = np.concatenate([points, np.concatenate([mesh.points, points])[data.copied]])
        return with_new(draft, mesh, points)


def _beside(t: Topology, height: Floats, staying: Ints, sides: Ints) -> Ints:
    """Sides of the faces that stay; one lying in the plane goes with its neighbours."""
    flat = staying[sides == 0]
    if not flat.size:
        return sides
    total = np.bincount(t.corner_face, height[t.corners], t.face_count)
    corner = t.corners_of(flat)
    twin = t.twin[corner]
    leaning = np.where(twin >= 0, np.sign(total[t.corner_face[np.maximum(twin, 0)]]), 0.0)
    lean = np.bincount(t.corner_face[corner], leaning, t.face_count)[flat]
    out = sides.copy()
    out[sides == 0] = np.sign(lean).astype(np.int64)
    return out


def _along_edges(t: Topology, height: Floats, only: Bools | None) -> Ints:
    """(n, 2) ends of edges that lie in the plane with a face on either side: there the cut is them."""
    flat = (height[t.edges] == 0).all(axis=1)
    corner = np.flatnonzero(flat[t.corner_edge] & (True if only is None else only[t.corner_face]))
    high, low = (np.zeros(t.edge_count, bool) for _ in range(2))
    if corner.size:
        face = t.corner_face[corner]
        at, starts = height[t.corners[t.corners_of(face)]], np.cumsum(t.sides[face]) - t.sides[face]
        high[t.corner_edge[corner[np.maximum.reduceat(at, starts) > 0]]] = True
        low[t.corner_edge[corner[np.minimum.reduceat(at, starts) < 0]]] = True
    out: Ints = t.edges[high & low]
    return out


def _still(number: Ints, pairs: Ints) -> Ints:
    out: Ints = number[pairs]
    return out[(out >= 0).all(axis=1)]


def _come_apart(s: Split, cut: PlaneCut, side: Ints) -> Ints:
    """Give the faces below vertices of their own on the plane; the vertices copied, in numbers while collecting."""
    t = s.build.mesh.topology
    v = t.vertex_count
    corners = np.concatenate(s.build._corners)
    face = np.repeat(np.arange(side.size), np.concatenate(s.build._sides))
    flat = np.concatenate([cut.height == 0, np.ones(cut.points.count, bool)])
    below, above = np.zeros(flat.size, bool), np.zeros(flat.size, bool)
    below[corners[side[face] < 0]] = True
    above[corners[side[face] >= 0]] = True
    copied = np.flatnonzero(flat & below & above)
    old, new = copied[copied < v], copied[copied >= v] - v
    ends = t.edges[cut.points.edge[new]]
    one = s.build.vertices("", [("vertex", old)], np.ones((old.size, 1), np.int64), old)
    a, b = ends[:, 0], ends[:, 1]
    two = s.build.vertices("", [("vertex", a), ("vertex", b)], np.ones((new.size, 1), np.int64), a)
    other = np.arange(flat.size)
    other[copied] = np.concatenate([one, two])
    place = 0
    for i, part in enumerate(s.build._corners):  # one entry for each group of faces
        own = face[place:place + part.size]
        s.build._corners[i] = np.where(side[own] < 0, other[part], part)
        place += part.size
    return copied


def _close(s: Split, cut: PlaneCut, mesh: Mesh, normal: Floats, side: Ints, copied: Ints) -> None:
    """Put flat faces over what the plane cut open."""
    t = mesh.topology
    corners, sides = np.concatenate(s.build._corners), np.concatenate(s.build._sides)
    corner_from, face_from = np.concatenate(s.build._corners_from), np.concatenate(s.build._faces_from)
    points = np.concatenate([mesh.points, cut.positions(mesh)])
    if copied.size:
        points = np.concatenate([points, points[copied]])
    flat = np.concatenate([cut.height == 0, np.ones(len(points) - t.vertex_count, bool)])
    loose = open_half_edges(corners, sides)
    loose = loose[flat[loose[:, 0]] & flat[loose[:, 1]]]
    owner = np.repeat(np.arange(sides.size), sides)[loose[:, 2]]
    for which, facing in ((1, -normal), (-1, normal)):
        rows = loose[side[owner] == which]
        loops = closed_loops(rows)
        if not loops:
            continue
        faces, _ = flat_faces(loops, points, facing)
        every = np.concatenate(loops)
        beside = face_from[np.repeat(np.arange(sides.size), sides)[every[:, 2]]]
        ids = mesh.names.face
        parent = np.array([beside[f][np.argmin(ids[beside[f]])] for f in faces], np.int64)
        rank = np.array([np.count_nonzero(parent[:i] == parent[i]) for i in range(parent.size)])
        at = np.concatenate(faces)
        index = np.stack([np.full(parent.size, which % 3), rank], axis=1)
        sides_of = np.array([f.size for f in faces], np.int64)
        s.build.faces("cap", every[at, 1], [("face", parent)], index, parent, corner_from[every[at, 2]], sides=sides_of)


