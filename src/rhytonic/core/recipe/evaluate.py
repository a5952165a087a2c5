"""Runs recipes. Results are cached under (result above, step); plans under (structure above, step's whole numbers)."""

from __future__ import annotations

import logging
import time
from collections.abc import Callable, Collection
from copy import copy
from dataclasses import dataclass, field, replace
from threading import RLock
from typing import Any

import numpy as np

from .. import tolerance
from ..construct.charts.extended import extended, sharing
from ..construct.held_plane import HeldPlane, held_plane, held_points
from ..construct.lost_area import lost_area
from ..curve.curve import Curve
from ..errors import BadPick, RhytonicError, Ring, StepError, TakesLong, TooLarge, Unforeseen
from ..files.model import Model
from ..lineage.history import History
from ..lineage.origins import as_fractions, in_round, rest_of
from ..mesh.mesh import EMPTY, Mesh
from ..params import to_metres
from ..pattern.draw import Grey
from ..pick.resolve import Picked, by_names, resolve
from ..pick.rules import Pick
from ..step.draft import Draft, Plan, carry, settle
from ..step.kind import Context, Step, StepKind, counts_of
from ..units import METRES, Unit
from ..waiting import check
from .assembly import Assembly, linked
from .cache import Budget, Cache, digest
from .document import Document
from .greys import Greys, Pictures
from .part import Part
from .place import frame_of, frame_of_placement
from .registry import KINDS, kind_of
from .state import Evaluation, Stage, State, StepResult


@dataclass(frozen=True)
class _Said:
    """A step as given (held, so that its identity stays its own), in metres, and in words: all it says, and of that what
    its plan depends on beside its pick."""

    given: Step
    metres: float
    step: Step
    all: str
    whole: str


log = logging.getLogger("rhytonic")

_MOST_SAYINGS = 20_000
#: rough bytes of a failure that is remembered
_FAILURE = 2_000
#: seconds that a step may take without being asked for once more
PATIENCE = 1.0


