"""Vertices that stand at one place, and faces that pass through each other."""

from __future__ import annotations

import igl.predicates
import numpy as np
import scipy

from .geometry import Floats, cross, lengths, unit
from .mesh import Mesh
from .topology import Bools, Ints, components
from .triangulate import triangulate

#: corners nearer than this, in metres, are one place where faces are compared
SAME_PLACE = 1e-7
#: triangles that pass through each other by less than this share of their size touch
_TOUCHING = 1e-9


def near_pairs(mesh: Mesh, distance: float) -> Ints:
    """(n, 2) vertices no further apart than ``distance``, metres."""
    if len(mesh.points) < 2 or distance <= 0.0:
        return np.zeros((0, 2), np.int64)
    return scipy.spatial.cKDTree(mesh.points).query_pairs(distance, output_type="ndarray").astype(np.int64)


def places(mesh: Mesh) -> Ints:
    """(V,) the first vertex that stands where each one stands."""
    pairs = near_pairs(mesh, SAME_PLACE)
    count = mesh.topology.vertex_count
    label = components(count, pairs[:, 0], pairs[:, 1])
    first = np.full(int(label.max(initial=-1)) + 1, count, np.int64)
    np.minimum.at(first, label, np.arange(count))
    out: Ints = first[label]
    return out


def crossing_faces(mesh: Mesh) -> Ints:
    """Faces some triangle of which passes through one of another face; exact predicates, lying flat on each other aside.

    Points computed on a cut stand off the faces they lie on by rounding: what passes through by no more than a billionth of
    the triangles' size, or along no more than that, touches.
    """
    if not mesh.topology.face_count:
        return np.zeros(0, np.int64)
    pairs = crossing_pairs(mesh)
    return np.unique(pairs)


def crossing_pairs(mesh: Mesh) -> Ints:
    """(n, 2) faces that pass through each other; a pair may be told more than once."""
    none = np.zeros((0, 2), np.int64)
    triangles, face = triangulate(mesh)
    triangles = places(mesh)[triangles]  # neighbours at doubled vertices touch; they do not cross
    p = mesh.points[triangles]
    size = lengths(cross(p[:, 1] - p[:, 0], p[:, 2] - p[:, 0]))
    edge = np.maximum(lengths(p[:, 1] - p[:, 0]), lengths(p[:, 2] - p[:, 0]))
    whole = (size > 1e-12 * edge**2) & (size > 0)
    triangles, face = np.ascontiguousarray(triangles[whole]), face[whole]
    if not triangles.size:
        return none
    found, pairs, flat = igl.predicates.find_self_intersections(np.ascontiguousarray(mesh.points), triangles)
    if not found:
        return none
    crossing = pairs[np.asarray(flat).ravel() == 0]
    crossing = crossing[face[crossing[:, 0]] != face[crossing[:, 1]]]
    crossing = crossing[_deep(mesh.points, triangles[crossing[:, 0]], triangles[crossing[:, 1]])]
    out: Ints = face[crossing]
    return out


def _deep(points: Floats, one: Ints, two: Ints) -> Bools:
    """(n,) whether each pair of triangles (n, 3) passes through one another further than rounding reaches.

    T. Möller, A fast triangle-triangle intersection test, Journal of Graphics Tools 2(2), 1997: each is cut by the plane of
    the other along a stretch of the line both planes share; they meet where the stretches overlap.
    """
    p, q = points[one], points[two]
    slack = _TOUCHING * np.maximum(np.ptp(p, axis=1).max(axis=1), np.ptp(q, axis=1).max(axis=1))
    n, m = _normal(p), _normal(q)
    of_p, of_q = np.einsum("nij,nj->ni", p - q[:, :1], m), np.einsum("nij,nj->ni", q - p[:, :1], n)
    straddles = np.ones(len(p), bool)
    for d in (of_p, of_q):
        straddles &= (d.max(axis=1) > slack) & (d.min(axis=1) < -slack)
    line = unit(cross(n, m))
    (low, high), (from_, to) = _stretch(p, of_p, line), _stretch(q, of_q, line)
    out: Bools = straddles & (np.minimum(high, to) - np.maximum(low, from_) > slack)
    return out


def _normal(p: Floats) -> Floats:
    return unit(cross(p[:, 1] - p[:, 0], p[:, 2] - p[:, 0]))


def _stretch(p: Floats, d: Floats, line: Floats) -> tuple[Floats, Floats]:
    """Where along a line triangles (n, 3, 3) whose corners stand ``d`` (n, 3) off the other plane meet that plane."""
    along = np.einsum("nij,nj->ni", p, line)
    met = np.full((len(p), 3), np.nan)
    for k in range(3):
        a, b = d[:, k], d[:, (k + 1) % 3]
        across = (a > 0) != (b > 0)
        share = np.where(across, a / np.where(across, a - b, 1.0), 0.0)
        met[:, k] = np.where(across, along[:, k] + share * (along[:, (k + 1) % 3] - along[:, k]), np.nan)
    lost = np.isnan(met).all(axis=1)
    met[lost] = 0.0
    return np.nanmin(met, axis=1), np.nanmax(met, axis=1)
