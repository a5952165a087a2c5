"""Types of step parameters. Each tells its quantity, so that units, cards and schema follow from the declaration."""

from __future__ import annotations

import functools
import types
from dataclasses import dataclass
from typing import Annotated, Any, Literal, Self, TypeVar, Union, get_args, get_origin

from pydantic import BaseModel, ConfigDict, Field, GetJsonSchemaHandler
from pydantic.json_schema import JsonSchemaValue
from pydantic_core import CoreSchema

from . import tolerance
from .errors import BadParameter


@dataclass(frozen=True)
class Quantity:
    """What a number measures. Lengths are in the file's unit, angles in degrees; appears in the schema as ``quantity``."""

    kind: Literal["length", "angle", "ratio", "count", "part", "name", "file", "profile", "board", "pattern", "patterns",
                  "picture"]

    def __get_pydantic_json_schema__(self, schema: CoreSchema, handler: GetJsonSchemaHandler) -> JsonSchemaValue:
        out = handler(schema)
        out["quantity"] = self.kind
        return out


_number = Field(strict=True, allow_inf_nan=False)
_positive = Field(strict=True, allow_inf_nan=False, gt=0)
_not_negative = Field(strict=True, allow_inf_nan=False, ge=0)

Length = Annotated[float, _number, Quantity("length")]
PositiveLength = Annotated[float, _positive, Quantity("length")]
NonNegativeLength = Annotated[float, _not_negative, Quantity("length")]
Angle = Annotated[float, _number, Field(ge=-36000, le=36000), Quantity("angle")]
Ratio = Annotated[float, _number, Field(ge=-1e6, le=1e6), Quantity("ratio")]
NonNegativeRatio = Annotated[float, _not_negative, Field(le=1e6), Quantity("ratio")]
Share = Annotated[float, _not_negative, Field(le=1), Quantity("ratio")]
Count = Annotated[int, Field(strict=True, ge=1), Quantity("count")]
#: sides of a round form
Sides = Annotated[int, Field(strict=True, ge=3, le=100_000), Quantity("count")]
Flag = Annotated[bool, Field(strict=True)]

#: names one step, part or board in its document; anything that can be written on one line
Id = Annotated[str, Field(min_length=1, max_length=200, pattern=r"^[^\x00-\x1f\x7f]+$")]

Name = Annotated[str, Field(min_length=1, max_length=200, pattern=r"^[^\x00-\x1f\x7f]+$")]
#: another part of the build, by its id, else by its name
PartName = Annotated[Id, Quantity("part")]
#: a model file: one kept by the digest of its bytes, or beside the recipe file by its name
FileName = Annotated[str, Field(min_length=1, max_length=200, pattern=r"^[^\x00-\x1f\x7f/\\]+$"), Quantity("file")]
#: what a part that is made will be called
NewName = Annotated[Name, Quantity("name")]

Point = tuple[Length, Length, Length]
Direction = tuple[Ratio, Ratio, Ratio]
Angles = tuple[Angle, Angle, Angle]
Ratios = tuple[Ratio, Ratio, Ratio]
Axis = Literal["+x", "-x", "+y", "-y", "+z", "-z"]

AXES: dict[str, tuple[float, float, float]] = {
    "+x": (1, 0, 0), "-x": (-1, 0, 0), "+y": (0, 1, 0), "-y": (0, -1, 0), "+z": (0, 0, 1), "-z": (0, 0, -1)}


class Strict(BaseModel):
    """Base of everything read from outside: unknown keys are errors, values never change after reading."""

    model_config = ConfigDict(extra="forbid", frozen=True, populate_by_name=True, ser_json_inf_nan="constants",
                              defer_build=True)


Holds = Literal["lengths", "models", "neither"]


def _holds(annotation: Any, metadata: list[Any]) -> Holds:
    """What values of this annotation are, or contain at any depth: lengths, other models, or neither."""
    if any(isinstance(m, Quantity) and m.kind == "length" for m in metadata):
        return "lengths"
    origin = get_origin(annotation)
    if origin is Annotated:
        inner, *rest = get_args(annotation)
        return _holds(inner, rest)
    if isinstance(annotation, type) and issubclass(annotation, BaseModel):
        return "models"
    if origin is dict:
        return _holds(get_args(annotation)[1], [])
    if origin in (tuple, list, Union, types.UnionType):
        found = {_holds(a, []) for a in get_args(annotation) if a is not Ellipsis}
        return "lengths" if "lengths" in found else "models" if "models" in found else "neither"
    return "neither"


@functools.cache
def _contents(model: type[BaseModel]) -> dict[str, Holds]:
    return {name: _holds(f.annotation, f.metadata) for name, f in model.model_fields.items()}


def _names_part(annotation: Any, metadata: list[Any], seen: set[Any]) -> bool:
    if any(isinstance(m, Quantity) and m.kind == "part" for m in metadata):
        return True
    if isinstance(annotation, type) and issubclass(annotation, BaseModel):
        if annotation in seen:  # a rule made of rules
            return False
        seen.add(annotation)
        return any(_names_part(f.annotation, f.metadata, seen) for f in annotation.model_fields.values())
    if get_origin(annotation) is Annotated:
        inner, *rest = get_args(annotation)
        return _names_part(inner, rest, seen)
    return any(_names_part(a, [], seen) for a in get_args(annotation))


@functools.cache
def part_names(model: type[BaseModel]) -> tuple[str, ...]:
    """The parameters of a step that name other parts of the build: one, a list of them, or a model that does."""
    return tuple(name for name, f in model.model_fields.items() if _names_part(f.annotation, f.metadata, {model}))


class OwnLengths(Strict):
    """A model whose rows hold lengths beside other numbers, and that converts itself."""

    def in_metres(self, metres: float) -> Self:
        """A copy with every length converted to metres."""
        raise NotImplementedError


M = TypeVar("M", bound=BaseModel)


def to_metres(model: M, metres: float) -> M:
    """A copy of a model with every given length converted to metres; defaults are absolute and stay.

    Raises:
        BadParameter: a length beyond the kernel's limit.
    """
    if isinstance(model, OwnLengths):
        return model.in_metres(metres)
    contents = _contents(type(model))
    update: dict[str, Any] = {}
    for name in model.model_fields_set:
        if contents[name] == "models":
            before = getattr(model, name)
            after = _convert_nested(before, metres)
            if after is not before:
                update[name] = after
        elif contents[name] == "lengths":
            update[name] = _scale(getattr(model, name), metres, name)
    return model.model_copy(update=update) if update else model


def _convert_nested(value: Any, metres: float) -> Any:
    if isinstance(value, BaseModel):
        return to_metres(value, metres)
    if isinstance(value, tuple | list):
        converted = [_convert_nested(v, metres) for v in value]
        return value if all(a is b for a, b in zip(converted, value, strict=True)) else type(value)(converted)
    return value


def _scale(value: Any, metres: float, name: str) -> Any:
    if isinstance(value, BaseModel):  # one of several ways to tell it
        return to_metres(value, metres)
    if isinstance(value, dict):
        return {key: _scale(v, metres, name) for key, v in value.items()}
    if isinstance(value, bool) or not isinstance(value, int | float | tuple | list):
        return value
    if isinstance(value, tuple | list):
        return type(value)(_scale(v, metres, name) for v in value)
    out = value * metres
    if abs(out) > tolerance.LARGEST_LENGTH:
        raise BadParameter(f"{value:g} is beyond the largest length, {tolerance.LARGEST_LENGTH / metres:g}", name)
    return out
