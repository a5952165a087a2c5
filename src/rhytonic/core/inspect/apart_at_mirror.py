"""Halves that do not meet their image along the mirror: points that were on its plane and were moved off it."""

from __future__ import annotations

import numpy as np

from ..live.mirror import Mirror
from ..mesh.geometry import lengths
from ..mesh.mesh import Mesh
from ..mesh.names import hex_of
from ..mesh.topology import Bools
from ..recipe.state import Evaluation
from .findings import MOST_IDS, Finding

#: a gap wider than this share of the part's extent is one that was meant
_WIDEST = 0.1


def apart_at_mirrors(evaluation: Evaluation) -> list[Finding]:
    """A finding for each mirror that clips whose two halves are apart: vertices of the cage beside its plane."""
    out = []
    cage = evaluation.cage
    for number, result in enumerate(evaluation.results):
        step = result.step
        if not isinstance(step, Mirror) or result.error is not None or result.skipped or not step.clip:
            continue
        above = evaluation.after(number).mesh
        apart = off_the_plane(above, "xyz".index(step.axis), step.at * _metres(evaluation, number), step.keep, step.weld *
                              _metres(evaluation, number))
        ids = above.names.vertex[apart]
        own = ids[np.isin(ids, cage.mesh.names.vertex)]
        if own.size:
            blamed = step.id or step.kind
            out.append(Finding("apart_at_mirror", "vertices", hex_of(own[:MOST_IDS]), int(own.size), blamed))
    return out


def _metres(evaluation: Evaluation, number: int) -> float:
    from ..units import METRES
    return METRES[evaluation.results[number].unit]


def off_the_plane(mesh: Mesh, axis: int, at: float, keep: str, weld: float) -> Bools:
    """(V,) vertices that leave a gap to their image.

    On a border that runs along the plane, those beside it and not on it; and where a wall rises from the plane and looks at
    it, as it does at its image, the wall's far end.
    """
    t = mesh.topology
    out = np.zeros(t.vertex_count, bool)
    if not t.face_count:
        return out
    height = (mesh.points[:, axis] - at) * (1.0 if keep == "+" else -1.0)
    extent = float(np.ptp(mesh.points, axis=0).max())
    on, near = np.abs(height) <= weld / 2, np.abs(height) <= _WIDEST * extent
    beside = near & ~on & (height > 0)
    border = t.edges[t.edge_face_count == 1]
    # borders that touch the plane: their vertices beside it
    touching = on[border].any(axis=1) & beside[border].any(axis=1)
    out[border[touching].ravel()] = True
    along = beside[border].all(axis=1)
    way = mesh.points[border[:, 1]] - mesh.points[border[:, 0]]
    flat = np.abs(way[:, axis]) <= 0.2 * lengths(way)
    # a border that runs along the plane all the way, a little off it
    count = np.bincount(border[along & flat].ravel(), minlength=t.vertex_count)
    out |= count > 0
    # walls that look at the plane, from it to a little off it
    down = mesh.normals[:, axis] * (1.0 if keep == "+" else -1.0) < -0.5
    corner = t.corners
    wall = down & np.logical_and.reduceat((on | beside)[corner], t.offsets[:-1]) & \
        np.logical_or.reduceat(on[corner], t.offsets[:-1]) & np.logical_or.reduceat(beside[corner], t.offsets[:-1])
    out[corner[wall[t.corner_face]]] = True
    return out & beside
