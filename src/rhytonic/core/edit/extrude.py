"""Extrude: move picked faces off and wall up the gap."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field, field_validator

from .. import tolerance
from ..errors import BadParameter
from ..mesh.geometry import area_vectors, cross, lengths, shortest_offsets, unit
from ..mesh.mesh import Floats, Mesh
from ..mesh.names import reduced
from ..mesh.topology import Ints, Topology
from ..pick.resolve import Picked
from ..recipe.draft import Born, Draft
from ..recipe.history import Renaming
from ..recipe.kind import Context, Edit, StepKind
from ..recipe.params import AXES, Axis, Count, Direction, Length, NonNegativeLength, NonNegativeRatio
from .regions import Regions, find_regions, sector_ranks


class Extrude(Edit):
    kind: Literal["extrude"]
    depth: Length
    as_: Annotated[Literal["region", "each"], Field(alias="as", title="as")] = "region"
    along: Literal["average", "surface"] | Axis | Direction = "average"
    scale: NonNegativeRatio = 1.0
    margin: NonNegativeLength = 0.0
    segments: Count = 1

    @field_validator("along")
    @classmethod
    def _has_direction(cls, value: Any) -> Any:
        if not isinstance(value, str) and not any(value):
            raise ValueError("a direction cannot be [0, 0, 0]")
        return value


@dataclass(frozen=True)
class _Data:
    regions: Regions
    split: np.ndarray  # (s,) the sector leaves its vertex behind
    copies: Ints  # (s, segments) new vertex of each ring, −1 where not split
    kept: Ints  # old vertex of the first vertices of the result


class ExtrudeKind(StepKind[Extrude]):
    """Picked faces move, none is left behind; a wall rises on each outline edge of a region (or of each face)."""

    word, title, model = "extrude", "Extrude", Extrude
    takes = ("faces",)
    roles = ("cap", "side")
    numbers = frozenset({"depth", "along", "scale", "margin"})

    def estimate(self, p: Extrude, topology: Topology, picked: Picked | None, context: Context) -> tuple[int, str]:
        assert picked is not None
        return topology.face_count + int(topology.sides[picked.elements].sum()) * p.segments, "segments"

    def plan(self, p: Extrude, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        assert picked is not None
        t, names = mesh.topology, mesh.names
        r = find_regions(t, picked.elements, names.face, p.as_ == "each")
        split = r.sector_open | ~r.sector_alone
        cut = np.flatnonzero(split)
        rings = p.segments
        # vertices: those still used, then ring after ring of copies
        corners = t.corners.copy()
        copies = np.full((r.sector_count, rings), -1, np.int64)
        copies[cut] = t.vertex_count + np.arange(cut.size)[:, None] + np.arange(rings) * cut.size
        top = copies[:, -1]
        corners[r.corner] = np.where(split[r.sector], top[r.sector], r.vertex)
        a = np.flatnonzero(r.outline)
        b = r.following[a]
        bottom = np.column_stack([r.sector_vertex, copies[:, :-1]])[:, :rings]  # (s, rings) lower end of each band
        sa, sb = r.sector[a], r.sector[b]
        walls = np.stack([bottom[sa], bottom[sb], copies[sb], copies[sa]], axis=2)  # (o, rings, 4)
        all_corners = np.concatenate([corners, walls.ravel()])
        total = t.vertex_count + cut.size * rings
        kept, number = _still_used(t, r, cut, total, all_corners)
        offsets = np.concatenate([t.offsets, t.offsets[-1] + 4 * np.arange(1, a.size * rings + 1)])
        topology = Topology.of(kept.size + cut.size * rings, offsets,
                               all_corners if number is None else number[all_corners])
        if number is not None:
            copies = np.where(copies >= 0, number[np.maximum(copies, 0)], -1)
        # names
        new_faces = t.face_count + np.arange(a.size * rings)
        kept_faces = np.concatenate([np.arange(t.face_count), np.full(new_faces.size, -1)])
        kept_faces[r.faces] = -1
        cap_v = copies[cut, -1]
        parent = names.vertex[r.sector_vertex[cut]][:, None]
        rank = r.sector_rank[cut][:, None]

        def ranks(other: Renaming) -> Ints:
            group = np.unique(other("vertex", names.vertex[r.sector_vertex]), return_inverse=True)[1]
            return sector_ranks(other("face", names.face[r.faces])[r.face], r.sector, group)[cut][:, None]

        def ranks_and(share: Ints) -> Callable[[Renaming], Ints]:
            return lambda other: np.column_stack([ranks(other), share])

        born = [
            Born("face", "cap", r.faces, names.face[r.faces][:, None], ("face",), np.zeros((r.faces.size, 0), np.int64),
                 replaces=r.faces),
            Born("face", "side", new_faces,
                 np.repeat(np.stack([names.face[r.faces[r.face[a]]], names.vertex[r.vertex[a]], names.vertex[r.vertex[b]]],
                                    axis=1), rings, axis=0), ("face", "vertex", "vertex"),
                 np.tile(np.arange(rings), a.size)[:, None]),
            Born("vertex", "cap", cap_v, parent, ("vertex",), rank, continues=r.sector_vertex[cut], reindex=ranks)]
        for ring in range(rings - 1):  # a band's lower points, told by their share of the way
            share = np.broadcast_to(reduced(np.array([ring + 1]), rings), (cut.size, 2))
            born.append(Born("vertex", "side", copies[cut, ring], parent, ("vertex",), np.column_stack([rank, share]),
                             reindex=ranks_and(share)))
        none = np.full(cut.size * rings, -1, np.int64)
        wall_corners = np.stack([r.corner[a], r.corner[b], r.corner[b], r.corner[a]], axis=1)
        data = _Data(r, split, copies, kept)
        return Draft(
            topology, np.concatenate([kept, none]), kept_faces,
            vertex_source=np.concatenate([kept, np.tile(r.sector_vertex[cut], rings)]),
            face_source=np.concatenate([np.arange(t.face_count), np.repeat(r.faces[r.face[a]], rings)]),
            corner_source=np.concatenate([np.arange(t.corner_count), np.repeat(wall_corners, rings, axis=0).ravel()]),
            born=tuple(born), edges=lambda: _made_edges(topology, r, split, copies, number),
            replaced_edges=lambda: _moved_edges(r, split, copies, number), data=data)

    def positions(self, p: Extrude, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        data: _Data = draft.data
        r, points = data.regions, mesh.points
        cap = cap_positions(p, r, mesh)
        out = np.empty((draft.topology.vertex_count, 3))
        out[:data.kept.size] = points[data.kept]
        base = points[r.sector_vertex]
        for ring in range(p.segments):
            share = (ring + 1) / p.segments
            at = data.copies[data.split, ring]
            out[at] = cap[data.split] if ring == p.segments - 1 else \
                base[data.split] + share * (cap[data.split] - base[data.split])
        moved = ~data.split
        if moved.any():
            number = np.searchsorted(data.kept, r.sector_vertex[moved])
            out[number] = cap[moved]
        return out


def _still_used(t: Topology, r: Regions, cut: Ints, total: int, corners: Ints) -> tuple[Ints, Ints | None]:
    """Old vertices that stay, and the new numbering when some do not (both ends of a split vertex left it)."""
    loose = np.bincount(t.corners, minlength=t.vertex_count)[r.sector_vertex[cut]] > 0
    candidates = r.sector_vertex[cut][loose & ~r.sector_open[cut]]
    if candidates.size == 0:
        return np.arange(t.vertex_count), None
    keep = np.ones(total, bool)
    keep[candidates] = False
    keep[corners] = True
    number = np.cumsum(keep) - 1
    return np.flatnonzero(keep[:t.vertex_count]), number


def _on_cap(r: Regions, corner: Ints, split: np.ndarray, copies: Ints, number: Ints | None) -> Ints:
    """New vertex of the cap at each of the given corners."""
    sector = r.sector[corner]
    plain = r.vertex[corner] if number is None else number[r.vertex[corner]]
    return np.where(split[sector], copies[sector, -1], plain)


def _made_edges(topology: Topology, r: Regions, split: np.ndarray, copies: Ints, number: Ints | None) -> dict[str, Ints]:
    """Edges the step made, that is those with a new end: round and inside the cap, and the walls' others."""
    corner = np.arange(r.corner.size)
    ends = np.stack([_on_cap(r, c, split, copies, number) for c in (corner, r.following)], axis=1)
    new = np.zeros(topology.vertex_count, bool)
    new[copies[split]] = True
    made = new[topology.edges].any(axis=1)
    capped = np.zeros(topology.edge_count, bool)
    capped[topology.find_edges(ends[:, 0], ends[:, 1])] = True
    return {"cap": topology.edges[made & capped], "side": topology.edges[made & ~capped]}


