"""One body beside another: how near they come, or how far one stands in the other, and where."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ...construct.boolean.solids import combine, refuse_unsound, solid
from ...errors import RhytonicError, StepError
from ...mesh.mesh import Floats, Mesh
from ...mesh.triangulate import triangulate
from .nearest import nearest_pair


class NothingBeside(RhytonicError):
    """One side has no faces."""

    code = "nothing_beside"


@dataclass(frozen=True)
class Nearness:
    """Metres of the build.

    Attributes:
        gap: least distance; 0 where they touch or overlap.
        ends: (2, 3) the nearest points of both.
        overlap: volume they share in m³; None where that cannot be told, as a side is open or crosses itself.
        low, high: (3,) corners of the box of what they share; None where they share nothing.
    """

    gap: float
    ends: Floats
    overlap: float | None
    low: Floats | None = None
    high: Floats | None = None


def neighbours_of(ours: Sequence[Mesh], theirs: Sequence[Mesh]) -> Nearness:
    """How bodies stand to others, all where they stand in the build. Shared volumes are added up pair by pair.

    Raises:
        NothingBeside: a side without faces.
    """
    one, two = ([m for m in side if m.topology.face_count] for side in (ours, theirs))
    if not one or not two:
        raise NothingBeside("one of them has no faces")
    triangles = [np.concatenate([m.points[triangulate(m)[0]] for m in side]) for side in (one, two)]
    gap, ends = nearest_pair(triangles[0], triangles[1])
    volume: float | None = 0.0
    shared: list[Floats] = []
    for a in one:
        for b in two:
            if (a.points.min(axis=0) > b.points.max(axis=0)).any() or (b.points.min(axis=0) > a.points.max(axis=0)).any():
                continue
            try:
                for mesh in (a, b):
                    refuse_unsound(mesh, "it", None)
                both = combine([solid(a), solid(b)], "intersect")
            except StepError:
                volume = None
                continue
            corners = both.points[both.triangles]
            own = float(np.einsum("ij,ij->i", corners[:, 0], np.cross(corners[:, 1], corners[:, 2])).sum()) / 6
            if own > 0:
                volume = None if volume is None else volume + own
                shared.append(corners.reshape(-1, 3))
    if not shared:
        return Nearness(gap, ends, volume)
    points = np.concatenate(shared)
    return Nearness(0.0, ends, volume, points.min(axis=0), points.max(axis=0))
