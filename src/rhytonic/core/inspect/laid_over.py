"""What is laid over a part to overlap."""

from __future__ import annotations

import numpy as np

from ..mesh.marks import LAID
from ..mesh.mesh import Mesh
from ..mesh.patch import patch_of
from ..mesh.topology import Ints


def but_laid(mesh: Mesh) -> tuple[Mesh, Ints]:
    """The mesh without what is laid over it, and the number (F,) of each of its faces in the whole."""
    laid = mesh.attributes.get(LAID)
    if laid is None or not (laid.values > 0).any():
        return mesh, np.arange(mesh.topology.face_count)
    patch = patch_of(mesh.topology, np.flatnonzero(laid.values <= 0))
    return Mesh(mesh.points[patch.vertices], patch.topology), patch.faces
