"""Where every element comes from in the base form, and which step made it: what a pick means beside its ids.

A vertex keeps the place it has in the form, in fractions of the form's box, whatever moves it afterwards; one that a step
makes stands at the weighted mean of those it comes of. So a face can be found again when its form has other counts.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from scipy.sparse import csr_array

from ..mesh.geometry import Floats
from ..mesh.topology import Ints
from ..waiting import check
from .history import History

Sources = Ints | csr_array


@dataclass(frozen=True)
class Origins:
    """Of the mesh after a history's last step.

    Attributes:
        rest: (V, 3) place in the form, fractions of its box; nan where there is none.
        vertex_maker, face_maker: (V,), (F,) number of the record that made each.
        round: whether the form stands round an upright axis, its places as :func:`in_round` tells them.
    """

    rest: Floats
    vertex_maker: Ints
    face_maker: Ints
    round: bool = False


@dataclass(frozen=True)
class Carrying:
    """How one step hands origins on: old elements that stay (−1 for new ones), and where new vertices come from.

    A step that brings elements of other parts in numbers them behind those of the part: they have no place in its form,
    nor has what is made of them.
    """

    kept_vertices: Ints
    kept_faces: Ints
    vertex_source: Callable[[], Sources]

    def __call__(self, above: Origins, number: int) -> Origins:
        kept = self.kept_vertices
        source = self.vertex_source()
        own = len(above.rest)
        if isinstance(source, np.ndarray):
            here = (source >= 0) & (source < own)
            rest = np.full((source.size, 3), np.nan)
            rest[here] = above.rest[source[here]]
        else:
            foreign = np.full((source.shape[1] - own, 3), np.nan)
            rest = source @ np.concatenate([above.rest, foreign])
        return Origins(rest, _maker(kept, above.vertex_maker, number), _maker(self.kept_faces, above.face_maker, number),
                       above.round)


def _maker(kept: Ints, above: Ints, number: int) -> Ints:
    if not above.size:
        return np.full(kept.size, number)
    return np.where((kept >= 0) & (kept < above.size), above[np.clip(kept, 0, above.size - 1)], number)


def as_fractions(points: Floats) -> Floats:
    """(V, 3) points as fractions of their box; the middle along an axis that has no extent."""
    if not len(points):
        return points
    low, high = points.min(axis=0), points.max(axis=0)
    span = high - low
    flat = span <= 1e-12 * max(float(span.max()), 1e-300)
    out: Floats = np.where(flat, 0.5, (points - low) / np.where(flat, 1.0, span))
    return out


def in_round(points: Floats, start: float = 0.0) -> Floats:
    """(V, 3) points of a form round an upright axis through the origin as fractions: of its largest circle, and of its
    height. Other counts of sides leave the circle what it is, while the box would follow their corners; and where the form
    starts, in degrees, leaves all as it is."""
    if start:
        c, s = np.cos(np.radians(start)), np.sin(np.radians(start))
        points = points @ np.array([[c, 0.0, s], [0.0, 1.0, 0.0], [-s, 0.0, c]])
    out = as_fractions(points)
    if len(points):
        reach = max(float(np.hypot(points[:, 0], points[:, 2]).max()), 1e-300)
        out[:, [0, 2]] = 0.5 + points[:, [0, 2]] / (2 * reach)
    return out


def unrolled(places: Floats, about: Floats) -> Floats:
    """(…, k, 3) places round an axis as a strip rolled off it: along the largest circle from where ``about`` (3,) lies, up,
    and away from the axis. The k of a row are told from its outermost, on whichever side of the seam that is."""
    x, z = places[..., 0] - 0.5, places[..., 2] - 0.5
    away = np.hypot(x, z)
    turn = np.arctan2(z, x) - np.arctan2(about[2] - 0.5, about[0] - 0.5)
    lead = _wrapped(np.take_along_axis(turn, away.argmax(axis=-1)[..., None], axis=-1))
    turn = lead + np.where(away > 1e-6, _wrapped(turn - lead), 0.0)
    out: Floats = np.stack([turn * 0.5, places[..., 1], away], axis=-1)
    return out


def _wrapped(angle: Floats) -> Floats:
    out: Floats = (angle + np.pi) % (2 * np.pi) - np.pi
    return out


def origins(history: History) -> Origins | None:
    """Origins after all steps of a history, worked out once; None where its form's places are not known."""
    missing: list[History] = []
    at: History | None = history
    while at is not None and "origins" not in at.remembered:
        missing.append(at)
        at = at.above
    found: Origins | None = None if at is None else at.remembered["origins"]
    for at in reversed(missing):
        check()
        number = len(at.records) - 1
        if "rest" in at.remembered:
            rest, faces, is_round = at.remembered["rest"]
            found = Origins(rest, np.full(len(rest), number), np.full(faces, number), is_round)
        elif found is not None and number >= 0:
            carrying = at.records[number].carrying
            found = found if carrying is None else carrying(found, number)
        at.remembered["origins"] = found
    return found


def rest_of(history: History) -> Floats | None:
    """(V, 3) places in the form after all steps of a history; None where they are not known."""
    found = origins(history)
    return None if found is None or not len(found.rest) else found.rest
