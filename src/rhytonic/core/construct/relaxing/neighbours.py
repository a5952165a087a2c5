"""What lies round vertices along their edges."""

from __future__ import annotations

import numpy as np
from scipy.sparse import csr_array

from ...mesh.topology import Ints, Topology


def neighbour_means(t: Topology, vertices: Ints) -> csr_array:
    """(n, V) the mean of each given vertex's neighbours along edges; empty rows for vertices without any."""
    place = np.full(t.vertex_count, -1, np.int64)
    place[vertices] = np.arange(vertices.size)
    a, b = t.edges[:, 0], t.edges[:, 1]
    one, two = place[a] >= 0, place[b] >= 0
    row = np.concatenate([place[a[one]], place[b[two]]])
    column = np.concatenate([b[one], a[two]])
    count = np.bincount(row, minlength=vertices.size)
    return csr_array((1.0 / count[row], (row, column)), shape=(vertices.size, t.vertex_count))
