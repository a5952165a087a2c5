"""What a step kind is: parameters, roles, a plan from connectivity, and positions from numbers."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any, ClassVar, Generic, Literal, TypeVar

import numpy as np
from pydantic import Field

from .. import tolerance
from ..curve.curve import Curve
from ..deform.deformation import Deformation
from ..errors import StepError, TakesLong, TooLarge, no_more_than
from ..files.model import Model
from ..mesh.attributes import Attribute, Sources
from ..mesh.mesh import Floats, Mesh
from ..mesh.topology import Ints, Topology
from ..params import Count, Flag, Id, Strict
from ..pick.resolve import Kind as PickKind
from ..pick.resolve import Picked
from ..pick.rules import Pick
from .curve_edit import CurveEdit
from .draft import Draft
from .facts import Knob, Offer, Span
from .grey import Asked, Greys, no_greys, no_key
from .operand import Find, Need, Operand


class Step(Strict):
    """What every step has beside its kind's own parameters."""

    id: Id | None = Field(default=None, description="never changes once given")
    label: str | None = Field(default=None, max_length=200, description="what people rename")
    enabled: Flag = True
    v: Count = Field(default=1, description="version of the step kind")
    kind: str


class Picking(Step):
    """A step that acts on elements of the mesh."""

    live: Flag = Field(default=False, description="stays below the working mark")


class Edit(Picking):
    """A step that acts on a pick."""

    pick: Pick


S = TypeVar("S", bound=Step)


def _nowhere(pick: Pick) -> Picked:
    raise LookupError("a step asked for elements where there is no mesh")


def _alone(need: Need) -> Operand:
    raise StepError(f"needs part '{need.part}', and this recipe stands in no build")


def _no_files(name: str) -> Model:
    raise StepError(f"needs the file '{name}', and this recipe comes without files", "file")


def _no_boards(name: str) -> list[Floats]:
    raise StepError(f"needs the board '{name}', and this recipe stands in no build", "board")


@dataclass(frozen=True)
class Remark:
    """A sentence for the report that depends on positions; ``length`` and ``point``, in metres, are told as ``{length}``, or
    ``{most}`` where it is never to be rounded up, and ``{point}`` in the file's unit."""

    text: str
    length: float = 0.0
    point: tuple[float, ...] = ()

    def told(self, unit: str, metres: float) -> str:
        """The sentence in a unit of so many metres."""
        place = ", ".join(f"{v / metres:.4g}" for v in self.point)
        told = self.text.replace("{length}", f"{self.length / metres:.6g} {unit}").replace("{point}", f"({place})")
        return told.replace("{most}", f"{no_more_than(self.length / metres):.6g} {unit}")


@dataclass(frozen=True)
class Context:
    """What a step may ask of its surroundings.

    Attributes:
        step: id of the step.
        stage: whether the mesh is for views or for hand-over (files, the command line).
        to_build: (3, 3) linear part of the placement, from the part's axes to the build's.
        find: answers further picks against the mesh the step acts on.
        operand: answers what the step needs of other parts.
        file: answers a model file by its name, as read; raises StepError where there is none or it cannot be taken.
        outline: answers the rings (n, 3) of a board's traced outline by its id or name, in the part's axes.
        grey: answers the greys (h, w) of a pattern or picture; raises StepError where there is none.
        grey_key: names a pattern or picture as it is now; part of the cache key of who needs it.
        called: all that a pattern is called, by whichever of it.
        readable: patterns and pictures that are turned over, so that they read right on an image of this part.
        curve: the curve above, where the recipe has not made faces of it yet.
        rest: (V, 3) where the vertices of the mesh above lie in the base form, in fractions of its box; None if not known.
        patience: seconds after which a step is to be asked for once more; None for any time.
    """

    step: str
    stage: Literal["view", "handover"] = "view"
    to_build: Floats = field(default_factory=lambda: np.eye(3))
    find: Callable[[Pick], Picked] = field(default=_nowhere)
    operand: Find = field(default=_alone)
    file: Callable[[str], Model] = field(default=_no_files)
    outline: Callable[[str], list[Floats]] = field(default=_no_boards)
    grey: Callable[[Asked], Greys] = field(default=no_greys)
    grey_key: Callable[[str | None, str | None], str] = field(default=no_key)
    called: Callable[[str], frozenset[str]] = lambda name: frozenset({name})
    readable: frozenset[str] = frozenset()
    curve: Curve | None = None
    rest: Callable[[], Floats | None] = lambda: None
    patience: float | None = None


