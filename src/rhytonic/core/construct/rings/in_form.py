"""Which way rings run by where their edges lie in the base form: the same whatever is done above them."""

from __future__ import annotations

import numpy as np

from ...mesh.geometry import Floats
from ...mesh.topology import Ints, Topology
from ..spread import is_lower


def first_in_form(t: Topology, edges: Ints, rest: Floats) -> tuple[Ints, Ints]:
    """Edges in the order they lie in the form (lower y, then x, then z, of their middles), and the end of each that comes
    first there; without those of which the form does not know both ends.

    Args:
        rest: (V, 3) places in the form, nan where there is none.
    """
    known = edges[np.isfinite(rest[t.edges[edges]]).all(axis=(1, 2))]
    one, two = rest[t.edges[known, 0]], rest[t.edges[known, 1]]
    middle = np.round((one + two) / 2, 9)  # what differs by rounding alone is alike
    order = np.lexsort((known, middle[:, 2], middle[:, 0], middle[:, 1]))
    first = np.where(is_lower(one, two), t.edges[known, 0], t.edges[known, 1])
    return known[order], first[order]
