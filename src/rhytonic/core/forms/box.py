"""The box."""

from __future__ import annotations

from typing import Literal

import numpy as np

from ..mesh.mesh import Floats, Mesh
from ..mesh.names import reduced
from ..mesh.topology import Topology
from ..pick.resolve import Picked
from ..recipe.draft import Draft
from ..recipe.kind import Context, Form, StepKind
from ..recipe.params import Count, PositiveLength
from .common import form_draft

#: per side: (normal axis, its end, first axis, second axis), so that first × second points outward
_SIDES = ((0, 1, 1, 2), (0, 0, 2, 1), (1, 1, 2, 0), (1, 0, 0, 2), (2, 1, 0, 1), (2, 0, 1, 0))


class Box(Form):
    kind: Literal["box"]
    size: tuple[PositiveLength, PositiveLength, PositiveLength]
    segments: tuple[Count, Count, Count] = (1, 1, 1)


class BoxKind(StepKind[Box]):
    """Six sides of quads, ``segments`` along each axis."""

    word, title, model, form = "box", "Box", Box, True
    numbers = frozenset({"size", "anchor"})

    def estimate(self, p: Box, topology: Topology, picked: Picked | None, context: Context) -> tuple[int, str]:
        x, y, z = p.segments
        return 2 * (x * y + y * z + z * x), "segments"

    def plan(self, p: Box, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        n = np.array(p.segments, np.int64)
        keys, faces = [], []
        for side, (axis, end, u, v) in enumerate(_SIDES):
            i, j = (a.ravel() for a in np.meshgrid(np.arange(n[u]), np.arange(n[v]), indexing="ij"))
            lattice = np.zeros((i.size, 4, 3), np.int64)
            lattice[:, :, axis] = end * n[axis]
            lattice[:, :, u] = i[:, None] + np.array([0, 1, 1, 0])
            lattice[:, :, v] = j[:, None] + np.array([0, 0, 1, 1])
            keys.append(lattice.reshape(-1, 3))
            faces.append(np.stack([np.full_like(i, side), i, j], axis=1))
        corners = np.concatenate(keys)
        packed = (corners[:, 1] * (n[2] + 1) + corners[:, 2]) * (n[0] + 1) + corners[:, 0]
        _, first, corner = np.unique(packed, return_index=True, return_inverse=True)
        lattice = corners[first]
        index = np.concatenate([reduced(lattice[:, a].copy(), int(n[a])) for a in range(3)], axis=1)
        topology = Topology.of(len(lattice), np.arange(0, corner.size + 1, 4), corner)
        return form_draft(topology, [("", index)], [("", np.concatenate(faces))], data=lattice / n)

    def positions(self, p: Box, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        base = np.array([0.5, 0.0 if p.anchor == "base" else 0.5, 0.5])
        points: Floats = (draft.data - base) * np.array(p.size)
        return points
