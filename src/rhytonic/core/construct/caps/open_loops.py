"""Loops of half-edges without a partner, and the flat faces that close them."""

from __future__ import annotations

import mapbox_earcut
import numpy as np

from ...mesh.geometry import Floats, cross, loop_area_vectors, unit
from ...mesh.topology import Ints
from ..pairing.pair import match

Loop = list[int]


def open_half_edges(corners: Ints, sides: Ints) -> Ints:
    """(n, 3) from, to and place of the half-edges of ragged faces that no other runs against."""
    ends = np.cumsum(sides)
    onward = np.arange(1, corners.size + 1)
    onward[ends - 1] = ends - sides
    a, b = corners, corners[onward]
    if not corners.size:
        return np.zeros((0, 3), np.int64)
    bound = int(corners.max()) + 1
    forward = a < b
    pair = np.where(forward, a * bound + b, b * bound + a)
    order = np.argsort(pair, kind="stable")
    number = np.concatenate([[0], np.cumsum(np.diff(pair[order]) != 0)])  # of the edge, in that order
    runs = np.stack([np.bincount(number, which[order]) > 0 for which in (forward, ~forward)])  # along it, and against
    alone = np.empty(corners.size, bool)
    alone[order] = ~runs[forward[order].astype(np.int64), number]
    place = np.flatnonzero(alone)
    return np.stack([a[place], b[place], place], axis=1)


def closed_loops(half_edges: Ints) -> list[Ints]:
    """Rows of half-edges (n, 3) as closed loops that visit no vertex twice, each in the order a closing face runs: against
    them. Half-edges that close no loop are left out."""
    out: list[Ints] = []
    at: dict[int, list[int]] = {}
    for row, b in enumerate(half_edges[:, 1].tolist()):  # as many as the cut has edges
        at.setdefault(b, []).append(row)
    ends = half_edges[:, 0].tolist()
    used = [False] * len(ends)
    for start in range(len(ends)):
        path: list[int] = []
        seen: dict[int, int] = {int(half_edges[start, 1]): 0}
        i: int | None = None if used[start] else start
        while i is not None:
            used[i] = True
            path.append(i)
            to = ends[i]
            if to in seen:
                begin = seen[to]
                out.append(half_edges[path[begin:]])
                for gone in path[begin:]:
                    if ends[gone] != to:
                        seen.pop(ends[gone], None)
                path = path[:begin]
            else:
                seen[to] = len(path)
            i = next((j for j in at.get(to, ()) if not used[j]), None)
    return out


def flat_faces(loops: list[Ints], points: Floats, facing: Floats) -> tuple[list[Ints], list[int]]:
    """Faces that close loops lying in a plane.

    Args:
        loops: rows of half-edges; the closing face visits their second column in order.
        points: place of every vertex they name.
        facing: unit normal of the plane, the way the faces look.

    Returns:
        places (k,) in the concatenation of all loops for each face, and the loop each belongs to. A loop without others
        inside becomes one face, two of equal length one inside the other a band of quads; other holes are met by triangles.
    """
    u = unit(cross(facing, np.eye(3)[np.argmin(np.abs(facing))]))
    w = cross(facing, u)
    flat = [np.stack([points[loop[:, 1]] @ u, points[loop[:, 1]] @ w], axis=1) for loop in loops]
    begin = np.concatenate([[0], np.cumsum([len(loop) for loop in loops])]).astype(np.int64)
    area = [float(loop_area_vectors(points[loop[:, 1]], np.zeros(1, np.int64), np.array([len(loop)]))[0] @ facing)
            for loop in loops]
    outer = [i for i, a in enumerate(area) if a >= 0]
    holes: dict[int, list[int]] = {}
    for i, a in enumerate(area):
        if a < 0:
            around = [o for o in outer if _inside(flat[i][0], flat[o]) and area[o] > -a]
            if around:
                holes.setdefault(min(around, key=lambda o: area[o]), []).append(i)
            else:
                outer.append(i)  # turned inside out as the mesh is
    faces: list[Ints] = []
    owner: list[int] = []
    for o in outer:
        inner = holes.get(o, [])
        if not inner:
            faces.append(begin[o] + np.arange(len(loops[o])))
            owner.append(o)
            continue
        if len(inner) == 1 and len(loops[inner[0]]) == len(loops[o]):
            faces += _band(points[loops[o][:, 1]], points[loops[inner[0]][:, 1]], int(begin[o]), int(begin[inner[0]]))
            owner += [o] * len(loops[o])
            continue
        members = [o, *inner]
        ring = np.cumsum([len(loops[m]) for m in members]).astype(np.uint32)
        place = np.concatenate([begin[m] + np.arange(len(loops[m])) for m in members])
        triangles = mapbox_earcut.triangulate_float64(np.concatenate([flat[m] for m in members]), ring).reshape(-1, 3)
        if len(triangles) != place.size + 2 * len(inner) - 2:  # loops that touch: each is closed by itself
            faces += [begin[m] + np.arange(len(loops[m])) for m in members]
            owner += members
            continue
        for triangle in place[triangles.astype(np.int64)]:
            faces.append(_turned(triangle, np.concatenate(flat)))
            owner.append(o)
    return faces, owner


def _band(outer: Floats, hole: Floats, at: int, hole_at: int) -> list[Ints]:
    """Quads between two loops of equal length, the hole running against the outer one; places from where each begins."""
    n = len(outer)
    back = np.arange(n)[::-1]
    i, j = match(outer, hole[back], True, 0, back.astype(np.uint64)).T
    a, b = at + i % n, hole_at + back[j % n]
    return list(np.stack([a[:-1], a[1:], b[1:], b[:-1]], axis=1))


def _turned(triangle: Ints, flat: Floats) -> Ints:
    a, b, c = flat[triangle]
    counter = (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]) >= 0
    return triangle if counter else triangle[::-1]


def _inside(point: Floats, polygon: Floats) -> bool:
    """Whether a point lies in a polygon: crossings of a ray to the right (M. Shimrat, Comm. ACM 5(8), 1962)."""
    x, y = polygon[:, 0], polygon[:, 1]
    nx, ny = np.roll(x, -1), np.roll(y, -1)
    spans = (y > point[1]) != (ny > point[1])
    with np.errstate(divide="ignore", invalid="ignore"):
        cross_x = x + (point[1] - y) * (nx - x) / (ny - y)
    return bool((spans & (cross_x > point[0])).sum() % 2)
