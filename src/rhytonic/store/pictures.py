"""Reference pictures, kept by the SHA-256 of their bytes."""

from __future__ import annotations

import hashlib

from sqlalchemy import select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session, undefer

from ..core.picture.decode import look_at
from .errors import NotThere
from .models import PictureRow


def store(session: Session, data: bytes) -> PictureRow:
    """Keep a picture; the same bytes are kept once. Raises BadPicture."""
    about = look_at(data)
    digest = hashlib.sha256(data).hexdigest()
    session.execute(insert(PictureRow).values(sha256=digest, media_type=about.media_type, width=about.width,
                                               height=about.height, data=data)
                    .on_conflict_do_nothing())
    return get(session, digest)


def get(session: Session, sha256: str, with_data: bool = False) -> PictureRow:
    """Raises NotThere."""
    query = select(PictureRow).where(PictureRow.sha256 == sha256)
    if with_data:
        query = query.options(undefer(PictureRow.data))
    row = session.scalars(query).one_or_none()
    if row is None:
        raise NotThere("there is no such picture")
    return row
