"""Builds and their change log. Every function works within the caller's transaction."""

from __future__ import annotations

import json
import secrets
from copy import deepcopy
from dataclasses import dataclass
from typing import Any

import jsonpatch
import jsonpointer
from sqlalchemy import func, select, update
from sqlalchemy.orm import Session

from ..core.recipe.document import Document, dump, read_document, with_sent_out
from .errors import BadPatch, NothingToUndo, NotThere, Stale
from .models import BuildRow, ChangeRow

MOST_OPERATIONS = 10_000
#: what a patch from outside may do: not copy, by which a few bytes double a build with every operation
OPERATIONS = frozenset({"add", "remove", "replace", "move", "test"})
#: characters of a build as JSON
LARGEST_BUILD = 64 * 1024 * 1024

@dataclass(frozen=True)
class Undoable:
    """What undo and redo would do next."""

    undo: str | None
    redo: str | None


def new_id() -> str:
    return secrets.token_hex(8)


def list_builds(session: Session) -> list[BuildRow]:
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
    get(session, build_id, lock=True).deleted_at = func.now()


def restore(session: Session, build_id: str) -> BuildRow:
    row = get(session, build_id, lock=True, deleted=True)
    row.deleted_at = None
    return row


def undoable(session: Session, build_id: str) -> Undoable:
    done = session.scalars(_changes(build_id, "done").order_by(ChangeRow.seq.desc()).limit(1)).one_or_none()
    undone = session.scalars(_changes(build_id, "undone").order_by(ChangeRow.seq).limit(1)).one_or_none()
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
    after = read_document(_apply(row.document, patch))
    return Planned(row.revision, read_document(row.document), after)


def is_done(session: Session, build_id: str, key: str) -> bool:
    """Whether a change with this key is in the log already."""
    query = select(ChangeRow.id).where(ChangeRow.build_id == build_id, ChangeRow.key == key)
    return session.scalar(query) is not None


def change(session: Session, build_id: str, planned: Planned, label: str, key: str, group: str | None = None,
           pick: dict[str, Any] | None = None) -> BuildRow:
    """Store a planned change and log it both ways.

    A change whose ``key`` is already in the log is not applied again. One with the ``group`` of the last change joins that
    undo entry.

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
    last = session.scalars(_changes(build_id, "done").order_by(ChangeRow.seq.desc()).limit(1)).one_or_none()
    session.execute(update(ChangeRow).where(ChangeRow.build_id == build_id, ChangeRow.state == "undone")
                    .values(state="abandoned"))
    if group is not None and last is not None and last.group == group:
        start = _apply(before, last.inverse)
        last.forward, last.inverse = _difference(start, after), _difference(after, start)
        last.key, last.label = key, label
    else:
        top = session.scalar(select(func.max(ChangeRow.seq)).where(ChangeRow.build_id == build_id)) or 0
        session.add(ChangeRow(build_id=build_id, seq=top + 1, key=key, label=label, group=group, state="done", pick=pick,
                              forward=_difference(before, after), inverse=_difference(after, before)))
    _store(row, after)
    session.flush()
    session.refresh(row)
    return row


def undo(session: Session, build_id: str, revision: int) -> tuple[BuildRow, ChangeRow]:
    """Take the last change back. Raises NothingToUndo or Stale."""
    row = _current(session, build_id, revision)
    last = session.scalars(_changes(build_id, "done").order_by(ChangeRow.seq.desc()).limit(1)).one_or_none()
    if last is None:
        raise NothingToUndo("there is nothing to undo")
    return _step(session, row, last, last.inverse, "undone")


def redo(session: Session, build_id: str, revision: int) -> tuple[BuildRow, ChangeRow]:
    """Do the last undone change again. Raises NothingToUndo or Stale."""
    row = _current(session, build_id, revision)
    following = session.scalars(_changes(build_id, "undone").order_by(ChangeRow.seq).limit(1)).one_or_none()
    if following is None:
        raise NothingToUndo("there is nothing to redo")
    return _step(session, row, following, following.forward, "done")


def _current(session: Session, build_id: str, revision: int) -> BuildRow:
    row = get(session, build_id, lock=True)
    if row.revision != revision:
        raise Stale(row.revision)
    return row


def _step(session: Session, row: BuildRow, entry: ChangeRow, patch: list[Any], state: str) -> tuple[BuildRow, ChangeRow]:
    entry.state = state
    entry.group = None  # what comes after an undo is an entry of its own
    _store(row, _apply(row.document, patch))
    session.flush()
    session.refresh(row)
    return row, entry


def _store(row: BuildRow, document: dict[str, Any]) -> None:
    row.document = document
    row.name = document.get("name") or row.name
    row.revision = row.revision + 1
    row.saved_at = func.now()


def _changes(build_id: str, state: str) -> Any:
    return select(ChangeRow).where(ChangeRow.build_id == build_id, ChangeRow.state == state)


def _difference(before: dict[str, Any], after: dict[str, Any]) -> list[Any]:
    return list(jsonpatch.make_patch(before, after).patch)


def _apply(document: dict[str, Any], patch: list[dict[str, Any]]) -> dict[str, Any]:
    if len(patch) > MOST_OPERATIONS:
        raise BadPatch(f"a change may have at most {MOST_OPERATIONS} operations")
    try:
        out = jsonpatch.apply_patch(document, patch, in_place=False)
    except (jsonpatch.JsonPatchException, jsonpointer.JsonPointerException, KeyError, TypeError, ValueError,
            IndexError) as error:
        raise BadPatch(f"the change does not fit the build: {error}") from None
    if not isinstance(out, dict):
        raise BadPatch("the change would leave no build")
    return out
