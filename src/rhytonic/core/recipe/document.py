"""The build document: what a recipe file holds, what the database stores, what the API speaks."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Any, Literal, TypeVar

from pydantic import BaseModel, Field, ValidationError, model_validator

from ..brief.board import Board, Guide
from ..brief.size import Display, Size
from ..errors import InvalidDocument, Problem
from ..files.json_text import read_json
from ..params import Count, Name, Strict, part_names
from ..pattern.pattern import Pattern
from ..units import Unit
from .part import Group, Part
from .registry import KINDS

M = TypeVar("M", bound=BaseModel)

FORMAT, VERSION = "rhytonic", 1


class Document(Strict):
    """A build."""

    format: Literal["rhytonic"]
    version: Literal[1]
    unit: Unit = "cm"
    ids: Literal[1] = Field(default=1, description="version of the id scheme")
    name: Name | None = None
    display: Display = Display()
    budget: Count | None = Field(default=None, description="triangles of all that is handed over, at most")
    boards: Annotated[list[Board], Field(max_length=200)] = Field(default=[])
    guides: Annotated[list[Guide], Field(max_length=500)] = Field(default=[])
    sizes: Annotated[list[Size], Field(max_length=500)] = Field(default=[])
    patterns: Annotated[list[Pattern], Field(max_length=200)] = Field(default=[])
    groups: Annotated[list[Group], Field(max_length=2000)] = Field(default=[])
    parts: Annotated[list[Part], Field(max_length=2000)] = Field(default=[])

    @model_validator(mode="after")
    def _distinct(self) -> Document:
        for what, names in (("parts", [p.name for p in self.parts]),
                            ("part ids", [p.id for p in self.parts if p.id]),
                            ("group ids", [g.id for g in self.groups]), ("board ids", [b.id for b in self.boards]),
                            ("pattern ids", [p.id for p in self.patterns]),
                            ("pattern names", [p.name for p in self.patterns]),
                            ("guide ids", [g.id for g in self.guides]), ("size ids", [z.id for z in self.sizes])):
            double = next((n for n in names if names.count(n) > 1), None) if len(set(names)) < len(names) else None
            if double:
                raise ValueError(f"two {what} are called '{double}'")
        groups = {g.id: g.group for g in self.groups}
        for owner, group in [*((f"part '{p.name}'", p.group) for p in self.parts),
                             *((f"group '{g.name}'", g.group) for g in self.groups)]:
            if group is not None and group not in groups:
                raise ValueError(f"{owner} is in a group '{group}' that is not there")
            seen: list[str] = []
            while group is not None:
                if group in seen:
                    raise ValueError(f"groups stand in each other: {' in '.join([*seen, group])}")
                seen.append(group)
                group = groups[group]
        return self

    def part(self, named: str) -> Part | None:
        """A part by its id, else by its name."""
        return next((p for p in self.parts if p.id == named), None) or next((p for p in self.parts if p.name == named), None)

    def groups_of(self, member: Part | Group) -> list[Group]:
        """The groups a part or group is in, the innermost first."""
        by_id = {g.id: g for g in self.groups}
        out: list[Group] = []
        at = member.group
        while at is not None:
            out.append(by_id[at])
            at = by_id[at].group
        return out


def _free(word: str, taken: set[str]) -> str:
    number = 1
    while f"{word}{number}" in taken:
        number += 1
    taken.add(f"{word}{number}")
    return f"{word}{number}"


def with_ids(data: dict[str, Any]) -> dict[str, Any]:
    """The raw document with every missing id given: kind and number for steps, ``part`` and number for parts."""
    parts = data.get("parts")
    if not isinstance(parts, list):
        return data
    known = {p["id"] for p in parts if isinstance(p, dict) and isinstance(p.get("id"), str)}
    out = []
    for part in parts:
        if isinstance(part, dict):
            part = {**part} if part.get("id") is not None else {**part, "id": _free("part", known)}
            steps = part.get("steps")
            if isinstance(steps, list):
                taken = {s["id"] for s in steps if isinstance(s, dict) and isinstance(s.get("id"), str)}
                part["steps"] = [
                    {**s, "id": _free(s["kind"], taken)}
                    if isinstance(s, dict) and s.get("id") is None and s.get("kind") in KINDS else s for s in steps]
        out.append(part)
    return {**data, "parts": out}


def read_document(data: Any) -> Document:
    """A document from parsed JSON, ids given where missing.

    Raises:
        InvalidDocument: it breaks the contract; tells part, step and parameter.
    """
    if not isinstance(data, dict):
        raise InvalidDocument([Problem((), "a build file is a JSON object with format, version and parts")])
    data = with_ids(data)
    try:
        return _by_ids(Document.model_validate(data))
    except ValidationError as error:
        raise InvalidDocument(_merged([_problem(e, data) for e in error.errors(include_url=False)])) from None


def _by_ids(document: Document) -> Document:
    """The document with parts named by their ids everywhere, so that renaming breaks nothing."""
    ids = {p.id for p in document.parts}
    by_name = {p.name: p.id for p in reversed(document.parts)}

    def told(named: Any) -> Any:
        if isinstance(named, list):
            return [told(n) for n in named]
        if isinstance(named, BaseModel):
            return with_ids_in(named)
        return named if named is None or named in ids else by_name.get(named, named)

    def with_ids_in(model: M) -> M:
        names = ("of",) if isinstance(model, Part) else part_names(type(model))
        update = {n: told(was) for n in names if told(was := getattr(model, n)) != was}
        return model.model_copy(update=update) if update else model

    parts = [with_ids_in(p) for p in document.parts]
    changed = [p.model_copy(update={"steps": steps}) if (steps := [with_ids_in(s) for s in p.steps]) != p.steps else p
               for p in parts]
    same = all(a is b for a, b in zip(changed, document.parts, strict=True))
    return document if same else document.model_copy(update={"parts": changed})


def _merged(problems: list[Problem]) -> list[Problem]:
    """One problem where several alternatives of one value were tried and none fitted."""
    found: dict[tuple[str | None, str | None, str | None], Problem] = {}
    for p in problems:
        place = (p.part, p.step, p.parameter if p.parameter is not None else str(p.path))
        before = found.get(place)
        if before is None:
            found[place] = p
        elif p.message not in before.message:
            found[place] = replace(before, message=f"{before.message}, or {p.message}")
    # a problem inside the value of another stands for an alternative that came nearer to fitting
    outer = {(p.part, p.step, p.parameter[:i]) for p in found.values() if p.parameter
             for i, c in enumerate(p.parameter) if c == "."}
    return [p for p in found.values() if p.parameter is None or (p.part, p.step, p.parameter) not in outer]


def _problem(error: Any, data: dict[str, Any]) -> Problem:
    """One schema error as a sentence with its place."""
    path = [p for p in error["loc"] if not (isinstance(p, str) and p.startswith("function-"))]
    part = step = None
    at: Any = data
    rest: list[str | int] = []
    for place, key in enumerate(path):
        if place == 1 and path[0] == "parts" and isinstance(key, int):
            at = at[key] if isinstance(at, list) and key < len(at) else None
            part = at.get("name") if isinstance(at, dict) and isinstance(at.get("name"), str) else f"number {key + 1}"
        elif place == 3 and path[2] == "steps" and isinstance(key, int):
            at = at[key] if isinstance(at, list) and key < len(at) else None
            step = at.get("id") if isinstance(at, dict) and isinstance(at.get("id"), str) else f"number {key + 1}"
            if isinstance(at, dict) and isinstance(step, str) and not step and isinstance(at.get("kind"), str):
                step = at["kind"]
        else:
            at = at.get(key) if isinstance(at, dict) else None
            if (place, key) not in ((0, "parts"), (2, "steps")):  # told as the part and the step
                rest.append(key)
    named = [str(k) for k in rest if k not in KINDS]
    kept = [k for k in named if k not in ("tuple", "literal['all']") and not k.startswith(("tuple[", "literal[", "list["))]
    kept = [k for i, k in enumerate(kept) if i == 0 or k != kept[i - 1]]  # a tag and the key it stands for
    return Problem(tuple(path), _sentence(error), part, step, ".".join(kept) or None)


def _sentence(error: Any) -> str:
    kind, context, given = error["type"], error.get("ctx", {}), error.get("input")
    shown = f" (given {given!r})" if isinstance(given, int | float | str) and len(str(given)) < 60 else ""
    match kind:
        case "extra_forbidden":
            return "unknown key; correct its spelling or leave it out"
        case "missing":
            return "is required"
        case "union_tag_invalid":
            return f"unknown kind {context.get('tag')!r}; known are {', '.join(KINDS)}"
        case "union_tag_not_found":
            return f"a step needs a kind, one of {', '.join(KINDS)}"
        case "greater_than":
            return f"must be more than {context['gt']:g}{shown}"
        case "greater_than_equal":
            return f"must be at least {context['ge']:g}{shown}"
        case "less_than_equal":
            return f"must be at most {context['le']:g}{shown}"
        case "less_than":
            return f"must be less than {context['lt']:g}{shown}"
        case "too_short":
            return f"needs at least {context['min_length']}, has {context['actual_length']}"
        case "too_long":
            return f"takes at most {context['max_length']}, has {context['actual_length']}"
        case "finite_number":
            return "must be a finite number"
        case "float_type":
            return f"must be a number{shown}"
        case "int_type" | "int_from_float":
            return f"must be a whole number{shown}"
        case "literal_error":
            return f"must be {context['expected']}{shown}"
        case "tuple_type" | "list_type":
            return f"must be a list{shown}"
        case "value_error":
            return str(context.get("error", error["msg"]))
    return str(error["msg"][:1].lower() + error["msg"][1:] + shown)


def load(text: bytes | str) -> Document:
    """Read a recipe file. Parts that a step sends faces out into are made where they are not there.

    Raises InvalidFile or InvalidDocument.
    """
    return read_document(with_sent_out(read_json(text)))


def with_sent_out(data: Any) -> Any:
    """The raw document with every part made that a ``split_off`` or a ``duplicate into`` sends faces into: beside its
    source, placed as that is."""
    if not isinstance(data, dict) or not isinstance(data.get("parts"), list):
        return data
    data = with_ids(data)
    parts = list(data["parts"])
    taken = [(s.get("part"), s.get("step")) for p in parts if isinstance(p, dict) for s in [_first_step(p)] if s]
    known = {p.get(key) for p in parts if isinstance(p, dict) for key in ("id", "name") if isinstance(p.get(key), str)}
    for part in data["parts"]:
        steps = part.get("steps") if isinstance(part, dict) else None
        for step in steps if isinstance(steps, list) else ():
            into = step.get("into") if isinstance(step, dict) and step.get("kind") in ("split_off", "duplicate") else None
            taken_here = isinstance(step, dict) and any((part.get(key), step.get("id")) in taken for key in ("id", "name"))
            if isinstance(into, str) and into not in known and not taken_here:
                known.add(into)
                beside = {key: part[key] for key in ("group", "placement", "joint", "pivot") if key in part}
                parts.append({"name": into, **beside,
                              "steps": [{"kind": "from_part", "part": part["id"], "step": step.get("id")}]})
    return {**data, "parts": parts}


def _first_step(part: dict[str, Any]) -> dict[str, Any]:
    steps = part.get("steps")
    first = steps[0] if isinstance(steps, list) and steps else None
    return first if isinstance(first, dict) and first.get("kind") == "from_part" else {}


def dump(document: Document) -> dict[str, Any]:
    """The document as plain JSON values, without what only repeats defaults; lists are always there."""
    out: dict[str, Any] = document.model_dump(mode="json", by_alias=True, exclude_defaults=True)
    lists: dict[str, Any] = {name: [] for name in ("boards", "guides", "sizes", "groups", "parts")}
    out = {"format": FORMAT, "version": VERSION, "unit": document.unit, **lists, **out}
    for part in out["parts"]:
        part.setdefault("steps", [])
    return out


def schema() -> dict[str, Any]:
    """JSON Schema of a recipe file."""
    out = Document.model_json_schema(by_alias=True)
    out["$schema"] = "https://json-schema.org/draft/2020-12/schema"
    out["title"] = "Rhytonic build"
    return out
