"""Gap between two bodies: the shortest distance between their surfaces, or the room between their boxes along an axis."""

from __future__ import annotations

import numpy as np

from ...mesh.mesh import Floats, Mesh
from ...mesh.topology import Ints
from ...mesh.triangulate import triangulate
from ..clearance.nearest import nearest_pair
from ..scene import Named, NotMeasured
from .measured import Measured


def gap(found: list[Named], along: str) -> Measured:
    """Least distance in metres between two surfaces, 0 where they cross; along an axis, how far one may move to the other.
    Raises NotMeasured where one has no faces."""
    one, two = found
    if along != "straight":
        return _along(one, two, "xyz".index(along))
    a, b = _triangles(one), _triangles(two)
    if not len(a) or not len(b):
        raise NotMeasured("there is nothing to measure a gap to")
    value, ends = nearest_pair(a, b)
    return Measured(value, "span", ends)


def _along(one: Named, two: Named, axis: int) -> Measured:
    """Below 0 where the boxes overlap."""
    if one.box[0][axis] > two.box[0][axis]:
        one, two = two, one
    (low, high), (low2, high2) = one.box, two.box
    both_low, both_high = np.maximum(low, low2), np.minimum(high, high2)
    start = np.where(both_low <= both_high, (both_low + both_high) / 2, (low + high) / 2)
    start[axis] = high[axis]
    end = start.copy()
    end[axis] = low2[axis]
    return Measured(float(low2[axis] - high[axis]), "span", np.stack([start, end]))


def _triangles(found: Named) -> Floats:
    """(n, 3, 3) of what is meant; edges and vertices are triangles without area."""
    mesh: Mesh = found.body
    corners: Ints
    if found.picked is not None and found.picked.kind == "edges":
        ends = mesh.topology.edges[found.picked.elements]
        corners = np.column_stack([ends, ends[:, 1]])
    elif found.picked is not None and found.picked.kind == "vertices":
        corners = np.repeat(found.picked.elements[:, None], 3, axis=1)
    else:
        corners = triangulate(mesh)[0]
    return mesh.points[corners]
