"""What a step may need of other parts of its build."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from ..curve.curve import Curve
from ..deform.deformation import Deformation
from ..mesh.mesh import Mesh
from ..mesh.topology import Ints
from ..pick.resolve import Picked
from ..pick.rules import Pick


def _unasked(pick: Pick) -> Picked:
    raise LookupError("nothing is picked of this operand")


@dataclass(frozen=True)
class Need:
    """Another part, or one state of it.

    Attributes:
        part: its id or name, as the step tells it.
        step: a step of it whose state is needed; None for its surface.
        cage: its cage is needed, not its surface: all above its live steps, wherever a working mark stands; where no step is
            told.
        smooth: the surface is needed beside its cage, and how the cage's edges run on it.
        shape: what that step does to space is needed beside its state.
        sent: what was there before that step, in its own axes, and which of its faces the step sends out.
    """

    part: str
    step: str | None = None
    sent: bool = False
    cage: bool = False
    shape: bool = False
    smooth: bool = False


@dataclass(frozen=True)
class Operand:
    """What was needed.

    Attributes:
        mesh: in the axes of the part that needs it, through both placements.
        untouched: the same in its own axes.
        rigid: whether ``untouched`` only had to be turned and moved.
        key: names the mesh as it stands, placements and all; part of the cache key of who needs it.
        name: what its part is called.
        sent: (F,) which further part each face is sent out into, where that was asked for.
        find: answers picks against the mesh.
        deformation: what the step does to space, in the axes of the part that needs it; None where it is no such step.
        smooth: the surface beside ``mesh``, and edges of it (n,) that are pieces of edges (n,) of ``mesh``; where it was
            asked for.
        curve, untouched_curve: as ``mesh`` and ``untouched``, of a part that ends as a curve.
    """

    mesh: Mesh
    untouched: Mesh
    rigid: bool
    key: bytes
    name: str
    sent: Ints
    find: Callable[[Pick], Picked] = _unasked
    curve: Curve | None = None
    untouched_curve: Curve | None = None
    deformation: Deformation | None = None
    smooth: tuple[Mesh, Ints, Ints] | None = None


#: answers needs; raises StepError where there is no such part, where parts need each other in a ring, or where the part
#: needed cannot run
Find = Callable[[Need], Operand]
