"""What the API says of the shelf."""

from __future__ import annotations

from typing import Annotated, Any

from pydantic import Field

from ..core.params import Name
from ..core.units import Unit
from .schemas import AtRevision, Told
from .together_schemas import Key


class StockPath(Told):
    item: Annotated[str, Field(pattern=r"^[a-z0-9-]{1,64}$")]


class StockItem(Told):
    id: str
    name: str
    tags: list[str]
    size: tuple[float, float, float] = Field(description="width, height, depth in metres")
    own: bool = Field(description="kept by people; the others ship with the product")


class Shelf(Told):
    items: list[StockItem]


class KeepTrial(AtRevision):
    build: Annotated[str, Field(max_length=64)]
    member: Key
    name: Name
    tags: Annotated[list[Name], Field(max_length=20)] = Field(default=[])


class StockQuery(Told):
    to: Unit = Field(default="cm", description="the build's unit")


class StockParts(Told):
    """A piece as parts and groups of a document, its own ids yet to be made free."""

    groups: list[dict[str, Any]]
    parts: list[dict[str, Any]]
