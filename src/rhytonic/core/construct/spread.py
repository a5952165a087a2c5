"""Where points stand along edges: by count, spread and shift, counted from the lower end."""

from __future__ import annotations

import numpy as np

from .. import tolerance
from ..mesh.geometry import Floats
from ..mesh.topology import Bools, Ints


def even(count: int, spread: float, shift: float) -> Floats:
    """(count,) t_k = ½ + spread·(k/(count+1) − ½) + (shift/2)·(1 − spread·(count−1)/(count+1)), k = 1…count."""
    k = np.arange(1, count + 1)
    out: Floats = 0.5 + spread * (k / (count + 1) - 0.5) + (shift / 2) * (1 - spread * (count - 1) / (count + 1))
    return out


def is_lower(a: Floats, b: Floats) -> Bools:
    """(n,) whether points a (n, 3) come before b: smaller y, then x, then z."""
    out = np.ones(len(a), bool)
    undecided = np.ones(len(a), bool)
    for axis in (1, 0, 2):
        apart = np.abs(a[:, axis] - b[:, axis]) > tolerance.TIE
        decide = undecided & apart
        out[decide] = a[decide, axis] < b[decide, axis]
        undecided &= ~apart
    return out


def from_first(points: Floats, edges: Ints, share: Floats) -> Floats:
    """(n, m) fractions along edges (n, 2) from their first vertex, ascending, of ``share`` (m,) told from the lower end."""
    low = is_lower(points[edges[:, 0]], points[edges[:, 1]])
    return np.where(low[:, None], share, 1.0 - share[::-1])
