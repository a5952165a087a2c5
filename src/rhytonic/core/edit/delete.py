"""Delete: take faces away, with what is then left without a face."""

from __future__ import annotations

from typing import Literal

import numpy as np

from ..construct.keep_faces import keep_faces
from ..curve.curve import Curve
from ..curve.point_edits import without_points
from ..errors import StepError
from ..mesh.mesh import Floats, Mesh
from ..pick.convert import touching
from ..pick.resolve import Picked
from ..step.curve_edit import CurveEdit
from ..step.draft import Draft
from ..step.kind import Context, Edit, StepKind


class Delete(Edit):
    kind: Literal["delete"]


class DeleteKind(StepKind[Delete]):
    """Removes the picked faces, or those that touch the picked edges or vertices; of a curve the picked points with the
    spans at them, so that a closed run opens and an open one parts."""

    word, title, model = "delete", "Delete", Delete
    takes = ("faces", "edges", "vertices")
    curve_role = "makes"
    curve_takes = ("vertices",)

    def remade(self, p: Delete, curve: Curve, picked: Picked | None, context: Context) -> CurveEdit:
        assert picked is not None
        made, source = without_points(curve, picked.elements)
        if not source.size:
            raise StepError("nothing would be left of the curve; leave two neighbouring points", "pick")
        return CurveEdit(made, source)

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
