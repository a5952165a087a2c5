"""Step kinds that write one number on the picked edges and leave all else as it is."""

from __future__ import annotations

from typing import ClassVar, TypeVar

from ..mesh.marks import with_edge_mark
from ..mesh.mesh import Floats, Mesh
from ..params import Flag
from ..pick.resolve import Picked
from ..step.draft import Draft, unchanged
from ..step.kind import Context, Edit, StepKind

S = TypeVar("S", bound=Edit)


class Switched(Edit):
    """A mark that is there or not."""

    on: Flag = True


class MarkEdges(StepKind[S]):
    """Writes ``mark`` on the picked edges: what :meth:`strength` says, 0 being no mark."""

    takes = ("edges",)
    keeps_pick = True
    mark: ClassVar[str]

    def strength(self, p: S) -> float:
        """What is written on the picked edges."""
        return float(p.on) if isinstance(p, Switched) else 1.0

    def plan(self, p: S, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        """The edges' numbers written, all else as it is."""
        assert picked is not None
        return unchanged(mesh, attributes={self.mark: with_edge_mark(mesh, self.mark, picked.elements, self.strength(p))})

    def positions(self, p: S, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        """(V, 3) where they were."""
        return mesh.points
