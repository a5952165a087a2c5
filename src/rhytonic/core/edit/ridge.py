"""Ridge: edges become raised ribs, or sunk grooves."""

from __future__ import annotations

from typing import Literal

import numpy as np

from ..errors import BadParameter
from ..mesh.geometry import Floats, area_vectors, shortest_offsets, unit
from ..mesh.mesh import Mesh
from ..mesh.topology import Topology
from ..pick.resolve import Picked
from ..recipe.draft import Draft
from ..recipe.kind import Context, Edit, StepKind
from ..recipe.params import Length, PositiveLength
from .bevel import bevel_draft, beveled_points, pick_layout
from .bevel_points import widest
from .compose import between, composed
from .raise_regions import Raised, assemble, limited, raise_regions


class Ridge(Edit):
    kind: Literal["ridge"]
    height: Length
    width: PositiveLength


class RidgeKind(StepKind[Ridge]):
    """Each edge opens into a strip ``width`` wide, half on each face; the strip and the corners between strips are lifted by
    ``height`` along their surface, sunk where it is negative, and walled round."""

    word, title, model = "ridge", "Ridge", Ridge
    takes = ("edges",)
    roles = ("crest", "flank")
    numbers = frozenset({"height", "width"})

    def estimate(self, p: Ridge, topology: Topology, picked: Picked | None, context: Context) -> tuple[int, str]:
        assert picked is not None
        return topology.face_count + 8 * picked.elements.size, "pick"

    def plan(self, p: Ridge, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        assert picked is not None
        t = mesh.topology
        layout, edges, notes = pick_layout(t, picked)
        first = bevel_draft(mesh, layout, edges, 1, ("strip", "corner"), notes)
        opened = between(mesh, first, context.step)
        new = np.flatnonzero(first.kept_faces < 0)
        # a corner lies between strips when two or more edges meet there; the end of one strip stays in its surface
        ends_plain = np.zeros(t.vertex_count, bool)
        count = np.bincount(t.edges[edges].ravel(), minlength=t.vertex_count)
        ends_plain[count == 1] = True
        corners = [b.elements for b in first.born if b.domain == "face" and b.role == "corner"]
        from_corner = np.concatenate(corners) if corners else np.zeros(0, np.int64)
        vertex_of = np.full(first.topology.face_count, -1, np.int64)
        source = first.corner_source
        assert isinstance(source, np.ndarray)
        at = source[first.topology.offsets[from_corner]]
        vertex_of[from_corner] = t.corners[at]
        crest = new[(vertex_of[new] < 0) | ~ends_plain[np.maximum(vertex_of[new], 0)]]
        second = raise_regions(opened, crest, False, 1, "crest", "flank")
        return composed(first, second)

    def positions(self, p: Ridge, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        first: Draft
        second: Draft
        first, second = draft.data
        most, _ = widest(first.data.layout, mesh)
        if p.width / 2 > most:
            raise BadParameter("the strips would cross; the widest that works is {length}", "width", 2 * most)
        points = beveled_points(first, mesh, p.width / 2, 0.0, False)
        opened = Mesh(points, first.topology)
        raised: Raised = second.data
        r = raised.regions
        normals = unit(area_vectors(points, first.topology, r.faces))
        lift = limited(shortest_offsets(r.sector, normals[r.face], r.sector_count, p.height), p.height, "height")
        return assemble(second, opened, points[r.sector_vertex] + lift)


