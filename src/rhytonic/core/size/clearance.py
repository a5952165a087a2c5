"""How much room a moving part has over the range of its joint."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from ..errors import UnknownName
from ..mesh.mesh import Floats, Mesh
from ..mesh.triangulate import triangulate
from ..recipe.assembly import listed
from ..recipe.built import BuiltPart
from ..recipe.document import Document
from ..recipe.part import Group, Joint, Part
from ..recipe.place import Frame, frame_of_joint, frame_of_member, frame_of_placement
from ..units import METRES
from .nearest import BoxTree, Nearest, nearest

#: nearer than this, in metres, is touching
_TOUCHING = 1e-9
_BISECTIONS = 40
_GOLDEN = (np.sqrt(5) - 1) / 2


@dataclass(frozen=True)
class Clearance:
    """Least distance in metres, 0 where they cross; the joint's value there; the first value at which they touch, None if
    never; and (3,) the place of either, in the build."""

    least: float
    at: float
    touches_at: float | None
    where: Floats


def clearance(document: Document, mover: Part | Group, joint: Joint, moving: Sequence[tuple[Part, Mesh]],
              others: Sequence[Mesh], steps: int = 90) -> Clearance:
    """Room between what a joint moves and other parts, over the joint's range.

    The range is looked at in ``steps`` equal steps, by exact distances between triangles; the first touch is then found by
    bisection, the narrowest place without one by a golden section (J. Kiefer, Proc. AMS 4, 1953).

    Args:
        mover: the part or group that has the joint.
        moving: parts that move, each with its mesh in its own axes.
        others: meshes that stand still, in the build.
    """
    still = BoxTree(np.concatenate([_triangles(m) for m in others]))
    inner = np.concatenate([_below(document, part, mover).apply(_triangles(mesh).reshape(-1, 3)) for part, mesh in moving])
    movers = BoxTree(inner.reshape(-1, 3, 3))
    outer = _above(document, mover)
    room = _Room(movers, still, lambda value: outer.after(frame_of_joint(joint, document.unit, value)))
    speed = _speed(joint, inner, METRES[document.unit]) * float(np.linalg.norm(outer.linear, 2))

    values = np.linspace(joint.from_, joint.to, max(steps, 1) + 1)
    distances = _looked_at(room, values, speed)
    touching = np.flatnonzero(distances <= _TOUCHING)
    if touching.size:
        first = int(touching[0])
        touch = float(values[0]) if first == 0 else _first_touch(room, float(values[first - 1]), float(values[first]))
        return Clearance(0.0, touch, touch, room(touch).ends.mean(axis=0))
    narrow = int(distances.argmin())
    low, high = float(values[max(narrow - 1, 0)]), float(values[min(narrow + 1, len(values) - 1)])
    best = min((_narrowest(room, low, high), float(values[narrow])), key=lambda v: room(v).distance)
    if room(best).distance <= _TOUCHING:  # between two steps after all
        touch = _first_touch(room, low, best)
        return Clearance(0.0, touch, touch, room(touch).ends.mean(axis=0))
    return Clearance(room(best).distance, best, None, room(best).ends.mean(axis=0))


class _Room:
    """The room at a value of the joint, begun from where it was narrowest at the value before."""

    def __init__(self, movers: BoxTree, still: BoxTree, frame: Callable[[float], Frame]) -> None:
        self._movers, self._still, self._frame = movers, still, frame
        self._begin: tuple[int, int] | None = None
        self._known: dict[float, Nearest] = {}

    def __call__(self, value: float) -> Nearest:
        """All there is to know."""
        if value not in self._known:
            self._known[value] = self.within(value, np.inf)
        return self._known[value]

    def within(self, value: float, limit: float) -> Nearest:
        """The same where it is less than a limit, else the limit."""
        found = nearest(self._movers, self._frame(value), self._still, limit, self._begin)
        self._begin = found.pair or self._begin
        return found


def _speed(joint: Joint, points: Floats, metres: float) -> float:
    """How far any point moves, in metres, for one degree or one length of the joint."""
    axis = np.asarray(joint.axis, float)
    axis = axis / np.linalg.norm(axis)
    if joint.kind == "slide":
        return metres
    arm = points - np.asarray(joint.at) * metres
    return float(np.radians(1.0) * np.linalg.norm(arm - np.outer(arm @ axis, axis), axis=1).max())


def _looked_at(room: _Room, values: Floats, speed: float) -> Floats:
    """(n,) the least distance at each value, or less than it where that is proven to be more than the least of all.

    No point moves faster than ``speed``, so a distance known at one value bounds those around it from below (S. Piyavskii,
    USSR Computational Mathematics 12(4), 1972): values are halved, and looked at only where they might be narrower, or
    touch.
    """
    at_least = np.full(len(values), -np.inf)
    exact = np.full(len(values), np.inf)
    spans = [(0, len(values) - 1)]
    queue = [0, len(values) - 1]
    while spans:
        queue += [(a + b) // 2 for a, b in spans]
        spans = [s for a, b in spans for s in ((a, (a + b) // 2), ((a + b) // 2, b)) if s[1] - s[0] > 1]
    least, first = np.inf, len(values)
    for k in dict.fromkeys(queue):
        if k > first or at_least[k] > max(least, _TOUCHING):
            continue
        found = room.within(float(values[k]), np.inf if least == np.inf else max(least * 1.5, 1e-6)).distance
        exact[k] = found
        least = min(least, found)
        if found <= _TOUCHING:
            first = min(first, k)
        np.maximum(at_least, found - speed * np.abs(values - values[k]), out=at_least)
    return exact


def _first_touch(room: _Room, free: float, touching: float) -> float:
    for _ in range(_BISECTIONS):
        middle = (free + touching) / 2
        if room.within(middle, 2 * _TOUCHING).distance <= _TOUCHING:
            touching = middle
        else:
            free = middle
    return touching


def _narrowest(room: _Room, low: float, high: float) -> float:
    a, b = high - _GOLDEN * (high - low), low + _GOLDEN * (high - low)
    da, db = room(a).distance, room(b).distance
    for _ in range(_BISECTIONS):
        if da < db:
            high, b, db = b, a, da
            a = high - _GOLDEN * (high - low)
            da = room(a).distance
        else:
            low, a, da = a, b, db
            b = low + _GOLDEN * (high - low)
            db = room(b).distance
        if abs(high - low) < 1e-9:
            break
    return (low + high) / 2


def _triangles(mesh: Mesh) -> Floats:
    return mesh.points[triangulate(mesh)[0]]


def _below(document: Document, part: Part, mover: Part | Group) -> Frame:
    """From a part's own axes to those the mover's joint is told in."""
    frame = frame_of_placement(part.placement, document.unit)
    if isinstance(mover, Part):
        return Frame(np.eye(3), np.zeros(3))
    frame = frame_of_member(part, document.unit)
    for group in document.groups_of(part):
        if group.id == mover.id:
            return frame
        frame = frame_of_member(group, document.unit).after(frame)
    return frame


def _above(document: Document, mover: Part | Group) -> Frame:
    """From where the joint has moved it to the build."""
    frame = frame_of_placement(mover.placement, document.unit)
    for group in document.groups_of(mover):
        frame = frame_of_member(group, document.unit).after(frame)
    return frame


def clearance_among(document: Document, parts: Sequence[BuiltPart], name: str, against: Sequence[str] | None = None,
                    steps: int = 90) -> Clearance:
    """:func:`clearance` of a part or group of a build by its name or id.

    Args:
        parts: the build's parts, evaluated.
        against: names or ids of the parts to be clear of; all others that are seen where it is left out.

    Raises:
        UnknownName: there is none of a name, it has no joint, or there is nothing to be clear of.
    """
    mover, joint = mover_named(document, name)
    moves = {p.part.id for p in parts if p.part is mover or
             (isinstance(mover, Group) and any(g.id == mover.id for g in document.groups_of(p.part)))}
    for other in against or ():
        if document.part(other) is None:
            raise UnknownName(f"there is no part '{other}'")
    others = [p for p in parts if p.part.id not in moves and len(p.mesh.points) and
              (p.part.name in against or p.part.id in against if against is not None else not p.part.hidden)]
    if not others:
        raise UnknownName("there is no other part to be clear of")
    moving = [(p.part, p.evaluation.surface.mesh) for p in parts if p.part.id in moves]
    return clearance(document, mover, joint, moving, [p.mesh for p in others], steps)


def mover_named(document: Document, name: str) -> tuple[Part | Group, Joint]:
    """A part or group by its name or id, and its joint; a part without one takes that of its inmost group that has one.

    Raises:
        UnknownName: there is none of that name, or nothing moves it.
    """
    found: Part | Group | None = document.part(name) or next((g for g in document.groups if name in (g.id, g.name)), None)
    if found is None:
        raise UnknownName(f"there is no part or group '{name}'; there are "
                          f"{listed([p.name for p in document.parts] + [g.name for g in document.groups])}")
    for member in (found, *document.groups_of(found)):
        if member.joint is not None:
            return member, member.joint
    raise UnknownName(f"'{name}' has no joint; give it one, or name what has")
