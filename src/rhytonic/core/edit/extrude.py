"""Extrude: move picked faces off and wall up the gap."""

from __future__ import annotations

from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field, field_validator

from .. import tolerance
from ..construct.held_plane import HoldPlane, held_plane, with_images
from ..construct.regions.raised import Raised, along_plane, assemble, limited, margin_offsets, raise_regions
from ..construct.regions.regions import Regions
from ..errors import BadParameter
from ..mesh.geometry import area_vectors, lengths, shortest_offsets, unit
from ..mesh.mesh import Floats, Mesh
from ..mesh.topology import Topology
from ..params import AXES, Axis, Count, Direction, Length, NonNegativeLength, NonNegativeRatio
from ..pick.resolve import Picked
from ..step.draft import Draft
from ..step.facts import Knob, Offer
from ..step.kind import Context, Edit, StepKind


class Extrude(Edit):
    kind: Literal["extrude"]
    depth: Length
    as_: Annotated[Literal["region", "each"], Field(alias="as", title="as")] = "region"
    along: Literal["average", "surface"] | Axis | Direction = "average"
    scale: NonNegativeRatio = 1.0
    margin: NonNegativeLength = 0.0
    segments: Count = 1
    hold_plane: HoldPlane = "none"

    @field_validator("along")
    @classmethod
    def _has_direction(cls, value: Any) -> Any:
        if not isinstance(value, str) and not any(value):
            raise ValueError("a direction cannot be [0, 0, 0]")
        return value


class ExtrudeKind(StepKind[Extrude]):
    """Picked faces move, none is left behind; a wall rises on each outline edge of a region (or of each face)."""

    word, title, model = "extrude", "Extrude", Extrude
    extends_layout = True
    takes = ("faces",)
    roles = ("cap", "side")
    numbers = frozenset({"depth", "along", "scale", "margin"})
    keeps_pick = at_rest = True
    proposal = (Offer("depth", 0.0),)
    knob = Knob("depth", "normal")
    summary = ("depth",)

    def estimate(self, p: Extrude, topology: Topology, picked: Picked | None, context: Context) -> tuple[int, str]:
        assert picked is not None
        return topology.face_count + int(topology.sides[picked.elements].sum()) * p.segments, "segments"

    def plan(self, p: Extrude, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        assert picked is not None
        return raise_regions(mesh, picked.elements, p.as_ == "each", p.segments, "cap", "side", held=held_plane(p, mesh))

    def positions(self, p: Extrude, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        data: Raised = draft.data
        return assemble(draft, mesh, cap_positions(p, data.regions, mesh))


def cap_positions(p: Extrude, r: Regions, mesh: Mesh) -> Floats:
    """(s, 3) where each sector's vertex goes.

    Raises:
        BadParameter: the direction is not defined, or a corner is too sharp to move by an even distance.
    """
    base = mesh.points[r.sector_vertex]
    vectors = area_vectors(mesh.points, mesh.topology, r.faces)
    summed = np.zeros((r.region_count, 3))
    np.add.at(summed, r.region, vectors)
    summed = along_plane(r, summed)
    region_of_sector = r.sector_region
    direction = _directions(p, r, summed, vectors)
    if p.along == "surface":
        normals = unit(vectors)
        group, conditions = with_images(r.sector, normals[r.face], r.held, r.axis)
        moved = base + limited(shortest_offsets(group, conditions, r.sector_count, p.depth), p.depth, "depth")
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
        centre[region_of_sector[r.held], r.axis] = 0.0
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
