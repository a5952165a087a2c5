"""Duplicate: a copy of faces inside the same part, or into a part of its own."""

from __future__ import annotations

from typing import Literal

import numpy as np
from pydantic import model_validator

from ..construct.copies.within_mesh import copied_points, copies_of
from ..curve.curve import Curve
from ..curve.point_edits import with_copies
from ..errors import StepError
from ..mesh.geometry import rotation
from ..mesh.mesh import Floats, Mesh
from ..mesh.topology import Ints, Topology
from ..params import Angles, NewName, Point
from ..pick.resolve import Picked
from ..step.curve_edit import CurveEdit
from ..step.draft import Born, Draft
from ..step.facts import Offer
from ..step.kind import Context, Edit, StepKind


class Duplicate(Edit):
    kind: Literal["duplicate"]
    translate: Point = (0.0, 0.0, 0.0)
    rotate: Angles = (0.0, 0.0, 0.0)
    into: NewName | None = None

    @model_validator(mode="after")
    def _in_place(self) -> Duplicate:
        if self.into is not None and (any(self.translate) or any(self.rotate)):
            raise ValueError("copies that go into a part of their own keep their place; leave out translate and rotate")
        return self


class DuplicateKind(StepKind[Duplicate]):
    """Copies hang together as their faces do and share nothing with them; they turn about the middle of the pick's bounding
    box, then move. Copies belong to this step alone. With ``into`` they begin a part of that name where they are, and this
    one stays as it is. Of a curve, the picked points are copied with the spans between them."""

    word, title, model = "duplicate", "Duplicate", Duplicate
    shares_layout = True
    takes = ("faces",)
    curve_role = "makes"
    curve_takes = ("vertices",)
    numbers = frozenset({"translate", "rotate"})
    proposal = (Offer("translate", of_size=(1.0, 0.0, 0.0)),)
    typed = "translate"

    def remade(self, p: Duplicate, curve: Curve, picked: Picked | None, context: Context) -> CurveEdit:
        assert picked is not None
        if p.into is not None:
            raise StepError("a curve's copies stay in its part; leave out into, or copy the whole part", "into")
        chosen = picked.elements
        here = curve.points[chosen]
        centre = (here.min(axis=0) + here.max(axis=0)) / 2
        turn = rotation(p.rotate)
        move = centre - turn @ centre + np.asarray(p.translate)
        ids = copied_points(context.step, curve.ids[chosen], np.zeros((chosen.size, 0), np.int64))
        return copies_of(curve, *with_copies(curve, chosen, (turn[None], move[None]), ids))

    def estimate(self, p: Duplicate, topology: Topology, picked: Picked | None, context: Context) -> tuple[int, str]:
        assert picked is not None
        return topology.face_count + (picked.elements.size if p.into is None else 0), "pick"

    def sent(self, p: Duplicate, mesh: Mesh, picked: Picked | None) -> Ints:
        out = np.zeros(mesh.topology.face_count, np.int64)
        if picked is not None and p.into is not None:
            out[picked.elements] = 1
        return out

    def plan(self, p: Duplicate, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        assert picked is not None
        t, names = mesh.topology, mesh.names
        faces = picked.elements if p.into is None else picked.elements[:0]
        corner = t.corners_of(faces)
        source, number = np.unique(t.corners[corner], return_inverse=True)
        offsets = np.concatenate([t.offsets, t.offsets[-1] + np.cumsum(t.sides[faces])])
        topology = Topology.of(t.vertex_count + source.size, offsets, np.concatenate([t.corners, t.vertex_count + number]))
        born = (Born("vertex", "copy", t.vertex_count + np.arange(source.size), names.vertex[source][:, None], ("vertex",),
                     np.zeros((source.size, 0), np.int64)),
                Born("face", "copy", t.face_count + np.arange(faces.size), names.face[faces][:, None], ("face",),
                     np.zeros((faces.size, 0), np.int64)))
        v, f = np.arange(t.vertex_count), np.arange(t.face_count)
        return Draft(topology, np.concatenate([v, np.full(source.size, -1)]), np.concatenate([f, np.full(faces.size, -1)]),
                     np.concatenate([v, source]), np.concatenate([f, faces]),
                     np.concatenate([np.arange(t.corner_count), corner]), born, data=source)

    def positions(self, p: Duplicate, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        if not draft.data.size:
            return mesh.points
        here = mesh.points[draft.data]
        centre = (here.min(axis=0) + here.max(axis=0)) / 2
        return np.concatenate([mesh.points, (here - centre) @ rotation(p.rotate).T + centre + np.asarray(p.translate)])
