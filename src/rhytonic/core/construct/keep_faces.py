"""A mesh cut down to some of its faces."""

from __future__ import annotations

import numpy as np

from ..mesh.topology import Bools, Topology
from ..step.draft import Draft


def keep_faces(t: Topology, keep: Bools, also: Bools) -> Draft:
    """The draft of a mesh cut down to some faces, their vertices, and the vertices in ``also``."""
    corner = np.flatnonzero(keep[t.corner_face])
    used = also.copy()
    used[t.corners[corner]] = True
    vertices, faces = np.flatnonzero(used), np.flatnonzero(keep)
    number = np.full(t.vertex_count, -1, np.int64)
    number[vertices] = np.arange(vertices.size)
    offsets = np.concatenate([[0], np.cumsum(t.sides[faces])]).astype(np.int64)
    topology = Topology.of(vertices.size, offsets, number[t.corners[corner]])
    notes = () if faces.size else ("nothing is left of the part",)
    return Draft(topology, vertices, faces, vertices, faces, corner, notes=notes)
