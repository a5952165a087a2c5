"""A flat region with holes, or one that touches itself, as few polygons that visit no vertex twice."""

from __future__ import annotations

from collections.abc import Sequence

import mapbox_earcut
import numpy as np
import scipy
import shapely

from ...mesh.mesh import Floats
from ...mesh.topology import Ints


def simple_polygons(points: Floats, loops: Sequence[Ints], normal: Floats) -> list[list[int]]:
    """Polygons that cover the region between ``loops``, in the vertices of those alone.

    The region is cut into triangles (ears; mapbox_earcut; or Delaunay's where those leave slits), which are joined again
    across the longest edges first wherever the union visits no vertex twice (S. Hertel, K. Mehlhorn, FCT 1983, joins convex
    ones so). One hole leaves two polygons.

    Args:
        points: (V, 3).
        loops: vertices round the region, it lying to the left as seen against ``normal``, and round its holes.
        normal: (3,) of the region's plane.
    """
    flat = points @ _plane(normal)
    outer = max(range(len(loops)), key=lambda i: _area(flat[loops[i]]))
    ordered = [loops[outer], *(loop for i, loop in enumerate(loops) if i != outer)]
    faces = _with_straight_points(_turned(flat, _ears(flat, ordered)), loops)
    if not _fits(faces, loops):
        others = _with_straight_points(_turned(flat, _delaunay(flat, ordered)), loops)
        faces = others if _fits(others, loops) else faces
    return _joined(flat, faces)


def _turned(flat: Floats, triangles: Ints) -> list[list[int]]:
    """Triangles counter-clockwise, without those that have a corner twice."""
    p = flat[triangles]
    one, two = p[:, 1] - p[:, 0], p[:, 2] - p[:, 0]
    backward = one[:, 0] * two[:, 1] - one[:, 1] * two[:, 0] < 0
    triangles[backward] = triangles[backward, ::-1]
    return [list(map(int, t)) for t in triangles if len(set(t.tolist())) == 3]


def _ears(flat: Floats, loops: Sequence[Ints]) -> Ints:
    vertex = np.concatenate(loops)
    ends = np.cumsum([loop.size for loop in loops]).astype(np.uint32)
    corners = mapbox_earcut.triangulate_float64(np.ascontiguousarray(flat[vertex]), ends).astype(np.int64).reshape(-1, 3)
    out: Ints = vertex[corners]
    return out


def _delaunay(flat: Floats, loops: Sequence[Ints]) -> Ints:
    """Where points of several loops stand in line ears leave slits; triangles of all points do not (shapely)."""
    region = shapely.Polygon(flat[loops[0]], [flat[loop] for loop in loops[1:]])
    parts = shapely.get_parts(shapely.constrained_delaunay_triangles(region)) if region.is_valid else []
    if not len(parts):
        return np.zeros((0, 3), np.int64)
    vertex = np.concatenate(loops)
    corners = shapely.get_coordinates(parts).reshape(-1, 4, 2)[:, :3]
    nearest = np.asarray(scipy.spatial.cKDTree(flat[vertex]).query(corners.reshape(-1, 2))[1], np.int64)
    out: Ints = vertex[nearest].reshape(-1, 3)
    return out


def _fits(faces: list[list[int]], loops: Sequence[Ints]) -> bool:
    """Whether faces meet edge to edge, and their outer edges are those of the loops."""
    sides = [(a, b) for face in faces for a, b in zip(face, face[1:] + face[:1], strict=True)]
    rim = {(int(a), int(b)) for loop in loops for a, b in zip(loop, np.roll(loop, -1), strict=True)}
    there = set(sides)
    return len(there) == len(sides) and all((b, a) in there or (a, b) in rim for a, b in sides) and rim <= there


def _with_straight_points(faces: list[list[int]], loops: Sequence[Ints]) -> list[list[int]]:
    """Triangles with those points of the loops put back that ears leave out since they lie on a straight stretch."""
    have = {v for face in faces for v in face}
    side = {(face[i], face[(i + 1) % 3]): face for face in faces for i in range(3)}
    for loop in loops:
        ring = loop.tolist()
        if all(v in have for v in ring) or not any(v in have for v in ring):
            continue
        first = next(i for i, v in enumerate(ring) if v in have)
        ring = [*ring[first:], *ring[:first + 1]]
        run: list[int] = []
        start = ring[0]
        for v in ring[1:]:
            if v not in have:
                run.append(v)
                continue
            face = side.get((start, v)) if run else None
            if face is not None:
                at = face.index(start)
                face[at + 1:at + 1] = run
            start, run = v, []
    return faces


def _plane(normal: Floats) -> Floats:
    """(3, 2) directions that span the plane, counter-clockwise seen against the normal."""
    axis = np.zeros(3)
    axis[int(np.argmin(np.abs(normal)))] = 1.0
    u = np.cross(axis, normal)
    u /= np.linalg.norm(u)
    return np.stack([u, np.cross(normal, u)], axis=1)


def _area(flat: Floats) -> float:
    x, y = flat[:, 0], flat[:, 1]
    return float(np.sum(x * np.roll(y, -1) - np.roll(x, -1) * y) / 2)


def _joined(flat: Floats, faces: list[list[int]]) -> list[list[int]]:
    """Faces joined across inner edges; those without area, which would be left over, first."""
    side = {(face[i], face[(i + 1) % len(face)]): f for f, face in enumerate(faces) for i in range(len(face))}
    inner = [(u, v) for u, v in side if u < v and (v, u) in side]
    thin = {f for f, face in enumerate(faces) if abs(_area(flat[face])) <= 1e-12 * np.ptp(flat[face], axis=0).max() ** 2}
    length = {e: float(np.linalg.norm(flat[e[0]] - flat[e[1]])) for e in inner}
    inner.sort(key=lambda e: (not (side[e] in thin or side[e[::-1]] in thin), -length[e], e))
    for u, v in inner:
        f, g = side[u, v], side[v, u]
        if f == g:
            continue
        one, two = faces[f], faces[g]
        i, j = one.index(u), two.index(v)
        if one[(i + 1) % len(one)] != v or two[(j + 1) % len(two)] != u:
            continue
        union = [*(one[i + 1:] + one[:i + 1]), *(two[j + 1:] + two[:j + 1])[1:-1]]
        if len(set(union)) < len(union):
            continue
        faces[f] = union
        faces[g] = []
        for k, a in enumerate(union):
            side[a, union[(k + 1) % len(union)]] = f
    return [face for face in faces if face]
