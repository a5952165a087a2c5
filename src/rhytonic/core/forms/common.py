"""What all base forms share."""

from __future__ import annotations

from typing import Any

import numpy as np

from ..mesh.names import no_parents
from ..mesh.topology import Ints, Topology
from ..step.draft import Born, Draft


def form_draft(topology: Topology, vertices: list[tuple[str, Ints]], faces: list[tuple[str, Ints]],
               data: Any = None) -> Draft:
    """A draft of nothing but new elements.

    Args:
        vertices, faces: groups of (role, (n, m) index columns) that name elements in the order of their numbers. Index
            columns hold reduced fractions along the form, so that a corner keeps its name when segments change.
    """
    born = []
    for domain, groups in (("vertex", vertices), ("face", faces)):
        start = 0
        for role, index in groups:
            n = len(index)
            born.append(Born(domain, role, np.arange(start, start + n), no_parents(n), (), index))  # type: ignore[arg-type]
            start += n
    new_v = np.full(topology.vertex_count, -1, np.int64)
    new_f = np.full(topology.face_count, -1, np.int64)
    return Draft(topology, new_v, new_f, new_v, new_f, np.full(topology.corner_count, -1, np.int64), tuple(born),
                 data=data)
