"""Outlines of pictures, as polygons in picture widths: across from the middle, up from the lower edge."""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np
import shapely

from ..brief.tracing import Stroke, Tracing
from ..mesh.mesh import Floats
from .coverage import coverage
from .decode import BadPicture, Picture, Raster

EMPTY: shapely.Polygon = shapely.Polygon()

#: pictures are traced at no more than so many pixels a side: half-covered pixels keep the outline finer than that
TRACED_SIDE = 2400
#: how far, in pixels, a traced outline is simplified
_SIMPLE = 0.2
#: more corners than this are simplified further
MOST_CORNERS = 12_000


def trace(picture: Picture, tracing: Tracing, crop: tuple[float, float, float, float] = (0, 0, 1, 1),
          opaque: bool = False) -> shapely.Geometry:
    """The outline of what a picture shows, strokes painted in and out.

    Raises:
        BadPicture: nothing stands out from the background.
    """
    covered = coverage(picture, tracing, crop, opaque)
    found = contours(covered) if covered.max(initial=0) > 0.5 else EMPTY
    painted = paint(without_noise(found, tracing.least), tracing.strokes)
    if shapely.area(painted) <= 0:
        raise BadPicture("nothing in the picture stands out from its background; choose the background's colour, a lower "
                         "threshold, or paint the outline in")
    tolerance = _SIMPLE / covered.shape[1]
    while shapely.get_num_coordinates(painted) > MOST_CORNERS:
        painted, tolerance = shapely.simplify(painted, tolerance), tolerance * 2
    return painted


def without_noise(region: shapely.Geometry, least: float) -> shapely.Geometry:
    """A region without pieces and holes smaller than a share of its largest piece."""
    pieces = [g for g in shapely.get_parts(region) if shapely.get_type_id(g) == shapely.GeometryType.POLYGON]
    if least <= 0 or not pieces:
        return region
    smallest = least * max(shapely.area(p) for p in pieces)
    kept = []
    for piece in pieces:
        if shapely.area(piece) >= smallest:
            holes = [h for h in piece.interiors if shapely.area(shapely.Polygon(h)) >= smallest]
            kept.append(shapely.Polygon(piece.exterior, holes))
    return shapely.union_all(kept)


def contours(covered: Raster) -> shapely.Geometry:
    """Polygons round pixels that are more than half covered; between pixels the line stands where half would be.

    Marching squares: W. Lorensen, H. Cline, Computer Graphics 21(4), 1987, in the plane.
    """
    from skimage.measure import find_contours  # brings much along that only tracing needs

    rows, columns = covered.shape
    rings = []
    for found in find_contours(np.pad(covered, 1), 0.5):
        if len(found) > 3:
            rings.append(np.stack([(found[:-1, 1] - 0.5) / columns - 0.5, (rows - (found[:-1, 0] - 0.5)) / columns], axis=1))
    return shapely.simplify(from_rings(rings), _SIMPLE / columns)


def from_rings(rings: Iterable[Floats]) -> shapely.Geometry:
    """A region from rings (n, 2) in any order and direction: a point in an odd number of them is inside."""
    out = EMPTY
    polygons = [shapely.make_valid(shapely.Polygon(r)) for r in rings if len(r) > 2]
    polygons.sort(key=shapely.area, reverse=True)
    if len(polygons) < 2:
        return polygons[0] if polygons else out
    tree = shapely.STRtree(polygons)
    inner, outer = tree.query([shapely.point_on_surface(p) for p in polygons], predicate="within")
    depth = np.bincount(inner[outer < inner], minlength=len(polygons))  # only a larger one can hold another
    shells = shapely.union_all([p for p, d in zip(polygons, depth, strict=True) if d % 2 == 0])
    holes = shapely.union_all([p for p, d in zip(polygons, depth, strict=True) if d % 2])
    return shapely.difference(shells, holes) if depth.max() < 2 else _in_turn(polygons, depth)


def _in_turn(polygons: list[shapely.Geometry], depth: np.ndarray) -> shapely.Geometry:
    """Islands in holes: level by level."""
    out = EMPTY
    for level in range(int(depth.max()) + 1):
        here = shapely.union_all([p for p, d in zip(polygons, depth, strict=True) if d == level])
        out = shapely.difference(out, here) if level % 2 else shapely.union(out, here)
    return out


def to_rings(outline: shapely.Geometry) -> list[Floats]:
    """Rings (n, 2) of polygons, not closed, shells and holes alike."""
    polygons = [g for g in shapely.get_parts(outline) if shapely.get_type_id(g) == shapely.GeometryType.POLYGON]
    return [shapely.get_coordinates(r)[:-1] for p in polygons for r in shapely.get_rings(p)]


def paint(region: shapely.Geometry, strokes: Iterable[Stroke]) -> shapely.Geometry:
    """A region with strokes of a round brush painted in and out, one after the other."""
    for stroke in strokes:
        at = np.round(np.asarray(stroke.points, float), 9)  # what lies closer than that makes no line,
        if stroke.radius < 1e-6:  # and a brush finer than a millionth of the picture no mark
            continue
        line = shapely.LineString(at) if len(at) > 1 else shapely.Point(at[0])
        brush = shapely.buffer(line, stroke.radius, quad_segs=12)
        region = shapely.union(region, brush) if stroke.paint == "in" else shapely.difference(region, brush)
    return region
