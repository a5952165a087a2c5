"""Driven sizes: the number in a recipe that makes a size what is wanted."""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from pydantic import ValidationError

from ..brief.size import ByPart, ByPick, ByStep, Driver, Size
from ..errors import RhytonicError, StepError
from ..recipe.document import Document
from ..recipe.part import Part, Placement
from ..recipe.registry import KINDS
from ..step.kind import Step
from ..units import METRES
from .judge import measured, value_in_unit
from .scene import Run, Scene
from .solve import NoRoot, Tried, solve

#: results this near to what is wanted, of its size, are it
_CLOSE = 1e-10


class NotReached(StepError):
    """No value of what drives a size makes it what is wanted."""

    code = "not_reached"


@dataclass(frozen=True)
class Driven:
    """A number found: the change that sets it, as operations of RFC 6902, what it is called, and the size it gives."""

    value: float
    have: float
    label: str
    patch: list[dict[str, Any]]
    trials: int


@dataclass(frozen=True)
class _Knob:
    """One number of a document: what it is now, a step to try it by, the document with another, and the change for that."""

    name: str
    start: float
    step: float
    turned: Callable[[float], Document]
    patch: Callable[[float], list[dict[str, Any]]]


def drive(document: Document, size: Size, want: float, driver: Driver, run: Run, seconds: float = 15.0) -> Driven:
    """The value that makes a size ``want``, in the size's own unit; given up after so many seconds.

    Raises:
        NotReached: no value does, or none was found in time; tells what the ones tried reach.
        UnknownName, StepError: the driver names what is not there, or the size has no value as the build stands.
    """
    if not abs(want) < 1e12:
        raise NotReached(f"{want:g} is beyond any size", "want")
    metres = METRES[document.unit]
    knob = _knob(document, driver)
    measured(Scene(document, run), size)  # says why, where it cannot be measured at all

    latest = time.monotonic() + seconds

    def off(value: float) -> float | None:
        if time.monotonic() > latest:
            raise NotReached(f"no value of {knob.name} was found within {seconds:g} s; hide what lies below, or come nearer "
                             "by hand first", "want")
        try:
            found = measured(Scene(knob.turned(value), run), size)
        except (RhytonicError, ValidationError):
            return None
        return value_in_unit(size.measure, found.value, metres) - want

    reach = max(abs(want), abs(off(knob.start) or 0.0), 1e-9)
    try:
        value, tried = solve(off, knob.start, knob.step, _CLOSE * reach)
    except NoRoot as error:
        raise NotReached(_told(knob, size, want, error.tried), "want") from None
    found = off(value)
    if found is None or abs(found) > 1e-6 * reach:
        raise NotReached(_told(knob, size, want, tried), "want")
    return Driven(value, found + want, f"{size.name}: {want:g}", knob.patch(value), len(tried.results))


def _told(knob: _Knob, size: Size, want: float, tried: Tried) -> str:
    good = tried.good
    if not good:
        return f"no value of {knob.name} reaches {want:g}: none could be tried"
    results = [r + want for _, r in good]
    low, high = min(results), max(results)
    between = f"from {good[0][0]:.6g} to {good[-1][0]:.6g}"
    if high - low <= 1e-9 * max(abs(high), abs(low), 1e-12):
        return f"{knob.name} does not change '{size.name}': it stays {low:.6g} {between}; choose what drives it anew"
    return f"no value of {knob.name} reaches {want:g}: {between}, '{size.name}' goes from {low:.6g} to {high:.6g}"


def _knob(document: Document, driver: Driver) -> _Knob:
    at = next((i for i, p in enumerate(document.parts) if p.id == driver.part), None)
    if at is None:
        raise StepError("the part that drives it is no longer there; choose what drives it anew", "driver")
    match driver:
        case ByStep():
            return _of_step(document, at, driver)
        case ByPick():
            return _of_pick(document, at, driver)
        case ByPart():
            return _of_part(document, at, driver)


def _with(document: Document, at: int, part: Part) -> Document:
    parts = list(document.parts)
    parts[at] = part
    return document.model_copy(update={"parts": parts})


