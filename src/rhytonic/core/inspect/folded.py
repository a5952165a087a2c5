"""Smooth surfaces that fold: parts look the other way than the cage they come from, or turn where nothing is sharp."""

from __future__ import annotations

import numpy as np

from ..mesh.geometry import lengths
from ..mesh.marks import CREASE, HARD, edge_mark
from ..mesh.mesh import Mesh
from ..mesh.topology import Ints

#: a smooth surface that turns by more than this at an edge, in degrees, is sharp there
_SHARP = 75.0
#: and looks the other way where it is turned by more than this against the face of the cage it comes from
_TURNED = 100.0


def turned_against(surface: Mesh, cage: Mesh, source: Ints) -> Ints:
    """Faces of a smooth surface that look the other way than the faces they were refined from; ``source`` (F,) tells
    those."""
    there, here = surface.area_vectors, cage.area_vectors[source]
    size = lengths(there) * lengths(here)
    out: Ints = np.flatnonzero(np.einsum("ij,ij->i", there, here) < np.cos(np.radians(_TURNED)) * size)
    return out


def sharp_turns(surface: Mesh, cage: Mesh) -> Ints:
    """(n,) faces beside edges of a smooth surface that turn by more than a smooth surface does, where the cage has no crease
    and no hard edge at all."""
    if (edge_mark(cage, CREASE) > 0).any() or (HARD in cage.attributes and cage.attributes[HARD].values.any()):
        return np.zeros(0, np.int64)
    t = surface.topology
    inner = np.flatnonzero(t.twin > np.arange(t.corner_count))
    one, two = t.corner_face[inner], t.corner_face[t.twin[inner]]
    normals = surface.normals
    turn = np.einsum("ij,ij->i", normals[one], normals[two]) < np.cos(np.radians(_SHARP))
    return np.unique(np.concatenate([one[turn], two[turn]]))
