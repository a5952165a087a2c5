"""Faces run the other way."""

from __future__ import annotations

import numpy as np

from ..mesh.topology import Ints, Topology


def turned_corners(t: Topology, faces: Ints) -> Ints:
    """Corners of faces, each face run backwards from its first corner."""
    corner = t.corners_of(faces)
    first, sides = np.repeat(t.offsets[faces], t.sides[faces]), np.repeat(t.sides[faces], t.sides[faces])
    out: Ints = first + (first - corner) % sides
    return out
