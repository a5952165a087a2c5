"""Builds and their change log. Every function works within the caller's transaction."""

from __future__ import annotations

import json
import secrets
from copy import deepcopy
from dataclasses import dataclass
from typing import Any

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from ..core.recipe.document import Document, dump, read_document, with_sent_out
from . import undoing
from .errors import BadPatch, NotThere, Stale
from .json_patch import OPERATIONS, apply, difference
from .models import BuildRow, ChangeRow

#: characters of a build as JSON
LARGEST_BUILD = 64 * 1024 * 1024
#: the channel on which PostgreSQL tells that a build changed: its id and its revision
CHANGED = "rhytonic_builds"

@dataclass(frozen=True)
class Undoable:
    """What undo and redo would do next."""

    undo: str | None
    redo: str | None


def new_id() -> str:
    """An id that nobody guesses."""
    return secrets.token_hex(8)


def list_builds(session: Session) -> list[BuildRow]:
    """All builds that are not thrown away, the latest first."""
    query = select(BuildRow).where(BuildRow.deleted_at.is_(None)).order_by(BuildRow.saved_at.desc(), BuildRow.id)
    return list(session.scalars(query))


def create(session: Session, name: str, document: dict[str, Any]) -> BuildRow:
    """Store a new build. Raises InvalidDocument."""
    read = read_document(with_sent_out({**document, "name": name}))
    row = BuildRow(id=new_id(), name=name, document=dump(read), revision=1)
    session.add(row)
    session.flush()
    session.refresh(row)
    return row


def get(session: Session, build_id: str, lock: bool = False, deleted: bool = False) -> BuildRow:
    """Raises NotThere."""
    query = select(BuildRow).where(BuildRow.id == build_id)
    if lock:
        query = query.with_for_update()
    row = session.scalars(query).one_or_none()
    if row is None or (row.deleted_at is not None and not deleted):
        raise NotThere("there is no such build; it may have been deleted")
    return row


def duplicate(session: Session, build_id: str) -> BuildRow:
    """A copy with its own history, under a name that is free."""
    row = get(session, build_id)
    taken = {b.name for b in list_builds(session)}
    name, number = f"{row.name} copy", 2
    while name in taken:
        name, number = f"{row.name} copy {number}", number + 1
    return create(session, name[-200:], deepcopy(row.document))


def delete(session: Session, build_id: str) -> None:
    """Throw a build away; it can be restored."""
    get(session, build_id, lock=True).deleted_at = func.now()


def restore(session: Session, build_id: str) -> BuildRow:
    """Take a build back that was thrown away."""
    row = get(session, build_id, lock=True, deleted=True)
    row.deleted_at = None
    return row


def undoable(session: Session, build_id: str, window: str | None = None) -> Undoable:
    """What undo and redo would do for a window."""
    done = undoing.to_undo(session, build_id, window)
    undone = undoing.to_redo(session, build_id, window)
    return Undoable(done.label if done else None, undone.label if undone else None)


@dataclass(frozen=True)
class Planned:
    """What a change would leave, worked out before the build's row is held.

    Attributes:
        revision: what it was worked out on.
        before, after: the documents, as they are read.
    """

    revision: int
    before: Document
    after: Document


def plan_change(row: BuildRow, patch: list[dict[str, Any]]) -> Planned:
    """What a patch from outside leaves of a build.

    Raises:
        BadPatch, InvalidDocument: the patch cannot be applied, or what comes of it breaks the contract.
    """
    copied = next((o for o in patch if o.get("op") not in OPERATIONS), None)
    if copied is not None:
        raise BadPatch(f"a change cannot {copied.get('op')}; send an add with the value itself")
    after = read_document(apply(row.document, patch))
    return Planned(row.revision, read_document(row.document), after)


def is_done(session: Session, build_id: str, key: str) -> bool:
    """Whether a change with this key is in the log already."""
    query = select(ChangeRow.id).where(ChangeRow.build_id == build_id, ChangeRow.key == key)
    return session.scalar(query) is not None


def change(session: Session, build_id: str, planned: Planned, label: str, key: str, group: str | None = None,
           pick: dict[str, Any] | None = None, window: str | None = None) -> BuildRow:
    """Store a planned change and log it both ways, as made by a window.

    A change whose ``key`` is already in the log is not applied again. One with the ``group`` of the last change, by the
    same window, joins that undo entry.

    Raises:
        Stale: the build is no longer what the change was planned on.
        BadPatch: the build would be too large.
    """
    row = get(session, build_id, lock=True)
    if is_done(session, build_id, key):
        return row
    if row.revision != planned.revision:
        raise Stale(row.revision)
    before, after = row.document, dump(planned.after)
    if len(json.dumps(after)) > LARGEST_BUILD:
        raise BadPatch(f"the build would be larger than {LARGEST_BUILD // 2**20} MB; take parts into a build of their own")
    last = undoing.last_done(session, build_id)
    undoing.abandon(session, build_id, window)
    undoing.carry_undone(session, row, after, window)
    if group is not None and last is not None and (last.group, last.window) == (group, window):
        start = apply(before, last.inverse)
        last.forward, last.inverse = difference(start, after), difference(after, start)
        last.key, last.label = key, label
    else:
        top = session.scalar(select(func.max(ChangeRow.seq)).where(ChangeRow.build_id == build_id)) or 0
        session.add(ChangeRow(build_id=build_id, seq=top + 1, key=key, label=label, group=group, state="done", pick=pick,
                              window=window,
                              forward=difference(before, after), inverse=difference(after, before)))
    _store(session, row, after)
    session.flush()
    session.refresh(row)
    return row


def undo(session: Session, build_id: str, revision: int, window: str | None = None) -> tuple[BuildRow, ChangeRow]:
    """Take a window's last change back. Raises NothingToUndo, ChangedElsewhere or Stale."""
    row = _current(session, build_id, revision)
    return _stored(session, row, *undoing.undo(session, row, window))


def redo(session: Session, build_id: str, revision: int, window: str | None = None) -> tuple[BuildRow, ChangeRow]:
    """Do what a window undid last again. Raises NothingToUndo or Stale."""
    row = _current(session, build_id, revision)
    return _stored(session, row, *undoing.redo(session, row, window))


def _current(session: Session, build_id: str, revision: int) -> BuildRow:
    row = get(session, build_id, lock=True)
    if row.revision != revision:
        raise Stale(row.revision)
    return row


def _stored(session: Session, row: BuildRow, entry: ChangeRow, document: dict[str, Any]) -> tuple[BuildRow, ChangeRow]:
    _store(session, row, document)
    session.flush()
    session.refresh(row)
    return row, entry


def _store(session: Session, row: BuildRow, document: dict[str, Any]) -> None:
    row.document = document
    row.name = document.get("name") or row.name
    row.revision = row.revision + 1
    row.saved_at = func.now()
    session.execute(select(func.pg_notify(CHANGED, f"{row.id} {row.revision}")))  # told once it is committed
