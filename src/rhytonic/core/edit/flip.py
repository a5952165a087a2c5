"""Flip: turn faces the other way."""

from __future__ import annotations

from typing import Literal

import numpy as np

from ..construct.reverse_faces import turned_corners
from ..mesh.mesh import Floats, Mesh
from ..mesh.topology import Topology
from ..pick.resolve import Picked
from ..step.draft import Draft
from ..step.kind import Context, Edit, StepKind


class Flip(Edit):
    kind: Literal["flip"]


class FlipKind(StepKind[Flip]):
    """Picked faces keep their first corner and run the other way round; they stay the faces they were."""

    word, title, model = "flip", "Flip", Flip
    takes = ("faces",)

    def plan(self, p: Flip, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        assert picked is not None
        t = mesh.topology
        source = np.arange(t.corner_count)
        source[t.corners_of(picked.elements)] = turned_corners(t, picked.elements)
        v, f = np.arange(t.vertex_count), np.arange(t.face_count)
        return Draft(Topology.of(t.vertex_count, t.offsets, t.corners[source]), v, f, v, f, source)

    def positions(self, p: Flip, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        return mesh.points
