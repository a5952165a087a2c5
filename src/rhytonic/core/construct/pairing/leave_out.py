"""Faces as runs of corners: leaving corners out of them, and faces out of a mesh."""

from __future__ import annotations

import numpy as np

from ...errors import StepError
from ...mesh.topology import Bools, Ints, Topology


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
    sides = np.bincount(t.corner_face[keep], minlength=t.face_count)
    alive = (sides >= 3)
    stay = np.flatnonzero(keep & alive[t.corner_face])
    order = np.lexsort((corners[stay], t.corner_face[stay]))
    face, vertex = t.corner_face[stay][order], corners[stay][order]
    if ((face[1:] == face[:-1]) & (vertex[1:] == vertex[:-1])).any():
        raise StepError(f"{what} would leave a face that touches itself at a vertex; pick less, or more, of it", "pick")
    faces = np.flatnonzero(alive)
    offsets = np.concatenate([[0], np.cumsum(sides[faces])])
    emptied = int((~alive & (t.sides > 0)).sum())
    return Topology.of(vertices, offsets, corners[stay]), faces, stay, emptied
