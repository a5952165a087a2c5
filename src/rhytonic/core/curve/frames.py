"""Axes along a run of straight edges that turn as little as possible."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from .. import tolerance
from ..mesh.geometry import cross, lengths, loop_area_vectors, unit
from ..mesh.mesh import Floats


@dataclass(frozen=True, eq=False)
class Frames:
    """Axes of each straight edge of a run of n points: m edges, m = n − 1, or n where it is closed.

    Attributes:
        tangent, x, y: (m, 3) unit axes of each edge, x = y × tangent.
        along: (n,) metres from the start to each point.
        length: metres of the whole.
        left: radians that the axes are turned by after going round a closed run, before they are spread.
    """

    tangent: Floats
    x: Floats
    y: Floats
    along: Floats
    length: float
    left: float


def plane_normal(points: Floats, closed: bool) -> Floats | None:
    """(3,) unit normal of the plane that a run lies in, seen against which it runs counter-clockwise; None where it is
    straight, or bends out of every plane."""
    if len(points) < 3:
        return None
    centred = points - points.mean(axis=0)
    _, size, axes = np.linalg.svd(centred, full_matrices=False)
    if size[1] <= 1e-9 * size[0] or size[2] > 1e-9 * size[0]:
        return None
    normal: Floats = axes[2]
    area = loop_area_vectors(points, np.zeros(1, np.int64), np.array([len(points)]))[0] @ normal
    if abs(area) <= 1e-9 * size[0] ** 2:  # as much to the left as to the right: the side on which it turns first
        bend = cross(points[1:-1] - points[:-2], points[2:] - points[1:-1]) @ normal
        turning = bend[np.abs(bend) > 1e-12 * size[0] ** 2]
        area = turning[0] if turning.size else normal[int(np.argmax(np.abs(normal)))]
    return normal if area > 0 else -normal


def first_up(points: Floats, closed: bool, up: tuple[float, float, float] | None = None) -> Floats:
    """(3,) which way a profile's +y looks where a run starts: as told, else along the normal of its plane, else +y, or +z
    where it starts along y."""
    tangent = unit((points[1] - points[0])[None])[0]
    for wish in (None if up is None else np.asarray(up, float), plane_normal(points, closed) if up is None else None,
                 np.array([0.0, 1.0, 0.0]), np.array([0.0, 0.0, 1.0])):
        if wish is None:
            continue
        level = wish - tangent * (wish @ tangent)
        if np.linalg.norm(level) > 1e-6 * np.linalg.norm(wish):
            out: Floats = level / np.linalg.norm(level)
            return out
    raise AssertionError("two axes cannot both lie along one tangent")


def frames_along(points: Floats, closed: bool, up: tuple[float, float, float] | None = None) -> Frames:
    """Rotation-minimizing axes of a run: from each edge to the next they turn about the normal of both and no further.

    A mirror in the plane that halves the corner takes one edge's line to the next one's, so that sections drawn in these
    axes meet in that plane. J. Bloomenthal, Calculation of reference frames along a space curve, Graphics Gems, 1990.

    Args:
        points: (n, 3), no two neighbours alike.
    """
    ends = np.roll(points, -1, axis=0) if closed else points[1:]
    edges = ends - points[:len(ends)]
    size = lengths(edges)
    tangent = edges / size[:, None]
    m = len(tangent)
    y = np.empty((m, 3))
    y[0] = first_up(points, closed, up)
    turns = _least_turns(tangent[:-1], tangent[1:])
    for i in range(m - 1):  # each follows from the one before
        y[i + 1] = turns[i] @ y[i]
    y = unit(y - tangent * np.einsum("ij,ij->i", y, tangent)[:, None])
    left = 0.0
    if closed:
        back = _least_turns(tangent[-1:], tangent[:1])[0] @ y[-1]
        left = float(np.arctan2(cross(back, y[0]) @ tangent[0], back @ y[0]))
        if abs(left) < 1e-12:
            left = 0.0
    along = np.concatenate([[0.0], np.cumsum(size)])
    return Frames(tangent, cross(y, tangent), y, along[:len(points)], float(along[-1]), left)


def _least_turns(a: Floats, b: Floats) -> Floats:
    """(n, 3, 3) the least turn from each unit vector to another; half a turn where they are opposite.

    T. Möller, J. Hughes, Efficiently building a matrix to rotate one vector to another, Journal of Graphics Tools 4(4),
    1999.
    """
    v = cross(a, b)
    c = np.einsum("ij,ij->i", a, b)
    out = np.zeros((len(a), 3, 3))
    out[:, 0, 1], out[:, 0, 2], out[:, 1, 2] = -v[:, 2], v[:, 1], -v[:, 0]
    out -= out.transpose(0, 2, 1)
    scale = 1.0 / np.maximum(1.0 + c, tolerance.RANK)
    out += scale[:, None, None] * v[:, :, None] * v[:, None, :]
    out += c[:, None, None] * np.eye(3)
    return out


@dataclass(frozen=True, eq=False)
class Places:
    """Where one stands on a run: (k, 3) points and the (k, 3) axes there."""

    points: Floats
    tangent: Floats
    x: Floats
    y: Floats


def places_at(points: Floats, frames: Frames, distances: Floats, ends: tuple[Floats, Floats] | None) -> Places:
    """Points and axes at (k,) distances from the start; at a point of the run, the axes halfway between those of its edges.

    Args:
        ends: tangents at the ends of an open run; None for a closed one. What is left over round that is spread by distance.
    """
    closed, near = ends is None, tolerance.TIE * max(frames.length, 1.0)
    knots = np.append(frames.along, frames.length) if closed else frames.along
    edge = np.clip(np.searchsorted(knots, distances, side="right") - 1, 0, len(frames.tangent) - 1)
    here = points[edge] + frames.tangent[edge] * (distances - knots[edge])[:, None]
    before = np.where(np.abs(distances - knots[edge]) < near, edge - 1, edge)
    if closed:
        before %= len(frames.tangent)
        after = np.where(distances >= frames.length - near, 0, edge)
    else:
        before, after = np.maximum(before, 0), edge
    tangent = unit(frames.tangent[before] + frames.tangent[after])
    if ends is not None:
        tangent[distances <= near], tangent[distances >= frames.length - near] = ends
    y = frames.y[before] + frames.y[after]
    y = unit(y - tangent * np.einsum("ij,ij->i", y, tangent)[:, None])
    if frames.left:
        angle = frames.left * distances / frames.length
        y = y * np.cos(angle)[:, None] + cross(tangent, y) * np.sin(angle)[:, None]
    return Places(here, tangent, cross(y, tangent), y)
