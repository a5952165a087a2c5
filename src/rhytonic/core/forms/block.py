"""The surface of a block of cells, shared by the box and the sphere made of quads."""

from __future__ import annotations

import numpy as np

from ..mesh.names import reduced
from ..mesh.topology import Ints, Topology
from ..step.draft import Draft
from ..waiting import check
from .common import form_draft

#: per side: (normal axis, its end, first axis, second axis), so that first × second points outward
_SIDES = ((0, 1, 1, 2), (0, 0, 2, 1), (1, 1, 2, 0), (1, 0, 0, 2), (2, 1, 0, 1), (2, 0, 1, 0))


def block_draft(segments: tuple[int, int, int]) -> Draft:
    """Six sides of quads; ``data`` holds (V, 3) the share along each axis, 0 to 1."""
    n: Ints = np.array(segments, np.int64)
    keys, faces = [], []
    for side, (axis, end, u, v) in enumerate(_SIDES):
        check()
        i, j = (a.ravel() for a in np.meshgrid(np.arange(n[u]), np.arange(n[v]), indexing="ij"))
        lattice = np.zeros((i.size, 4, 3), np.int64)
        lattice[:, :, axis] = end * n[axis]
        lattice[:, :, u] = i[:, None] + np.array([0, 1, 1, 0])
        lattice[:, :, v] = j[:, None] + np.array([0, 0, 1, 1])
        keys.append(lattice.reshape(-1, 3))
        faces.append(np.stack([np.full_like(i, side), i, j], axis=1))
    corners = np.concatenate(keys)
    packed = (corners[:, 1] * (n[2] + 1) + corners[:, 2]) * (n[0] + 1) + corners[:, 0]
    check()
    _, first, corner = np.unique(packed, return_index=True, return_inverse=True)
    lattice = corners[first]
    check()
    index = np.concatenate([reduced(lattice[:, a].copy(), int(n[a])) for a in range(3)], axis=1)
    topology = Topology.of(len(lattice), np.arange(0, corner.size + 1, 4), corner)
    return form_draft(topology, [("", index)], [("", np.concatenate(faces))], data=lattice / n)
