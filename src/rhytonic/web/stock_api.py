"""The shelf of stock: looked through, added to, taken from."""

from __future__ import annotations

from typing import Any

from flask import Response

from ..core.handover.piece import piece_of
from ..core.handover.thumbnail import thumbnail
from ..core.recipe.built import build
from ..core.recipe.change_unit import in_unit
from ..core.recipe.document import dump
from ..store import stock
from .blueprint import blueprint
from .builds_api import room
from .schemas import Fault
from .stock_schemas import KeepTrial, Shelf, StockItem, StockParts, StockPath, StockQuery
from .stock_shelf import shelf, size_of, taken_off
from .together_api import member_of

api = blueprint("stock", __name__, "/api/stock", {404: Fault, 409: Fault, 422: Fault, 503: Fault})


@api.get("", responses={200: Shelf})
def stock_list() -> Any:
    """Everything on the shelf."""
    return Shelf(items=shelf(room().database)).model_dump()


@api.post("", responses={201: StockItem})
def keep_in_stock(body: KeepTrial) -> Any:
    """Keep a part or group of a build, with a picture of it."""
    standing = room().at(body.build, body.revision)
    piece = piece_of(standing.document, member_of(standing, body.member), body.name)
    with standing.bench.held():
        parts = build(piece, evaluator=standing.evaluator)
    shown = [p.mesh for p in parts if not p.part.hidden]
    size = size_of(shown)
    tags = list(dict.fromkeys(t.strip() for t in body.tags if t.strip()))
    with room().database.session() as session:
        row = stock.keep(session, body.name, tags, list(size), dump(piece), thumbnail(shown))
        return StockItem(id=row.id, name=row.name, tags=row.tags, size=size, own=True).model_dump(), 201


@api.delete("/<item>", responses={204: {"description": "gone"}})
def drop_from_stock(path: StockPath) -> Any:
    """Take something people kept off the shelf; builds that have it keep it."""
    with room().database.session() as session:
        stock.drop(session, path.item)
    return "", 204


@api.get("/<item>/picture", responses={200: {"content": {"image/png": {"schema": {"type": "string", "format": "binary"}}}}})
def stock_picture(path: StockPath) -> Any:
    """What it looks like."""
    return Response(taken_off(room().database, path.item)[1], mimetype="image/png",
                    headers={"Cache-Control": "max-age=3600", "X-Content-Type-Options": "nosniff"})


@api.get("/<item>/parts", responses={200: StockParts})
def stock_parts(path: StockPath, query: StockQuery) -> Any:
    """The piece as parts and groups, in the build's unit."""
    told = dump(in_unit(taken_off(room().database, path.item)[0], query.to))
    return StockParts(groups=told.get("groups", []), parts=told.get("parts", [])).model_dump()
