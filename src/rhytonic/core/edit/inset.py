"""Inset: a smaller face inside each picked face or region, with a rim round it."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from ..construct.held_plane import HoldPlane, held_plane
from ..construct.regions.raised import Raised, along_plane, assemble, margin_offsets, raise_regions
from ..errors import BadParameter
from ..mesh.geometry import area_vectors, lengths, unit
from ..mesh.mesh import Floats, Mesh
from ..mesh.topology import Topology
from ..params import Length, NonNegativeLength
from ..pick.resolve import Picked
from ..step.draft import Draft
from ..step.kind import Context, Edit, StepKind


class Inset(Edit):
    kind: Literal["inset"]
    width: NonNegativeLength
    as_: Annotated[Literal["region", "each"], Field(alias="as", title="as")] = "region"
    depth: Length = 0.0
    hold_plane: HoldPlane = "none"


class InsetKind(StepKind[Inset]):
    """``width`` is the distance from each outline edge, in the face; ``depth`` also pushes the inner faces along the
    average normal of their region."""

    word, title, model = "inset", "Inset", Inset
    extends_layout = True
    takes = ("faces",)
    roles = ("inner", "rim")
    numbers = frozenset({"width", "depth"})
    keeps_pick = True
    summary = ("width", "depth")

    def estimate(self, p: Inset, topology: Topology, picked: Picked | None, context: Context) -> tuple[int, str]:
        assert picked is not None
        return topology.face_count + int(topology.sides[picked.elements].sum()), "pick"

    def plan(self, p: Inset, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        assert picked is not None
        return raise_regions(mesh, picked.elements, p.as_ == "each", 1, "inner", "rim", walls_replace=True,
                             held=held_plane(p, mesh))

    def positions(self, p: Inset, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        data: Raised = draft.data
        r = data.regions
        vectors = area_vectors(mesh.points, mesh.topology, r.faces)
        inner = mesh.points[r.sector_vertex] + margin_offsets(p.width, r, mesh, vectors, "width")
        if p.depth:
            summed = np.zeros((r.region_count, 3))
            np.add.at(summed, r.region, vectors)
            summed = along_plane(r, summed)
            if (lengths(summed) <= 1e-9 * np.maximum(lengths(vectors).max(), 1e-300)).any():
                raise BadParameter("the normals of the picked faces cancel out, so there is no way to push them; "
                                   "use depth 0 or inset each face", "depth")
            inner = inner + p.depth * unit(summed)[r.sector_region]
        return assemble(draft, mesh, inner)
