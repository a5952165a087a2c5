"""Seam: where an unwrap may cut."""

from __future__ import annotations

from typing import Literal

from ..mesh.marks import SEAM, with_edge_mark
from ..mesh.mesh import Floats, Mesh
from ..pick.resolve import Picked
from ..recipe.draft import Draft, unchanged
from ..recipe.kind import Context, Edit, StepKind
from ..recipe.params import Flag


class Seam(Edit):
    kind: Literal["seam"]
    on: Flag = True


class SeamKind(StepKind[Seam]):
    """Edges that an unwrap cuts along; ``on`` false takes the mark off."""

    word, title, model = "seam", "Seam", Seam
    takes = ("edges",)

    def plan(self, p: Seam, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        assert picked is not None
        return unchanged(mesh, attributes={SEAM: with_edge_mark(mesh, SEAM, picked.elements, float(p.on))})

    def positions(self, p: Seam, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        return mesh.points
