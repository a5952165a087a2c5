"""The step kinds, as cards and tray need them; health; typed lengths."""

from __future__ import annotations

import dataclasses
import functools
from typing import Any, Literal

from flask import Response, current_app

from .. import __version__
from ..core.recipe.registry import KINDS
from ..core.step.kind import Form, Step, StepKind
from ..core.units import parse_length, parse_number
from .blueprint import blueprint
from .schemas import (
    Fault,
    Health,
    KindInfo,
    KindList,
    KnobInfo,
    LengthQuery,
    LengthValue,
    NumberQuery,
    OfferInfo,
    Parameter,
    ParameterQuantity,
    SpanInfo,
    Value,
)
from .workroom import Workroom

api = blueprint("kinds", __name__, "/api", {422: Fault})
_NUMBERS = ("length", "angle", "ratio", "count")
_TRIED = (*_NUMBERS, "choice", "flag")
_COMMON = set(Step.model_fields) | {"pick", "through", "begin", "live"}


def _value(name: str, schema: dict[str, Any], required: bool, before: str = "") -> Value:
    options = [o for o in schema.get("anyOf", [schema]) if o.get("type") != "null"]
    words = [w for o in options for w in o.get("enum", [o["const"]] if "const" in o else [])]
    numeric = [o for o in options if "quantity" in o]
    triple = next((o for o in options if o.get("type") == "array" and "prefixItems" in o), None)
    quantity: ParameterQuantity = "other"
    several = any(o.get("type") == "array" and o.get("items", {}).get("quantity") == "part" for o in options)
    count = 1
    if schema.get("quantity") in ("profile", "patterns"):
        quantity = schema["quantity"]
    elif several:
        quantity = "parts"
    elif words and not (numeric and len(words) == 1):  # one word beside a number says that it follows from what is there
        quantity = "choice"
    elif schema.get("type") == "boolean":
        quantity = "flag"
    elif numeric:
        quantity = numeric[0]["quantity"]
    elif triple is not None and all("quantity" in i for i in triple["prefixItems"]):
        quantity, count = triple["prefixItems"][0]["quantity"], len(triple["prefixItems"])
    items = [o.get("items", {}) for o in options if o.get("type") == "array"]
    listed = next((i for i in items if i.get("type") == "number"), None)
    if quantity == "other" and listed is not None:
        quantity, count, numeric = listed.get("quantity", "ratio"), 0, [listed]
    bounds = numeric[0] if numeric else {}
    return Value(name=name, title=before + name.replace("_", " "), quantity=quantity, count=count, choices=words,
                     default=schema.get("default"), required=required,
                     least=bounds.get("minimum", bounds.get("exclusiveMinimum")), most=bounds.get("maximum"))


def _parameter(name: str, schema: dict[str, Any], required: bool, defs: dict[str, Any], follows: bool) -> Parameter:
    """A parameter and, where it is a set of values that can be left out, each of those."""
    refs = [o["$ref"] for o in schema.get("anyOf", []) if "$ref" in o]
    inner = defs.get(refs[0].rsplit("/", 1)[1], {}) if len(refs) == 1 else {}
    values = [_value(n, s, n in inner.get("required", []), f"{name} ") for n, s in inner.get("properties", {}).items()]
    return Parameter(**(_value(name, schema, required).model_dump() | {"inner": values, "follows": follows}))


def describe(kind: StepKind[Any]) -> KindInfo:
    """A step kind from its declaration alone."""
    schema = kind.model.model_json_schema(by_alias=True)
    required = set(schema.get("required", []))
    order = [n for n in schema["properties"] if n not in _COMMON]
    fields = kind.model.model_fields
    picks: Literal["pick", "through", "nothing"] = "nothing"
    if "through" in fields or "pick" in fields:
        picks = "through" if "through" in fields else "pick"
    if issubclass(kind.model, Form):
        order = [n for n in order if n != "anchor"] + ["anchor"]
    defs = schema.get("$defs", {})
    parameters = [_parameter(n, schema["properties"][n], n in required, defs, n in kind.follows) for n in order]
    knob = _knob(kind, parameters)
    return KindInfo(word=kind.word, title=kind.title, takes=list(kind.takes), picks=picks,
                    needs_pick=picks != "nothing" and fields[picks].is_required(), roles=list(kind.roles),
                    form=kind.form, live=kind.live,
                    may_be_live="live" in fields, keeps_pick=kind.keeps_pick, at_rest=kind.at_rest,
                    proposal=_proposal(kind, parameters), knob=knob,
                    typed=kind.typed or (knob.parameter if knob is not None else None),
                    spans=[SpanInfo(**dataclasses.asdict(s)) for s in kind.spans], summary=list(kind.summary),
                    curve=kind.curve_role, on_faces=kind.on_faces, curve_takes=list(kind.curve_takes),
                    parameters=parameters)


def _proposal(kind: StepKind[Any], parameters: list[Parameter]) -> list[OfferInfo]:
    """What the kind declares, and for everything else that has to be given a value that can be tried."""
    declared = {o.parameter: o for o in kind.proposal}
    out = [OfferInfo(parameter=o.parameter, value=o.value, key=o.key,
                     of_size=list(o.of_size) if isinstance(o.of_size, tuple) else o.of_size) for o in kind.proposal]
    for p in parameters:
        if p.required and p.count == 1 and p.quantity in _TRIED and p.name not in declared:
            if p.quantity == "length":
                out.append(OfferInfo(parameter=p.name, of_size=0.08))
            else:
                given = (p.choices or [""])[0] if p.quantity == "choice" else 30.0 if p.quantity == "angle" else \
                    True if p.quantity == "flag" else 1.0
                out.append(OfferInfo(parameter=p.name, value=given))
    return out


def _knob(kind: StepKind[Any], parameters: list[Parameter]) -> KnobInfo | None:
    """What the kind declares, else the first number it asks for, else the first it takes."""
    if kind.knob is not None:
        return KnobInfo(parameter=kind.knob.parameter, along=kind.knob.along)
    numeric = [p for p in parameters if p.count == 1 and p.quantity in _NUMBERS]
    first = next((p for p in numeric if p.required), numeric[0] if numeric else None)
    return None if first is None else KnobInfo(parameter=first.name, along="view")


@functools.cache
def kinds_json() -> bytes:
    """Worked out once: the schemas of all kinds take half a second."""
    return KindList(kinds=[describe(k) for k in KINDS.values()]).model_dump_json().encode()


@api.get("/kinds", responses={200: KindList})
def kinds() -> Any:
    """All step kinds with their parameters."""
    return Response(kinds_json(), mimetype="application/json")


@api.get("/health", responses={200: Health, 503: Health})
def health() -> Any:
    """Whether the server answers and reaches its database, and what it keeps in memory."""
    workroom: Workroom = current_app.extensions["workroom"]
    there = workroom.database.answers()
    told = Health(ok=there, version=__version__, database=there, held=workroom.budget.held, budget=workroom.budget.limit)
    return told.model_dump(), 200 if there else 503


@api.get("/length", responses={200: LengthValue})
def length(query: LengthQuery) -> Any:
    """Read a typed length such as ``12 cm + 3 mm`` or ``1 1/2 in``, in the unit asked for."""
    return LengthValue(value=parse_length(query.text, query.unit)).model_dump()


@api.get("/number", responses={200: LengthValue})
def number(query: NumberQuery) -> Any:
    """Read a typed number that is no length, such as ``3*8`` or ``1/2``."""
    return LengthValue(value=parse_number(query.text)).model_dump()
