"""Mirror: the other half of a part, kept alike."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from ..construct.charts.extended import with_readable
from ..construct.rebuild import none
from ..construct.split.by_plane import PlaneCut, plane_cut
from ..construct.split.faces import EdgePoints, Split, add_pieces, blended, edge_sources, split
from ..curve.curve import Curve
from ..curve.reflect import reflected
from ..errors import StepError
from ..mesh.attributes import Attribute
from ..mesh.mesh import Floats, Mesh
from ..mesh.topology import Bools, Ints, Topology
from ..params import Flag, Id, Length, NonNegativeLength, Quantity
from ..pick.resolve import Picked
from ..step.curve_edit import CurveEdit
from ..step.draft import Draft
from ..step.facts import Knob, Offer
from ..step.kind import Context, Step, StepKind


class Mirror(Step):
    kind: Literal["mirror"]
    axis: Literal["x", "y", "z"] = "x"
    at: Length = 0.0
    keep: Literal["+", "-"] = "+"
    clip: Flag = True
    weld: NonNegativeLength = 1e-5
    readable: Annotated[list[Id], Field(max_length=200, description="patterns or pictures not turned over on the image"),
                        Quantity("patterns")] = Field(default=[])


@dataclass(frozen=True)
class _Data:
    """The snapped points, where edges are cut, and the old vertices that have an image, in the order of those."""

    points: Floats
    cut: PlaneCut
    imaged: Ints


class MirrorKind(StepKind[Mirror]):
    """Vertices nearer the plane than half of ``weld`` snap onto it and are their own image; ``clip`` cuts off what lies
    beyond it; faces lying in it are dropped. Of a curve as of faces: runs that end on the plane go on as their image, and
    spans lying in it are dropped."""

    word, title, model, live = "mirror", "Mirror", Mirror, True
    shares_layout = True
    roles = ("image",)
    curve_role = "makes"
    reads_points = True
    proposal = (Offer("axis", "x"),)
    knob = Knob("at")

    def remade(self, p: Mirror, curve: Curve, picked: Picked | None, context: Context) -> CurveEdit:
        keep = 1.0 if p.keep == "+" else -1.0
        out = reflected(curve, "xyz".index(p.axis), p.at, keep, p.clip, p.weld / 2, context.step)
        return CurveEdit(out.curve, out.source, {"image": out.image})

    def estimate(self, p: Mirror, topology: Topology, picked: Picked | None, context: Context) -> tuple[int, str]:
        return 2 * topology.face_count, "keep"

    def plan(self, p: Mirror, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        t, axis = mesh.topology, "xyz".index(p.axis)
        points = mesh.points.copy()
        near = np.abs(points[:, axis] - p.at) < p.weld / 2
        points[near, axis] = p.at
        snapped = mesh.with_points(points)
        normal = np.zeros(3)
        normal[axis] = 1.0 if p.keep == "+" else -1.0
        point = np.zeros(3)
        point[axis] = p.at
        cut = plane_cut(snapped, point, normal, near=0.0)
        if not p.clip:
            none_cut = EdgePoints.on(t, np.zeros(0, np.int64))
            cut = PlaneCut(cut.height, none_cut, np.zeros(0), np.zeros((0, 3), np.int64))
        s = split(snapped, cut.points, cut.chords, "", none(cut.points.count))
        stay, pieces = _sides(cut, s, p.clip)
        if not stay.any() and not pieces.any():
            raise StepError(f"nothing lies on the {p.keep} side of the plane; keep the other side or move the plane", "keep")
        s = add_pieces(s, stay, pieces)
        imaged = _add_images(s, cut, t, stay, pieces)
        halves = s.halves(t)
        draft: Draft = s.build.draft(
            data=_Data(points, cut, imaged), replaced_edges=halves, edges=lambda _: {"": s.build.number[cut.chords[:, 1:]]},
            edge_source=lambda: _edge_sources(t, draft, s.build.number, halves, imaged, cut.points.count),
            vertex_source=lambda: blended(s, t, cut.share)[0], corner_source=lambda: blended(s, t, cut.share)[1])
        return replace(draft, image_of=_image_of(s, cut.points.count))

    def set_by_points(self, p: Mirror, draft: Draft, made: Mesh, context: Context) -> dict[str, Attribute]:
        return with_readable(draft, made, tuple(p.readable)) if p.readable else {}

    def positions(self, p: Mirror, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        data: _Data = draft.data
        axis = "xyz".index(p.axis)
        old = data.points[draft.kept_vertices[draft.kept_vertices >= 0]]
        new = data.cut.positions(mesh.with_points(data.points))
        new[:, axis] = p.at
        image = data.points[data.imaged].copy()
        image[:, axis] = 2 * p.at - image[:, axis]
        return np.concatenate([old, new, image])


def _image_of(s: Split, cuts: int) -> Ints:
    """(V',) the old vertex each is or is an image of; points on the plane are new."""
    sources, old = s.build.vertex_sources, s.build.mesh.topology.vertex_count
    sources[old:old + cuts] = -1
    return sources[s.build.number >= 0]


def _sides(cut: PlaneCut, s: Split, clip: bool) -> tuple[np.ndarray, np.ndarray]:
    stay, pieces = cut.sides(s)
    if clip:
        return stay > 0, pieces > 0
    return stay != 0, pieces != 0


def _add_images(s: Split, cut: PlaneCut, t: Topology, stay: np.ndarray, pieces: np.ndarray) -> Ints:
    """Put the images of all faces so far into the result; the old vertices that have one."""
    build = s.build
    corners = np.concatenate([t.corners[s.plain], s.outline.vertex[s.places]])
    n = s.apart.size
    whole = s.whole[stay[n:]]
    sides = np.concatenate([t.sides[s.apart[stay[:n]]], s.outline.sides[whole], s.pieces.sides[pieces]])
    # what was cut lies in the plane and is its own image, whatever meets there
    flat = np.concatenate([cut.height == 0, np.ones(cut.points.count, bool)])
    flat[:t.vertex_count] &= _on_border(corners, sides, build.total)[:t.vertex_count]
    imaged = np.unique(corners[~flat[corners]])
    image = np.arange(build.total)
    image[imaged] = build.vertices("image", [("vertex", imaged)], none(imaged.size), imaged)
    starts = np.repeat(np.cumsum(sides) - sides, sides)
    place = np.arange(corners.size)
    backward = starts + (starts - place) % np.repeat(sides, sides)
    source = np.concatenate([s.plain, s.outline.source[s.places]])[backward]
    parent = np.concatenate([s.staying[stay], s.pieces.face[pieces]])
    ordinal = np.concatenate([np.full(int(stay.sum()), -1), s.pieces.ordinal[pieces]]) + 1
    build.faces("image", image[corners][backward], [("face", parent)], ordinal, parent, source, sides=sides)
    return imaged


def _on_border(corners: Ints, sides: Ints, count: int) -> Bools:
    """(count,) vertices of ragged faces on an edge of one face: where a part only touches the plane, it and its image stay
    two."""
    starts = np.cumsum(sides) - sides
    onward = np.arange(1, corners.size + 1)
    onward[starts + sides - 1] = starts
    low, high = np.minimum(corners, corners[onward]), np.maximum(corners, corners[onward])
    _, first, uses = np.unique(low * count + high, return_index=True, return_counts=True)
    out = np.zeros(count, bool)
    out[low[first[uses == 1]]] = out[high[first[uses == 1]]] = True
    return out


def _edge_sources(t: Topology, draft: Draft, number: Ints, halves: tuple[Ints, Ints], imaged: Ints, cuts: int) -> Ints:
    """(E',) edges of images take after those they are images of."""
    topology = draft.topology
    source = edge_sources(t, topology, number, halves)
    before = np.arange(topology.vertex_count)
    before[number[t.vertex_count + cuts + np.arange(imaged.size)]] = number[imaged]
    ends = before[topology.edges]
    partner = topology.find_edges(ends[:, 0], ends[:, 1])
    return np.where((source < 0) & (partner >= 0), source[np.maximum(partner, 0)], source)