def _moved_edges(r: Regions, split: np.ndarray, copies: Ints, number: Ints | None) -> tuple[Ints, Ints]:
    """Inner edges that went along with the cap, before and after."""
    inner = np.flatnonzero(~r.outline)
    a, b = inner, r.following[inner]

    def after(corner: Ints) -> Ints:
        return _on_cap(r, corner, split, copies, number)

    changed = split[r.sector[a]] | split[r.sector[b]]
    a, b = a[changed], b[changed]
    return np.stack([r.vertex[a], r.vertex[b]], axis=1), np.stack([after(a), after(b)], axis=1)


def cap_positions(p: Extrude, r: Regions, mesh: Mesh) -> Floats:
    """(s, 3) where each sector's vertex goes.

    Raises:
        BadParameter: the direction is not defined, or a corner is too sharp to move by an even distance.
    """
    base = mesh.points[r.sector_vertex]
    vectors = area_vectors(mesh.points, mesh.topology, r.faces)
    summed = np.zeros((r.region_count, 3))
    np.add.at(summed, r.region, vectors)
    region_of_sector = r.sector_region
    direction = _directions(p, r, summed, vectors)
    if p.along == "surface":
        normals = unit(vectors)
        moved = base + _limited(shortest_offsets(r.sector, normals[r.face], r.sector_count, p.depth), p.depth, "depth")
    else:
        moved = base + p.depth * direction[region_of_sector]
    if p.margin:
        if p.scale != 1.0:
            raise BadParameter("give either scale or margin, not both", "margin")
        moved = moved + margin_offsets(p.margin, r, mesh, vectors)
    if p.scale != 1.0:
        centre = np.zeros((r.region_count, 3))
        np.add.at(centre, region_of_sector, moved)
        centre /= np.bincount(region_of_sector, minlength=r.region_count)[:, None]
        away = moved - centre[region_of_sector]
        axis = direction[region_of_sector]
        along = np.einsum("ij,ij->i", away, axis)[:, None] * axis
        moved = centre[region_of_sector] + along + p.scale * (away - along)
    return moved


