"""Stable ids: every vertex and face is named by how it came to be.

A name hashes (step id, element type, role, parent names, index) into 64 bits: BLAKE2b-64 (RFC 7693) of the step id
seeds it, then the finalizer of SplitMix64 (G. Steele, D. Lea, C. Flood, OOPSLA 2014) mixes in one word at a time.
The lowest bit tells vertices (0) from faces (1), so the two never share a value. Scheme version 1.
"""

from __future__ import annotations

import hashlib
from collections.abc import Callable
from functools import cached_property
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from ..waiting import check

Ids = NDArray[np.uint64]
Ints = NDArray[np.int64]
Domain = Literal["vertex", "face"]

SCHEME = 1
_GOLDEN = np.uint64(0x9E3779B97F4A7C15)
_MIX1 = np.uint64(0xBF58476D1CE4E5B9)
_MIX2 = np.uint64(0x94D049BB133111EB)
_ONE = np.uint64(1)


def word(text: str) -> np.uint64:
    """BLAKE2b-64 of a text, as one 64-bit word."""
    return np.uint64(int.from_bytes(hashlib.blake2b(text.encode(), digest_size=8).digest(), "little"))


def mix(state: Ids, value: Ids) -> Ids:
    """(…) absorb ``value`` into ``state`` with the SplitMix64 finalizer; arrays broadcast."""
    z = (state ^ value) + _GOLDEN
    z = (z ^ (z >> np.uint64(30))) * _MIX1
    z = (z ^ (z >> np.uint64(27))) * _MIX2
    return z ^ (z >> np.uint64(31))


def name(step: str, domain: Domain, role: str, count: int, parents: Ids, index: Ints) -> Ids:
    """Names of ``count`` new elements.

    Args:
        parents: (count, k) ids of what each element came from, k may be 0.
        index: (count, m) whole numbers that tell apart elements with identical parents.
    """
    check()
    with np.errstate(over="ignore"):
        start = mix(mix(word(step).reshape(1), word(domain).reshape(1)), word(role).reshape(1))
        state = np.broadcast_to(start, (count,))
        for column in parents.T:
            state = mix(state, column)
        for column in index.T:
            state = mix(state, column.astype(np.uint64))
    return (state | _ONE) if domain == "face" else (state & ~_ONE)


def hex_of(ids: Ids) -> list[str]:
    """The form ids take outside the core: 16 hexadecimal digits."""
    raw = ids.astype(">u8").tobytes().hex()
    return [raw[i:i + 16] for i in range(0, len(raw), 16)]


def from_hex(texts: list[str]) -> Ids:
    """(n,) inverse of :func:`hex_of`. Raises ValueError on anything but hexadecimal digits."""
    return np.array([int(t, 16) for t in texts], dtype=np.uint64)


class Index:
    """Finds where ids stand in an array; built once, shared by every look-up."""

    def __init__(self, ids: Ids) -> None:
        self._order = np.argsort(ids)
        self._sorted = ids[self._order]

    def find(self, ids: Ids) -> Ints:
        """(n,) positions of ``ids``, −1 where absent."""
        if self._sorted.size == 0 or ids.size == 0:
            return np.full(ids.shape, -1, dtype=np.int64)
        at = np.searchsorted(self._sorted, ids)
        at[at == self._sorted.size] = 0
        return np.where(self._sorted[at] == ids, self._order[at], -1)


class Names:
    """Ids of all vertices and faces of a mesh, computed when first asked for."""

    def __init__(self, vertex: Ids | Callable[[], Ids], face: Ids | Callable[[], Ids]) -> None:
        self._vertex, self._face = vertex, face

    @cached_property
    def vertex(self) -> Ids:
        """(V,) ids of the vertices."""
        return self._vertex() if callable(self._vertex) else self._vertex

    @cached_property
    def face(self) -> Ids:
        """(F,) ids of the faces."""
        return self._face() if callable(self._face) else self._face

    @cached_property
    def vertex_index(self) -> Index:
        """Finds vertices by their ids."""
        return Index(self.vertex)

    @cached_property
    def face_index(self) -> Index:
        """Finds faces by their ids."""
        return Index(self.face)

    def of(self, domain: Domain) -> Ids:
        """(n,) ids of all elements of a domain, in the order of their numbers."""
        return self.vertex if domain == "vertex" else self.face

    def find(self, domain: Domain, ids: Ids) -> Ints:
        """(n,) numbers of the elements with these ids, −1 where there is none."""
        return (self.vertex_index if domain == "vertex" else self.face_index).find(ids)


NONE = Names(np.zeros(0, np.uint64), np.zeros(0, np.uint64))


def reduced(numerator: Ints, denominator: int) -> Ints:
    """(n, 2) fractions in lowest terms, so that 1/2 and 2/4 name the same point."""
    divisor = np.gcd(numerator, denominator)
    divisor[divisor == 0] = 1
    return np.stack([numerator // divisor, np.full_like(numerator, denominator) // divisor], axis=1)


def no_parents(count: int) -> Ids:
    """(count, 0): elements that came from nothing."""
    return np.zeros((count, 0), np.uint64)
