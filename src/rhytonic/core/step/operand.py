"""What a step may need of other parts of its build."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from ..mesh.mesh import Mesh


@dataclass(frozen=True)
class Need:
    """Another part, or one state of it.

    Attributes:
        part: its id or name, as the step tells it.
        step: a step of it whose state is needed; None for its surface.
        before: what was there before that step, instead of after it.
        own_axes: as it is in its own axes, instead of where it stands seen from the part that needs it.
    """

    part: str
    step: str | None = None
    before: bool = False
    own_axes: bool = False


@dataclass(frozen=True)
class Operand:
    """What was needed.

    Attributes:
        mesh: in the axes of the part that needs it, through both placements.
        untouched: the same in its own axes.
        rigid: whether ``untouched`` only had to be turned and moved.
        key: names the mesh as it stands, placements and all; part of the cache key of who needs it.
        name: what its part is called.
    """

    mesh: Mesh
    untouched: Mesh
    rigid: bool
    key: bytes
    name: str


#: answers needs; raises StepError where there is no such part, where parts need each other in a ring, or where the part
#: needed cannot run
Find = Callable[[Need], Operand]
