"""The shelf: basics that ship with the product, and what people kept."""

from __future__ import annotations

import functools
import json
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import numpy as np

from ..core.handover.thumbnail import thumbnail
from ..core.mesh.mesh import Mesh
from ..core.recipe.built import build
from ..core.recipe.document import Document, read_document
from ..core.recipe.evaluate import Evaluator
from ..store import stock
from ..store.database import Database
from .stock_schemas import StockItem

BASICS = Path(__file__).resolve().parent.parent / "stock"


@dataclass(frozen=True)
class Shelved:
    """One thing of the shelf."""

    item: StockItem
    document: Document
    picture: bytes


def size_of(meshes: list[Mesh]) -> tuple[float, float, float]:
    """Width, height and depth of meshes together, in metres."""
    there = [m.points for m in meshes if len(m.points)]
    if not there:
        return 0.0, 0.0, 0.0
    low, high = np.min([p.min(axis=0) for p in there], axis=0), np.max([p.max(axis=0) for p in there], axis=0)
    x, y, z = (float(v) for v in high - low)
    return x, y, z


@functools.cache
def basics() -> dict[str, Shelved]:
    """What ships, by id; worked out once."""
    out = {}
    for path in sorted(BASICS.glob("*.json")):
        raw: dict[str, Any] = json.loads(path.read_text())
        document = read_document(raw["document"])
        meshes = [p.mesh for p in build(document, evaluator=Evaluator())]
        item = StockItem(id=path.stem, name=str(document.name), tags=raw["tags"], size=size_of(meshes), own=False)
        out[path.stem] = Shelved(item, document, thumbnail(meshes))
    return out


def shelf(database: Database) -> list[StockItem]:
    """All there is, people's own first."""
    with database.session() as session:
        own = [StockItem(id=r.id, name=r.name, tags=r.tags, size=tuple(r.size), own=True) for r in stock.listed(session)]
    return own + [s.item for s in basics().values()]


def taken_off(database: Database, item: str) -> tuple[Document, bytes]:
    """The document of one thing, and its picture. Raises NotThere."""
    found = basics().get(item)
    if found is not None:
        return found.document, found.picture
    with database.session() as session:
        row = stock.get(session, item)
        return read_document(row.document), row.picture
