"""Parts and groups put against each other: moves that line them up, stand them on something, spread them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from ..errors import RhytonicError
from ..mesh.mesh import Floats
from ..recipe.document import Document
from ..recipe.part import Group, Part
from ..recipe.place import IDENTITY, Frame, frame_of_member

Side = Literal["on", "under", "left", "right", "front", "behind", "inside"]
Place = Literal["low", "middle", "high"]
#: axis, and whether what moves comes to the higher side of the other
_SIDES: dict[Side, tuple[int, bool]] = {"on": (1, True), "under": (1, False), "left": (0, False), "right": (0, True),
                                        "front": (2, True), "behind": (2, False)}


class CannotLineUp(RhytonicError):
    """Parts that cannot be put as asked."""

    code = "cannot_line_up"


@dataclass(frozen=True)
class Bounds:
    """How far something reaches in the build, in metres: corners (3,)."""

    low: Floats
    high: Floats

    @property
    def middle(self) -> Floats:
        """(3,) of the box."""
        out: Floats = (self.low + self.high) / 2
        return out


def bounds_of(points: Sequence[Floats]) -> Bounds:
    """Round sets of points (n, 3). Raises CannotLineUp where there are none."""
    there = [p for p in points if len(p)]
    if not there:
        raise CannotLineUp("there is nothing of it to be put anywhere")
    return Bounds(np.min([p.min(axis=0) for p in there], axis=0), np.max([p.max(axis=0) for p in there], axis=0))


def onto_floor(b: Bounds) -> Floats:
    """(3,) the move that stands something on y = 0."""
    return np.array([0.0, -b.low[1], 0.0])


def centred(b: Bounds, axes: Sequence[int]) -> Floats:
    """(3,) the move that brings the middle to 0 along some axes."""
    out = np.zeros(3)
    out[list(axes)] = -b.middle[list(axes)]
    return out


def onto_grid(b: Bounds, step: float) -> Floats:
    """(3,) the least move that brings the lower corner onto a grid."""
    out: Floats = np.round(b.low / step) * step - b.low
    return out


def stand_against(b: Bounds, other: Bounds, side: Side) -> Floats:
    """(3,) the move that stands something on, under or against another, box to box; or puts its middle into the other's."""
    if side == "inside":
        inner: Floats = other.middle - b.middle
        return inner
    axis, above = _SIDES[side]
    move = np.zeros(3)
    move[axis] = other.high[axis] - b.low[axis] if above else other.low[axis] - b.high[axis]
    return move


def aligned(b: Bounds, other: Bounds, axis: int, place: Place) -> Floats:
    """(3,) the move along an axis that brings lower ends, middles or upper ends to the same coordinate."""
    move = np.zeros(3)
    ends = {"low": (other.low, b.low), "middle": (other.middle, b.middle), "high": (other.high, b.high)}
    to, now = ends[place]
    move[axis] = to[axis] - now[axis]
    return move


def spread(bounds: Mapping[str, Bounds], axis: int, by: Literal["gaps", "centres"]) -> dict[str, Floats]:
    """Moves (3,) along an axis that space things evenly between the outer two, which stay: with equal gaps, or equal
    distances of middles.

    Raises:
        CannotLineUp: fewer than three.
    """
    if len(bounds) < 3:
        raise CannotLineUp("spreading takes three or more: the outer two stay, those between are spread")
    order = sorted(bounds, key=lambda k: (bounds[k].middle[axis], k))
    first, last = bounds[order[0]], bounds[order[-1]]
    out = {k: np.zeros(3) for k in order}
    if by == "centres":
        for k, share in zip(order, np.linspace(0, 1, len(order)), strict=True):
            middle = first.middle[axis] * (1 - share) + last.middle[axis] * share
            out[k][axis] = middle - bounds[k].middle[axis]
    else:
        room = last.low[axis] - first.high[axis]
        inner = order[1:-1]
        gap = (room - sum(bounds[k].high[axis] - bounds[k].low[axis] for k in inner)) / (len(inner) + 1)
        at = first.high[axis]
        for k in inner:
            out[k][axis] = at + gap - bounds[k].low[axis]
            at += gap + bounds[k].high[axis] - bounds[k].low[axis]
    out[order[0]][:] = out[order[-1]][:] = 0.0
    return out


def frame_above(document: Document, member: Part | Group) -> Frame:
    """From the axes that a member's placement is told in to the build's."""
    frame = IDENTITY
    for group in document.groups_of(member):
        frame = frame_of_member(group, document.unit).after(frame)
    return frame


def moved_by(document: Document, member: Part | Group, move: Floats, metres: float) -> tuple[float, float, float]:
    """The ``translate`` of a member's placement after a move (3,) of the build, in metres."""
    linear = frame_above(document, member).linear
    own = move if (linear == np.eye(3)).all() else np.linalg.solve(linear, move)
    x, y, z = (round(float(v), 10) + 0.0 for v in np.asarray(member.placement.translate) + own / metres)
    return x, y, z
