"""How much room a moving part has over the range of its joint."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from ..errors import UnknownName
from ..mesh.mesh import Floats, Mesh
from ..mesh.triangulate import triangulate
from ..recipe.assembly import listed
from ..recipe.document import Document
from ..recipe.part import Group, Joint, Part
from ..recipe.place import Frame, frame_of_joint, frame_of_member, frame_of_placement
from .nearest import nearest_pair

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

    The range is looked at in ``steps`` equal steps, each by exact distances between triangles; the first touch is then found
    by bisection, the narrowest place without one by a golden section (J. Kiefer, Proc. AMS 4, 1953).

    Args:
        mover: the part or group that has the joint.
        moving: parts that move, each with its mesh in its own axes.
        others: meshes that stand still, in the build.
    """
    still = np.concatenate([_triangles(m) for m in others])
    inner = [(_below(document, part, mover), _triangles(mesh)) for part, mesh in moving]
    outer = _above(document, mover)

    def at(value: float) -> tuple[float, Floats]:
        frame = outer.after(frame_of_joint(joint, document.unit, value))
        turned = np.concatenate([frame.after(f).apply(t.reshape(-1, 3)).reshape(-1, 3, 3) for f, t in inner])
        distance, ends = nearest_pair(turned, still)
        return distance, ends.mean(axis=0)

    values = np.linspace(joint.from_, joint.to, max(steps, 1) + 1)
    found = [at(float(v)) for v in values]
    distances = np.array([d for d, _ in found])
    touching = np.flatnonzero(distances <= _TOUCHING)
    if touching.size:
        first = int(touching[0])
        touch = float(values[0]) if first == 0 else _first_touch(at, float(values[first - 1]), float(values[first]))
        return Clearance(0.0, touch, touch, at(touch)[1])
    narrow = int(distances.argmin())
    low, high = float(values[max(narrow - 1, 0)]), float(values[min(narrow + 1, steps)])
    value = _narrowest(at, low, high)
    least, where = min((at(value), value), (found[narrow], float(values[narrow])), key=lambda row: row[0][0])[0]
    if least <= _TOUCHING:  # between two steps after all
        touch = _first_touch(at, low, value)
        return Clearance(0.0, touch, touch, at(touch)[1])
    best = value if at(value)[0] <= distances[narrow] else float(values[narrow])
    return Clearance(least, best, None, where)


def _first_touch(at: Callable[[float], tuple[float, Floats]], free: float, touching: float) -> float:
    for _ in range(_BISECTIONS):
        middle = (free + touching) / 2
        if at(middle)[0] <= _TOUCHING:
            touching = middle
        else:
            free = middle
    return touching


def _narrowest(at: Callable[[float], tuple[float, Floats]], low: float, high: float) -> float:
    a, b = high - _GOLDEN * (high - low), low + _GOLDEN * (high - low)
    da, db = at(a)[0], at(b)[0]
    for _ in range(_BISECTIONS):
        if da < db:
            high, b, db = b, a, da
            a = high - _GOLDEN * (high - low)
            da = at(a)[0]
        else:
            low, a, da = a, b, db
            b = low + _GOLDEN * (high - low)
            db = at(b)[0]
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
