"""Runs recipes. Results are cached under (result above, step); plans under (structure above, step's whole numbers)."""

from __future__ import annotations

import hashlib
import json
import time
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from functools import cached_property
from threading import RLock
from typing import Any, Generic, Literal, TypeVar

import numpy as np

from ..errors import BadPick, StepError, UnknownName
from ..lineage.history import History
from ..mesh.mesh import EMPTY, Mesh
from ..mesh.names import Domain
from ..mesh.topology import Ints
from ..params import to_metres
from ..pick.resolve import Kind as PickKind
from ..pick.resolve import Picked, resolve
from ..pick.rules import Pick
from ..step.draft import Draft, Plan, carry, edge_source, settle
from ..step.kind import Context, Remark, Step
from ..units import METRES, Unit
from .document import Part
from .place import linear_part
from .registry import kind_of

Stage = Literal["view", "handover"]
NO_LINES: Ints = np.zeros((0, 2), np.int64)


@dataclass(frozen=True)
class State:
    """A part after some of its steps.

    Attributes:
        key: names the whole result, structure: names all of it but the positions.
        plan: the plan that made it, None before the first step.
        picked: what the step acted on, numbered in the mesh before it.
        remarks: sentences its positions gave rise to.
    """

    mesh: Mesh
    history: History
    key: bytes
    structure: bytes
    plan: Plan | None = None
    picked: Picked | None = None
    remarks: tuple[Remark, ...] = ()

    @property
    def weight(self) -> int:
        """Rough size in elements, for the cache's budget."""
        return self.mesh.topology.vertex_count + self.mesh.topology.face_count


@dataclass
class StepResult:
    """What running one step gave. ``error`` is set when it could not run; the mesh then is the one above."""

    step: Step
    state: State
    faces_before: int
    error: StepError | None = None
    skipped: bool = False
    unit: Unit = "m"

    @property
    def faces_after(self) -> int:
        """Faces of the mesh after the step."""
        return self.state.mesh.topology.face_count

    @property
    def missing(self) -> int:
        """How many of the ids it picks by found nothing; 0 for a step that did not run."""
        return self.state.picked.missing if self.state.picked and not self.skipped and not self.error else 0

    @property
    def notes(self) -> tuple[str, ...]:
        """What the step has to say of its result, lengths in the file's unit."""
        ran = self.state.plan is not None and not self.skipped and self.error is None
        if not ran or self.state.plan is None:
            return ()
        return (*self.state.plan.draft.notes, *(r.told(self.unit, METRES[self.unit]) for r in self.state.remarks))


@dataclass
class Evaluation:
    """A part's recipe, run step by step."""

    part: Part
    start: State
    results: list[StepResult]
    seconds: float = 0.0

    def after(self, count: int) -> State:
        """The state after the first ``count`` steps."""
        return self.results[count - 1].state if count else self.start

    @property
    def surface(self) -> State:
        """The part after all of its steps."""
        return self.after(len(self.results))

    @property
    def cage(self) -> State:
        """The part at the working mark."""
        return self.after(self.part.cage_end())

    def picked_in_cage(self, step: str) -> tuple[PickKind | None, Ints]:
        """What a step picked, as elements of the cage: those that are still there, or what took their place.

        Raises:
            UnknownName: no such step.
        """
        at = next((i for i, r in enumerate(self.results) if r.step.id == step), None)
        if at is None:
            raise UnknownName(f"there is no step '{step}' in this part")
        result, cage = self.results[at], self.cage
        found = result.state.picked if not result.skipped and result.error is None else None
        if found is None:
            return None, np.zeros(0, np.int64)
        above = self.after(at).mesh
        names = above.names
        if found.kind == "edges":
            pairs = names.vertex[above.topology.edges[found.elements]]
            elements, _ = cage.history.follow_edges(cage.mesh.topology, cage.mesh.names, pairs)
        else:
            domain: Domain = "face" if found.kind == "faces" else "vertex"
            elements, _ = cage.history.follow(domain, names.of(domain)[found.elements], cage.mesh.names)
        return found.kind, np.unique(elements)

    @cached_property
    def cage_face_of_surface(self) -> Ints:
        """(F,) face of the cage each face of the surface came from, −1 for none."""
        source = np.arange(self.surface.mesh.topology.face_count)
        for draft in self._below():
            source = _through(source, draft.face_source)
        return source


    @cached_property
    def cage_vertex_of_surface(self) -> Ints:
        """(V,) vertex of the cage each vertex of the surface is, or is an image or copy of; −1 for others."""
        source = np.arange(self.surface.mesh.topology.vertex_count)
        for draft in self._below():
            source = _through(source, draft.stands_for)
        return source

    @cached_property
    def surface_lines(self) -> tuple[Ints, Ints]:
        """(n, 2) edges of the surface worth drawing as the cage's, and (n,) the edge of the cage each is a piece or an image
        of; −1 for others."""
        below = [i for i in range(len(self.results) - 1, self.part.cage_end() - 1, -1) if _ran(self.results[i])]
        lines = self.surface.mesh.topology.edges if not below else NO_LINES
        source = np.arange(len(lines))
        for place, number in enumerate(below):
            above = self.after(number).mesh.topology
            plan = self.results[number].state.plan
            assert plan is not None
            if place == 0 and plan.draft.lines is not None:  # told edge by edge of the mesh above
                lines = plan.draft.lines()
                source = np.arange(len(lines)) // max(len(lines) // max(above.edge_count, 1), 1)
                continue
            if place == 0:
                lines = plan.topology.edges
                source = np.arange(len(lines))
            if plan.topology is not above:
                source = _through(source, edge_source(plan.draft, above))
        return lines, source

    def _below(self) -> list[Draft]:
        """Drafts of the steps below the cage that ran, the last first."""
        return [r.state.plan.draft for r in reversed(self.results[self.part.cage_end():]) if _ran(r) and r.state.plan]


