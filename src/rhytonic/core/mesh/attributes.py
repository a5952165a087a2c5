"""Open attributes: named arrays that ride on vertices, edges, faces or corners and are carried through every edit."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array

from ..waiting import check

Domain = Literal["vertex", "edge", "face", "corner"]
Carry = Literal["copy", "interpolate", "drop"]
#: where each new element came from: an index (−1 for nothing) or a row of weights over the old elements
Sources = NDArray[np.int64] | csr_array


@dataclass(frozen=True)
class Attribute:
    """One named array.

    Attributes:
        domain: what it rides on.
        values: (n, …) one row per element of the domain.
        carry: ``copy`` takes the first source's value, ``interpolate`` blends by weight, ``drop`` ends at the next
            edit that changes connectivity.
        fill: value of elements that came from nothing.
        about: what its whole numbers from 1 on stand for, where they stand for something.
    """

    domain: Domain
    values: NDArray[Any]
    carry: Carry = "copy"
    fill: float = 0.0
    about: tuple[Any, ...] = ()

    def through(self, sources: Sources) -> Attribute:
        """This attribute on the elements that ``sources`` describes."""
        check()
        if isinstance(sources, csr_array) and self.carry == "interpolate" and self.values.dtype.kind == "f":
            flat = self.values.reshape(len(self.values), -1)
            blended = sources @ flat
            blended[np.diff(sources.indptr) == 0] = self.fill
            return replace(self, values=blended.reshape((sources.shape[0], *self.values.shape[1:])))
        index = strongest(sources) if isinstance(sources, csr_array) else sources
        if len(self.values) == 0:
            return replace(self, values=np.full((index.size, *self.values.shape[1:]), self.fill, self.values.dtype))
        values = self.values[np.maximum(index, 0)]
        values[index < 0] = self.fill
        return replace(self, values=values)


def strongest(weights: csr_array) -> NDArray[np.int64]:
    """The source with the largest weight in each row, −1 for empty rows; ties to the lowest source."""
    out = np.full(weights.shape[0], -1, np.int64)
    rows = np.repeat(np.arange(weights.shape[0]), np.diff(weights.indptr))
    order = np.lexsort((weights.indices, -weights.data, rows))
    first = np.ones(order.size, bool)
    first[1:] = rows[order][1:] != rows[order][:-1]
    out[rows[order][first]] = weights.indices[order][first]
    return out
