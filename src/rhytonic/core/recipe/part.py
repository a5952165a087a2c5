"""What a document holds of its parts: placement, joints, groups, recipes."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from ..params import Angles, Count, Flag, Id, Name, Point, Ratio, Ratios, Strict
from ..pick.rules import Pick
from .registry import KINDS, AnyStep, is_live, kind_of

PositiveRatio = Annotated[float, Field(strict=True, allow_inf_nan=False, gt=0, le=1e6)]


class Placement(Strict):
    """Scales, then turns about x, then y, then z, then moves."""

    translate: Point = (0.0, 0.0, 0.0)
    rotate: Angles = (0.0, 0.0, 0.0)
    scale: tuple[PositiveRatio, PositiveRatio, PositiveRatio] = (1.0, 1.0, 1.0)


class Joint(Strict):
    """How a part or a group moves: about an axis, in degrees, or along it, in lengths; applied before its placement."""

    kind: Literal["turn", "slide"]
    at: Point = (0.0, 0.0, 0.0)
    axis: Ratios
    from_: Annotated[Ratio, Field(alias="from")] = 0.0
    to: Ratio
    now: Ratio = 0.0

    @model_validator(mode="after")
    def _has_axis(self) -> Joint:
        if not any(self.axis):
            raise ValueError("an axis cannot be [0, 0, 0]")
        if not min(self.from_, self.to) <= self.now <= max(self.from_, self.to):
            raise ValueError(f"now must lie between from and to, {self.from_:g} and {self.to:g}")
        return self


class PickSet(Strict):
    """A pick kept under a name, as a rule or ids: it follows the recipe as any pick does."""

    name: Name
    pick: Pick


Colour = Annotated[str, Field(pattern="^#[0-9a-f]{6}$")]


class Group(Strict):
    """Parts and groups that belong together; its joint and placement apply after theirs."""

    id: Id
    name: Name
    group: Id | None = Field(default=None, description="the group it is in")
    placement: Placement = Placement()
    hidden: Flag = False
    locked: Flag = False
    ghosted: Flag = False
    template: Flag = False
    pivot: Point = (0.0, 0.0, 0.0)
    budget: Count | None = None
    colour: Colour | None = Field(default=None, description="what views draw it in; a part's own comes first")
    joint: Joint | None = None


class Part(Strict):
    """One thing with its own recipe, or a linked copy of another.

    ``pivot`` is where handles stand that turn and scale about the part, in its own axes; evaluation does not read it.
    A ghosted part is drawn see-through and not picked; a template is seen and snapped to, never picked, counted or exported.
    """

    name: Name
    id: Id | None = None
    group: Id | None = None
    of: Id | None = Field(default=None, description="a linked copy: id or name of the part whose surface it has")
    mirrored: Literal["x", "y", "z"] | None = Field(default=None, description="of a linked copy: reflected in that plane")
    readable: Annotated[list[Id], Field(max_length=200, description="of a mirrored copy: patterns or pictures that are not "
                                        "turned over")] = Field(default=[])
    placement: Placement = Placement()
    joint: Joint | None = None
    mark: Id | None = Field(default=None, description="id of the step the working mark stands below")
    hidden: Flag = False
    locked: Flag = False
    ghosted: Flag = False
    template: Flag = False
    budget: Count | None = Field(default=None, description="most triangles it should have")
    colour: Colour | None = Field(default=None, description="what views draw it in, #rrggbb")
    pivot: Point = (0.0, 0.0, 0.0)
    sets: Annotated[list[PickSet], Field(max_length=500)] = Field(default=[])
    steps: Annotated[list[AnyStep], Field(max_length=10_000)] = Field(default=[])

    @model_validator(mode="after")
    def _in_order(self) -> Part:
        if self.of is not None and self.steps:
            raise ValueError("a linked copy has no steps of its own; leave out steps, or of")
        if self.mirrored is not None and self.of is None:
            raise ValueError("only a linked copy can be mirrored; give of, or use the step mirror")
        if self.readable and self.mirrored is None:
            raise ValueError("only what is mirrored has something to read right; give mirrored, or leave out readable")
        for number, step in enumerate(self.steps):
            if number and kind_of(step).form:
                raise ValueError(f"step {number + 1} is a {step.kind}; only the first step may be a base form")
            if number == 0 and not kind_of(step).form:
                forms = ", ".join(w for w, k in KINDS.items() if k.form)
                raise ValueError(f"the first step is a {step.kind}; it must be a base form: {forms}")
            if step.v > kind_of(step).version:
                raise ValueError(f"step {number + 1} is a {step.kind} of version {step.v}; "
                                 f"this program knows up to {kind_of(step).version}")
        ids = [s.id for s in self.steps if s.id]
        double = next((i for i in ids if ids.count(i) > 1), None) if len(set(ids)) < len(ids) else None
        if double:
            raise ValueError(f"two steps have the id '{double}'; an id names one step of a part")
        names = [s.name for s in self.sets]
        if len(set(names)) < len(names):
            raise ValueError(f"two pick sets are called '{next(n for n in names if names.count(n) > 1)}'")
        if self.mark is not None and self.mark not in ids:
            raise ValueError(f"the mark stands below '{self.mark}', which is no step of this part")
        return self

    def cage_end(self) -> int:
        """How many steps stand above the working mark."""
        if self.mark is not None:
            return next(i for i, s in enumerate(self.steps) if s.id == self.mark) + 1
        end = len(self.steps)
        while end > 1 and is_live(self.steps[end - 1]):
            end -= 1
        return end
