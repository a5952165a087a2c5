"""Delete: take faces away, with what is then left without a face."""

from __future__ import annotations

from typing import Literal

import numpy as np

from ..construct.keep_faces import keep_faces
from ..mesh.mesh import Floats, Mesh
from ..pick.convert import touching
from ..pick.resolve import Picked
from ..step.draft import Draft
from ..step.kind import Context, Edit, StepKind


class Delete(Edit):
    kind: Literal["delete"]


class DeleteKind(StepKind[Delete]):
    """Removes the picked faces, or those that touch the picked edges or vertices."""

    word, title, model = "delete", "Delete", Delete
    takes = ("faces", "edges", "vertices")

    def plan(self, p: Delete, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        assert picked is not None
        t = mesh.topology
        faces = touching(t, picked.kind, "faces", picked.elements, "any") if picked.kind != "faces" else picked.elements
        keep = np.ones(t.face_count, bool)
        keep[faces] = False
        loose = np.bincount(t.corners, minlength=t.vertex_count) == 0
        if picked.kind == "vertices":
            loose[picked.elements] = False
        return keep_faces(t, keep, loose)

    def positions(self, p: Delete, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        return mesh.points[draft.kept_vertices]
