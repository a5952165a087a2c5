"""The move of some vertices in a flat view that brings a model's outline nearest to a picture's.

Gauss–Newton on point-to-line distances, as in iterative closest point (Y. Chen, G. Medioni, Image and Vision Computing
10(3), 1992): the model's outline knows how it follows the vertices from two trial moves, its distances to the nearest points
of the picture are taken along the line between them, and the step is damped until the mean distance really falls.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
import scipy
import shapely

from ..brief.views import View, project
from ..mesh.mesh import Floats, Mesh
from .compare import Figures, compare, inside, sampled, walk_along
from .outline import outline

_ROUNDS = 8
_HALVINGS = 5
#: what follows the picked vertices so much leads the move
_FOLLOWS = 0.5
#: times the distance from the picture that a move may be long
_BEYOND = 2.0
#: metres: edges seen shorter than that have no direction
_LEAST = 1e-7

#: the meshes as they are with the picked vertices moved by so much across and up, in metres
Moved = Callable[[Floats], Sequence[Mesh]]


@dataclass(frozen=True)
class Nudge:
    """A suggested move in the plane of a view, metres, and the figures without and with it."""

    move: Floats
    before: Figures
    after: Figures


def nudge(moved: Moved, view: View, picture: shapely.Geometry, trusted: shapely.Geometry | None) -> Nudge | None:
    """The move that lowers the mean distance most; None where nothing on the outline follows or nothing gets better.

    What moves passes no neighbour: no edge turns back and no face turns over as the view sees them. It goes no farther than
    about as far as the picture is away from what follows.
    """
    here = np.zeros(2)
    start = moved(here)
    first = best = compare(outline(start, view), picture, trusted)
    if first is None or best is None:
        return None
    size = float(np.ptp(shapely.get_coordinates(picture), axis=0).max())
    passes = _Passing(start, view)
    reach: float | None = None
    for _ in range(_ROUNDS):
        wish = _step(moved, here, view, picture, trusted, 1e-4 * size)
        if wish is None or not np.isfinite(wish.step).all():
            break
        reach = wish.away if reach is None else reach
        step = wish.step
        better = None
        for _ in range(_HALVINGS):
            there = moved(here + step)
            allowed = float(np.hypot(*(here + step))) <= reach and not passes(there)
            trial = compare(outline(there, view), picture, trusted) if allowed else None
            if trial is not None and trial.mean < best.mean * (1 - 1e-9):
                better = trial
                break
            step = step / 2
        if better is None:
            break
        gained = best.mean - better.mean
        here, best = here + step, better
        if gained < 1e-4 * first.mean or np.abs(step).max() < 1e-9 * size:
            break
    return Nudge(here, first, best) if best.mean < first.mean * (1 - 1e-6) else None


@dataclass(frozen=True)
class _Wish:
    """A step in the plane, and how far from here a move may go, metres."""

    step: Floats
    away: float


class _Passing:
    """Whether what moves passes a neighbour as a view sees it: an edge that turns back, a face that turns over."""

    def __init__(self, start: Sequence[Mesh], view: View) -> None:
        self._view = view
        self._edges = [m.topology.edges for m in start]
        self._points = [project(m.points, view) for m in start]
        self._areas = [_areas(m, p) for m, p in zip(start, self._points, strict=True)]

    def __call__(self, there: Sequence[Mesh]) -> bool:
        for mesh, edges, before, areas in zip(there, self._edges, self._points, self._areas, strict=True):
            if mesh.points.shape[0] != before.shape[0]:
                return True
            now = project(mesh.points, self._view)
            if np.array_equal(now, before):
                continue
            was, is_ = before[edges[:, 1]] - before[edges[:, 0]], now[edges[:, 1]] - now[edges[:, 0]]
            seen = (was**2).sum(axis=1) > _LEAST**2
            turned = _areas(mesh, now)
            if (((was * is_).sum(axis=1) <= 0) & seen).any() or ((areas * turned < 0) & (np.abs(areas) > _LEAST**2)).any():
                return True
        return False


def _areas(mesh: Mesh, points: Floats) -> Floats:
    """(F,) twice the signed areas of faces, as the view sees them."""
    t = mesh.topology
    a, b = points[t.corners], points[t.corners[t.next_corner]]
    cross: Floats = a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]
    out: Floats = np.bincount(t.corner_face, cross, t.face_count).astype(float)
    return out


def _step(moved: Moved, here: Floats, view: View, picture: shapely.Geometry, trusted: shapely.Geometry | None,
          eps: float) -> _Wish | None:
    base = moved(here)
    points = np.concatenate([project(m.points, view) for m in base])
    follows = []
    for axis in np.eye(2):
        ahead = np.concatenate([project(m.points, view) for m in moved(here + eps * axis)])
        if ahead.shape != points.shape:
            return None
        follows.append((ahead - points) / eps)
    shape = outline(base, view)
    there = walk_along(shape, picture, trusted)
    if not there.off.size:
        return None
    follow = _along(shape, points, np.concatenate(follows, axis=1))
    if trusted is not None:
        follow = follow[inside(trusted, sampled(shape)[0])]
    off = there.near - there.points
    normal = off / np.maximum(np.hypot(*off.T), 1e-300)[:, None]
    matrix = (follow.reshape(-1, 2, 2) * normal[:, None]).sum(axis=2)
    weight = np.sqrt(there.length)
    acts = np.abs(matrix).max(axis=1) > 1e-6
    if not acts.any():
        return None
    found, *_ = np.linalg.lstsq((matrix * weight[:, None])[acts], (np.hypot(*off.T) * weight)[acts], rcond=1e-3)
    # what moves along an outline is nearer to it than to where it belongs
    lead = acts & (np.abs(matrix).max(axis=1) > _FOLLOWS)
    away = float(np.hypot(*off[lead if lead.any() else acts].T).max())
    return _Wish(found, _BEYOND * away)


def _along(shape: shapely.Geometry, points: Floats, follows: Floats) -> Floats:
    """(n, 4) how the sampled places of an outline follow: its corners as the vertices (V, 4) they are, what lies between
    them evenly."""
    places, _, ring, corner = sampled(shape)
    at = np.flatnonzero(corner)
    _, vertex = scipy.spatial.cKDTree(points).query(places[at])
    known = follows[vertex]
    out = np.empty((len(places), 4))
    for r in np.unique(ring):
        here, ends = np.flatnonzero(ring == r), np.flatnonzero(ring[at] == r)
        stops = np.append(at[ends], here[-1] + 1)  # round to the first corner again
        for k in range(4):
            out[here, k] = np.interp(here, stops, np.append(known[ends, k], known[ends[0], k]))
    return out
