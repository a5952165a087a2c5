"""Where a ridge's strip runs out over a sharp edge of the body, as a saw cut does."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ...mesh.geometry import Floats, unit
from ...mesh.mesh import Mesh
from ...mesh.topology import Bools, Ints
from .layout import Layout

#: the sine of the turn from which on the surface beyond a strip's end counts as another side of the body
_SHARP = 0.5
#: the cosine between that side and the strip's up to which the strip's profile can be cut out of it
_UPRIGHT = 0.8


@dataclass(frozen=True)
class RunOuts:
    """Ends of strips that stay open.

    Attributes:
        arc: (n,) the arc across each end.
        beyond: (n, 3) unit normals of the faces there, beside the one and the other corner of the end.
    """

    arc: Ints
    beyond: tuple[Floats, Floats]

    def turned(self, layout: Layout, lifted: Ints, lift: Floats) -> None:
        """Turn the ``lift`` (of the points ``lifted``, changed in place) into the faces beyond, so that they are as deep as
        before and lie in those faces."""
        for points, beyond in zip((layout.arc_from[self.arc], layout.arc_to[self.arc]), self.beyond, strict=True):
            at = np.searchsorted(lifted, points)
            d = lift[at]
            size2 = np.einsum("ij,ij->i", d, d)
            flat = d - np.einsum("ij,ij->i", d, beyond)[:, None] * beyond
            reach = np.einsum("ij,ij->i", flat, d)
            usable = reach > 0.1 * size2
            lift[at[usable]] = (flat * (size2 / np.where(usable, reach, 1.0))[:, None])[usable]

    def mouth(self, layout: Layout, known: Floats, lifted: Ints, lift: Floats) -> tuple[Floats, Floats, Bools]:
        """Where the corners (k, 3) of each of the layout's ends are, lifted at those that stay open; and which do."""
        out = []
        opened = np.zeros(len(known), bool)
        opened[layout.arc_from[self.arc]] = opened[layout.arc_to[self.arc]] = True
        for points in layout.ends[:, :2].T:
            up = np.zeros((points.size, 3))
            at = np.flatnonzero(opened[points])
            up[at] = lift[np.searchsorted(lifted, points[at])]
            out.append(known[points] + up)
        return out[0], out[1], opened[layout.ends[:, 0]]


def run_outs(mesh: Mesh, layout: Layout) -> RunOuts:
    """The ends of lone strips beyond which the surface turns sharply."""
    t = mesh.topology
    arc = np.flatnonzero((layout.crossed == 1) & (layout.arc_leg >= 0))
    if not arc.size:
        return RunOuts(arc, (np.zeros((0, 3)), np.zeros((0, 3))))
    leg = layout.arc_leg[arc]
    edge = leg // 2
    ends = t.edges[edge]
    here = ends[np.arange(leg.size), leg % 2]
    order, starts = t.edge_corners
    own = np.stack([t.corner_face[order[starts[edge]]], t.corner_face[order[starts[edge] + 1]]], axis=1)
    # the faces of the fan that the edge is no side of
    place = np.full(t.vertex_count, -1, np.int64)
    place[here] = np.arange(here.size)
    lone = np.bincount(here, minlength=t.vertex_count) == 1
    border = np.zeros(t.vertex_count, bool)
    border[t.edges[t.edge_face_count != 2]] = True
    corner = np.flatnonzero((place[t.corners] >= 0) & lone[t.corners] & ~border[t.corners])
    mine = place[t.corners[corner]]
    outside = (own[mine] != t.corner_face[corner][:, None]).all(axis=1)
    corner, mine = corner[outside], mine[outside]
    normals = mesh.normals[t.corner_face[corner]]
    total = np.stack([np.bincount(mine, normals[:, k], here.size) for k in range(3)], axis=1)
    beyond = unit(total.astype(float))
    along = unit(mesh.points[here] - mesh.points[ends.sum(axis=1) - here])
    up = unit(np.asarray(mesh.normals[own].sum(axis=1), float))
    sharp = (np.abs(np.einsum("ij,ij->i", beyond, along)) > _SHARP) & \
        (np.abs(np.einsum("ij,ij->i", beyond, up)) < _UPRIGHT)
    arc, beyond = arc[sharp], beyond[sharp]
    # the face beyond that each corner of the end lies in, which is one of two where an edge leads on
    face_of = np.full(t.vertex_count + layout.inset.size + layout.slide.size, -1, np.int64)
    mine = corner[layout.before[corner] != layout.after[corner]]
    for side in (layout.before[mine], layout.after[mine]):
        face_of[side] = t.corner_face[mine]
    sides = []
    for points in (layout.arc_from[arc], layout.arc_to[arc]):
        face = face_of[points]
        sides.append(np.where((face >= 0)[:, None], mesh.normals[np.maximum(face, 0)], beyond))
    return RunOuts(arc, (sides[0], sides[1]))
