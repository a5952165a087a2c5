"""What all kinds that deform a whole part share."""

from __future__ import annotations

from typing import Generic, TypeVar

from ..deform.deformation import Deformation, Reach
from ..errors import BadParameter
from ..mesh.mesh import Floats, Mesh
from ..pick.resolve import Picked
from ..step.draft import Draft, unchanged
from ..step.kind import Context, Picking, StepKind

S = TypeVar("S", bound=Picking)


class Deforming(StepKind[S], Generic[S]):
    """Moves every point by a map of space: subclasses write ``deformation``, which other parts may follow."""

    keeps_pick = True

    def deformation(self, p: S, mesh: Mesh, picked: Picked | None) -> Deformation:
        """What moves points, for what it acts on."""
        raise NotImplementedError

    def plan(self, p: S, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        """The mesh as it is."""
        return unchanged(mesh)

    def positions(self, p: S, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        """(V, 3) points deformed."""
        return self.deformation(p, mesh, picked).apply(mesh.points) if len(mesh.points) else mesh.points


def reach_of(axis: str, low: float | None, high: float | None, mesh: Mesh, word: str = "axis") -> Reach:
    """A stretch of an axis: from one coordinate to another, by default as far as the part goes.

    Raises:
        BadParameter: it would have no length, or end before it begins.
    """
    k = "xyz".index(axis)
    least, most = mesh.bounds
    start, end = (float(least[k]) if low is None else low), (float(most[k]) if high is None else high)
    if low is None and high is None and end <= start:
        raise BadParameter(f"the part has no extent along {axis}; take another axis", word)
    if end <= start:
        raise BadParameter(f"'from' has to lie below 'to' along {axis}, within what the part measures or beyond it",
                           "from" if low is not None else "to")
    x, y, z = ((least + most) / 2).tolist()
    return Reach(k, start, end, (x, y, z))
