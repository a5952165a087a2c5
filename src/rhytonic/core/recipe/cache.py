"""What was computed lately, within a budget of bytes for all of it, and how it is called."""

from __future__ import annotations

import hashlib
import json
from collections import OrderedDict
from threading import Lock
from typing import Any, Generic, TypeVar

T = TypeVar("T")
#: bytes where nobody says otherwise
DEFAULT_BUDGET = 2 * 1024**3


class Budget:
    """Bytes that several caches may hold together; what was used least recently, in whichever of them, goes first.

    Attributes:
        limit: bytes that may be held.
        held: bytes that are held, as whoever put them in estimated.
    """

    def __init__(self, limit: int = DEFAULT_BUDGET) -> None:
        self.limit, self.held = limit, 0
        self._entries: OrderedDict[tuple[int, bytes], tuple[Cache[Any], int]] = OrderedDict()
        self._lock = Lock()

    def used(self, cache: Cache[Any], key: bytes) -> None:
        """An entry is the last used from now on."""
        with self._lock:
            if (id(cache), key) in self._entries:
                self._entries.move_to_end((id(cache), key))

    def add(self, cache: Cache[Any], key: bytes, size: int) -> None:
        """An entry of so many bytes came, or took another's place; others go until all fit, this one never."""
        with self._lock:
            self._forget(cache, key)
            self._entries[id(cache), key] = (cache, size)
            self.held += size
            while self.held > self.limit and len(self._entries) > 1:
                (_, oldest), (other, weight) = self._entries.popitem(last=False)
                self.held -= weight
                other.values.pop(oldest, None)

    def drop(self, cache: Cache[Any], keys: list[bytes]) -> None:
        """Entries that are gone."""
        with self._lock:
            for key in keys:
                self._forget(cache, key)

    def _forget(self, cache: Cache[Any], key: bytes) -> None:
        known = self._entries.pop((id(cache), key), None)
        self.held -= known[1] if known else 0


class Cache(Generic[T]):
    """Entries by key, within a budget they may share with others. Entries may go at any time."""

    def __init__(self, budget: Budget) -> None:
        self.values: dict[bytes, T] = {}
        self._budget = budget

    def get(self, key: bytes) -> T | None:
        """The entry under a key, which is the last used from now on; None where there is none."""
        entry = self.values.get(key)
        if entry is not None:
            self._budget.used(self, key)
        return entry

    def put(self, key: bytes, value: T, size: int) -> None:
        """Keep an entry of so many bytes."""
        self.values[key] = value
        self._budget.add(self, key, size)

    def clear(self) -> None:
        """Let everything go."""
        self._budget.drop(self, list(self.values))
        self.values.clear()


def digest(above: bytes, *what: Any) -> bytes:
    """16 bytes that name ``what`` after what ``above`` names; items are texts, plain values or (text, bytes)."""
    h = hashlib.blake2b(above, digest_size=16)
    for item in what:
        if isinstance(item, tuple):
            h.update(item[0].encode())
            h.update(item[1])
        else:
            h.update((item if isinstance(item, str) else json.dumps(item, separators=(",", ":"))).encode())
            h.update(b"\0")
    return h.digest()