def _directions(p: Extrude, r: Regions, summed: Floats, vectors: Floats) -> Floats:
    """(regions, 3) unit direction of each region; needed for every mode but ``surface`` without scale."""
    if p.along not in ("average", "surface"):
        wanted = AXES[p.along] if isinstance(p.along, str) else p.along
        return np.tile(unit(np.asarray(wanted, float)), (r.region_count, 1))
    direction = unit(summed)
    size = np.zeros(r.region_count)
    np.add.at(size, r.region, lengths(vectors))
    lost = lengths(summed) <= 1e-9 * np.maximum(size, tolerance.NO_AREA_ABSOLUTE)
    if lost.any() and (p.along == "average" or p.scale != 1.0):
        raise BadParameter("the normals of the picked faces cancel out, so they have no average direction; "
                           "use along surface, an axis or a vector", "along")
    return direction


def _limited(offsets: Floats, distance: float, parameter: str) -> Floats:
    """Offsets, refused where a vertex would move more than ten times the distance asked for."""
    longest = float(lengths(offsets).max(initial=0.0))
    if longest > tolerance.OFFSET_LIMIT * abs(distance) * (1 + 1e-9):
        raise BadParameter("a corner between nearly opposite faces would move more than ten times this distance whatever "
                           "its size; use along average, an axis or a vector", parameter)
    return offsets


def margin_offsets(margin: float, r: Regions, mesh: Mesh, vectors: Floats) -> Floats:
    """(s, 3) shortest move of each outline vertex that is ``margin`` away, within its faces, from its outline edges.

    Raises:
        BadParameter: a corner is too sharp, or an edge of the cap would turn over; names the widest margin that works.
    """
    a = np.flatnonzero(r.outline)
    b = r.following[a]
    along = mesh.points[r.vertex[b]] - mesh.points[r.vertex[a]]
    inward = unit(cross(unit(vectors)[r.face[a]], along))
    d = shortest_offsets(np.concatenate([r.sector[a], r.sector[b]]), np.concatenate([inward, inward]),
                         r.sector_count, margin)
    _limited(d, margin, "margin")
    size = lengths(along)
    shrink = -np.einsum("ij,ij->i", d[r.sector[b]] - d[r.sector[a]], unit(along))
    over = shrink > size * (1 + 1e-9)
    if over.any():
        widest = float((margin * size[over] / shrink[over]).min())
        raise BadParameter("the cap would turn over; the widest margin that works is {length}", "margin", widest)
    return d
