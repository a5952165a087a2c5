"""Which closed outlines lie in which."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely

from ..mesh.mesh import Floats


@dataclass(frozen=True)
class Nest:
    """Closed runs by what they enclose, even–odd: ``regions`` tell an outline and its holes; ``turned`` (R,) whether a run
    must be run backwards so that outlines turn counter-clockwise and holes against them."""

    regions: tuple[tuple[int, ...], ...]
    turned: tuple[bool, ...]


def areal(shape: shapely.Geometry) -> shapely.Geometry:
    """What of a polygon, as it may cross itself, encloses an area, even–odd."""
    if shape.is_valid:
        return shape
    parts = [g for g in shapely.get_parts(shapely.make_valid(shape)) for g in shapely.get_parts(g)
             if isinstance(g, shapely.Polygon)]
    return shapely.MultiPolygon(parts) if parts else shapely.Polygon()


def nested(rings: Sequence[Floats]) -> Nest:
    """Which of several flat rings (n, 2) lie in which."""
    turns = [_area(r) > 0 for r in rings]
    if len(rings) == 1:
        return Nest(((0,),), (not turns[0],))
    shapes = [areal(shapely.Polygon(r)) for r in rings]
    inside = [s.representative_point() for s in shapes]
    around = [[j for j, s in enumerate(shapes) if j != i and s.area > shapes[i].area and s.contains(p)]
              for i, p in enumerate(inside)]
    holes: dict[int, list[int]] = {i: [] for i, a in enumerate(around) if len(a) % 2 == 0}
    for i, a in enumerate(around):
        if len(a) % 2:
            holes[min((j for j in a if j in holes), key=lambda j: shapes[j].area)].append(i)
    turned = tuple(t == (len(a) % 2 == 1) for t, a in zip(turns, around, strict=True))
    return Nest(tuple((i, *h) for i, h in holes.items()), turned)


def _area(flat: Floats) -> float:
    x, y = flat.T
    return float(x @ np.roll(y, -1) - y @ np.roll(x, -1)) / 2
