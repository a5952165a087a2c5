"""Polygons again from the triangles of a boolean: whole faces, pieces of those that were cut, points on the cut."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from scipy.sparse import csr_array

from ...mesh.geometry import cross, lengths
from ...mesh.mesh import Floats, Mesh
from ...mesh.names import Ids, mix
from ...mesh.topology import Bools, Ints, components
from ..caps.simple_polygons import simple_polygons
from .solids import Combined, Solid

Keep = Literal["corners", "points", "triangles"]


@dataclass(frozen=True)
class Pieces:
    """A boolean's result, told against one mesh that holds all its inputs one after the other.

    Attributes:
        vertex: (n,) vertex of that mesh each point of the result is, −1 for points on the cut; no vertex stands twice.
        twice: (n,) vertex a further point at the same place stands for, −1 for most.
        points: (n, 3); ``used`` (n,) whether the polygons have it.
        whole: (w,) faces nothing touched; ``whole_corner`` the point at each of their corners, in the face's own order.
        turned: (w,) whether such a face runs the other way in the result.
        loop: points of the pieces, one polygon after the other; ``sides`` (p,), ``face`` (p,) the face each is a piece of.
        around: (r, 2) point that is new and a face that meets there, each pair once, sorted.
    """

    vertex: Ints
    twice: Ints
    points: Floats
    used: Bools
    whole: Ints
    whole_corner: Ints
    turned: Bools
    loop: Ints
    sides: Ints
    face: Ints
    around: Ints


def pieces(mesh: Mesh, solids: Sequence[Solid], result: Combined, keep: Keep = "corners") -> Pieces:
    """Sort a boolean's triangles into whole faces and pieces of faces.

    Args:
        mesh: the solids' meshes one after the other, as :func:`.foreign.together` puts them.
        keep: of the pieces, the corners alone, all points on their outlines, or every triangle as it is: more than the
            corners only where those do not close.
    """
    t = mesh.topology
    first_face = np.cumsum([0, *(s.mesh.topology.face_count for s in solids)])
    first_plane = np.cumsum([0, *(s.mesh.topology.face_count + s.face.size for s in solids)])
    face = _faces(solids, result, first_face)
    plane = result.plane + first_plane[result.solid]
    place, at = _places(mesh.points, result.points)
    shared, owner = _shared(mesh, solids[0], result, place, at)
    face[shared] = plane[shared] = owner
    corner = _corners_of_faces(mesh, place, face, at[result.triangles])
    # a face is whole when it has as many triangles as before, all between its own corners
    own = (corner >= 0).all(axis=1)
    count = np.bincount(face[own], minlength=t.face_count)
    whole_face = (count == t.sides - 2) & (np.bincount(face, minlength=t.face_count) == count)
    point_at = np.full(t.corner_count, -1, np.int64)
    point_at[corner[own]] = result.triangles[own]
    # two points may stand at one corner, where the result touches itself: then its triangles tell which is whose
    at_odds = np.array(own)
    at_odds[own] = (point_at[corner[own]] != result.triangles[own]).any(axis=1)
    whole_face[face[at_odds]] = False
    whole = np.flatnonzero(whole_face)
    vertex, twice = _vertices(t.vertex_count, place, at, corner, result.triangles, t.corners)
    touched = ~whole_face[face]
    triangles, faces = result.triangles[touched], face[touched]
    at_whole = t.corners_of(whole)
    turned = result.turned[np.searchsorted(first_face, whole, "right") - 1]
    runs = np.where(np.repeat(turned, t.sides[whole]), [point_at[t.next_corner[at_whole]], point_at[at_whole]],
                    [point_at[at_whole], point_at[t.next_corner[at_whole]]])
    loop, sides, of = _polygons(result.points, triangles, plane[touched], faces, vertex, (runs[0], runs[1]), keep)
    used = np.zeros(len(result.points), bool)
    used[loop] = True
    used[point_at[at_whole]] = True
    return Pieces(vertex, twice, result.points, used, whole, point_at[at_whole], turned, loop, sides, of,
                  _around(triangles, faces, (vertex < 0) & used))


def _faces(solids: Sequence[Solid], result: Combined, first: Ints) -> Ints:
    """(T,) face of the whole mesh each triangle lies in."""
    out = result.plane.copy()
    for i, s in enumerate(solids):
        count = s.mesh.topology.face_count
        mine = result.solid == i
        plane = result.plane[mine]
        out[mine] = np.where(plane < count, plane, s.face[np.maximum(plane - count, 0)]) + first[i]
    return out


def _shared(mesh: Mesh, first: Solid, result: Combined, place: Ints, at: Ints) -> tuple[Ints, Ints]:
    """Triangles told as another solid's that stand between corners of one flat face of the first, looking the same way.

    Where faces of both coincide the library may take either; they are the first one's. Which triangles,
    and that face of each.
    """
    t = first.mesh.topology
    others = np.flatnonzero(result.solid > 0)
    corner = at[result.triangles[others]]
    own = np.zeros(int(place.max(initial=0)) + 1, bool)
    own[place[:first.mesh.topology.vertex_count]] = True
    others, corner = others[known := ((corner >= 0) & own[corner]).all(axis=1)], corner[known]
    if not others.size:
        return others, others
    has = csr_array((np.ones(t.corner_count, np.int8), (place[t.corners], t.corner_face)),
                    shape=(own.size, t.face_count))
    found = has[corner[:, 0]].multiply(has[corner[:, 1]]).multiply(has[corner[:, 2]]).tocoo()
    triangle, face = others[found.row], found.col.astype(np.int64)
    a, b, c = (result.points[result.triangles[triangle, k]] for k in range(3))
    flat = np.zeros(t.face_count, bool)
    flat[first.plane[first.plane < t.face_count]] = True
    same = flat[face] & (np.einsum("ij,ij->i", cross(b - a, c - a), mesh.normals[face]) > 0)
    return triangle[same], face[same]


def _places(points: Floats, found: Floats) -> tuple[Ints, Ints]:
    """Numbers of places: of each given point, and of each found one, −1 for places where none is given. To the last bit."""
    with np.errstate(over="ignore"):
        def key(p: Floats) -> Ids:
            bits = (np.ascontiguousarray(p) + 0.0).view(np.uint64).reshape(-1, 3)
            return mix(mix(mix(bits[:, 0], bits[:, 1]), bits[:, 2]), bits[:, 0])
        ordered, first, place = np.unique(key(points), return_index=True, return_inverse=True)
        at = np.searchsorted(ordered, wanted := key(found))
    at[at == ordered.size] = 0
    same = (ordered[at] == wanted) & (points[first[at]] == found).all(axis=1)
    return place, np.where(same, at, -1)


def _corners_of_faces(mesh: Mesh, place: Ints, face: Ints, at: Ints) -> Ints:
    """(T, 3) corner of its own face that each triangle's corner stands at, −1 where it stands at none."""
    t = mesh.topology
    width = int(place.max(initial=0)) + 1
    key: Ints = t.corner_face * width + place[t.corners]
    order = np.argsort(key, kind="stable")
    ordered = key[order]
    wanted = face[:, None] * width + at
    found = np.minimum(np.searchsorted(ordered, wanted), ordered.size - 1)
    out: Ints = np.where((at >= 0) & (ordered[found] == wanted), order[found], -1)
    return out


