"""Extrude edges: a strip of faces grown from picked edges."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
from pydantic import model_validator

from ..construct.held_plane import HoldPlane
from ..construct.rebuild import Rebuild, none, with_new
from ..construct.regions.raised import limited
from ..mesh.geometry import cross, shortest_offsets, unit
from ..mesh.mesh import Floats, Mesh
from ..mesh.topology import Ints, Topology
from ..params import Length, Point
from ..pick.resolve import Picked
from ..step.draft import Draft
from ..step.facts import Knob, Offer
from ..step.kind import Context, Edit, StepKind


class ExtrudeEdges(Edit):
    kind: Literal["extrude_edges"]
    vector: Point | None = None
    width: Length | None = None
    height: Length | None = None
    hold_plane: HoldPlane = "none"

    @model_validator(mode="after")
    def _one_way(self) -> ExtrudeEdges:
        along = self.width is not None or self.height is not None
        if (self.vector is None) == (not along):
            raise ValueError("give either vector, or width and height")
        return self


@dataclass(frozen=True)
class _Data:
    """Half-edges the strips stand on, and the old vertices copied, in order."""

    corner: Ints
    source: Ints


class ExtrudeEdgesKind(StepKind[ExtrudeEdges]):
    """Each picked edge gets a face; chains share vertices. ``width`` leads on in the plane of the face beside the edge, away
    from it, ``height`` along that face's normal. An edge with two faces goes by the one made first."""

    word, title, model = "extrude_edges", "Extrude edges", ExtrudeEdges
    extends_layout = True
    may_share_edges = True
    takes = ("edges",)
    roles = ("side",)
    numbers = frozenset({"vector", "width", "height"})
    proposal = (Offer("width", of_size=0.2), Offer("height", 0.0))
    knob = Knob("width")

    def estimate(self, p: ExtrudeEdges, topology: Topology, picked: Picked | None, context: Context) -> tuple[int, str]:
        assert picked is not None
        return topology.face_count + picked.elements.size, "pick"

    def plan(self, p: ExtrudeEdges, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        assert picked is not None
        t = mesh.topology
        order, starts = t.edge_corners
        corner = order[starts[picked.elements]]
        onward = t.next_corner[corner]
        a, b = t.corners[corner], t.corners[onward]
        source = np.unique(t.edges[picked.elements])
        build = Rebuild(mesh)
        build.keep(np.arange(t.face_count))
        copy = build.vertices("side", [("vertex", source)], none(source.size), source, continues=source)
        at_a, at_b = copy[np.searchsorted(source, a)], copy[np.searchsorted(source, b)]
        face = t.corner_face[corner]
        low, high = np.minimum(a, b), np.maximum(a, b)
        build.faces("side", np.stack([b, a, at_a, at_b], axis=1), [("vertex", low), ("vertex", high)], none(a.size),
                    face, np.stack([onward, corner, corner, onward], axis=1))
        return build.draft(data=_Data(corner, source))

    def positions(self, p: ExtrudeEdges, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        data: _Data = draft.data
        base = mesh.points[data.source]
        if p.vector is not None:
            return with_new(draft, mesh, base + np.asarray(p.vector))
        t = mesh.topology
        a, b = t.corners[data.corner], t.corners[t.next_corner[data.corner]]
        normal = mesh.normals[t.corner_face[data.corner]]
        outward = unit(cross(mesh.points[b] - mesh.points[a], normal))
        group = np.searchsorted(data.source, np.concatenate([a, b]))
        moved = base.copy()
        for distance, along, name in ((p.width or 0.0, outward, "width"), (p.height or 0.0, normal, "height")):
            offset = shortest_offsets(group, np.concatenate([along, along]), data.source.size, distance)
            moved = moved + limited(offset, distance, name)
        return with_new(draft, mesh, moved)
