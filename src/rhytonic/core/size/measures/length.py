"""Length of edges: one, a loop, a chain; or round picked faces."""

from __future__ import annotations

import numpy as np

from ...pick.extent import extent
from ..scene import Named, NotMeasured
from .measured import Measured


def length(found: list[Named]) -> Measured:
    """Length of the targets' edges, or round their faces, in metres. Raises NotMeasured for vertices."""
    target = found[0]
    assert target.picked is not None
    if target.picked.kind == "vertices":
        raise NotMeasured("a length is that of edges or round faces, not of vertices")
    value = extent(target.mesh, target.picked).length
    if target.picked.kind == "edges" and target.picked.elements.size == 1:
        return Measured(value, "span", target.mesh.points[target.mesh.topology.edges[target.picked.elements[0]]])
    return Measured(value, "note", np.array([target.points.mean(axis=0)]))