def _of_step(document: Document, at: int, driver: ByStep) -> _Knob:
    part = document.parts[at]
    number = next((i for i, s in enumerate(part.steps) if s.id == driver.step), None)
    if number is None:
        raise StepError("the step that drives it is no longer there; choose what drives it anew", "driver")
    step = part.steps[number]
    field = type(step).model_fields.get(driver.parameter)
    value = getattr(step, driver.parameter, None)
    held = value[driver.index] if isinstance(value, tuple | list) and driver.index is not None \
        and driver.index < len(value) else value
    if field is None or not isinstance(held, float):  # a count is whole, and nothing between
        raise StepError(f"'{driver.parameter}' of {step.label or step.id} is no number that can be driven", "driver")

    def put(number_: float) -> Any:
        if isinstance(value, tuple | list) and driver.index is not None:
            return [number_ if i == driver.index else v for i, v in enumerate(value)]
        return number_

    def turned(number_: float) -> Document:
        raw = step.model_dump(by_alias=True, exclude_unset=True) | {driver.parameter: put(number_), "kind": step.kind}
        read: Step = KINDS[step.kind].model.model_validate(raw)
        steps = list(part.steps)
        steps[number] = read
        return _with(document, at, part.model_copy(update={"steps": steps}))

    def patch(number_: float) -> list[dict[str, Any]]:
        path = f"/parts/{at}/steps/{number}/{driver.parameter}"
        return [{"op": "add", "path": path, "value": put(number_)}]

    span = max(abs(held), 0.01 / METRES[document.unit] if held == 0 else 0.0)
    return _Knob(f"{driver.parameter} of {step.label or step.id}", float(held), 0.05 * span or 0.05, turned, patch)


def _of_pick(document: Document, at: int, driver: ByPick) -> _Knob:
    part = document.parts[at]
    axis = "xyz".index(driver.axis)
    end = part.cage_end()
    # driven again, it corrects its own step: the size goes on to be one number of the recipe
    last = part.steps[end - 1] if end else None
    own = last if last is not None and last.kind == "transform" and getattr(last, "frame", "") == "build" \
        and getattr(last, "pick", None) == driver.pick and _moves_only(last, axis) else None
    taken = {s.id for s in part.steps}
    step_id = own.id if own is not None else next(f"move{n}" for n in range(1, len(taken) + 2) if f"move{n}" not in taken)
    start = float(own.translate[axis]) if own is not None else 0.0  # type: ignore[attr-defined]
    raw_pick = driver.pick.model_dump(mode="json", by_alias=True, exclude_unset=True)

    def raw(value: float) -> dict[str, Any]:
        return {"id": step_id, "kind": "transform", "pick": raw_pick, "frame": "build",
                "translate": [value if k == axis else 0.0 for k in range(3)]}

    def turned(value: float) -> Document:
        read: Step = KINDS["transform"].model.model_validate(raw(value))
        steps = list(part.steps)
        if own is not None:
            steps[end - 1] = read
        else:
            steps.insert(end, read)
        mark = step_id if own is None and part.mark is not None else part.mark
        return _with(document, at, part.model_copy(update={"steps": steps, "mark": mark}))

    def patch(value: float) -> list[dict[str, Any]]:
        if own is not None:
            return [{"op": "replace", "path": f"/parts/{at}/steps/{end - 1}/translate", "value": raw(value)["translate"]}]
        out: list[dict[str, Any]] = [{"op": "add", "path": f"/parts/{at}/steps/{end}", "value": raw(value)}]
        return out + ([{"op": "replace", "path": f"/parts/{at}/mark", "value": step_id}] if part.mark is not None else [])

    return _Knob(f"a move along {driver.axis}", start, 0.002 / METRES[document.unit], turned, patch)


def _moves_only(step: Step, axis: int) -> bool:
    moved = getattr(step, "translate", (0, 0, 0))
    said = step.model_fields_set - {"id", "kind", "pick", "frame", "translate"}
    return not said and all(v == 0 for k, v in enumerate(moved) if k != axis)


def _of_part(document: Document, at: int, driver: ByPart) -> _Knob:
    part = document.parts[at]
    held = part.placement.scale
    chosen = [driver.axis in ("all", a) for a in "xyz"]
    base = held[chosen.index(True)]

    def put(value: float) -> list[float]:
        return [v * value / base if c else v for v, c in zip(held, chosen, strict=True)]

    def turned(value: float) -> Document:
        placement = Placement.model_validate(part.placement.model_dump() | {"scale": tuple(put(value))})
        return _with(document, at, part.model_copy(update={"placement": placement}))

    def patch(value: float) -> list[dict[str, Any]]:
        placement = part.placement.model_dump(mode="json", exclude_defaults=True) | {"scale": put(value)}
        return [{"op": "add", "path": f"/parts/{at}/placement", "value": placement}]

    axis = "" if driver.axis == "all" else f" along {driver.axis}"
    return _Knob(f"the scale of part '{part.name}'{axis}", base, 0.05 * base, turned, patch)
