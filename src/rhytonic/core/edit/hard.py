"""Hard: shade edges as edges."""

from __future__ import annotations

from typing import Literal

from ..mesh.marks import HARD, with_edge_mark
from ..mesh.mesh import Floats, Mesh
from ..pick.resolve import Picked
from ..recipe.draft import Draft, unchanged
from ..recipe.kind import Context, Edit, StepKind
from ..recipe.params import Flag


class Hard(Edit):
    kind: Literal["hard"]
    on: Flag = True


class HardKind(StepKind[Hard]):
    """Where faces on either side are shaded apart; ``on`` false takes the mark off."""

    word, title, model = "hard", "Hard edges", Hard
    takes = ("edges",)

    def plan(self, p: Hard, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        assert picked is not None
        return unchanged(mesh, attributes={HARD: with_edge_mark(mesh, HARD, picked.elements, float(p.on))})

    def positions(self, p: Hard, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        return mesh.points