def _vertices(count: int, place: Ints, at: Ints, corner: Ints, triangles: Ints, corners: Ints) -> tuple[Ints, Ints]:
    """(n,) vertex each point of the result is, and the one it stands for a second time; −1 for others.

    Where several vertices stand at one place, a point is the first of those that are corners of its faces.
    """
    n = at.size
    best = np.full(n, count, np.int64)
    there = corner >= 0
    np.minimum.at(best, triangles[there], corners[corner[there]])
    # met in the middle of a face or edge of another: the first vertex there
    first = np.full(int(place.max(initial=-1)) + 1, count, np.int64)
    np.minimum.at(first, place, np.arange(count))
    lone = (best == count) & (at >= 0)
    best[lone] = first[at[lone]]
    vertex = np.where(best < count, best, -1)
    twice = np.full(n, -1, np.int64)
    known = np.flatnonzero(vertex >= 0)
    order = known[np.argsort(vertex[known], kind="stable")]
    again = np.zeros(order.size, bool)
    again[1:] = vertex[order][1:] == vertex[order][:-1]
    twice[order[again]] = vertex[order[again]]
    vertex[order[again]] = -1
    return vertex, twice


def _polygons(points: Floats, triangles: Ints, plane: Ints, face: Ints, vertex: Ints, others: tuple[Ints, Ints],
              keep: Keep) -> tuple[Ints, Ints, Ints]:
    """Outlines of connected flat pieces, without points that lie on a straight stretch between two pieces alone: unless two
    edges, of these or of ``others`` (from, to), would then stand on one pair of points."""
    if not len(triangles):
        return np.zeros(0, np.int64), np.zeros(0, np.int64), np.zeros(0, np.int64)
    if keep == "triangles":
        order = np.argsort(face, kind="stable")
        return triangles[order].ravel(), np.full(face.size, 3), face[order]
    n = len(points)
    start, end = triangles.ravel(), np.roll(triangles, -1, axis=1).ravel()
    twin = _twins(start, end, n)
    tri = np.repeat(np.arange(len(triangles)), 3)
    inner = (twin >= 0) & (plane[tri] == plane[tri[twin]])
    half = np.flatnonzero(inner)
    piece = components(len(triangles), tri[half], tri[twin[half]])
    following = np.arange(start.size) + np.where(np.arange(start.size) % 3 == 2, -2, 1)
    border = np.flatnonzero(~inner)
    after = following[border]
    turning = inner[after]
    while turning.any():  # one pass per triangle round a vertex: bounded by the largest valence
        after[turning] = following[twin[after[turning]]]
        turning = inner[after]
    leaving = np.bincount(start[border], minlength=n)
    straight = _straight(points, start[border], end[border], start[after], end[after], n)
    dropped = (vertex < 0) & (leaving == 2) & straight & (keep == "corners")
    while True:  # each round gives points back; where the result touches itself along an edge, once
        found = _traced(points, start, border, after, piece[tri], face[tri], dropped)
        back = _between(points, found[0], found[1], others, np.flatnonzero(dropped), n)
        if not back.size:
            return found
        dropped[back] = False


