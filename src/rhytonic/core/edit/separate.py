"""Separate: each shell a part of its own."""

from __future__ import annotations

from typing import Literal

import numpy as np

from ..construct.keep_faces import keep_faces
from ..mesh.mesh import Floats, Mesh
from ..mesh.topology import Ints
from ..params import NewName
from ..pick.resolve import Picked
from ..step.draft import Draft
from ..step.kind import Context, Step, StepKind


class Separate(Step):
    kind: Literal["separate"]
    into: NewName


class SeparateKind(StepKind[Separate]):
    """The shell with the lowest face id stays; the others go out into parts called ``into`` and a number, by rank."""

    word, title, model = "separate", "Separate", Separate

    def sent(self, p: Separate, mesh: Mesh, picked: Picked | None) -> Ints:
        shell = mesh.topology.shells
        if not shell.size:
            return shell
        lowest = np.full(int(shell.max()) + 1, np.iinfo(np.uint64).max, np.uint64)
        np.minimum.at(lowest, shell, mesh.names.face)
        rank = np.empty(lowest.size, np.int64)
        rank[np.argsort(lowest)] = np.arange(lowest.size)
        out: Ints = rank[shell]
        return out

    def plan(self, p: Separate, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        t = mesh.topology
        return keep_faces(t, self.sent(p, mesh, picked) == 0, np.bincount(t.corners, minlength=t.vertex_count) == 0)

    def positions(self, p: Separate, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        return mesh.points[draft.kept_vertices]
