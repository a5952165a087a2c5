"""Surfaces laid on the square as they are seen: from one side, from six, round an axis, or from a ball's middle."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from ...mesh.geometry import Floats, cross, lengths, unit
from ...mesh.mesh import Mesh
from ...mesh.topology import Ints

How = Literal["plane", "box", "cylinder", "sphere", "view"]

#: u and v of the six views, each seen from outside: front, back, right, left, top, bottom
_SIDES: tuple[tuple[tuple[float, float, float], tuple[float, float, float], tuple[float, float, float]], ...] = (
    ((0, 0, 1), (1, 0, 0), (0, 1, 0)), ((0, 0, -1), (-1, 0, 0), (0, 1, 0)), ((1, 0, 0), (0, 0, -1), (0, 1, 0)),
    ((-1, 0, 0), (0, 0, 1), (0, 1, 0)), ((0, 1, 0), (1, 0, 0), (0, 0, -1)), ((0, -1, 0), (1, 0, 0), (0, 0, 1)))


@dataclass(frozen=True)
class Projection:
    """How faces are laid out.

    Attributes:
        how: the kind of projection. axis: (3,) unit vector: towards the eye, or along the cylinder's or the ball's axis.
        up: (3,) which way v goes, seen along the axis; round an axis, where u is 0.
        centre: (3,) what a cylinder or a ball lies about.
        radius: metres of arc for one radian round a cylinder or a ball.
    """

    how: How
    axis: Floats
    up: Floats
    centre: Floats
    radius: float


def projection(mesh: Mesh, faces: Ints, how: How, axis: Sequence[float], up: Sequence[float] | None = None) -> Projection:
    """The projection of ``faces`` (n,) along ``axis`` (3,), its middle that of their box."""
    along = unit(np.array([axis], float))[0]
    t = mesh.topology
    points = mesh.points[t.corners[t.corners_of(faces)]]
    centre = (points.min(axis=0) + points.max(axis=0)) / 2
    if up is not None and np.linalg.norm(np.cross(up, along)) > 1e-9:
        way = np.array(up, float)
    elif how in ("cylinder", "sphere"):
        way = np.array([0.0, 0.0, 1.0] if abs(along[1]) > 0.9 else [0.0, 1.0, 0.0])  # u is 0 in front, or above
    else:
        way = _upward(along)
    way = way - along * (way @ along)
    p = Projection(how, along, unit(way[None])[0], centre, 1.0)
    return p if how not in ("cylinder", "sphere") else Projection(how, p.axis, p.up, centre, _radius(mesh, faces, p))


def _upward(axis: Floats) -> Floats:
    """v of the nearest of the six views, square to the axis."""
    sides = np.array(_SIDES)
    best = sides[int(np.argmax(np.round(sides[:, 0] @ axis, 9)))]
    up: Floats = best[2] - axis * (best[2] @ axis)
    return up


def laid_by(p: Projection, mesh: Mesh, faces: Ints) -> tuple[Floats, Ints]:
    """(c, 2) places in metres of the corners of ``faces`` (n,), and (c,) which of its sides each lies on: faces of one side
    hang together."""
    t = mesh.topology
    corners = t.corners_of(faces)
    face = np.repeat(np.arange(faces.size), t.sides[faces])
    points = mesh.points[t.corners[corners]]
    if p.how in ("plane", "view"):
        right = cross(p.up[None], p.axis[None])[0]
        return np.stack([points @ right, points @ p.up], axis=1), np.zeros(corners.size, np.int64)
    normals = mesh.normals[faces]
    if p.how == "box":
        sides = np.array(_SIDES)
        # a tie goes to the first: a bevel at 45° belongs to the front before the side, and to the side before the top
        side = np.argmax(np.round(normals @ sides[:, 0].T, 6), axis=1)
        frame = sides[side[face]]
        return np.stack([np.einsum("ij,ij->i", points, frame[:, k]) for k in (1, 2)], axis=1), side[face]
    right = cross(p.axis[None], p.up[None])[0]
    out, angle, height, level = _round(p, mesh, faces, points, face, right)
    if p.how == "sphere":
        away = np.hypot(*out.T)
        flat = np.stack([angle * p.radius, np.arctan2(height, away) * p.radius], axis=1)
        return flat, np.zeros(corners.size, np.int64)
    flat = np.stack([angle * p.radius, points @ p.axis], axis=1)
    side = np.where(~level, 0, np.where(normals @ p.axis > 0, 1, 2))
    cap = side[face] > 0
    # caps are seen from outside: the upper as it lies, the lower turned over
    flat[cap] = np.stack([out[cap, 1], np.where(side[face][cap] == 1, -1.0, 1.0) * out[cap, 0]], axis=1)
    return flat, side[face]


def _round(p: Projection, mesh: Mesh, faces: Ints, points: Floats, face: Ints,
           right: Floats) -> tuple[Floats, Floats, Floats, np.ndarray]:
    """Corners across the axis (c, 2), their angle about it (c,), within half a turn of their face's middle, their height
    along it (c,), and which faces (n,) lie across it.

    Angles grow counter-clockwise seen against the axis, from ``up`` on: the cut lies opposite.
    """
    rel = points - p.centre
    out = np.stack([rel @ p.up, rel @ right], axis=1)
    middle = mesh.face_centres[faces] - p.centre
    size = float(np.abs(rel).max(initial=0.0)) or 1.0
    there = np.arctan2(middle @ right, middle @ p.up)
    normals = mesh.normals[faces]
    on_axis = np.hypot(middle @ right, middle @ p.up) < 1e-9 * size
    there = np.where(on_axis, np.arctan2(normals @ right, normals @ p.up), there)
    angle = np.arctan2(out[:, 1], out[:, 0])
    at_pole = np.hypot(out[:, 0], out[:, 1]) < 1e-9 * size
    angle = np.where(at_pole, there[face], angle)
    angle += 2 * np.pi * np.round((there[face] - angle) / (2 * np.pi))
    level = np.abs(normals @ p.axis) > np.sqrt(0.5) + 1e-9
    return out, angle, rel @ p.axis, level


def _radius(mesh: Mesh, faces: Ints, p: Projection) -> float:
    """Metres round the axis for a radian: what keeps the lengths of the faces' edges, so that a polygon's own perimeter
    comes out; of a ball its mean radius."""
    t = mesh.topology
    corners = t.corners_of(faces)
    face = np.repeat(np.arange(faces.size), t.sides[faces])
    points = mesh.points[t.corners[corners]]
    if p.how == "sphere":
        return float(lengths(points - p.centre).mean()) or 1.0
    right = cross(p.axis[None], p.up[None])[0]
    out, angle, _, level = _round(p, mesh, faces, points, face, right)
    after = np.arange(1, corners.size + 1)
    after[np.cumsum(t.sides[faces]) - 1] = np.cumsum(t.sides[faces]) - t.sides[faces]
    turn = np.abs(angle[after] - angle)
    run = np.hypot(*(out[after] - out).T)
    good = ~level[face] & (turn > 1e-9)
    return float(run[good].sum() / turn[good].sum()) if good.any() else float(np.hypot(*out.T).mean()) or 1.0


def set_apart(flat: Floats, side: Ints, how: How) -> Floats:
    """(c, 2) the sides of one projection beside each other: a box unfolded about its front, caps above and below."""
    out = flat.copy()
    found = np.unique(side)
    low = {int(s): flat[side == s].min(axis=0) for s in found}
    size = {int(s): np.ptp(flat[side == s], axis=0) for s in found}
    gap = 0.02 * max(float(v.max()) for v in size.values())

    def put(s: int, x: float, y: float) -> None:
        out[side == s] += np.array([x, y]) - low[s]

    if how == "box":
        at, tall = 0.0, max((size[s][1] for s in (0, 1, 2, 3) if s in size), default=0.0)
        under = size[5][1] + gap if 5 in size else 0.0
        front = size[3][0] + gap if 3 in size else 0.0
        for s in (3, 0, 2, 1):  # left, front, right, back
            if s in size:
                put(s, at, under)
                at += size[s][0] + gap
        if 4 in size:
            put(4, front, under + tall + gap)
        if 5 in size:
            put(5, front, 0.0)
    elif how == "cylinder":
        lower = size[2][1] + gap if 2 in size else 0.0
        if 2 in size:
            put(2, 0.0, 0.0)
        if 0 in size:
            put(0, 0.0, lower)
        if 1 in size:
            put(1, 0.0, lower + (size[0][1] + gap if 0 in size else 0.0))
    out -= out.min(axis=0)
    return out
