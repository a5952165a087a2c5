"""What builds look like, kept until they change."""

from __future__ import annotations

from dataclasses import dataclass

from sqlalchemy import select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from .models import LookRow


@dataclass(frozen=True)
class Look:
    """A build at a revision: its size in metres, how it fits its boards (0 … 1, None without any), a PNG."""

    revision: int
    size: tuple[float, float, float]
    fit: float | None
    picture: bytes


def get(session: Session, build_id: str, revision: int) -> Look | None:
    """The look of a build at a revision; None where it was not taken yet."""
    row = session.scalars(select(LookRow).where(LookRow.build_id == build_id, LookRow.revision == revision)).one_or_none()
    return None if row is None else Look(row.revision, (row.size[0], row.size[1], row.size[2]), row.fit, row.picture)


def keep(session: Session, build_id: str, look: Look) -> None:
    """Put the look of a build in place of an older one; two windows may come with it at once."""
    values = {"revision": look.revision, "size": list(look.size), "fit": look.fit, "picture": look.picture}
    session.execute(insert(LookRow).values(build_id=build_id, **values).on_conflict_do_update(
        index_elements=["build_id"], set_=values))
