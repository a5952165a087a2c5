"""Long text in pieces, so that it is given up between two of them once nobody waits for it."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from itertools import islice

from ...waiting import check

_LINES = 20_000


def in_pieces(lines: Iterable[str], between: str = "") -> Iterator[str]:
    """The lines, ``between`` two of them, many at a time. Raises Cancelled."""
    rest, begun = iter(lines), False
    while some := list(islice(rest, _LINES)):
        check()
        yield (between if begun else "") + between.join(some)
        begun = True
