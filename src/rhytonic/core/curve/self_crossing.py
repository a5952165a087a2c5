"""Outlines that cross themselves or each other: what they enclose is no body."""

from __future__ import annotations

import re
from collections.abc import Sequence

import numpy as np
import shapely
from shapely.validation import explain_validity

from ..mesh.mesh import Floats


def crossing_place(rings: Sequence[Floats]) -> Floats | None:
    """(2,) a place where closed flat outlines (n, 2) cross themselves or each other; None where they do not."""
    shapes = [shapely.Polygon(r) for r in rings if len(r) > 2]
    for shape in shapes:
        if not shape.is_valid:
            told = re.search(r"\[(\S+) (\S+)\]", explain_validity(shape))
            return np.array([float(told[1]), float(told[2])]) if told else np.asarray(shape.exterior.coords[0])
    if len(shapes) > 1:
        lines = [s.exterior for s in shapes]
        tree = shapely.STRtree(lines)
        for i, j in tree.query(lines, predicate="crosses").T.tolist():
            if i < j:
                place: Floats = shapely.get_coordinates(lines[i].intersection(lines[j]))[0]
                return place
    return None
