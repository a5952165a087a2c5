"""Undo and redo where several windows work on one build: each takes back its own last change, wherever it lies in the log.

Done entries are a chain in the order of their numbers: the patches of each lead from what the one before left. What each
window undid is a chain of its own, the first of which leads on from the build as it stands. A change that is not at the
end of its chain is carried past the others by a merge of the states it leads between. Every function works within the
caller's transaction.
"""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from typing import Any

from sqlalchemy import Select, func, select, update
from sqlalchemy.orm import Session

from ..core.errors import InvalidDocument
from ..core.recipe.document import read_document
from ..core.recipe.three_way import Conflict, merge
from .errors import ChangedElsewhere, NothingToUndo
from .json_patch import apply, difference
from .models import BuildRow, ChangeRow

#: a window that was not closed as it should counts as closed after this long
_FORGOTTEN = timedelta(hours=12)


def entries(build_id: str, state: str) -> Select[tuple[ChangeRow]]:
    """The changes of a build in one state, done or undone, to be ordered."""
    return select(ChangeRow).where(ChangeRow.build_id == build_id, ChangeRow.state == state)


def last_done(session: Session, build_id: str) -> ChangeRow | None:
    """The last change of anyone."""
    return session.scalars(entries(build_id, "done").order_by(ChangeRow.seq.desc()).limit(1)).one_or_none()


def to_undo(session: Session, build_id: str, window: str | None) -> ChangeRow | None:
    """The last change that a window may take back: its own, or one that no open window made."""
    free = entries(build_id, "done").where(_free(window))
    return session.scalars(free.order_by(ChangeRow.seq.desc()).limit(1)).one_or_none()


def to_redo(session: Session, build_id: str, window: str | None) -> ChangeRow | None:
    """What a window undid last; where it undid nothing, what no window claims."""
    undone = entries(build_id, "undone").order_by(ChangeRow.seq).limit(1)
    own = None if window is None else session.scalars(undone.where(ChangeRow.window == window)).one_or_none()
    return own or session.scalars(undone.where(ChangeRow.window.is_(None))).one_or_none()


def _free(window: str | None) -> Any:
    """Changes that are a window's own, or nobody's any more."""
    nobodys = ChangeRow.window.is_(None) | (ChangeRow.made_at < datetime.now(UTC) - _FORGOTTEN)
    return nobodys if window is None else nobodys | (ChangeRow.window == window)


def undo(session: Session, row: BuildRow, window: str | None) -> tuple[ChangeRow, dict[str, Any]]:
    """Take a window's last change back; its entry, and the document without it.

    Raises:
        NothingToUndo: it made none. ChangedElsewhere: another window has changed the same since.
    """
    entry = to_undo(session, row.id, window)
    if entry is None:
        others = last_done(session, row.id) is not None
        raise NothingToUndo("there is nothing of this window to undo; what was done in another is undone there" if others
                            else "there is nothing to undo")
    later = list(session.scalars(entries(row.id, "done").where(ChangeRow.seq > entry.seq).order_by(ChangeRow.seq)))
    states = [row.document]
    for change in reversed(later):
        states.insert(0, apply(states[0], change.inverse))
    with_it, without = states[0], apply(states[0], entry.inverse)
    done = [_carried(with_it, without, state, entry.label) for state in states]
    for change, before, after in zip(later, done, done[1:], strict=False):
        change.forward, change.inverse = difference(before, after), difference(after, before)
    after = done[-1]
    first = session.scalar(select(func.min(ChangeRow.seq)).where(
        ChangeRow.build_id == row.id, ChangeRow.state == "undone", _owned(window)))
    entry.seq = entry.seq if first is None else min(entry.seq, first - 1)  # redone before what was undone before it
    entry.state, entry.window = "undone", window
    entry.forward, entry.inverse = difference(after, row.document), difference(row.document, after)
    entry.group = None  # what comes after an undo is an entry of its own
    session.flush()
    carry_undone(session, row, after, window)
    return entry, after


def redo(session: Session, row: BuildRow, window: str | None) -> tuple[ChangeRow, dict[str, Any]]:
    """Do what a window undid last again; its entry, and the document with it. Raises NothingToUndo."""
    entry = to_redo(session, row.id, window)
    if entry is None:
        raise NothingToUndo("there is nothing to redo")
    owner, after = entry.window, apply(row.document, entry.forward)
    last = last_done(session, row.id)
    entry.state, entry.window = "done", window
    if last is not None:
        entry.seq = max(entry.seq, last.seq + 1)  # behind what others did meanwhile
    session.flush()
    carry_undone(session, row, after, owner)
    return entry, after


def _owned(window: str | None) -> Any:
    return ChangeRow.window.is_(None) if window is None else ChangeRow.window == window


def carry_undone(session: Session, row: BuildRow, after: dict[str, Any], mine: str | None) -> None:
    """Let what other windows undid lead on from ``after`` instead of the build as it stands; what cannot is given up."""
    chains: dict[str | None, list[ChangeRow]] = {}
    for change in session.scalars(entries(row.id, "undone").order_by(ChangeRow.seq)):
        if change.window != mine:
            chains.setdefault(change.window, []).append(change)
    for chain in chains.values():
        old, new = row.document, after
        for i, change in enumerate(chain):
            old_after = apply(old, change.forward)
            try:
                new_after = _carried(old, old_after, new, change.label)
            except ChangedElsewhere:
                for gone in chain[i:]:
                    gone.state = "abandoned"
                break
            change.forward, change.inverse = difference(new, new_after), difference(new_after, new)
            old, new = old_after, new_after


def abandon(session: Session, build_id: str, window: str | None) -> None:
    """A window did something new: what it had undone, and what nobody claims, can be redone no more."""
    whose = ChangeRow.window.is_(None) | _owned(window)
    session.execute(update(ChangeRow).where(ChangeRow.build_id == build_id, ChangeRow.state == "undone", whose)
                    .values(state="abandoned"))


def let_go(session: Session, window: str) -> None:
    """A window was closed: what it did is anyone's to undo. What it had undone is, where nobody else's would mix with it."""
    session.execute(update(ChangeRow).where(ChangeRow.window == window, ChangeRow.state == "done").values(window=None))
    mixed = select(ChangeRow.build_id).where(ChangeRow.state == "undone", ChangeRow.window.is_(None))
    session.execute(update(ChangeRow).where(ChangeRow.window == window, ChangeRow.state == "undone",
                                            ChangeRow.build_id.not_in(mixed)).values(window=None))


def _carried(before: dict[str, Any], after: dict[str, Any], onto: dict[str, Any], label: str) -> dict[str, Any]:
    """``onto`` with what leads from ``before`` to ``after``. Raises ChangedElsewhere."""
    try:
        out: dict[str, Any] = merge(before, after, onto)
        if onto is not before:
            read_document(out)
    except (Conflict, InvalidDocument) as error:
        raise ChangedElsewhere(label, _told(onto, error.path if isinstance(error, Conflict) else ())) from None
    return out


def _told(document: dict[str, Any], path: tuple[str, ...]) -> str:
    """What a path of keys and ids leads to, as the recipe shows it: a step by its number and label, else its part."""
    part = next((p for p in document.get("parts", []) if path[:1] == ("parts",) and path[1:2] == (p.get("id"),)), None)
    if part is None:
        return "the same"
    if path[2:3] == ("steps",):
        for number, step in enumerate(part.get("steps", []), 1):
            if path[3:4] == (step.get("id"),):
                return f"step {number} of {part['name']}, {step.get('label') or step['kind'].replace('_', ' ')},"
    return str(part["name"])
