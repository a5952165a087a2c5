"""Step kinds by their words, and the union of their parameters that a document is read by."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Any, Union

from pydantic import Field

from ..step.kind import Picking, Step, StepKind
from .catalogue import CATALOGUE

KINDS: dict[str, StepKind[Any]] = {kind.word: kind for kind in CATALOGUE}

if TYPE_CHECKING:
    AnyStep = Step
else:
    AnyStep = Annotated[Union[tuple(kind.model for kind in KINDS.values())],  # noqa: UP007 — its members are computed
                        Field(discriminator="kind")]


def kind_of(step: Step) -> StepKind[Any]:
    """The kind that runs a step."""
    return KINDS[step.kind]


def is_live(step: Step) -> bool:
    """Whether a step stays below the working mark by default."""
    return kind_of(step).live or (isinstance(step, Picking) and step.live)