@dataclass
class Evaluator:
    """Evaluates parts, remembering results and plans between calls. One caller at a time; a lock sees to it. ``files``
    answers model files by their names; ``budget`` is shared with whatever else is remembered."""

    budget: Budget = field(default_factory=Budget)
    results: Cache[State] = field(init=False)
    failures: Cache[StepError] = field(init=False)
    plans: Cache[Plan] = field(init=False)
    picks: Cache[Picked] = field(init=False)
    lock: RLock = field(default_factory=RLock)
    files: Callable[[str], Model] | None = None
    pictures: Pictures | None = None
    greys: Cache[Grey] = field(init=False)
    _sayings: dict[int, _Said] = field(default_factory=dict, repr=False)
    _wordings: dict[int, tuple[Pick, str]] = field(default_factory=dict, repr=False)

    def __post_init__(self) -> None:
        self.results, self.plans, self.picks = Cache(self.budget), Cache(self.budget), Cache(self.budget)
        self.failures, self.greys = Cache(self.budget), Cache(self.budget)

    def beside(self) -> Evaluator:
        """Another that remembers the same, for one caller more: what one is at need not be waited for by the other."""
        other = Evaluator(self.budget, files=self.files, pictures=self.pictures)
        other.greys = self.greys
        other.results, other.plans, other.picks, other.failures = self.results, self.plans, self.picks, self.failures
        other._sayings, other._wordings = self._sayings, self._wordings
        return other

    def forget(self) -> None:
        """Let everything remembered go."""
        for cache in (self.results, self.plans, self.picks, self.failures, self.greys):
            cache.clear()

    def run(self, part: Part, unit: Unit, stage: Stage = "view", tolerant: bool = False, upto: int | None = None,
            within: Document | None = None, asks: Collection[str] = ()) -> Evaluation:
        """Run a part's steps in order.

        Args:
            unit: unit of the part's lengths.
            stage: whether for views or for hand-over.
            tolerant: keep going past a step that cannot run, as if it were switched off, and tell its error.
            upto: run only this many steps.
            within: the build it stands in, for steps that need other parts and for linked copies.
            asks: ids of steps that are not run where they would take long, unless they are known already.

        Raises:
            StepError: a step could not run and ``tolerant`` is off.
        """
        started = time.perf_counter()
        with self.lock:
            check()
            others = None if within is None else Assembly(self, within, stage)
            return self.run_in(part, unit, stage, tolerant, upto, others, started, asks)

    def run_in(self, part: Part, unit: Unit, stage: Stage, tolerant: bool, upto: int | None,
               others: Assembly | None, started: float, asks: Collection[str] = ()) -> Evaluation:
        """:meth:`run` among other parts that are under way already; hold the lock."""
        state = start = State(EMPTY, History(), b"", b"")
        if part.of is not None:
            try:
                return Evaluation(part, linked(part, others), [], time.perf_counter() - started)
            except StepError as error:
                if not tolerant:
                    raise
                return Evaluation(part, start, [], time.perf_counter() - started, error)
        results: list[StepResult] = []
        frame = frame_of_placement(part.placement, unit) if others is None else frame_of(others.document, part)
        for step in part.steps[:upto]:
            before = state.mesh.topology.face_count
            if not step.enabled:
                results.append(StepResult(step, state, before, skipped=True, unit=unit))
                continue
            patience = PATIENCE if step.id in asks else None
            context = Context(step.id or step.kind, stage, frame.linear, patience=patience)
            if others is not None:
                context = replace(context, operand=others.finder(part, frame), outline=others.outlines(frame))
                greys = Greys(part, frame, others, self.pictures, self.greys)
                context = replace(context, grey=greys.grey, grey_key=greys.key, called=greys.called,
                                  readable=others.readable)
            if self.files is not None:
                context = replace(context, file=self.files)
            try:
                state = self._foreseen(state, step, METRES[unit], context)
            except StepError as error:
                error.at(part.name, context.step, unit, METRES[unit])
                if not tolerant:
                    raise
                results.append(StepResult(step, state, before, error=error, unit=unit))
                continue
            results.append(StepResult(step, state, before, unit=unit))
        return Evaluation(part, start, results, time.perf_counter() - started)

    def _foreseen(self, above: State, step: Step, metres: float, context: Context) -> State:
        """:meth:`step`, whose faults are told with the step like everything else that can go wrong with it: one that nobody
        foresaw must not keep a whole build from being opened."""
        try:
            return self.step(above, step, metres, context)
        except RhytonicError:
            raise
        except MemoryError:
            raise StepError("ran out of memory; ask for fewer faces") from None
        except Exception as fault:
            log.error("unforeseen, in step %s (%s)", context.step, step.kind, exc_info=fault)
            raise Unforeseen from fault

    def step(self, above: State, step: Step, metres: float, context: Context) -> State:
        """Run one step on a state, from the caches where they know it."""
        check()
        kind = kind_of(step)
        said = self._said(step, metres)
        step = said.step
        if above.curve is not None:
            context = replace(context, curve=above.curve)
        _refuse_wrong_matter(kind, above)
        surroundings = [kind.depends_on(step, context), *(context.operand(n).key.hex() for n in kind.needs(step))]
        key = digest(above.key, context.step, said.all, surroundings)
        known = self.results.get(key)
        if known is not None:
            return known
        failed = self.failures.get(key)
        if failed is not None:
            raise copy(failed)
        try:
            return self._run(kind, step, said, above, key, surroundings, context)
        except (Unforeseen, TakesLong, Ring):
            raise
        except StepError as error:
            if not kind.form:  # what begins a recipe may come from a file, which may come later
                self.failures.put(key, copy(error), _FAILURE)
            raise

    def _run(self, kind: StepKind[Any], step: Step, said: _Said, above: State, key: bytes, surroundings: list[Any],
             context: Context) -> State:
        """The state after a step that is not known yet; ``said`` and what its ``surroundings`` are tell its plan apart."""
        picked = self._picked(kind, step, above)
        context = replace(context, find=lambda other: self._pick(above, other))
        if above.curve is not None and kind.curve_role == "makes":
            state = self._remade(kind, step, above, above.curve, picked, key, context)
        else:
            state = self._edited(kind, step, said, above, picked, key, surroundings, context)
        self.results.put(key, state, state.size)
        return state

    def _edited(self, kind: StepKind[Any], step: Step, said: _Said, above: State, picked: Picked | None, key: bytes,
                surroundings: list[Any], context: Context) -> State:
        """The state after a step that makes a mesh of one: its plan, from the cache if that knows it, and positions."""
        ground = kind.ground(step, above.mesh, picked, context)
        kind.refuse_if_too_large(step, ground.topology, picked, context)
        held = held_plane(step, ground)
        structure = _structure(kind, said, above, picked, held, context.step, surroundings)
        plan = self.plans.get(structure)
        if plan is None:
            draft = kind.plan(step, ground, picked, replace(context, rest=lambda: rest_of(above.history)))
            _refuse_shared_edges(kind, draft, ground)
            plan = settle(draft, ground, above.history, context.step, counts_of(step), ground is not above.mesh)
            self.plans.put(structure, plan, plan.size)
        check()
        mesh = _placed(kind, step, plan, ground, picked, held, context)
        _refuse_no_numbers(mesh)
        remarks = kind.remarks(step, plan.draft, ground, mesh, context)
        if kind.watches_area:
            remarks = (*remarks, *lost_area(plan.draft, ground, mesh, plan.history.remembered))
        curve = _curve_after(kind, step, mesh, above.mesh, picked, context)
        return State(mesh, plan.history, key, structure, plan, picked, remarks, curve)

    def _picked(self, kind: StepKind[Any], step: Step, above: State) -> Picked | None:
        """What a step acts on, of a kind it takes."""
        pick = kind.pick_of(step)
        takes = kind.takes if above.curve is None else kind.curve_takes or kind.takes
        if pick is None:
            return None
        picked = self._pick(above, pick)
        if picked.kind not in takes:
            raise BadPick(f"{kind.title} works on {' or '.join(takes)}{' of a curve' if above.curve is not None else ''}, "
                          f"not {picked.kind}", "pick")
        return picked

    def _remade(self, kind: StepKind[Any], step: Step, above: State, curve: Curve, picked: Picked | None, key: bytes,
                context: Context) -> State:
        """The state after a step that makes another curve of one. Later plans depend on its points' names and on how they
        hang together, not on where they are."""
        edit = kind.remade(step, curve, picked, context)
        made, w = edit.curve, edit.curve.wires
        if made.ids.size > tolerance.MOST_CURVE_POINTS:
            raise TooLarge(f"would make a curve of {made.ids.size:,} points; at most {tolerance.MOST_CURVE_POINTS:,} are "
                           "allowed".replace(",", " "))
        _refuse_no_numbers(made)
        structure = digest(above.structure, context.step, *(a.tobytes().hex() for a in (
            made.ids, w.offsets, w.closed, w.kind, w.steps, edit.source)))
        plan = self.plans.get(structure)
        if plan is None:
            plan = settle(edit.draft(curve), above.mesh, above.history, context.step, counts_of(step))
            self.plans.put(structure, plan, plan.size)
        return State(plan.mesh(made.points), plan.history, key, structure, plan, picked, curve=made)

    def _pick(self, above: State, pick: Pick) -> Picked:
        """What a step's pick finds; a drag asks the same of the same mesh again and again."""
        # ids and what a step made are found by names alone: where only points moved, they are what they were
        words = self._worded(pick)
        keys = [digest(above.structure, words)] if by_names(pick) else []
        keys.append(digest(above.key, words))
        known = next((found for found in map(self.picks.get, keys) if found is not None), None)
        if known is None:
            known = resolve(above.mesh, above.history, pick)
            self.picks.put(keys[-1] if known.by_place else keys[0], known, known.elements.nbytes + 400)
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


