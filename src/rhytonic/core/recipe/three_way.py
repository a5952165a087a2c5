"""Three-way merge of builds as JSON: what one window did, on what others have done meanwhile.

Lists whose items have ids (parts, steps, boards, groups …) are merged item by item wherever they stand by now; everything
else by its keys. After "diff3" as in S. Khanna, K. Kunal, B. C. Pierce, "A Formal Investigation of Diff3", FSTTCS 2007.
"""

from __future__ import annotations

from typing import Any

from ..errors import RhytonicError

#: stands for what is not there
_GONE: Any = object()


class Conflict(RhytonicError):
    """Both sides changed the same. ``path`` leads to it: keys, and ids of items."""

    code = "conflict"

    def __init__(self, path: tuple[str, ...]) -> None:
        super().__init__("the same was changed in another window since")
        self.path = path


def merge(base: Any, mine: Any, theirs: Any) -> Any:
    """``theirs`` with what leads from ``base`` to ``mine``.

    Raises:
        Conflict: both sides changed the same to something else.
    """
    return _merge(base, mine, theirs, ())


def _merge(base: Any, mine: Any, theirs: Any, path: tuple[str, ...]) -> Any:
    if mine == base:
        return theirs
    if theirs in (base, mine):
        return mine
    if all(isinstance(side, dict) for side in (base, mine, theirs)):
        out = {}
        for key in [*theirs, *(k for k in mine if k not in theirs)]:
            value = _merge(base.get(key, _GONE), mine.get(key, _GONE), theirs.get(key, _GONE), (*path, key))
            if value is not _GONE:
                out[key] = value
        return out
    lists = [[] if side is _GONE else side for side in (base, mine, theirs)]
    if all(_has_ids(side) for side in lists) and any(lists):
        return _items(lists[0], lists[1], lists[2], path)
    raise Conflict(path)


def _has_ids(side: Any) -> bool:
    """Whether it is a list of items with ids of their own."""
    if not isinstance(side, list) or not all(isinstance(i, dict) and i.get("id") is not None for i in side):
        return False
    return len({i["id"] for i in side}) == len(side)


def _items(base: list[Any], mine: list[Any], theirs: list[Any], path: tuple[str, ...]) -> list[Any]:
    """Items merged by id. What is new in mine stands behind what it stood behind; mine decides the order where it changed
    it and theirs did not."""
    b, m, t = ({i["id"]: i for i in side} for side in (base, mine, theirs))
    merged = {}
    for id in [*t, *(i for i in m if i not in t)]:
        value = _merge(b.get(id, _GONE), m.get(id, _GONE), t.get(id, _GONE), (*path, str(id)))
        if value is not _GONE:
            merged[id] = value
    common = [i for i in b if i in m and i in t and i in merged]
    by_mine, by_theirs = ([i for i in side if i in common] for side in (m, t))
    if by_mine not in (common, by_theirs) and by_theirs != common:
        raise Conflict(path)
    lead, other = (m, t) if by_mine != common else (t, m)
    order = [i for i in lead if i in merged]
    last = None
    for id in other:  # after what it stands behind there, so that two put in at one place both stay
        if id in merged and id not in order:
            order.insert(0 if last is None else order.index(last) + 1, id)
        if id in merged:
            last = id
    return [merged[i] for i in order]
