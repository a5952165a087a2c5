"""Pieces put the right way up and beside each other."""

from __future__ import annotations

import numpy as np

from ...mesh.geometry import Floats
from ...mesh.mesh import Mesh
from ...mesh.topology import Ints

#: between neighbours, as a share of the square
GAP = 0.01
#: ways told apart in a quarter turn, and the share of a piece's edges that has to go one of them
_WAYS, _MOST_OF = 360, 0.25


def put_upright(mesh: Mesh, flat: Floats, piece: Ints) -> Floats:
    """(C, 2) each piece turned so that most of its edges lie along u and v, or else its smallest box does, by the quarter
    turn that brings the model's up nearest to v; what lies level has the back of the model up."""
    t = mesh.topology
    out = flat.copy()
    corner_piece = piece[t.corner_face]
    order = np.argsort(corner_piece, kind="stable")
    bounds = np.searchsorted(corner_piece[order], np.arange(piece.max(initial=-1) + 2))
    for number in range(bounds.size - 1):
        mine = order[bounds[number]:bounds[number + 1]]
        places = flat[mine]
        turn = _edge_angle(flat[t.next_corner[mine]] - places)
        if turn is None:
            turn = _box_angle(places)
        up = _upward(mesh, flat, mine)
        quarter = np.round((np.pi / 2 - (np.arctan2(up[1], up[0]) + turn)) / (np.pi / 2))
        out[mine] = turned_by(places, turn + quarter * np.pi / 2)
    return out


def turned_by(places: Floats, angle: float) -> Floats:
    """(n, 2) places turned counter-clockwise about the origin by an angle in radians; quarter turns to the last bit."""
    c, s = np.cos(angle), np.sin(angle)
    if abs(c) < 1e-12 or abs(s) < 1e-12:
        c, s = np.round(c), np.round(s)
    return np.stack([c * places[:, 0] - s * places[:, 1], s * places[:, 0] + c * places[:, 1]], axis=1)


def _edge_angle(edges: Floats) -> float | None:
    """By how much to turn edges (n, 2) for the way most of their length has to lie along the axes; None without one."""
    long = np.hypot(edges[:, 0], edges[:, 1])
    quarter = np.pi / 2
    angle = np.arctan2(edges[:, 1], edges[:, 0]) % quarter
    at = np.round(angle / quarter * _WAYS).astype(np.int64) % _WAYS
    best = int(np.argmax(np.bincount(at, long, _WAYS)))
    mine = at == best
    most = float(long[mine].sum())
    if most <= 0 or most < _MOST_OF * long.sum():
        return None
    near = angle[mine]
    near = np.where(near - best * quarter / _WAYS > quarter / 2, near - quarter, near)  # just under a quarter turn is none
    return -float((near * long[mine]).sum()) / most


def _box_angle(places: Floats) -> float:
    """By how much to turn places for their smallest box to lie along the axes (H. Freeman, R. Shapira, 1975: it has a side
    along the hull)."""
    import shapely

    hull = shapely.convex_hull(shapely.MultiPoint(places))
    if hull.geom_type != "Polygon":
        d = places[int(np.argmax(np.linalg.norm(places - places[0], axis=1)))] - places[0]
        return -float(np.arctan2(d[1], d[0]))
    ring = np.asarray(hull.exterior.coords)
    sides = np.diff(ring, axis=0)
    angle = np.arctan2(sides[:, 1], sides[:, 0]) % (np.pi / 2)
    angle = np.where(angle > np.pi / 2 - 1e-9, 0.0, angle)
    c, s = np.cos(-angle)[:, None], np.sin(-angle)[:, None]
    x, y = ring[:, 0] * c - ring[:, 1] * s, ring[:, 0] * s + ring[:, 1] * c
    area = np.ptp(x, axis=1) * np.ptp(y, axis=1)
    near = area <= area.min() * (1 + 1e-6)
    return -float(angle[near].min())


def _upward(mesh: Mesh, flat: Floats, corners: Ints) -> Floats:
    """(2,) the way a piece goes up on the model, as it lies now."""
    t = mesh.topology
    after = t.next_corner[corners]
    d, p = flat[after] - flat[corners], mesh.points[t.corners[after]] - mesh.points[t.corners[corners]]
    size = float((d**2).sum())
    if size < 1e-30:  # a point
        return np.array([0.0, 1.0])
    square = d.T @ d + 1e-12 * size * np.eye(2)
    gradients = np.linalg.solve(square, d.T @ p)  # (2, 3): how x, y, z grow along the two axes of the piece
    up = gradients[:, 1]
    if np.linalg.norm(up) < 0.2:
        up = -gradients[:, 2]
    if np.linalg.norm(up) < 1e-9:
        return np.array([0.0, 1.0])
    return np.asarray(up, np.float64)


def in_rows(low: Floats, high: Floats, order: Ints) -> tuple[Floats, float]:
    """Shift (n, 2) of boxes into rows without overlap, and the side of the square, from 0 on, that holds all.

    Args:
        low, high: (n, 2) corners of the boxes; order: (n,) in which they are laid.
    """
    size = high - low
    total = float(np.sqrt((size[:, 0] * size[:, 1]).sum())) or float(size.max(initial=0.0)) or 1.0
    best: tuple[Floats, float] | None = None
    for share in (1.0, 1.1, 1.2, 1.35, 1.5, 1.75, 2.0):
        width = max(total * share, float(size[:, 0].max(initial=0.0)))
        gap = GAP * width
        shift = np.empty_like(low)
        x = y = row = most = 0.0
        for i in order.tolist():
            if x > 0 and x + size[i, 0] > width:
                x, y, row = 0.0, y + row + gap, 0.0
            shift[i] = (x - low[i, 0], y - low[i, 1])
            x += size[i, 0] + gap
            row = max(row, size[i, 1])
            most = max(most, x - gap)
        side = max(most, y + row)
        if best is None or side < best[1]:
            best = shift, side
    assert best is not None
    return best[0], best[1] or 1.0


def boxes(flat: Floats, piece_of_corner: Ints) -> tuple[Floats, Floats]:
    """(n, 2) lowest and (n, 2) highest places of each piece."""
    n = int(piece_of_corner.max(initial=-1)) + 1
    low, high = np.full((n, 2), np.inf), np.full((n, 2), -np.inf)
    has = piece_of_corner >= 0
    np.minimum.at(low, piece_of_corner[has], flat[has])
    np.maximum.at(high, piece_of_corner[has], flat[has])
    return low, high


def steady_order(size: Floats) -> Ints:
    """(n,) tall pieces first, those of about the same height in the order of their faces, so that a number that changes a
    little upstream does not change places."""
    height = np.round(2 * np.log2(np.maximum(size[:, 1], 1e-12)))
    return np.lexsort((np.arange(len(size)), -height))
