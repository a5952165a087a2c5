"""Figures of one outline against another: shared area, and distances there and back."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import shapely

from ..mesh.mesh import Floats
from ..mesh.topology import Ints

#: an outline is walked in so many steps
SAMPLES = 1500
_POLYGON = shapely.GeometryType.POLYGON


@dataclass(frozen=True)
class Walk:
    """Points along an outline, evenly spaced from corner to corner.

    Attributes:
        points: (n, 2), length: (n,) how much of the outline each stands for.
        ring: (n,) number of the ring each is on.
        off: (n,) distance to the other outline, signed: above 0 outside it.
        near: (n, 2) the nearest point of the other outline.
    """

    points: Floats
    length: Floats
    ring: Ints
    off: Floats
    near: Floats


@dataclass(frozen=True)
class Figures:
    """How two outlines agree, in the unit they are given in.

    Attributes:
        iou: intersection over union of the areas, 0 … 1.
        mean, worst: mean and largest distance between the outlines, there and back, the larger of the two.
        worst_at: where the worst is, None when there is nothing to compare.
        model, picture: the walks along both.
    """

    iou: float
    mean: float
    worst: float
    worst_at: tuple[float, float] | None
    model: Walk
    picture: Walk


def compare(model: shapely.Geometry, picture: shapely.Geometry, trusted: shapely.Geometry | None = None) -> Figures | None:
    """Figures of a model's outline against a picture's, within a trusted region; None when one has no area there.

    ``iou`` is the Jaccard index (P. Jaccard, 1901); ``worst`` the Hausdorff distance of the outlines, taken at their corners
    and at ``SAMPLES`` points between.
    """
    if trusted is not None:
        here, there = shapely.intersection(model, trusted), shapely.intersection(picture, trusted)
    else:
        here, there = model, picture
    if shapely.area(here) <= 0 or shapely.area(there) <= 0:
        return None
    both = shapely.area(shapely.intersection(here, there))
    either = shapely.area(here) + shapely.area(there) - both
    one, two = walk_along(model, picture, trusted), walk_along(picture, model, trusted)
    far = max((w for w in (one, two) if w.off.size), key=lambda w: np.abs(w.off).max(), default=None)
    if far is None:
        return Figures(float(both / either), 0.0, 0.0, None, one, two)
    at = int(np.abs(far.off).argmax())
    means = [float(np.average(np.abs(w.off), weights=w.length)) for w in (one, two) if w.off.size and w.length.sum() > 0]
    return Figures(float(both / either), max(means, default=0.0), float(np.abs(far.off[at])),
                   (float(far.points[at, 0]), float(far.points[at, 1])), one, two)


def walk_along(of: shapely.Geometry, other: shapely.Geometry, trusted: shapely.Geometry | None = None) -> Walk:
    """Walk one outline, looking at the other."""
    points, length, ring, _ = sampled(of)
    if trusted is not None:
        kept = inside(trusted, points)
        points, length, ring = points[kept], length[kept], ring[kept]
    if not len(points):
        return Walk(points, length, ring, np.zeros(0), points)
    near = nearest_on(points, other)
    off = np.hypot(*(points - near).T)
    return Walk(points, length, ring, np.where(inside(other, points), -off, off), near)


def sampled(outline: shapely.Geometry, count: int = SAMPLES) -> tuple[Floats, Floats, Ints, np.ndarray]:
    """Corners of an outline and points between: (n, 2), the length each stands for, its ring, whether it is a corner."""
    a, b, ring = segments(outline)
    size = np.hypot(*(b - a).T)
    total = size.sum()
    pieces = np.maximum(np.ceil(size * (count / max(total, 1e-300)) - 1e-9), 1).astype(np.int64)
    which = np.repeat(np.arange(len(a)), pieces)
    step = np.arange(which.size) - np.repeat(np.cumsum(pieces) - pieces, pieces)
    t = (step / pieces[which])[:, None]
    piece = size[which] / pieces[which]
    before = np.concatenate([piece[-1:], piece[:-1]])
    first = np.concatenate([[True], ring[which][1:] != ring[which][:-1]]) if which.size else np.zeros(0, bool)
    starts = np.flatnonzero(first)
    before[starts] = piece[np.append(starts[1:], which.size) - 1] if starts.size else before[starts]
    return a[which] + t * (b - a)[which], (piece + before) / 2, ring[which], step == 0


def corner_count(outline: shapely.Geometry) -> int:
    """How many corners an outline has, holes included."""
    return len(segments(outline)[0])


def segments(outline: shapely.Geometry) -> tuple[Floats, Floats, Ints]:
    """Straight pieces of an outline, holes included: their ends (n, 2) each, and the ring each belongs to."""
    parts = shapely.get_parts(outline)
    rings = shapely.get_rings(parts[shapely.get_type_id(parts) == _POLYGON])
    points, of = shapely.get_coordinates(rings, return_index=True)
    same = of[1:] == of[:-1]
    return points[:-1][same], points[1:][same], of[1:][same]


def nearest_on(points: Floats, outline: shapely.Geometry) -> Floats:
    """(n, 2) nearest point of an outline, holes included, to each of ``points`` (n, 2)."""
    lines = shapely.shortest_line(_prepared(shapely.boundary(outline)), shapely.points(points))
    out: Floats = shapely.get_coordinates(lines)[::2]
    return out


def inside(region: shapely.Geometry, points: Floats) -> np.ndarray:
    """(n,) which of ``points`` (n, 2) lie in a region or on its rim."""
    out: np.ndarray = shapely.intersects_xy(_prepared(region), points[:, 0], points[:, 1])
    return out


def _prepared(outline: shapely.Geometry) -> shapely.Geometry:
    shapely.prepare(outline)
    return outline
