"""Fill: close holes."""

from __future__ import annotations

from typing import Literal

import numpy as np

from ..construct.add_patches import add_patches, patched_points
from ..construct.patches import Style, patch
from ..errors import StepError
from ..mesh.mesh import Floats, Mesh
from ..mesh.topology import Ints, Topology, components
from ..pick.resolve import Picked
from ..step.draft import Draft
from ..step.kind import Context, Edit, StepKind


class Fill(Edit):
    kind: Literal["fill"]
    style: Style = "ngon"


class FillKind(StepKind[Fill]):
    """Each picked border loop gets one face, a fan round its middle, or a grid of quads."""

    word, title, model = "fill", "Fill", Fill
    takes = ("edges",)
    roles = ("patch",)
    reads_points = True

    def estimate(self, p: Fill, topology: Topology, picked: Picked | None, context: Context) -> tuple[int, str]:
        assert picked is not None
        n = picked.elements.size
        return topology.face_count + (n * n // 16 if p.style == "quads" else n), "pick"

    def plan(self, p: Fill, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        assert picked is not None
        t = mesh.topology
        patches = []
        for corners in border_loops(t, picked.elements):
            loop = t.corners[corners]
            patches.append((patch(mesh.points[loop], p.style), loop, corners, int(t.corner_face[corners[0]])))
        return add_patches(mesh, np.arange(t.face_count), patches)

    def positions(self, p: Fill, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        return patched_points(draft, mesh)


def border_loops(t: Topology, edges: Ints) -> list[Ints]:
    """Corners of the loops that picked border edges make, turning as a face in the hole would.

    Raises:
        StepError: an edge is not on a border, or the edges do not close.
    """
    if not t.border_edges[edges].all():
        raise StepError("some of the picked edges have two faces; pick edges of an open border", "pick")
    border = t.twin < 0  # open borders, and edges where faces do not fit together: no way leads across either
    following = t.next_corner.copy()
    turning = np.flatnonzero(border & ~border[following])
    while turning.size:  # round the vertex to the next border edge: bounded by the largest valence
        following[turning] = t.next_corner[t.twin[following[turning]]]
        turning = turning[~border[following[turning]]]
    corner = np.flatnonzero(border)
    label = components(t.corner_count, corner, following[corner])
    picked = np.zeros(t.edge_count, bool)
    picked[edges] = True
    loops = []
    for which in np.unique(label[corner[picked[t.corner_edge[corner]]]]):  # once for each hole
        start = int(np.flatnonzero(border & (label == which))[0])
        loop = [start]
        while int(following[loop[-1]]) != start:
            loop.append(int(following[loop[-1]]))
        if not picked[t.corner_edge[loop]].all():
            raise StepError("the picked edges do not close; pick the whole border of the hole", "pick")
        loops += [t.next_corner[np.array(part[::-1], np.int64)] for part in _simple(t, loop)]
    return loops


def _simple(t: Topology, loop: list[int]) -> list[list[int]]:
    """A loop of half-edges as loops that visit no vertex twice: holes that touch at a point are holes of their own."""
    out: list[list[int]] = []
    path: list[int] = []
    place: dict[int, int] = {}
    for half_edge in loop:
        vertex = int(t.corners[half_edge])
        if vertex in place:
            begin = place[vertex]
            out.append(path[begin:])
            for gone in path[begin:]:
                del place[int(t.corners[gone])]
            path = path[:begin]
        place[vertex] = len(path)
        path.append(half_edge)
    return [*out, path]
