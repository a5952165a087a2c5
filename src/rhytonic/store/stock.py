"""What is kept on the shelf for any build."""

from __future__ import annotations

import uuid
from typing import Any

from sqlalchemy import delete, select
from sqlalchemy.orm import Session, undefer

from .errors import NotThere
from .models import StockRow


def keep(session: Session, name: str, tags: list[str], size: list[float], document: dict[str, Any],
         picture: bytes) -> StockRow:
    """Put something on the shelf."""
    row = StockRow(id=uuid.uuid4().hex, name=name, tags=tags, size=size, document=document, picture=picture)
    session.add(row)
    session.flush()
    return row


def listed(session: Session) -> list[StockRow]:
    """All of it, by name; without pictures."""
    return list(session.scalars(select(StockRow).order_by(StockRow.name, StockRow.made_at)))


def get(session: Session, item: str) -> StockRow:
    """One of it with its picture. Raises NotThere."""
    row = session.scalars(select(StockRow).where(StockRow.id == item).options(undefer(StockRow.picture))).one_or_none()
    if row is None:
        raise NotThere("there is no such thing in stock")
    return row


def drop(session: Session, item: str) -> None:
    """Take it off the shelf. Raises NotThere."""
    get(session, item)
    session.execute(delete(StockRow).where(StockRow.id == item))
