"""How a mesh hangs together: loose vertices, open borders, edges of three faces."""

from __future__ import annotations

import numpy as np

from ..mesh.mesh import Mesh
from ..mesh.topology import Ints
from .thresholds import Limits


def loose_vertices(mesh: Mesh, limits: Limits) -> Ints:
    """(n,) vertices that no face uses."""
    t = mesh.topology
    return np.flatnonzero(np.bincount(t.corners, minlength=t.vertex_count) == 0)


def open_borders(mesh: Mesh, limits: Limits) -> Ints:
    """(n,) edges with one face."""
    return np.flatnonzero(mesh.topology.border_edges)


def non_manifold_edges(mesh: Mesh, limits: Limits) -> Ints:
    """(n,) edges that three or more faces share."""
    return np.flatnonzero(mesh.topology.edge_face_count > 2)
