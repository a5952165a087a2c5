"""Model files, kept by the SHA-256 of their bytes."""

from __future__ import annotations

import hashlib

from sqlalchemy import select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session, undefer

from .errors import NotThere
from .models import ModelFileRow


def store(session: Session, data: bytes, format: str) -> str:
    """Keep a model file that was read; the same bytes are kept once. Returns its digest."""
    digest = hashlib.sha256(data).hexdigest()
    session.execute(insert(ModelFileRow).values(sha256=digest, format=format, data=data).on_conflict_do_nothing())
    return digest


def get(session: Session, sha256: str) -> ModelFileRow:
    """The file with its bytes. Raises NotThere."""
    query = select(ModelFileRow).where(ModelFileRow.sha256 == sha256).options(undefer(ModelFileRow.data))
    row = session.scalars(query).one_or_none()
    if row is None:
        raise NotThere("there is no such model file")
    return row
