"""Keeps, beside the ids that picks were made with, what they meant (:mod:`..pick.meaning`)."""

from __future__ import annotations

import logging
from collections.abc import Collection
from typing import Any

import numpy as np

from ..construct.rings.in_form import first_in_form
from ..construct.rings.rings import find_rings
from ..construct.spread import is_lower
from ..edit.insert_loop import InsertLoop
from ..errors import RhytonicError, StepError, Unforeseen
from ..lineage.origins import rest_of
from ..mesh.names import from_hex
from ..pick import rules
from ..pick.convert import Kind
from ..pick.meaning import meaning_of
from ..pick.resolve import pick_kind, pick_of, resolve
from ..step.kind import Step
from ..units import METRES
from .part import Part
from .registry import kind_of
from .state import Evaluation, State

log = logging.getLogger("rhytonic")

#: picks of more elements than this are told by their ids alone
MOST_IDS = 2_000


def with_meanings(part: Part, evaluation: Evaluation) -> Part:
    """The part with a meaning beside every pick by ids that has none and finds all it names."""
    steps: list[Step] = []
    for number, step in enumerate(part.steps[:len(evaluation.results)]):
        above = evaluation.after(number)
        unit = evaluation.results[number].unit
        if step.enabled and above.curve is None:
            try:
                step = _meant(step, above, METRES[unit])
            except RhytonicError:
                raise
            except Exception as fault:
                log.error("unforeseen, in what step %s (%s) means", step.id, step.kind, exc_info=fault)
                raise Unforeseen().at(part.name, step.id) from fault
        steps.append(step)
    steps += part.steps[len(steps):]
    if all(one is two for one, two in zip(steps, part.steps, strict=True)):
        return part
    return part.model_copy(update={"steps": steps})


def after_change(part: Part, now: Evaluation, old: Part | None, then: Evaluation | None) -> Part:
    """A changed part with meanings: picks that stayed keep what they meant before the change, others mean what they find."""
    if old is not None and then is not None:
        known = {s.id: s for s in with_meanings(old, then).steps}
        before = {s.id: s for s in old.steps}
        part = part.model_copy(update={"steps": [_taken(s, before.get(s.id), known.get(s.id)) for s in part.steps]})
        part = _from_the_form(part, now, before)
    return with_meanings(part, now)


def _from_the_form(part: Part, now: Evaluation, before: Collection[str | None]) -> Part:
    """The part with a new last cut of rings that a rule finds told from the base form: what earlier steps are called or
    how they turn it changes neither where it begins nor which of its pieces is which. One that stood before, or that others
    follow, stays as its pieces are known."""
    at = min(part.cage_end(), len(now.results)) - 1
    step = part.steps[at] if at >= 0 else None
    if not isinstance(step, InsertLoop) or isinstance(step.through, rules.Ids) or step.begin != "lower" or step.id in before:
        return part
    above, picked = now.after(at), now.results[at].state.picked
    rest = rest_of(above.history)
    if rest is None or picked is None or now.results[at].error is not None or not step.enabled:
        return part
    t = above.mesh.topology
    edges, first = first_in_form(t, picked.elements, rest)
    rings = find_rings(t, picked.elements, above.mesh.names.vertex, (edges, first))
    naming = np.isin(edges, rings.named)
    points, ends = above.mesh.points, np.stack([first, t.edges[edges].sum(axis=1) - first], axis=1)[naming]
    lower = is_lower(points[ends[:, 0]], points[ends[:, 1]])
    if not lower.size or lower.any() != lower.all():  # some of its rings run one way, some the other
        return part
    steps = list(part.steps)
    steps[at] = step.model_copy(update={"begin": "form_first" if lower.all() else "form_last"})
    return part.model_copy(update={"steps": steps})


def _taken(step: Step, old: Step | None, known: Step | None) -> Step:
    """A step with the meanings that its earlier self has by now, where they pick alike."""
    if old is None or known is None or type(old) is not type(step):
        return step
    changes = {word: getattr(known, word) for word in ("pick", "through", "strokes")
               if hasattr(step, word) and getattr(step, word) == getattr(old, word) != getattr(known, word)}
    return step.model_copy(update=changes) if changes else step


def _meant(step: Step, above: State, metres: float) -> Step:
    """A step with meanings in its own pick, and in an insert_loop's edge, which also keeps where its fractions begin; and
    with what its kind keeps of the mesh above."""
    step = kind_of(step).anchored(step, above.mesh, metres)
    changes: dict[str, Any] = {}
    pick = getattr(step, "pick", None)
    if isinstance(pick, (rules.PickFaces, rules.PickEdges, rules.PickVertices)):
        word = pick_kind(pick)
        rule = _rule(getattr(pick, word), word, above)
        if rule is not None:
            changes["pick"] = pick_of(word, rule)
    through = getattr(step, "through", None)
    if isinstance(through, rules.Ids):
        rule = _rule(through, "edges", above)
        if rule is not None:
            changes["through"] = rule
            lower = _lower_first(rule, above)
            if lower is not None and hasattr(step, "begin"):
                changes |= {"through": lower, "begin": "first"}
    return step.model_copy(update=changes) if changes else step


def _rule(rule: Any, kind: Kind, above: State) -> rules.Ids | None:
    """The rule with its meaning, or None where it has one, or cannot."""
    if not isinstance(rule, rules.Ids) or rule.meant is not None or not 0 < len(rule.ids) <= MOST_IDS:
        return None
    try:
        found = resolve(above.mesh, above.history, pick_of(kind, rule))
    except StepError:
        return None
    if found.missing:
        return None
    meant = meaning_of(above.mesh, above.history, kind, found.elements)
    return None if meant is None else rule.model_copy(update={"meant": meant})


def _lower_first(rule: rules.Ids, above: State) -> rules.Ids | None:
    """The rule with the lower end of each edge written first, as the fractions of its loops run by now; None where an end is
    called otherwise by now."""
    pairs = [i.split("-") if isinstance(i, str) else list(i) for i in rule.ids]
    at = above.mesh.names.find("vertex", from_hex([end for pair in pairs for end in pair])).reshape(-1, 2)
    if (at < 0).any():
        return None
    points = above.mesh.points
    lower = is_lower(points[at[:, 0]], points[at[:, 1]])
    return rule.model_copy(update={"ids": [(a, b) if first else (b, a) for (a, b), first in zip(pairs, lower, strict=True)]})
