"""Documents of which one came of the other share the steps that say the same."""

from __future__ import annotations

from ..step.kind import Step
from .document import Document
from .part import Part


def sharing(document: Document, before: Document | None) -> Document:
    """The document with the very steps of an earlier one wherever they say the same.

    What was worked out of a step is kept by the step, so that a change of one number does not have all others read anew.
    """
    if before is None or before is document:
        return document
    old = {p.id: p for p in before.parts}
    parts = [_shared(p, old.get(p.id)) for p in document.parts]
    return document.model_copy(update={"parts": parts}) if _differ(parts, document.parts) else document


def _shared(part: Part, before: Part | None) -> Part:
    old = {} if before is None else {s.id: s for s in before.steps}
    steps = [_either(s, old.get(s.id)) for s in part.steps]
    return part.model_copy(update={"steps": steps}) if _differ(steps, part.steps) else part


def _either(step: Step, old: Step | None) -> Step:
    """The old step where it says the same, what is left unsaid included."""
    return old if old is not None and old == step and old.model_fields_set == step.model_fields_set else step


def _differ(one: list[Part] | list[Step], two: list[Part] | list[Step]) -> bool:
    return any(a is not b for a, b in zip(one, two, strict=True))
