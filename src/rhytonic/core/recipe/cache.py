"""What was computed lately, within a budget, and how it is called."""

from __future__ import annotations

import hashlib
import json
from collections import OrderedDict
from typing import Any, Generic, TypeVar

T = TypeVar("T")


class Cache(Generic[T]):
    """Least recently used entries within a budget of elements."""

    def __init__(self, budget: int) -> None:
        self._entries: OrderedDict[bytes, tuple[T, int]] = OrderedDict()
        self._budget, self._held = budget, 0

    def get(self, key: bytes) -> T | None:
        """The entry under a key, which is the last used from now on; None where there is none."""
        entry = self._entries.get(key)
        if entry is None:
            return None
        self._entries.move_to_end(key)
        return entry[0]

    def put(self, key: bytes, value: T, weight: int) -> None:
        old = self._entries.pop(key, None)
        self._held += weight - (old[1] if old else 0)
        self._entries[key] = (value, weight)
        while self._held > self._budget and len(self._entries) > 1:
            self._held -= self._entries.popitem(last=False)[1][1]


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
