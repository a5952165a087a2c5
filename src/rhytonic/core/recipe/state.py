"""A part after some of its steps, and after all of them."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Literal

import numpy as np

from ..curve.curve import Curve
from ..errors import StepError, UnknownName
from ..lineage.history import History
from ..mesh.mesh import Floats, Mesh
from ..mesh.names import Domain
from ..mesh.topology import Ints, Topology
from ..pick.old_places import old_places
from ..pick.resolve import Kind as PickKind
from ..pick.resolve import Picked
from ..step.draft import Draft, Plan, edge_source
from ..step.kind import Remark, Step
from ..units import METRES, Unit
from .part import Part

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
        curve: the curve it still is; its mesh then is that curve's points, without faces.
    """

    mesh: Mesh
    history: History
    key: bytes
    structure: bytes
    plan: Plan | None = None
    picked: Picked | None = None
    remarks: tuple[Remark, ...] = ()
    curve: Curve | None = None

    @property
    def size(self) -> int:
        """Rough size in bytes beside its plan, for the cache's budget: points, what follows from them, attributes."""
        attributes = sum(a.values.nbytes for a in self.mesh.attributes.values())
        return 2000 + 2 * self.mesh.points.nbytes + 24 * self.mesh.topology.face_count + attributes


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
    def again(self) -> str | None:
        """How what it picks was found again where ids no longer tell it; None where they do."""
        return self.state.picked.again if self.state.picked and not self.skipped and not self.error else None

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
    """A part's recipe, run step by step; ``error`` where a linked copy cannot be had."""

    part: Part
    start: State
    results: list[StepResult]
    seconds: float = 0.0
    error: StepError | None = None

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
        return self.after(min(self.part.cage_end(), len(self.results)))

    def picked_in_cage(self, step: str) -> tuple[PickKind | None, Ints]:
        """What a step picked, as elements (n,) of the cage: those that are still there, or what took their place.

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

    def lost_places(self, step: str) -> list[Floats]:
        """(k, 3) corners, metres, of what a step had picked by ids and does not find any more, where it stood."""
        at = next((i for i, r in enumerate(self.results) if r.step.id == step), None)
        if at is None or self.results[at].skipped or (self.results[at].error is None and not self.results[at].missing):
            return []
        above, of = self.after(at), self.results[at].step
        rule = getattr(of, "through", None) or getattr(of, "pick", None)
        return old_places(above.mesh, above.history, rule)

    @cached_property
    def cage_face_of_surface(self) -> Ints:
        """(F,) face of the cage each face of the surface came from, −1 for none."""
        source = np.arange(self.surface.mesh.topology.face_count)
        for draft, above in self._below():
            source = _through(source, draft.face_source, above.face_count)
        return source

    @cached_property
    def cage_vertex_of_surface(self) -> Ints:
        """(V,) vertex of the cage each vertex of the surface is, or is an image or copy of; −1 for others."""
        source = np.arange(self.surface.mesh.topology.vertex_count)
        for draft, above in self._below():
            source = _through(source, draft.stands_for, above.vertex_count)
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
                source = _through(source, edge_source(plan.draft, above), above.edge_count)
        return lines, source

    def _below(self) -> list[tuple[Draft, Topology]]:
        """Drafts of the steps below the cage that ran, the last first, each with what stood above it."""
        numbers = range(len(self.results) - 1, self.part.cage_end() - 1, -1)
        return [(r.state.plan.draft, self.after(i).mesh.topology)
                for i in numbers if _ran(r := self.results[i]) and r.state.plan]


def _ran(result: StepResult) -> bool:
    return result.error is None and not result.skipped and result.state.plan is not None


def _through(source: Ints, above: Ints, count: int) -> Ints:
    """``source`` one step further up: ``above`` tells elements of the mesh there, of which those from ``count`` on were
    brought in from other parts."""
    if not above.size:
        return source
    out = np.where(source >= 0, above[np.maximum(source, 0)], -1)
    return np.where(out < count, out, -1)