def _ran(result: StepResult) -> bool:
    return result.error is None and not result.skipped and result.state.plan is not None


def _through(source: Ints, above: Ints) -> Ints:
    return np.where(source >= 0, above[np.maximum(source, 0)], -1) if above.size else source


T = TypeVar("T")


class Cache(Generic[T]):
    """Least recently used entries within a budget of elements."""

    def __init__(self, budget: int) -> None:
        self._entries: OrderedDict[bytes, tuple[T, int]] = OrderedDict()
        self._budget, self._held = budget, 0

    def get(self, key: bytes) -> T | None:
        """The entry under a key, which is the last used from now on; None where there is none."""
        entry = self._entries.get(key)
        if entry is None:
            return None
        self._entries.move_to_end(key)
        return entry[0]

    def put(self, key: bytes, value: T, weight: int) -> None:
        old = self._entries.pop(key, None)
        self._held += weight - (old[1] if old else 0)
        self._entries[key] = (value, weight)
        while self._held > self._budget and len(self._entries) > 1:
            self._held -= self._entries.popitem(last=False)[1][1]


@dataclass(frozen=True)
class _Said:
    """A step as given (held, so that its identity stays its own), in metres, and in words: all it says, and of that what
    its plan depends on beside its pick."""

    given: Step
    metres: float
    step: Step
    all: str
    whole: str


_MOST_SAYINGS = 20_000


