"""Crease: keep edges sharp under a smooth surface."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..mesh.marks import CREASE, with_edge_mark
from ..mesh.mesh import Floats, Mesh
from ..pick.resolve import Picked
from ..recipe.draft import Draft, unchanged
from ..recipe.kind import Context, Edit, StepKind
from ..recipe.params import Quantity


class Crease(Edit):
    kind: Literal["crease"]
    sharpness: Annotated[float, Field(strict=True, allow_inf_nan=False, ge=0, le=10), Quantity("ratio")]


class CreaseKind(StepKind[Crease]):
    """Semi-sharp creases as OpenUSD defines them: 0 is smooth, 10 infinitely sharp."""

    word, title, model = "crease", "Crease", Crease
    takes = ("edges",)

    def plan(self, p: Crease, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        assert picked is not None
        return unchanged(mesh, attributes={CREASE: with_edge_mark(mesh, CREASE, picked.elements, p.sharpness)})

    def positions(self, p: Crease, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        return mesh.points