def _refuse_wrong_matter(kind: StepKind[Any], above: State) -> None:
    """Raises StepError where a step that works on faces stands on a curve, or one that needs a curve does not."""
    if above.curve is not None and kind.curve_role not in ("keeps", "makes", "ends"):
        makers = " or ".join(k.title.lower() for k in KINDS.values() if k.curve_role == "ends")
        raise StepError(f"{kind.title} works on faces, and here the recipe is still a curve; make faces of it first, by "
                        f"{makers}")
    if above.curve is None and not kind.on_faces:
        makers = ", ".join(k.title.lower() for k in KINDS.values() if k.curve_role == "begins")
        does = "makes faces of" if kind.curve_role == "ends" else "works on"
        raise StepError(f"{kind.title} {does} a curve, and there is none above it; begin the recipe with one: {makers}")


def _refuse_no_numbers(made: Mesh | Curve) -> None:
    """Raises StepError where a result has places that are no numbers: it would spoil all that is made of it."""
    bad = np.flatnonzero(~np.isfinite(made.points).all(axis=1)) if not np.isfinite(made.points).all() else ()
    if len(bad):
        raise StepError(f"{len(bad)} of the places it makes cannot be worked out with these numbers; change them a little")


def _structure(kind: StepKind[Any], said: _Said, above: State, picked: Picked | None, held: HeldPlane | None, step: str,
               surroundings: list[Any]) -> bytes:
    """All that the plan of a step depends on, in a few bytes."""
    elements = _as_key(picked) if picked is not None else None
    on = [] if held is None else [(said.step.kind, np.packbits(held.on).tobytes())]
    return digest(above.key if kind.reads_points else above.structure, step, said.whole, surroundings, elements, *on)


