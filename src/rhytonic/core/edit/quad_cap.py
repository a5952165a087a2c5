"""Quad cap: faces of many sides become quads without new points on their outline."""

from __future__ import annotations

from typing import Literal

import numpy as np

from ..construct.caps.add_patches import add_patches, patched_points
from ..construct.caps.patches import patch
from ..mesh.mesh import Floats, Mesh
from ..mesh.topology import Topology
from ..pick.resolve import Picked
from ..step.draft import Draft
from ..step.kind import Context, Edit, StepKind


class QuadCap(Edit):
    kind: Literal["quad_cap"]


class QuadCapKind(StepKind[QuadCap]):
    """n corners become r × c quads, r + c = n/2 and r nearest n/4, from the corner that makes their edges shortest."""

    word, title, model = "quad_cap", "Quad cap", QuadCap
    extends_layout = True
    watches_area = True
    takes = ("faces",)
    roles = ("patch",)
    reads_points = True

    def estimate(self, p: QuadCap, topology: Topology, picked: Picked | None, context: Context) -> tuple[int, str]:
        assert picked is not None
        return topology.face_count + int((topology.sides[picked.elements] ** 2 // 16).sum()), "pick"

    def plan(self, p: QuadCap, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        assert picked is not None
        t = mesh.topology
        patches = []
        for face in picked.elements:  # once for each picked face
            corners = np.arange(t.offsets[face], t.offsets[face + 1])
            loop = t.corners[corners]
            patches.append((patch(mesh.points[loop], "quads"), loop, corners, int(face)))
        return add_patches(mesh, np.setdiff1d(np.arange(t.face_count), picked.elements), patches)

    def positions(self, p: QuadCap, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        return patched_points(draft, mesh)