def _between(points: Floats, loop: Ints, sides: Ints, others: tuple[Ints, Ints], dropped: Ints, n: int) -> Ints:
    """Dropped points that lie on an edge which stands twice."""
    ends = np.cumsum(sides)
    following = np.arange(1, loop.size + 1)
    following[ends - 1] = ends - sides
    a, b = np.concatenate([loop, others[0]]), np.concatenate([loop[following], others[1]])
    key, count = np.unique(a * n + b, return_counts=True)
    double = key[count > 1]
    out = []
    for k in double:  # hardly ever there
        u, v = points[k // n], points[k % n]
        way = v - u
        size = float(way @ way)
        along = (points[dropped] - u) @ way / size
        off = lengths(points[dropped] - (u + along[:, None] * way))
        out.append(dropped[(along > 0) & (along < 1) & (off <= 1e-9 * np.sqrt(size))])
    return np.unique(np.concatenate(out)) if out else np.zeros(0, np.int64)


def _twins(start: Ints, end: Ints, n: int) -> Ints:
    key, back = start * n + end, end * n + start
    order = np.argsort(key)
    found = np.minimum(np.searchsorted(key[order], back), key.size - 1)
    out: Ints = np.where(key[order][found] == back, order[found], -1)
    return out


def _straight(points: Floats, a: Ints, b: Ints, b2: Ints, c: Ints, n: int) -> Bools:
    """(n,) points where every outline that passes goes straight on."""
    one, two = points[b] - points[a], points[c] - points[b2]
    turn = lengths(cross(one, two))
    bent = turn > 1e-9 * lengths(one) * lengths(two)
    back = np.einsum("ij,ij->i", one, two) <= 0
    out = np.ones(n, bool)
    out[b[bent | back]] = False
    return out


def _traced(points: Floats, start: Ints, border: Ints, after: Ints, piece: Ints, face: Ints,
            dropped: Bools) -> tuple[Ints, Ints, Ints]:
    """Follow the outlines: one round for each border half-edge of what was cut."""
    number = np.zeros(start.size, np.int64)
    number[border] = np.arange(border.size)
    follow, origin = number[after].tolist(), start[border].tolist()
    stays = (~dropped[start[border]]).tolist()
    owner, of = piece[border].tolist(), face[border].tolist()
    loops: dict[int, list[list[int]]] = {}
    faces: dict[int, int] = {}
    seen = bytearray(border.size)
    for first in range(border.size):
        if seen[first]:
            continue
        loop, at = [], first
        while not seen[at]:
            seen[at] = 1
            if stays[at]:
                loop.append(origin[at])
            at = follow[at]
        if len(loop) > 2:
            loops.setdefault(owner[first], []).append(loop)
            faces[owner[first]] = of[first]
    out: list[tuple[int, list[int]]] = []
    for label, rings in loops.items():
        if len(rings) == 1 and len(set(rings[0])) == len(rings[0]):
            out.append((faces[label], rings[0]))
            continue
        normal = _normal(points, rings)
        out += [(faces[label], p) for p in simple_polygons(points, [np.array(r, np.int64) for r in rings], normal)]
    out.sort(key=lambda row: row[0])
    return (np.array([v for _, p in out for v in p], np.int64), np.array([len(p) for _, p in out], np.int64),
            np.array([f for f, _ in out], np.int64))


def _normal(points: Floats, rings: list[list[int]]) -> Floats:
    """Unit normal of a flat region: its outlines run round it, those of holes the other way."""
    total = np.zeros(3)
    for ring in rings:
        p = points[ring] - points[rings[0][0]]
        total += np.cross(p, np.roll(p, -1, axis=0)).sum(axis=0)
    size = float(np.linalg.norm(total))
    return total / size if size > 0 else np.array([0.0, 1.0, 0.0])


def _around(triangles: Ints, face: Ints, wanted: Bools) -> Ints:
    """(r, 2) points that are wanted, each with every face that meets there."""
    point = triangles.ravel()
    of = np.repeat(face, 3)
    here = wanted[point]
    width = int(of.max(initial=0)) + 1
    key = np.unique(point[here] * width + of[here])
    return np.stack([key // width, key % width], axis=1)
