"""A boolean's result looked at before it is handed on."""

from __future__ import annotations

import numpy as np

from ...mesh.geometry import cross, lengths
from ...mesh.mesh import Floats, Mesh
from ...mesh.topology import Ints
from .solids import Combined, Operation

#: volumes may differ by this share of the size and of the surface they bound
_SHARE = 1e-8


def not_closed(mesh: Mesh, triangles: Ints) -> Floats | None:
    """(3,) a place where the faces do not close: an edge used by one, by more than two, or twice the same way, of the
    faces or of the triangles that measure and files have of them; None where they do."""
    t = mesh.topology
    bad = np.flatnonzero(t.edge_face_count != 2)
    if not bad.size:
        bad = t.corner_edge[np.flatnonzero(t.twin < 0)]
    if bad.size:
        out: Floats = mesh.edge_centres[bad[0]]
        return out
    ways = np.sort(triangles.ravel() * t.vertex_count + np.roll(triangles, -1, axis=1).ravel())
    twice = np.flatnonzero(ways[1:] == ways[:-1])
    return mesh.points[ways[twice[0]] // t.vertex_count] if twice.size else None


def holds_what_it_should(mesh: Mesh, triangles: Ints, result: Combined, plain: Combined, operation: Operation,
                         by: float) -> bool:
    """Whether the polygons, by their ``triangles``, hold the volume that those they were made of do, which is that of inputs
    left as they are but for having been moved ``by`` so much, no more or less than the operation can leave of its inputs;
    every point finite."""
    points = mesh.points
    if not np.isfinite(points).all():
        return False
    middle = points.mean(axis=0)
    volume, area = _volume(points[triangles] - middle)
    own, _ = _volume(result.points[result.triangles] - middle)
    truth, surface = _volume(plain.points[plain.triangles] - middle)
    slack = _SHARE * (abs(truth) + 1e-3 * area * float(np.ptp(points, axis=0).max()))
    first, *others = plain.volumes
    least, most = {"unite": (max(plain.volumes), sum(plain.volumes)), "subtract": (first - sum(others), first),
                   "intersect": (0.0, min(plain.volumes))}[operation]
    wide = slack + _SHARE * sum(plain.volumes) + 2 * by * surface
    return bool(abs(volume - own) <= slack and abs(own - truth) <= slack + 2 * by * surface
                and least - wide <= volume <= most + wide)


def _volume(p: Floats) -> tuple[float, float]:
    """Of triangles (n, 3, 3) about the origin: volume and area."""
    double = cross(p[:, 1] - p[:, 0], p[:, 2] - p[:, 0])
    return float(np.einsum("ij,ij->", p[:, 0], double) / 6), float(lengths(double).sum() / 2)
