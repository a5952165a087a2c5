"""Vertices that smoothing leaves where they are."""

from __future__ import annotations

import numpy as np

from ...mesh.marks import CREASE, edge_mark
from ...mesh.mesh import Mesh
from ...mesh.topology import Bools


def on_borders_and_creases(mesh: Mesh) -> Bools:
    """(V,) vertices on borders and creases."""
    t = mesh.topology
    held = np.zeros(t.vertex_count, bool)
    held[t.edges[(t.edge_face_count != 2) | (edge_mark(mesh, CREASE) > 0)]] = True
    return held
