"""Points inside polygons as weights over the polygons' corners."""

from __future__ import annotations

import numpy as np
from scipy.sparse import csr_array

from ...mesh.geometry import cross, lengths
from ...mesh.mesh import Floats, Mesh
from ...mesh.topology import Ints

#: a point nearer to an edge than this share of its length lies on it
_ON = 1e-9


def in_corners(mesh: Mesh, face: Ints, points: Floats) -> csr_array:
    """(n, C) weights of the corners of ``face`` (n,) that make up ``points`` (n, 3), which lie in those faces.

    Mean value coordinates: M. Floater, Computer Aided Geometric Design 20(1), 2003; linear along edges.
    """
    t = mesh.topology
    rows, columns, values = [], [], []
    for n in np.unique(t.sides[face]) if face.size else ():
        which = np.flatnonzero(t.sides[face] == n)
        corner = t.offsets[face[which]][:, None] + np.arange(n)
        weight = _weights(mesh.points[t.corners[corner]] - points[which][:, None], mesh.normals[face[which]])
        rows.append(np.repeat(which, n))
        columns.append(corner.ravel())
        values.append(weight.ravel())
    if not rows:
        return csr_array((face.size, t.corner_count))
    place = np.concatenate(rows), np.concatenate(columns)
    return csr_array((np.concatenate(values), place), shape=(face.size, t.corner_count))


def _weights(away: Floats, normal: Floats) -> Floats:
    """(m, n) of polygons whose corners stand ``away`` (m, n, 3) from the points."""
    following = np.roll(away, -1, axis=1)
    m, n, _ = away.shape
    r = np.sqrt(np.einsum("ijk,ijk->ij", away, away))
    area = np.einsum("ijk,ik->ij", cross(away.reshape(-1, 3), following.reshape(-1, 3)).reshape(m, n, 3), normal)
    dot = np.einsum("ijk,ijk->ij", away, following)
    size = lengths((following - away).reshape(-1, 3)).reshape(m, n)
    on = (np.abs(area) <= _ON * size**2) & (dot <= _ON * size**2)
    with np.errstate(divide="ignore", invalid="ignore"):
        tangent = (r * np.roll(r, -1, axis=1) - dot) / area
        weight = (np.roll(tangent, 1, axis=1) + tangent) / r
        weight /= weight.sum(axis=1, keepdims=True)
    edge = on.any(axis=1)
    if edge.any():
        which = np.flatnonzero(edge)
        i = on[which].argmax(axis=1)
        j = (i + 1) % n
        share = r[which, i] / np.maximum(r[which, i] + r[which, j], 1e-300)
        weight[which] = 0.0
        weight[which, i] = 1 - share
        weight[which, j] += share
    out: Floats = np.nan_to_num(weight)
    return out
