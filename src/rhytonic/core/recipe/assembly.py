"""The parts of a build among each other: what one needs of another while both are evaluated."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace
from typing import Protocol

import numpy as np

from ..brief.standing import rings_in_space
from ..construct.charts.extended import all_shared
from ..construct.reverse_faces import mirror_image
from ..deform.deformation import Deformation
from ..errors import Ring, StepError
from ..lineage.history import History
from ..mesh.mesh import Floats, Mesh
from ..mesh.topology import Ints
from ..params import to_metres
from ..pick.resolve import resolve
from ..step.operand import Find, Need, Operand
from ..units import METRES, Unit
from .cache import digest
from .document import Document
from .part import Part
from .place import IDENTITY, Frame, frame_of
from .registry import kind_of
from .state import Evaluation, Stage, State


class Runs(Protocol):
    """Whoever evaluates parts."""

    def run_in(self, part: Part, unit: Unit, stage: Stage, tolerant: bool, upto: int | None, others: Assembly | None,
               started: float) -> Evaluation:
        """One part at a stage, with what it needs of the others."""
        ...


class Assembly:
    """A build while its parts are evaluated: answers what one needs of another, and refuses rings.

    Attributes:
        document: the build.
        readable: patterns and pictures turned over on the part that is evaluated, which is to be mirrored.
    """

    def __init__(self, evaluator: Runs, document: Document, stage: Stage) -> None:
        self.document = document
        self._evaluator, self._stage = evaluator, stage
        self._running: list[str] = []
        self.readable: frozenset[str] = frozenset()

    def surface_reading(self, asking: Part, part: Part, readable: Iterable[str]) -> State:
        """A part's surface as the mirrored copy ``asking`` has it, on which some patterns are to read right."""
        before, names = self.readable, set(readable)
        for pattern in self.document.patterns:
            if names & {pattern.id, pattern.name}:
                names |= {pattern.id, pattern.name}
        self.readable = before ^ frozenset(names)  # an image of an image reads right as it is
        try:
            return self.surface(asking, part)
        finally:
            self.readable = before

    def finder(self, part: Part, frame: Frame) -> Find:
        """Answers the needs of a part that stands in the build by a frame."""
        return lambda need: self.operand(part, frame, need)

    def outlines(self, frame: Frame) -> Callable[[str], list[Floats]]:
        """Answers traced outlines (n, 3) of boards, for a part that stands in the build by a frame."""
        into = IDENTITY.into(frame)

        def outline(name: str) -> list[Floats]:
            board = next((b for b in self.document.boards if name in (b.id, b.name)), None)
            if board is None:
                names = listed(b.name for b in self.document.boards)
                raise StepError(f"there is no board '{name}'; boards are {names}", "board")
            rings = rings_in_space(board, METRES[self.document.unit])
            if not rings:
                raise StepError(f"board '{board.name}' has no outline yet; trace it first", "board")
            return [into.apply(ring) for ring in rings]

        return outline

    def operand(self, asking: Part, frame: Frame, need: Need) -> Operand:
        """What a part needs, seen from its own axes.

        Raises:
            StepError: there is no such part or step, the parts need each other in a ring, or the part needed cannot run.
        """
        part = self.document.part(need.part)
        if part is None:
            names = listed(p.name for p in self.document.parts)
            raise StepError(f"there is no part '{need.part}'; parts are {names}", "part")
        evaluation = self._run(asking, part, need)
        if need.cage and need.step is None:  # the working mark is a matter of whoever works, not of what is made
            evaluation = replace(evaluation, part=evaluation.part.model_copy(update={"mark": None}))
        state, sent = evaluation.cage if need.cage and need.step is None else evaluation.surface, NOTHING
        if need.sent:
            state, sent = _sent(evaluation, self.document)
        into = IDENTITY if need.sent else frame_of(self.document, part).into(frame)
        mesh = state.mesh if into.is_identity else state.mesh.with_points(into.apply(state.mesh.points))
        beside = evaluation.surface.key.hex() if need.smooth else ""
        key = digest(state.key, into.linear.tobytes().hex(), into.shift.tobytes().hex(), sent.tobytes().hex(), beside)
        curve = None if state.curve is None else state.curve.mapped(into.linear, into.shift)
        shape = _shape(evaluation, self.document, into) if need.shape else None
        return Operand(mesh, state.mesh, into.is_rigid, key, part.name, sent,
                       lambda pick: resolve(mesh, state.history, pick), curve, state.curve, shape,
                       _smooth(evaluation, into) if need.smooth else None)

    def surface(self, asking: Part, part: Part) -> State:
        """A part's surface, as another has it."""
        return self._run(asking, part, Need(part.id or part.name)).surface

    def _run(self, asking: Part, part: Part, need: Need) -> Evaluation:
        running = [*self._running, asking.name]
        if part.name in running:
            ring = [*running[running.index(part.name):], part.name]
            raise Ring(f"parts need each other in a ring: {' → '.join(ring)}; take one of the needs out", "part")
        upto = None
        if need.step is not None:
            at = next((i for i, s in enumerate(part.steps) if s.id == need.step), None)
            if at is None:
                raise StepError(f"part '{part.name}' has no step '{need.step}'", "step")
            upto = at + 1
        self._running.append(asking.name)
        try:
            return self._evaluator.run_in(part, self.document.unit, self._stage, False, upto, self, time.perf_counter())
        except Ring as ring_error:
            raise Ring(ring_error.message, "part") from None
        except StepError as error:
            raise StepError(f"needs part '{part.name}', which cannot run: {error}") from None
        finally:
            self._running.pop()


