"""Fill: close holes."""

from __future__ import annotations

from typing import Literal

import numpy as np
from pydantic import Field

from ..construct.caps.add_patches import add_patches, patched_points
from ..construct.caps.crossing_outlines import crossing_remark
from ..construct.caps.flat import Closed, added_names, caps_of, closed_by, on_line
from ..construct.caps.patches import Style, patch
from ..construct.skin.sections import lengths_on, skinned
from ..curve.curve import Curve
from ..curve.nest import nested
from ..curve.plane import plane_of
from ..errors import StepError
from ..mesh.attributes import Attribute
from ..mesh.mesh import Floats, Mesh
from ..mesh.topology import Ints, Topology, components
from ..pick.resolve import Picked
from ..pick.rules import Pick
from ..step.draft import Draft
from ..step.kind import Context, Picking, Remark, StepKind


class Fill(Picking):
    kind: Literal["fill"]
    pick: Pick | None = Field(default=None, description="border edges; left out on a curve")
    style: Style = "ngon"


class FillKind(StepKind[Fill]):
    """Each picked border loop gets one face, a fan round its middle, or a grid of quads; so does each outline of a closed
    flat curve, those inside others being holes (even–odd)."""

    word, title, model = "fill", "Fill", Fill
    extends_layout = True
    takes = ("edges",)
    roles = ("patch",)
    reads_points = True
    curve_role = "ends"

    def pick_of(self, p: Fill) -> Pick | None:
        return p.pick

    def estimate(self, p: Fill, topology: Topology, picked: Picked | None, context: Context) -> tuple[int, str]:
        n = picked.elements.size if picked is not None else 0 if context.curve is None else len(context.curve.divided.points)
        return topology.face_count + (n * n // 16 if p.style == "quads" else n), "pick"

    def plan(self, p: Fill, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        if context.curve is not None:
            return _of_curve(context.curve, p.style)
        if picked is None:
            raise StepError("needs a pick of border edges to fill", "pick")
        t = mesh.topology
        patches = []
        for corners in border_loops(t, picked.elements):
            loop = t.corners[corners]
            patches.append((patch(mesh.points[loop], p.style), loop, corners, int(t.corner_face[corners[0]])))
        return add_patches(mesh, np.arange(t.face_count), patches)

    def positions(self, p: Fill, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        if context.curve is None:
            return patched_points(draft, mesh)
        line: Floats = context.curve.divided.points
        return np.concatenate([line, *(c.points(line) for c in _closed(context.curve, p.style))])

    def set_by_points(self, p: Fill, draft: Draft, made: Mesh, context: Context) -> dict[str, Attribute]:
        return {} if context.curve is None else lengths_on(draft, made.points, [], [])

    def remarks(self, p: Fill, draft: Draft, mesh: Mesh, made: Mesh, context: Context) -> tuple[Remark, ...]:
        """Where an outline crosses itself, or another, there is no inside."""
        if context.curve is None:
            return ()
        return crossing_remark(context.curve.divided, plane_of(context.curve, "filling").normal)


def _closed(curve: Curve, style: Style) -> tuple[Closed, ...]:
    plane = plane_of(curve, "filling")
    line = curve.divided
    if not line.closed.all():
        raise StepError("the curve is open; close it, or leave its open runs out")
    flat = plane.flat(line.points)
    return closed_by(line, nested([flat[line.run(r)] for r in range(line.closed.size)]), plane.normal, style)


def _of_curve(curve: Curve, style: Style) -> Draft:
    """Faces over the regions of a closed flat curve, in its divided points."""
    line = curve.divided
    n = len(line.points)
    caps, count = [], n
    closed = _closed(curve, style)
    for region in closed:
        caps += caps_of(region, np.arange(n), count, False, line, 0)
        count += region.added
    parents, index = on_line(line, np.arange(n), np.zeros((n, 1), np.int64))
    fresh = added_names([(c, 0) for c in closed], line)
    if fresh is not None:
        parents, index = np.concatenate([parents, fresh[0]]), np.concatenate([np.pad(index, ((0, 0), (0, 1))), fresh[1]])
    return skinned([], caps, (parents, index), "patch")


def border_loops(t: Topology, edges: Ints) -> list[Ints]:
    """(k,) corners of each of the loops that picked border edges make, turning as a face in the hole would.

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
