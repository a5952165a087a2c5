"""Meshes out of what files tell: judged first, then put together."""

from __future__ import annotations

import numpy as np

from ...mesh.mesh import Floats, Mesh
from ...mesh.topology import Ints, Topology
from ...mesh.uv import UV, uv_attribute
from ..limits import MOST_CORNERS, MOST_FACES, MOST_VERTICES, BadModel, refuse_more

#: as far as anything may lie, in the file's own unit; a place beyond it is a broken number
FARTHEST = 1e9


def mesh_of(points: Floats, offsets: Ints, corners: Ints, uv: Floats | None = None) -> Mesh:
    """The mesh of a file's polygons.

    A corner that repeats the one before it is dropped, and a face left with fewer than three corners, or that visits a
    vertex twice, is dropped too: no face of a mesh does so. Vertices that no face uses go.

    Args:
        points: (n, 3); offsets (f + 1,) and corners (c,) in ragged form, indices from 0.
        uv: (c, 2) places of the corners on the texture square, NaN for none.

    Raises:
        BadModel: too much of anything, a coordinate that is no number, or a corner that names no vertex.
    """
    refuse_more(len(points), MOST_VERTICES, "vertices")
    refuse_more(len(offsets) - 1, MOST_FACES, "faces")
    refuse_more(len(corners), MOST_CORNERS, "corners")
    if not (np.isfinite(points).all() and (np.abs(points) <= FARTHEST).all()):
        at = int(np.flatnonzero(~(np.isfinite(points) & (np.abs(points) <= FARTHEST)).all(axis=1))[0])
        told = ", ".join(f"{v:g}" for v in points[at].tolist())
        raise BadModel(f"vertex {at + 1} of the file lies nowhere, at ({told}); mend it where the file was made")
    if corners.size and (corners.min() < 0 or corners.max() >= len(points)):
        at = int(np.flatnonzero((corners < 0) | (corners >= len(points)))[0])
        face = int(np.searchsorted(offsets, at, side="right"))
        raise BadModel(f"face {face} of the file names a vertex that is not there; there are {len(points)}")
    before, ahead = corners, _following(offsets, corners)
    offsets, corners, _ = sound(offsets, corners)
    used = np.zeros(len(points), bool)
    used[corners] = True
    number = np.cumsum(used) - 1
    kept = np.ascontiguousarray(points[used], np.float64) + 0.0  # one zero, not two
    topology = Topology.of(len(kept), offsets, number[corners])
    if uv is None or not np.isfinite(uv).all(axis=1).any():
        return Mesh(kept, topology)
    near = np.asarray((np.abs(uv) <= FARTHEST).all(axis=1))
    uv = np.where(near[:, None], uv, np.nan)
    place = places_on(before, ahead, uv, corners, corners[topology.next_corner])
    return Mesh(kept, topology, attributes={UV: uv_attribute(place)})


def _following(offsets: Ints, corners: Ints) -> Ints:
    """(c,) the corner after each, round ragged faces."""
    after = np.arange(corners.size) + 1
    filled = np.diff(offsets) > 0
    after[offsets[1:][filled] - 1] = offsets[:-1][filled]
    return corners[after]


def places_on(before: Ints, ahead: Ints, uv: Floats, corners: Ints, next_corners: Ints) -> Floats:
    """(c, 2) places of new corners: each takes that of the old corner from which the same side of a face begins.

    Args:
        before, ahead: (b,) vertices at which the old sides begin and end; uv: (b, 2) their places.
        corners, next_corners: (c,) the same of the new sides.
    """
    bound = int(max(before.max(initial=0), ahead.max(initial=0), corners.max(initial=0))) + 1
    keys = before * bound + ahead
    order = np.argsort(keys, kind="stable")
    wanted = corners * bound + next_corners
    at = np.minimum(np.searchsorted(keys[order], wanted), max(order.size - 1, 0))
    out: Floats = np.where((keys[order[at]] == wanted)[:, None], uv[order[at]], np.nan)
    return out


def sound(offsets: Ints, corners: Ints) -> tuple[Ints, Ints, Ints]:
    """Faces as a mesh may have them: a corner that repeats the one before it goes, and so does a face left with fewer than
    three corners, or that visits a vertex twice.

    Returns:
        offsets (f' + 1,) and corners of the faces that stay, and (f',) which they were.
    """
    sides = np.diff(offsets)
    face = np.repeat(np.arange(sides.size), sides)
    after = np.arange(corners.size) + 1
    last = offsets[1:][sides > 0] - 1
    after[last] = offsets[:-1][sides > 0]
    keep = corners != corners[after]
    keep |= np.repeat(sides == 1, sides)
    face, corners = face[keep], corners[keep]
    sides = np.bincount(face, minlength=sides.size)
    order = np.lexsort((corners, face))
    twice = (np.diff(face[order]) == 0) & (np.diff(corners[order]) == 0)
    good = sides >= 3
    good[face[order][1:][twice]] = False
    stay = good[face]
    return np.concatenate([[0], np.cumsum(sides[good])]), corners[stay], np.flatnonzero(good)


def points_joined(points: Floats, corners: Ints) -> tuple[Floats, Ints]:
    """Points that stand on the very same place made one, in the order they come first: for formats that tell a vertex again
    for every face or normal it has.

    Returns:
        The points that stay, (m, 3), and the corners by their numbers.
    """
    if not len(points):
        return points, corners
    rows = np.ascontiguousarray(points + 0.0)
    _, first, number = np.unique(rows.view(np.dtype((np.void, rows.dtype.itemsize * 3))).ravel(), return_index=True,
                                 return_inverse=True)
    order = np.argsort(first)
    rank = np.empty(order.size, np.int64)
    rank[order] = np.arange(order.size)
    return points[first[order]], rank[number.ravel()][corners]