class StepKind(Generic[S]):
    """One kind of step. Subclasses declare themselves and write ``plan`` and ``positions``.

    Attributes:
        word: its name in files.
        title: its name on cards and in the tray.
        model: its parameters.
        takes: kinds of element its pick may have; empty for forms and whole-mesh steps.
        roles: what it tags.
        form, live: whether it starts a recipe, and whether it stays below the working mark.
        is_round: of forms, whether it stands round the upright axis: its places are told along circles then.
        numbers: parameters that move points without changing the plan.
        reads_points: whether the plan itself looks at positions, as one that merges what is near does.
        keeps_pick: whether picked elements have the same numbers in the result, so that a pick stays as it is.
        watches_area: whether faces it leaves without area are told: of kinds that cut faces up or join them.
        extends_layout: whether faces laid out in world size stay so on what it makes of them and where it changes shapes.
        shares_layout: whether the faces it makes are copies that share the places of those they are copies of.
        at_rest: whether what is proposed leaves the mesh as it is: a step of it is worth storing only once it was touched.
        proposal, knob, spans: see :mod:`.facts`; spans are told by base forms.
        may_share_edges: whether more than two faces may come to meet at an edge, as where points are joined by hand.
        typed: the number people type first, where that is not the one of the knob.
        follows: numbers that follow from what is there while they are left out.
        curve_role: what it has to do with curves: works on faces alone, begins with a curve, keeps one as it keeps faces,
            moving points, makes another of it, or ends one by making faces of it.
        on_faces: whether it works on faces too, or on curves alone; of kinds with such a role.
        curve_takes: kinds of element its pick may have on a curve; empty for those that take it whole.
        cost: rough seconds for each face it makes, to compute, send and draw it.
        summary: parameters that tell the step in a line, the weightiest first; empty for "whatever was set".
    """

    word: ClassVar[str]
    title: ClassVar[str]
    model: type[S]
    version: ClassVar[int] = 1
    may_share_edges: ClassVar[bool] = False
    takes: ClassVar[tuple[PickKind, ...]] = ()
    roles: ClassVar[tuple[str, ...]] = ()
    form: ClassVar[bool] = False
    is_round: ClassVar[bool] = False
    live: ClassVar[bool] = False
    numbers: ClassVar[frozenset[str]] = frozenset()
    reads_points: ClassVar[bool] = False
    keeps_pick: ClassVar[bool] = False
    extends_layout: ClassVar[bool] = False
    shares_layout: ClassVar[bool] = False
    at_rest: ClassVar[bool] = False
    watches_area: ClassVar[bool] = False
    proposal: ClassVar[tuple[Offer, ...]] = ()
    knob: ClassVar[Knob | None] = None
    typed: ClassVar[str | None] = None
    follows: ClassVar[frozenset[str]] = frozenset()
    spans: ClassVar[tuple[Span, ...]] = ()
    summary: ClassVar[tuple[str, ...]] = ()
    cost: ClassVar[float] = 4e-6
    curve_role: ClassVar[Literal["none", "begins", "keeps", "makes", "ends"]] = "none"
    on_faces: ClassVar[bool] = True
    curve_takes: ClassVar[tuple[PickKind, ...]] = ()

    def pick_of(self, p: S) -> Pick | None:
        """What the step acts on; None for forms and whole-mesh steps."""
        return p.pick if isinstance(p, Edit) else None

    def needs(self, p: S) -> tuple[Need, ...]:
        """What of other parts the step needs; a change of any of it runs the step again."""
        return ()

    def ground(self, p: S, mesh: Mesh, picked: Picked | None, context: Context) -> Mesh:
        """The mesh that the plan speaks of: the one above, with what the step brings in from elsewhere standing last."""
        return mesh

    def sent(self, p: S, mesh: Mesh, picked: Picked | None) -> Ints:
        """(F,) of the mesh above, which further part each face is sent out into, from 1 on; 0 for faces that are not."""
        return np.zeros(mesh.topology.face_count, np.int64)

    def estimate(self, p: S, topology: Topology, picked: Picked | None, context: Context) -> tuple[int, str]:
        """Faces of the result, told before anything is computed, and the parameter that makes it so many."""
        return topology.face_count, ""

    def plan(self, p: S, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        """Everything of the result that does not depend on the real numbers in ``numbers`` or on positions."""
        raise NotImplementedError

    def positions(self, p: S, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        """(V', 3) points of the result."""
        raise NotImplementedError

    def curve(self, p: S, context: Context) -> Curve:
        """The curve that a step begins with."""
        raise NotImplementedError

    def turning(self, p: S, mesh: Mesh, picked: Picked, context: Context) -> Floats | None:
        """(V, 3, 3) how the surroundings of each vertex turn and stretch, for kinds that keep curves; None: not at all."""
        return None

    def remade(self, p: S, curve: Curve, picked: Picked | None, context: Context) -> CurveEdit:
        """The curve made of the one above, for kinds with the role ``makes``."""
        raise NotImplementedError

    def set_by_points(self, p: S, draft: Draft, made: Mesh, context: Context) -> dict[str, Attribute]:
        """Attributes of the result that depend on positions, as lengths along it do."""
        return {}

    def weights(self, p: S, draft: Draft, mesh: Mesh) -> tuple[Sources, Sources] | None:
        """Where vertex and corner attributes come from, for kinds whose numbers or positions say so; None where the plan
        says it once for all."""
        return None

    def remarks(self, p: S, draft: Draft, mesh: Mesh, made: Mesh, context: Context) -> tuple[Remark, ...]:
        """What there is to say of the result ``made`` beside its plan's notes."""
        return ()

    def deformation(self, p: S, mesh: Mesh, picked: Picked | None) -> Deformation | None:
        """What the step does to space, for others to follow; None for kinds that do nothing of the kind."""
        return None

    def anchored(self, p: S, mesh: Mesh, metres: float) -> S:
        """The step, its lengths in a unit of so many metres, with whatever it keeps of the mesh above to find its places
        again; itself where there is nothing to add."""
        return p

    def influence(self, p: S, mesh: Mesh, picked: Picked | None) -> tuple[Ints, Floats] | None:
        """(n,) each: vertices that follow the pick softly and their weights, to be shown; None for kinds without soft
        selection."""
        return None

    def depends_on(self, p: S, context: Context) -> Any:
        """What of the surroundings the result depends on; part of the cache key."""
        return None

    def refuse_if_too_large(self, p: S, topology: Topology, picked: Picked | None, context: Context) -> None:
        """Raises TooLarge where the result would have more faces than any mesh may."""
        self.refuse_faces(*self.estimate(p, topology, picked, context), context)

    def refuse_faces(self, faces: int, parameter: str, context: Context) -> None:
        """Raises TooLarge where so many faces are more than any mesh may have, TakesLong where they were to be asked for."""
        if context.patience is not None and faces * self.cost > context.patience and faces <= tolerance.MOST_FACES:
            told = f"{faces:,}".replace(",", " ")
            raise TakesLong(f"would make {told} faces, which takes about {max(round(faces * self.cost), 1)} s; do it "
                            "anyway, or ask for less", parameter or None)
        if faces > tolerance.MOST_FACES:
            raise TooLarge(f"would make {faces:,} faces; at most {tolerance.MOST_FACES:,} are allowed".replace(",", " "),
                           parameter or None)


class Form(Step):
    """A base form: stands on y = 0, centred in x and z, unless anchored at its centre."""

    anchor: Literal["base", "centre"] = "base"


def counts_of(step: Step) -> str:
    """The whole numbers of a step, in words; empty where it has none."""
    found: list[str] = []

    def look(value: Any) -> None:
        if isinstance(value, int) and not isinstance(value, bool):
            found.append(str(value))
        elif isinstance(value, (list, tuple)):
            for inner in value:
                look(inner)

    for name in type(step).model_fields:
        look(getattr(step, name))
    return ",".join(found)
