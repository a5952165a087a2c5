"""Rules that look at where elements are."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from .. import tolerance
from ..mesh.geometry import Floats, lengths
from ..mesh.mesh import Mesh
from ..mesh.topology import Bools, Ints
from .convert import Kind


def in_box(points: Floats, box: Sequence[Sequence[float | None]]) -> Bools:
    """(V,) points inside the box, metres, with the kernel's slack; None is an open side."""
    low = np.array([-np.inf if v is None else v for v in box[0]])
    high = np.array([np.inf if v is None else v for v in box[1]])
    inside: Bools = (points >= low - tolerance.ON_PLANE) & (points <= high + tolerance.ON_PLANE)
    out: Bools = np.all(inside, axis=1)
    return out


def nearest(mesh: Mesh, kind: Kind, point: Sequence[float]) -> Ints:
    """(1,) the one element whose centre is nearest; ties to smaller y, then x, then z, then the lower id."""
    centres = {"vertices": lambda: mesh.points, "edges": lambda: mesh.edge_centres,
               "faces": lambda: mesh.face_centres}[kind]()
    if not len(centres):
        return np.zeros(0, np.int64)
    distance = lengths(centres - np.asarray(point, float))
    best = np.flatnonzero(distance <= distance.min() + tolerance.TIE)
    for axis in (1, 0, 2):
        value = centres[best, axis]
        best = best[value <= value.min() + tolerance.TIE]
    if best.size > 1:
        names = mesh.names
        ids = names.face[best] if kind == "faces" else names.vertex[best] if kind == "vertices" else \
            names.vertex[mesh.topology.edges[best]].min(axis=1)
        best = best[np.argsort(ids, kind="stable")]
    return best[:1]
