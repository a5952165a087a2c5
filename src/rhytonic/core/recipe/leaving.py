"""Which parts of a build are handed over."""

from __future__ import annotations

from collections.abc import Collection, Sequence

from ..edit.boolean import Boolean
from .built import BuiltPart
from .document import Document


def leaving(document: Document, parts: Sequence[BuiltPart], only: Collection[str] = ()) -> list[BuiltPart]:
    """Of the parts, those that go into files: no curves, not hidden, nor in a hidden group, no templates, and none that only
    serves as the other side of a boolean; with ``only``, those of these ids or in groups of these ids, whatever they are."""
    out = []
    serving = operands(document)
    for built in parts:
        if built.evaluation.surface.curve is not None:  # a profile or a path for others
            continue
        groups = document.groups_of(built.part)
        if only:
            if built.part.id in only or any(g.id in only for g in groups):
                out.append(built)
        elif not (built.part.id in serving or built.part.hidden or built.part.template
                  or any(g.hidden or g.template for g in groups)):
            out.append(built)
    return out


def operands(document: Document) -> set[str | None]:
    """Ids of the parts that booleans of others take in, cut out or cut to."""
    named: set[str] = set()
    for part in document.parts:
        for step in part.steps:
            if step.enabled and isinstance(step, Boolean):
                named |= set(step.named)
    return {p.id for p in document.parts if p.id in named or p.name in named}
