"""From part: what a step of another part sent out."""

from __future__ import annotations

from typing import Literal

import numpy as np

from ..construct.keep_faces import keep_faces
from ..errors import StepError
from ..lineage.history import Record
from ..mesh.mesh import Floats, Mesh
from ..mesh.names import Names
from ..params import Count, Id, PartName
from ..pick.resolve import Picked
from ..step.draft import Draft
from ..step.kind import Context, Step, StepKind
from ..step.operand import Need


class FromPart(Step):
    kind: Literal["from_part"]
    part: PartName
    step: Id
    shell: Count | None = None


class FromPartKind(StepKind[FromPart]):
    """Faces that ``step`` of ``part`` sent out, as they were before it, in that part's own axes; their ids stay. ``shell``
    takes one of several pieces alone."""

    word, title, model, form = "from_part", "From part", FromPart, True
    reads_points = True

    def needs(self, p: FromPart) -> tuple[Need, ...]:
        return (Need(p.part, p.step, sent=True),)

    def ground(self, p: FromPart, mesh: Mesh, picked: Picked | None, context: Context) -> Mesh:
        return context.operand(self.needs(p)[0]).untouched

    def plan(self, p: FromPart, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        sent = context.operand(self.needs(p)[0]).sent
        wanted = sent > 0 if p.shell is None else sent == p.shell
        if not wanted.any():
            raise StepError(f"step '{p.step}' of part '{p.part}' sends nothing out" +
                            ("" if p.shell is None else f" as its piece {p.shell}"), "step")
        t = mesh.topology
        draft = keep_faces(t, wanted, np.zeros(t.vertex_count, bool))

        def naming(above: Mesh, step: str) -> tuple[Names, Record]:
            names = Names(lambda: above.names.vertex[draft.kept_vertices], lambda: above.names.face[draft.kept_faces])
            return names, Record(step, lambda: {("vertex", ""): names.vertex, ("face", ""): names.face}, dict, dict)

        return Draft(draft.topology, draft.kept_vertices, draft.kept_faces, draft.vertex_source, draft.face_source,
                     draft.corner_source, naming=naming)

    def positions(self, p: FromPart, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        return mesh.points[draft.kept_vertices]
