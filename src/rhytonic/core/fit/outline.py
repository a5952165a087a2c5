"""The outline of meshes in a flat view: the union of their projected faces.

Projecting faces one by one into a union takes seconds for a fine surface. Instead: turn every projected face
counter-clockwise and add up their borders as chains. What faces share cancels; what is left is closed loops whose winding
number about a point counts the faces that cover it. The union is where that number is positive (B. R. Vatti,
Communications of the ACM 35(7), 1992, fills such loops; manifold3d brings an exact-integer implementation).
"""

from __future__ import annotations

from collections.abc import Sequence

import manifold3d
import numpy as np
import shapely

from ..brief.views import View, project
from ..mesh.mesh import Floats, Mesh
from ..mesh.topology import Ints, Topology
from ..mesh.triangulate import triangulate
from ..picture.trace import EMPTY

#: the filling works on a grid of 1e-8; figures are brought to this size first, so that one grid step is 1e-13 of them
_SPAN = 1e5


def outline(meshes: Sequence[Mesh], view: View) -> shapely.Geometry:
    """What meshes cover in a view, as polygons with holes in metres: across to the right, up upwards.

    Args:
        meshes: in the axes of the build; open ones and ones with faces turned either way are fine.
    """
    loops = [loop for mesh in meshes for loop in projected_borders(project(mesh.points, view), mesh)]
    return filled(loops)


def filled(loops: Sequence[Floats]) -> shapely.Geometry:
    """The region that closed loops (n, 2) wind round counter-clockwise."""
    if not loops:
        return EMPTY
    every = np.concatenate(loops)
    low, high = every.min(axis=0), every.max(axis=0)
    middle, span = (low + high) / 2, float((high - low).max())
    if span <= 0:
        return EMPTY
    scale = _SPAN / span
    section = manifold3d.CrossSection([(loop - middle) * scale for loop in loops], manifold3d.FillRule.Positive)
    return region([np.asarray(ring) / scale + middle for ring in section.to_polygons()])


def region(rings: Sequence[Floats]) -> shapely.Geometry:
    """Polygons from rings that do not cross: those that run counter-clockwise enclose, the others are holes."""
    shells: list[Floats] = []
    holes: list[Floats] = []
    for ring in rings:
        if len(ring) < 3:
            continue
        (shells if signed_area(ring) > 0 else holes).append(ring)
    if not shells:
        return EMPTY
    out = shapely.union_all([shapely.make_valid(shapely.Polygon(s)) for s in shells])
    if holes:
        out = shapely.difference(out, shapely.union_all([shapely.make_valid(shapely.Polygon(h)) for h in holes]))
    return out


def signed_area(ring: Floats) -> float:
    """Area of a closed ring (n, 2), negative when it runs clockwise."""
    x, y = ring[:, 0] - ring[0, 0], ring[:, 1] - ring[0, 1]
    return float((x * np.roll(y, -1) - np.roll(x, -1) * y).sum() / 2)


def projected_borders(flat: Floats, mesh: Mesh) -> list[Floats]:
    """Closed loops round all projected faces, each face taken counter-clockwise; inner borders cancel.

    Args:
        flat: (V, 2) points of the mesh in the view.
    """
    t = mesh.topology
    if not t.face_count:
        return []
    turn, crossed = _turns(flat, t)
    edge, count = _left_over(t, np.where(crossed, 0, turn))
    low, high = t.edges[edge].T
    which = np.flatnonzero(crossed)
    if which.size:  # faces that may cross themselves in the view: their triangles do not
        low, high, count = _summed(t.vertex_count, (low, high, count), _of_triangles(flat, mesh, which))
    ahead, times = count > 0, np.abs(count)
    if times.size and not (times % 2).any():  # front and back cover alike
        times = times // 2
    return [flat[loop] for loop in _chained(np.where(ahead, low, high), np.where(ahead, high, low), times)]


