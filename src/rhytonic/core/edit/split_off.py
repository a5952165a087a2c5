"""Split off: faces become a part of their own."""

from __future__ import annotations

from typing import Literal

import numpy as np

from ..construct.keep_faces import keep_faces
from ..mesh.mesh import Floats, Mesh
from ..mesh.topology import Ints
from ..params import Flag, NewName
from ..pick.resolve import Picked
from ..step.draft import Draft
from ..step.kind import Context, Edit, StepKind


class SplitOff(Edit):
    kind: Literal["split_off"]
    into: NewName
    keep: Flag = False


class SplitOffKind(StepKind[SplitOff]):
    """The picked faces go out, into the part ``into``, which begins with them; with ``keep`` they also stay here."""

    word, title, model = "split_off", "Split off", SplitOff
    takes = ("faces",)

    def sent(self, p: SplitOff, mesh: Mesh, picked: Picked | None) -> Ints:
        out = np.zeros(mesh.topology.face_count, np.int64)
        if picked is not None:
            out[picked.elements] = 1
        return out

    def plan(self, p: SplitOff, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        t = mesh.topology
        stays = np.ones(t.face_count, bool) if p.keep else self.sent(p, mesh, picked) == 0
        return keep_faces(t, stays, np.bincount(t.corners, minlength=t.vertex_count) == 0)

    def positions(self, p: SplitOff, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        return mesh.points[draft.kept_vertices]
