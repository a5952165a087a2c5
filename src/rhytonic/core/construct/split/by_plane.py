"""Cutting faces by a plane: the points and chords, for slice and mirror."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ... import tolerance
from ...compiled import FLOATS, INTS, NEW_BOOLS, NEW_INTS, compiled
from ...mesh.geometry import Floats, cross
from ...mesh.mesh import Mesh
from ...mesh.topology import Bools, Ints, ranges
from .faces import EdgePoints, Outlines, Split, outlines, split


@dataclass(frozen=True)
class PlaneCut:
    """Where a plane meets a mesh.

    Attributes:
        height: (V,) signed distance of each vertex, exactly 0 within the tolerance.
        points: where edges pass through, and their ``share`` (n,) from the edge's first vertex.
        chords: (m, 3) face and two vertices of each new edge.
    """

    height: Floats
    points: EdgePoints
    share: Floats
    chords: Ints

    def positions(self, mesh: Mesh) -> Floats:
        """(n, 3) the points on edges."""
        ends = mesh.points[mesh.topology.edges[self.points.edge]]
        out: Floats = ends[:, 0] + self.share[:, None] * (ends[:, 1] - ends[:, 0])
        return out

    def split(self, mesh: Mesh) -> Split:
        """The mesh with the faces cut, in the making. Points are named by their edge and the lowest face they are cut by."""
        return split(mesh, self.points, self.chords, "", np.zeros((self.points.count, 0), np.int64))

    def sides(self, s: Split) -> tuple[Ints, Ints]:
        """(staying,) and (pieces,) side of each face: 1 above, −1 below, 0 for one lying in the plane."""
        o, t = s.outline, s.build.mesh.topology
        level = np.where(o.vertex < self.height.size, np.sign(self.height)[np.minimum(o.vertex, self.height.size - 1)], 0.0)

        def of(values: Floats, sides: Ints) -> Ints:
            if not sides.size:
                return np.zeros(0, np.int64)
            return _sides(values, sides)

        apart = _sides_of(self.height, t.offsets, t.corners, s.apart)
        whole = of(level[ranges(o.starts[s.whole], o.sides[s.whole])], o.sides[s.whole])
        return np.concatenate([apart, whole]), of(level[s.pieces.corner], s.pieces.sides)


def plane_cut(mesh: Mesh, point: Floats, normal: Floats, faces: Bools | None = None,
              near: float = tolerance.ON_PLANE) -> PlaneCut:
    """Where the plane through ``point`` with unit ``normal`` cuts the faces (a mask; None for all).

    Vertices within ``near`` metres of the plane count as lying on it, so that no sliver is left beside them.
    """
    t = mesh.topology
    height = (mesh.points - point) @ normal
    height[np.abs(height) <= near] = 0.0
    a, b = height[t.edges[:, 0]], height[t.edges[:, 1]]
    through = a * b < 0
    if faces is not None:
        touched = np.zeros(t.edge_count, bool)
        touched[t.corner_edge[faces[t.corner_face]]] = True
        through &= touched
    edge = np.flatnonzero(through)
    points = EdgePoints.on(t, edge)
    share = a[edge] / (a[edge] - b[edge])
    both = _on_both_sides(height, t.offsets, t.corners)
    o = outlines(t, points, np.flatnonzero(both if faces is None else both & faces))
    return PlaneCut(height, points, share, _chords(mesh, o, height, normal, points, share))


@compiled(NEW_INTS, FLOATS, INTS)
def _sides(values: Floats, sides: Ints) -> Ints:
    """Of each run of so many values: 1 where one lies above nothing, else −1 where one lies below, else 0."""
    out = np.zeros(len(sides), np.int64)
    at = 0
    for f in range(len(sides)):
        for c in range(at, at + sides[f]):
            if values[c] > 0:
                out[f] = 1
                break
            if values[c] < 0:
                out[f] = -1
        at += sides[f]
    return out


@compiled(NEW_INTS, FLOATS, INTS, INTS, INTS)
def _sides_of(height: Floats, offsets: Ints, corners: Ints, faces: Ints) -> Ints:
    """The same of the corners of faces."""
    out = np.zeros(len(faces), np.int64)
    for i in range(len(faces)):
        for c in range(offsets[faces[i]], offsets[faces[i] + 1]):
            if height[corners[c]] > 0:
                out[i] = 1
                break
            if height[corners[c]] < 0:
                out[i] = -1
    return out


@compiled(NEW_BOOLS, FLOATS, INTS, INTS)
def _on_both_sides(height: Floats, offsets: Ints, corners: Ints) -> Bools:
    """(F,) whether a face has corners above the plane and below it."""
    out = np.zeros(len(offsets) - 1, np.bool_)
    for f in range(len(out)):
        low = high = False
        for c in range(offsets[f], offsets[f + 1]):
            low = low or height[corners[c]] < 0
            high = high or height[corners[c]] > 0
        out[f] = low and high
    return out


def _chords(mesh: Mesh, o: Outlines, height: Floats, normal: Floats, points: EdgePoints, share: Floats) -> Ints:
    """(m, 3) face and two vertices: where the plane's line in a face runs inside it. All the faces lie on both sides."""
    t = mesh.topology
    v = t.vertex_count
    new = o.point >= 0
    high = np.where(new, 0.0, height[np.minimum(o.vertex, v - 1)]) if v else np.zeros(0)
    on = high == 0
    at = np.flatnonzero(on)
    owner = o.local[at]
    count = np.bincount(owner, minlength=o.faces.size)
    pair = at[count[owner] == 2].reshape(-1, 2)
    # the two are no neighbours, as each side of the plane has a corner between them
    rows = [np.stack([o.face[pair[:, 0]], o.vertex[pair[:, 0]], o.vertex[pair[:, 1]]], axis=1)]
    many = np.unique(owner[count[owner] > 2])
    if many.size:
        place = np.where(new[:, None], 0.0, mesh.points[np.minimum(o.vertex, v - 1)])
        ends = mesh.points[t.edges[points.edge]]
        place[new] = (ends[:, 0] + share[:, None] * (ends[:, 1] - ends[:, 0]))[o.point[new]]
        for f in many:  # concave faces, and those with edges along the plane
            here = np.arange(o.starts[f], o.starts[f + 1])
            face = int(o.faces[f])
            rows.append(_inside_spans(here, place, high, on, o, face, cross(normal[None], mesh.normals[[face]])[0]))
    out: Ints = np.concatenate(rows)
    return out


def _inside_spans(here: Ints, place: Floats, high: Floats, on: Bools, o: Outlines, face: int, along: Floats) -> Ints:
    """Chords of one face met more than twice: sorted along the line, the spans whose middle lies inside."""
    n = here.size
    hits = np.flatnonzero(on[here])
    order = hits[np.argsort(place[here[hits]] @ along, kind="stable")]
    level = np.sign(high[here])
    following, before = (np.arange(n) + 1) % n, (np.arange(n) - 1) % n
    rows = []
    inside = False
    touching = 0.0  # side on which an edge lying in the line was entered
    for i, p in enumerate(order[:-1]):
        a, b = level[before[p]], level[following[p]]
        if a * b < 0:
            inside = not inside
        elif (a == 0) != (b == 0):  # one end of an edge along the line: two such from opposite sides cross it
            side = a + b
            if touching == 0.0:
                touching = side
            else:
                if touching * side < 0:
                    inside = not inside
                touching = 0.0
        q = order[i + 1]
        neighbours = q in (following[p], before[p])
        if inside and not neighbours:
            rows.append((face, int(o.vertex[here[p]]), int(o.vertex[here[q]])))
    return np.array(rows, np.int64).reshape(-1, 3)