def needed_by(document: Document, part: Part) -> set[str]:
    """Ids of the parts that a part's recipe, or the part it is a linked copy of, needs."""
    named = [part.of] if part.of is not None else [n.part for s in part.steps if s.enabled for n in kind_of(s).needs(s)]
    found = (document.part(name) for name in named)
    return {p.id or p.name for p in found if p is not None}


def followers(document: Document, part_id: str) -> list[Part]:
    """Parts that change with another, directly or through others, in the order of the document."""
    needs = {p.id or p.name: needed_by(document, p) for p in document.parts}
    reached, more = {part_id}, True
    while more:
        fresh = {p for p, named in needs.items() if named & reached} - reached
        reached |= fresh
        more = bool(fresh)
    return [p for p in document.parts if (p.id or p.name) in reached - {part_id}]


NOTHING: Ints = np.zeros(0, np.int64)


def _sent(evaluation: Evaluation, document: Document) -> tuple[State, Ints]:
    """What stood above the last step that ran, and which of its faces that step sends out."""
    last = evaluation.results[-1]
    above = evaluation.after(len(evaluation.results) - 1)
    if last.skipped:
        return above, np.zeros(above.mesh.topology.face_count, np.int64)
    step = to_metres(last.step, METRES[document.unit])
    return above, kind_of(step).sent(step, above.mesh, last.state.picked)


def _smooth(evaluation: Evaluation, into: Frame) -> tuple[Mesh, Ints, Ints]:
    """The surface in the axes that a frame leads to, its edges that come of the cage's, and of which."""
    mesh = evaluation.surface.mesh
    lines, of = evaluation.surface_lines
    edges = mesh.topology.find_edges(lines[:, 0], lines[:, 1]) if len(lines) else NOTHING
    real = (edges >= 0) & (of >= 0)
    return mesh if into.is_identity else mesh.with_points(into.apply(mesh.points)), edges[real], of[real]


@dataclass(frozen=True)
class _Seen:
    """A deformation seen from other axes; without one, as of a step that is switched off, nothing moves."""

    inner: Deformation | None
    into: Frame

    def apply(self, points: Floats) -> Floats:
        if self.inner is None:
            return points
        if self.into.is_identity:
            return self.inner.apply(points)
        here = IDENTITY.into(self.into).apply(points)
        there = self.inner.apply(here)
        if there is here:
            return points
        moved = (there != here).any(axis=1)  # what stays, stays to the last bit
        out = points.copy()
        out[moved] = self.into.apply(there[moved])
        return out


def _shape(evaluation: Evaluation, document: Document, into: Frame) -> Deformation | None:
    """What the last step that ran does to space, in the axes that a frame leads to."""
    last = evaluation.results[-1]
    if last.skipped:
        return _Seen(None, into)
    above = evaluation.after(len(evaluation.results) - 1)
    step = to_metres(last.step, METRES[document.unit])
    found = kind_of(step).deformation(step, above.mesh, last.state.picked)
    return None if found is None else _Seen(found, into)


def linked(part: Part, others: Assembly | None) -> State:
    """A linked copy's state: the other's surface, reflected where it is mirrored."""
    if others is None:
        raise StepError(f"is a linked copy of '{part.of}', and stands in no build").at(part.name, None)
    source = others.document.part(part.of or "")
    if source is None:
        names = listed(p.name for p in others.document.parts)
        told = f"is a linked copy of '{part.of}', and there is no such part; parts are {names}"
        raise StepError(told, "of").at(part.name, None)
    state = others.surface_reading(part, source, part.readable)
    key = digest(state.key, "linked", part.mirrored or "")
    mesh = state.mesh if part.mirrored is None else all_shared(mirror_image(state.mesh, "xyz".index(part.mirrored)))
    curve = state.curve
    if curve is not None and part.mirrored is not None:
        signs = np.ones(3)
        signs["xyz".index(part.mirrored)] = -1
        curve = curve.mapped(np.diag(signs), np.zeros(3))
    return State(mesh, History(), key, key, curve=curve)


def listed(names: Iterable[str]) -> str:
    """Names in a sentence, the first twenty."""
    found = [f"'{n}'" for n in names]
    return ", ".join(found[:20]) + (" …" if len(found) > 20 else "") if found else "none"