@dataclass
class Evaluator:
    """Evaluates parts, remembering results and plans between calls. One caller at a time; a lock sees to it."""

    results: Cache[State] = field(default_factory=lambda: Cache(30_000_000))
    plans: Cache[Plan] = field(default_factory=lambda: Cache(30_000_000))
    picks: Cache[Picked] = field(default_factory=lambda: Cache(5_000_000))
    lock: RLock = field(default_factory=RLock)
    _sayings: dict[int, _Said] = field(default_factory=dict, repr=False)
    _wordings: dict[int, tuple[Pick, str]] = field(default_factory=dict, repr=False)

    def run(self, part: Part, unit: Unit, stage: Stage = "view", tolerant: bool = False, upto: int | None = None,
            cancelled: Callable[[], bool] = lambda: False) -> Evaluation:
        """Run a part's steps in order.

        Args:
            unit: unit of the part's lengths.
            stage: whether for views or for hand-over.
            tolerant: keep going past a step that cannot run, as if it were switched off, and tell its error.
            upto: run only this many steps.

        Raises:
            StepError: a step could not run and ``tolerant`` is off.
        """
        started = time.perf_counter()
        with self.lock:
            state = start = State(EMPTY, History(), b"", b"")
            results: list[StepResult] = []
            linear = linear_part(part.placement)
            for step in part.steps[:upto]:
                before = state.mesh.topology.face_count
                if not step.enabled:
                    results.append(StepResult(step, state, before, skipped=True))
                    continue
                context = Context(step.id or step.kind, stage, linear, cancelled)
                try:
                    state = self.step(state, step, METRES[unit], context)
                except StepError as error:
                    error.at(part.name, context.step, unit, METRES[unit])
                    if not tolerant:
                        raise
                    results.append(StepResult(step, state, before, error=error))
                    continue
                except MemoryError:
                    raise StepError("ran out of memory; ask for fewer faces").at(part.name, context.step) from None
                results.append(StepResult(step, state, before, unit=unit))
        return Evaluation(part, start, results, time.perf_counter() - started)

    def step(self, above: State, step: Step, metres: float, context: Context) -> State:
        """Run one step on a state, from the caches where they know it."""
        context.check()
        kind = kind_of(step)
        said = self._said(step, metres)
        step = said.step
        surroundings = kind.depends_on(step, context)
        key = _digest(above.key, context.step, said.all, surroundings)
        known = self.results.get(key)
        if known is not None:
            return known
        pick = kind.pick_of(step)
        picked = self._pick(above, pick) if pick is not None else None
        if picked is not None and picked.kind not in kind.takes:
            raise BadPick(f"{kind.title} works on {' or '.join(kind.takes)}, not {picked.kind}", "pick")
        kind.refuse_if_too_large(step, above.mesh.topology, picked, context)
        elements = (picked.kind, picked.elements.tobytes()) if picked is not None else None
        base = above.key if kind.reads_points else above.structure
        structure = _digest(base, context.step, said.whole, surroundings, elements)
        plan = self.plans.get(structure)
        if plan is None:
            draft = kind.plan(step, above.mesh, picked, replace(context, find=lambda other: self._pick(above, other)))
            plan = settle(draft, above.mesh, above.history, context.step)
            self.plans.put(structure, plan, plan.topology.vertex_count + plan.topology.face_count)
        context.check()
        points = kind.positions(step, plan.draft, above.mesh, picked, context)
        mesh = plan.mesh(points)
        if any(a.carry == "interpolate" for a in above.mesh.attributes.values()):
            weights = kind.weights(step, plan.draft, above.mesh)
            if weights is not None:
                source = replace(plan.draft, vertex_source=weights[0], corner_source=weights[1])
                mesh = replace(mesh, attributes=carry(source, above.mesh) | dict(plan.draft.attributes))
        remarks = kind.remarks(step, plan.draft, above.mesh)
        state = State(mesh, plan.history, key, structure, plan, picked, remarks)
        self.results.put(key, state, state.weight)
        return state

    def _pick(self, above: State, pick: Pick) -> Picked:
        """What a step's pick finds; a drag asks the same of the same mesh again and again."""
        key = _digest(above.key, self._worded(pick))
        known = self.picks.get(key)
        if known is None:
            known = resolve(above.mesh, above.history, pick)
            self.picks.put(key, known, known.elements.size + 100)
        return known

    def _worded(self, pick: Pick) -> str:
        """A pick in words, put once: a drag brings the same one with every step."""
        known = self._wordings.get(id(pick))
        if known is None or known[0] is not pick:
            if len(self._wordings) > _MOST_SAYINGS:
                self._wordings.clear()
            known = self._wordings[id(pick)] = pick, pick.model_dump_json()
        return known[1]

    def _said(self, step: Step, metres: float) -> _Said:
        """What a step says, worked out once per step object: a drag in a long recipe asks for all above it every time."""
        known = self._sayings.get(id(step))
        if known is None or known.given is not step or known.metres != metres:
            in_metres = to_metres(step, metres)
            beside = {"id", "label", "enabled", "live"}
            pick = kind_of(step).pick_of(in_metres)
            acts_on = "" if pick is None else self._worded(pick)
            picks = {"pick", "through"}
            known = _Said(step, metres, in_metres, in_metres.model_dump_json(exclude=beside | picks) + acts_on,
                          in_metres.model_dump_json(exclude=beside | kind_of(step).numbers | picks))
            if len(self._sayings) > _MOST_SAYINGS:
                self._sayings.clear()
            self._sayings[id(step)] = known
        return known


def _digest(above: bytes, *what: Any) -> bytes:
    h = hashlib.blake2b(above, digest_size=16)
    for item in what:
        if isinstance(item, tuple):
            h.update(item[0].encode())
            h.update(item[1])
        else:
            h.update((item if isinstance(item, str) else json.dumps(item, separators=(",", ":"))).encode())
            h.update(b"\0")
    return h.digest()
