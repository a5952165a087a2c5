"""Marks on edges: creases, hard edges and seams, and how a part is shaded. All are open attributes."""

from __future__ import annotations

import numpy as np

from .attributes import Attribute
from .geometry import Floats
from .mesh import Mesh
from .topology import Bools, Ints

CREASE, HARD, SEAM, SHADING = "crease", "hard", "seam", "shading"
#: face attribute: what is laid over others to overlap, as the drops of a weld do
LAID = "laid"
#: from this sharpness on an edge is sharp whatever the level, as in OpenUSD
INFINITE = 10.0
#: values of the face attribute ``shading``; faces without it are flat
FLAT, BY_ANGLE, BY_AREA = 0, 1, 2


def edge_mark(mesh: Mesh, key: str) -> Floats:
    """(E,) values of a mark; zero where it was never set."""
    found = mesh.attributes.get(key)
    return np.zeros(mesh.topology.edge_count) if found is None else found.values.astype(float)


def with_edge_mark(mesh: Mesh, key: str, edges: Ints, value: float) -> Attribute:
    """The mark with ``value`` on the given edges."""
    values = edge_mark(mesh, key)
    values[edges] = value
    return Attribute("edge", values)


def is_hard(mesh: Mesh) -> Bools:
    """(E,) whether each edge is hard."""
    out: Bools = edge_mark(mesh, HARD) > 0.5
    return out


def shading(mesh: Mesh) -> Ints:
    """(F,) how each face is shaded: FLAT, BY_ANGLE or BY_AREA."""
    found = mesh.attributes.get(SHADING)
    return np.zeros(mesh.topology.face_count, np.int64) if found is None else found.values.astype(np.int64)