def _placed(kind: StepKind[Any], step: Step, plan: Plan, ground: Mesh, picked: Picked | None, held: HeldPlane | None,
            context: Context) -> Mesh:
    """The mesh of a plan: its points where the step's numbers put them, and the attributes that depend on those."""
    points = kind.positions(step, plan.draft, ground, picked, context)
    if held is not None:
        points = held_points(points, plan.draft, held)
    mesh = plan.mesh_on(points, ground)
    if kind.form:
        rest = in_round(points, getattr(step, "start_angle", 0.0)) if kind.is_round else as_fractions(points)
        plan.history.remembered.setdefault("rest", (rest, mesh.topology.face_count, kind.is_round))
    if any(a.carry == "interpolate" for a in ground.attributes.values()):
        weights = kind.weights(step, plan.draft, ground)
        if weights is not None:
            source = replace(plan.draft, vertex_source=weights[0], corner_source=weights[1])
            mesh = replace(mesh, attributes=carry(source, ground) | dict(plan.draft.attributes))
    if kind.extends_layout:
        mesh = extended(plan.draft, ground, mesh)
    elif kind.shares_layout:
        mesh = sharing(plan.draft, mesh)
    by_points = kind.set_by_points(step, plan.draft, mesh, context)
    return replace(mesh, attributes=dict(mesh.attributes) | by_points) if by_points else mesh


def _as_key(picked: Picked) -> tuple[str | bytes, ...]:
    """What of a pick a plan depends on."""
    ends = [a.tobytes() for told in (picked.named, picked.written) if told is not None for a in told]
    return picked.kind, picked.elements.tobytes(), *ends


def _refuse_shared_edges(kind: StepKind[Any], draft: Draft, above: Mesh) -> None:
    """Raises StepError where a step would make more than two faces meet at an edge of a mesh that has none such."""
    t = draft.topology
    if kind.may_share_edges or kind.form or t is above.topology or (t.edge_face_count <= 2).all() or \
            (above.topology.edge_face_count > 2).any():
        return
    ends = draft.kept_vertices[t.edges[np.flatnonzero(t.edge_face_count > 2)].ravel()]
    old = ends[(ends >= 0) & (ends < len(above.points))]
    told = " at {point}" if old.size else ""
    raise StepError(f"more than two faces would meet at one edge{told}, and the surface would no longer be that of a body; "
                    "pick other elements, or cut or part those there first", "pick" if kind.takes else None,
                    point=above.points[old[0]] if old.size else None)


def _curve_after(kind: StepKind[Any], step: Step, mesh: Mesh, above: Mesh, picked: Picked | None,
                 context: Context) -> Curve | None:
    """The curve that a state still is after a step, if it is one."""
    if kind.curve_role == "begins":
        return kind.curve(step, context)
    if kind.curve_role == "keeps" and context.curve is not None and picked is not None:
        return context.curve.moved(mesh.points, kind.turning(step, above, picked, context))
    return None
