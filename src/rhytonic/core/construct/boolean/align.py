"""Bodies that all but lie in the planes of others, laid into those planes.

A cutter that stands a millionth of its size off a face, or turned by as little, leaves slivers no thicker than that. They
are what nobody meant, and too thin to be told apart from rounding.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.spatial import cKDTree

from ...mesh.geometry import lengths
from ...mesh.mesh import Floats, Mesh
from ...mesh.topology import Ints
from .solids import Solid

#: what lies this share of the whole size off a plane lies in it; and a corner so much nearer to another stands there
NEAR, _THERE = 1e-6, 1e-3
#: planes turned against each other by less than this are told as one, in the planes a corner has to keep
_ALIKE = 1e-4


@dataclass(frozen=True)
class Planes:
    """Planes (k,) by unit normals (k, 3) and how far each lies from the origin."""

    normal: Floats
    away: Floats


def size_of(solids: Sequence[Solid]) -> float:
    """The longest side of the box round all of them."""
    points = np.concatenate([s.mesh.points for s in solids])
    return float(np.ptp(points, axis=0).max(initial=0.0))


def laid_into_planes(solids: Sequence[Solid]) -> list[Solid] | None:
    """The solids with each laid into the planes and corners of those before it; None where all lie in them already."""
    near = NEAR * size_of(solids)
    out = [solids[0]]
    changed = False
    for s in solids[1:]:
        points = _laid(s, _planes(out), np.concatenate([o.mesh.points for o in out]), near)
        moved = points is not None and bool((points != s.mesh.points).any())
        changed |= moved
        out.append(s.moved(s.mesh.with_points(points)) if moved and points is not None else s)
    return out if changed else None


def _planes(solids: Sequence[Solid]) -> Planes:
    normal, away = [], []
    for s in solids:
        flat = np.unique(s.plane[s.plane < s.mesh.topology.face_count])
        n = s.mesh.normals[flat]
        normal.append(n)
        away.append(np.einsum("ij,ij->i", n, s.mesh.face_centres[flat]))
    return Planes(np.concatenate(normal), np.concatenate(away))


def _laid(s: Solid, planes: Planes, corners: Floats, near: float) -> Floats | None:
    """(V, 3) points of a solid with the faces that all but lie in a plane in it; None where none does."""
    t, points = s.mesh.topology, s.mesh.points
    if not planes.away.size:
        return None
    scale = near / 1e-4  # of distances against turns: a face's own reach decides, below
    tree = cKDTree(np.column_stack([planes.normal, planes.away / scale]))
    faces = np.unique(s.plane[s.plane < t.face_count])
    own = s.mesh.normals[faces]
    at = np.einsum("ij,ij->i", own, s.mesh.face_centres[faces])
    pairs: set[tuple[int, int]] = set()
    for sign in (1.0, -1.0):
        found = tree.query_ball_point(np.column_stack([sign * own, sign * at / scale]), 4e-4)
        for f, some in zip(faces.tolist(), found, strict=True):  # a handful at most in all but a made-up case
            around = points[t.corners[t.offsets[f]:t.offsets[f + 1]]]
            for p in some:
                if np.abs(around @ planes.normal[p] - planes.away[p]).max() < near:
                    pairs.add((f, p))
    if not pairs:
        return None
    keep: dict[int, list[int]] = {}
    for f, p in sorted(pairs):
        for v in t.corners[t.offsets[f]:t.offsets[f + 1]].tolist():
            keep.setdefault(v, []).append(p)
    out = points.copy()
    for v, some in keep.items():
        out[v] = _onto(points[v], planes, some)
    there = np.array(sorted(keep), np.int64)
    far, which = (np.asarray(a) for a in cKDTree(corners).query(out[there]))
    same = far <= _THERE * near
    out[there[same]] = corners[which[same]]
    return out


def _onto(point: Floats, planes: Planes, some: Sequence[int]) -> Floats:
    """A point moved as little as can be into planes, of those alike into the first."""
    kept: list[int] = []
    for p in dict.fromkeys(some):
        n = planes.normal[p]
        if len(kept) < 3 and all(1 - abs(float(n @ planes.normal[k])) > _ALIKE**2 for k in kept):
            kept.append(p)
    normals = planes.normal[kept]
    by, *_ = np.linalg.lstsq(normals, planes.away[kept] - normals @ point, rcond=1e-9)
    out: Floats = point + by
    return out


def nearly_doubled(points: Floats, new: Ints, size: float) -> bool:
    """Whether a new point stands so near to another that what lies between is a sliver."""
    if not new.size or len(points) < 2:
        return False
    far = np.asarray(cKDTree(points).query(points[new], k=2)[0])
    return bool((far[:, 1] < NEAR * size).any())


def farthest(before: Sequence[Solid], after: Sequence[Solid]) -> float:
    """By how much any point was moved."""
    return max(float(lengths(a.mesh.points - b.mesh.points).max(initial=0.0)) for a, b in zip(after, before, strict=True))


def all_points(mesh: Mesh, solids: Sequence[Solid]) -> Floats:
    """(V, 3) of the mesh that holds all solids one after the other."""
    points = np.concatenate([s.mesh.points for s in solids])
    assert len(points) == len(mesh.points)
    return points
