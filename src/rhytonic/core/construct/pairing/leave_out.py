"""Faces as runs of corners: leaving corners out of them, and faces out of a mesh."""

from __future__ import annotations

import numpy as np

from ...compiled import BOOLS, INTS, TWO_INTS, compiled
from ...errors import StepError
from ...mesh.topology import Bools, Ints, Topology, twice_at_one


def without(t: Topology, corners: Ints, keep: Bools, vertices: int, what: str) -> tuple[Topology, Ints, Ints, int]:
    """The topology of faces whose corners (C,) were renamed and partly left out.

    Args:
        keep: (C,) corners that stay. Faces left with fewer than three corners go.
        vertices: number of vertices of the result.
        what: how the step says what it is about to do, in the error.

    Returns:
        the topology, faces and corners that stay, and how many faces collapsed.

    Raises:
        StepError: a face would visit a vertex twice.
    """
    stay, sides = _staying(t.offsets, keep)
    faces = np.flatnonzero(sides)
    if twice_at_one(corners[stay], sides[faces]):
        raise StepError(f"{what} would leave a face that touches itself at a vertex; pick less, or more, of it", "pick")
    offsets = np.concatenate([[0], np.cumsum(sides[faces])])
    emptied = int(np.count_nonzero((sides == 0) & (t.sides > 0)))
    return Topology.of(vertices, offsets, corners[stay]), faces, stay, emptied


@compiled(TWO_INTS, INTS, BOOLS)
def _staying(offsets: Ints, keep: Bools) -> tuple[Ints, Ints]:
    """The corners that stay, and (F,) how many of each face: none of one that would have fewer than three."""
    stay = np.empty(len(keep), np.int64)
    sides = np.zeros(len(offsets) - 1, np.int64)
    n = 0
    for f in range(len(sides)):
        before = n
        for c in range(offsets[f], offsets[f + 1]):
            if keep[c]:
                stay[n] = c
                n += 1
        if n - before < 3:
            n = before
        sides[f] = n - before
    return stay[:n].copy(), sides
