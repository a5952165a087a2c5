"""The parts of a build among each other: what one needs of another while both are evaluated."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterable
from typing import Protocol

from ..construct.turned import reflected
from ..errors import StepError
from ..lineage.history import History
from ..step.operand import Find, Need, Operand
from ..units import Unit
from .cache import digest
from .document import Document
from .part import Part
from .place import IDENTITY, Frame, frame_of
from .state import Evaluation, Stage, State


class Runs(Protocol):
    """Whoever evaluates parts."""

    def run_in(self, part: Part, unit: Unit, stage: Stage, tolerant: bool, upto: int | None, cancelled: Callable[[], bool],
               others: Assembly | None, started: float) -> Evaluation: ...


class Assembly:
    """A build while its parts are evaluated: answers what one needs of another, and refuses rings.

    Attributes:
        document: the build.
    """

    def __init__(self, evaluator: Runs, document: Document, stage: Stage, cancelled: Callable[[], bool]) -> None:
        self.document = document
        self._evaluator, self._stage, self._cancelled = evaluator, stage, cancelled
        self._running: list[str] = []

    def finder(self, part: Part, frame: Frame) -> Find:
        """Answers the needs of a part that stands in the build by a frame."""
        return lambda need: self.operand(part, frame, need)

    def operand(self, asking: Part, frame: Frame, need: Need) -> Operand:
        """What a part needs, seen from its own axes.

        Raises:
            StepError: there is no such part or step, the parts need each other in a ring, or the part needed cannot run.
        """
        part = self.document.part(need.part)
        if part is None:
            names = listed(p.name for p in self.document.parts)
            raise StepError(f"there is no part '{need.part}'; parts are {names}", "part")
        state = self.state(asking, part, need)
        into = IDENTITY if need.own_axes else frame_of(self.document, part).into(frame)
        mesh = state.mesh if into.is_identity else state.mesh.with_points(into.apply(state.mesh.points))
        key = digest(state.key, into.linear.tobytes().hex(), into.shift.tobytes().hex())
        return Operand(mesh, state.mesh, into.is_rigid, key, part.name)

    def state(self, asking: Part, part: Part, need: Need) -> State:
        """The state of a part that another needs."""
        running = [*self._running, asking.name]
        if part.name in running:
            ring = [*running[running.index(part.name):], part.name]
            raise StepError(f"parts need each other in a ring: {' → '.join(ring)}; take one of the needs out", "part")
        upto = None
        if need.step is not None:
            at = next((i for i, s in enumerate(part.steps) if s.id == need.step), None)
            if at is None:
                raise StepError(f"part '{part.name}' has no step '{need.step}'", "step")
            upto = at if need.before else at + 1
        self._running.append(asking.name)
        try:
            evaluation = self._evaluator.run_in(part, self.document.unit, self._stage, False, upto, self._cancelled, self,
                                                time.perf_counter())
        except StepError as error:
            raise StepError(f"needs part '{part.name}', which cannot run: {error}") from None
        finally:
            self._running.pop()
        return evaluation.surface


def linked(part: Part, others: Assembly | None) -> State:
    """A linked copy's state: the other's surface, reflected where it is mirrored."""
    if others is None:
        raise StepError(f"is a linked copy of '{part.of}', and stands in no build").at(part.name, "")
    source = others.document.part(part.of or "")
    if source is None:
        names = listed(p.name for p in others.document.parts)
        raise StepError(f"is a linked copy of '{part.of}', and there is no such part; parts are {names}").at(part.name, "of")
    state = others.state(part, source, Need(source.id or source.name))
    key = digest(state.key, "linked", part.mirrored or "")
    mesh = state.mesh if part.mirrored is None else reflected(state.mesh, "xyz".index(part.mirrored))
    return State(mesh, History(), key, key)


def listed(names: Iterable[str]) -> str:
    """Names in a sentence, the first twenty."""
    found = [f"'{n}'" for n in names]
    return ", ".join(found[:20]) + (" …" if len(found) > 20 else "") if found else "none"