def _turns(flat: Floats, t: Topology) -> tuple[Ints, np.ndarray]:
    """(F,) +1 for faces seen counter-clockwise, −1 clockwise, 0 edge on; and (F,) which may cross themselves."""
    n = t.uniform
    if n:  # sides first: what is reduced over them runs along whole arrays
        corners = np.ascontiguousarray(t.corners.reshape(-1, n).T)
        x, y = flat[:, 0][corners], flat[:, 1][corners]
        ax, ay = np.roll(x, -1, axis=0) - x, np.roll(y, -1, axis=0) - y
        bx, by = np.roll(ax, 1, axis=0), np.roll(ay, 1, axis=0)
    else:
        x, y = flat[t.corners].T
        ax, ay = x[t.next_corner] - x, y[t.next_corner] - y
        bx, by = ax[t.previous_corner], ay[t.previous_corner]
    cross = bx * ay - by * ax
    straight = 1e-12 * (np.abs(bx) + np.abs(by)) * (np.abs(ax) + np.abs(ay))
    starts = t.offsets[:-1]
    to_left, to_right = cross > straight, cross < -straight
    left = to_left.any(axis=0) if n else np.logical_or.reduceat(to_left, starts)
    right = to_right.any(axis=0) if n else np.logical_or.reduceat(to_right, starts)
    crossed = left & right
    if n not in (3, 4):  # bends one way and yet goes round twice: a pentagram
        angle = np.arctan2(cross, bx * ax + by * ay)
        crossed |= np.abs(angle.sum(axis=0) if n else np.add.reduceat(angle, starts)) > 3 * np.pi
    return left.astype(np.int64) - right, crossed


def _left_over(t: Topology, sign: Ints) -> tuple[Ints, Ints]:
    """Edges whose faces do not cancel, and how often they are left over, counted from the lower to the higher vertex."""
    corner_sign = np.repeat(sign, t.sides)
    lower = t.edges[:, 0][t.corner_edge] == t.corners
    count = np.bincount(t.corner_edge, np.where(lower, corner_sign, -corner_sign), t.edge_count).astype(np.int64)
    edge = np.flatnonzero(count)
    return edge, count[edge]


Chain = tuple[Ints, Ints, Ints]


def _of_triangles(flat: Floats, mesh: Mesh, faces: Ints) -> Chain:
    """Directed edges of the triangles of some faces, each triangle taken counter-clockwise."""
    t = mesh.topology
    corners = t.corners[t.corners_of(faces)]
    part = Topology(t.vertex_count, np.concatenate([[0], np.cumsum(t.sides[faces])]), corners)
    triangles, _ = triangulate(Mesh(mesh.points, part))
    p = flat[triangles]
    u, v = p[:, 1] - p[:, 0], p[:, 2] - p[:, 0]
    sign = np.sign(u[:, 0] * v[:, 1] - u[:, 1] * v[:, 0]).astype(np.int64)
    a, b = triangles.ravel(), np.roll(triangles, -1, axis=1).ravel()
    return a, b, np.repeat(sign, 3)


def _summed(vertices: int, *chains: Chain) -> Chain:
    """Chains added up: each edge once, from its lower to its higher vertex, those that cancel left out."""
    a, b, count = (np.concatenate([c[k] for c in chains]) for k in (0, 1, 2))
    count = np.where(a < b, count, -count)
    keys, which = np.unique(np.minimum(a, b) * vertices + np.maximum(a, b), return_inverse=True)
    total = np.bincount(which, count, keys.size).astype(np.int64)
    kept = np.flatnonzero(total)
    return keys[kept] // vertices, keys[kept] % vertices, total[kept]


def _chained(a: Ints, b: Ints, times: Ints) -> list[Ints]:
    """Closed vertex loops along directed edges a → b; as many come to each vertex as leave it."""
    a, b = np.repeat(a, times), np.repeat(b, times)
    leaving, coming = np.argsort(a, kind="stable"), np.argsort(b, kind="stable")
    following = np.empty(a.size, np.int64)
    following[coming] = leaving  # one of those leaving where each one comes
    onward, start = following.tolist(), a.tolist()
    seen = bytearray(a.size)
    loops = []
    for first in range(a.size):  # bounded by the outline, not by the mesh
        if seen[first]:
            continue
        loop, at = [], first
        while not seen[at]:
            seen[at] = 1
            loop.append(start[at])
            at = onward[at]
        loops.append(np.array(loop))
    return loops
