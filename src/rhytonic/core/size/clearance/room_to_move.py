"""How much room a moving part has over the range of its joint."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ...errors import RhytonicError, UnknownName
from ...mesh.mesh import Floats, Mesh
from ...recipe.assembly import listed
from ...recipe.built import BuiltPart
from ...recipe.document import Document
from ...recipe.part import Group, Joint, Part
from ...recipe.place import Frame, frame_of_joint, frame_of_member, frame_of_placement
from ...units import METRES
from .movement import TOUCHING, Movement, speed_of
from .overlap import Body


class NothingToMeet(RhytonicError):
    """What moves, or what it could meet, has no faces."""

    code = "nothing_to_meet"


@dataclass(frozen=True)
class Clearance:
    """What a joint's movement meets.

    Attributes:
        least: the least distance in metres over the range, 0 where anything is met or rests on something; at: the joint's
            value there.
        touches: the first contact on the way from where the joint stands to ``from``, and to ``to``; None for never.
        touches_at: the one on the longer of these ways.
        where: (3,) the place of either, in the build.
        rests: whether something touches where the joint stands, which is no contact until it has come free.
    """

    least: float
    at: float
    touches: tuple[float | None, float | None]
    touches_at: float | None
    where: Floats
    rests: bool


def clearance(document: Document, mover: Part | Group, joint: Joint, moving: Sequence[tuple[Part, Mesh]],
              others: Sequence[Mesh], steps: int = 90) -> Clearance:
    """Room between what a joint moves and other parts, from where it stands to both ends of its range.

    Args:
        mover: the part or group that has the joint.
        moving: parts that move, each with its mesh in its own axes.
        others: meshes that stand still, in the build.
        steps: into how many the range is parted before it is looked at more closely.
    """
    inner = [Body(mesh.with_points(_below(document, part, mover).apply(mesh.points))) for part, mesh in moving]
    outer = _above(document, mover)
    metres = METRES[document.unit]
    points = np.concatenate([b.mesh.points for b in inner])
    speed = speed_of(joint.kind, np.asarray(joint.at) * metres, np.asarray(joint.axis, float), points, metres)
    sweep = Movement(inner, [Body(m) for m in others], lambda v: outer.after(frame_of_joint(joint, document.unit, v)),
                  speed * float(np.linalg.norm(outer.linear, 2)))
    whole = abs(joint.to - joint.from_)
    step = whole / max(steps, 1) or 1.0
    low, high = (sweep.first_contact(joint.now, end, step) for end in (joint.from_, joint.to))
    longer = high if abs(joint.to - joint.now) >= abs(joint.now - joint.from_) else low
    rests = sweep.at(joint.now).distance <= TOUCHING
    met = next((t for t in (longer, low, high) if t is not None), None)
    at = met if met is not None else joint.now if rests else \
        sweep.narrowest(min(joint.from_, joint.to), max(joint.from_, joint.to), max(steps, 1))
    found = sweep.at(at)
    least = 0.0 if met is not None or rests else found.distance
    return Clearance(least, at, (low, high), longer, found.ends.mean(axis=0), rests)


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
        NothingToMeet: what moves has no faces, as a curve has none.
    """
    mover, joint = mover_named(document, name)
    moves = {p.part.id for p in parts if p.part is mover or
             (isinstance(mover, Group) and any(g.id == mover.id for g in document.groups_of(p.part)))}
    for other in against or ():
        if document.part(other) is None:
            raise UnknownName(f"there is no part '{other}'")
    others = [p for p in parts if p.part.id not in moves and p.mesh.topology.face_count and
              (p.part.name in against or p.part.id in against if against is not None else not p.part.hidden)]
    if not others:
        curves = [p.part.name for p in parts if p.part.id not in moves and len(p.mesh.points) and
                  (against is None or p.part.name in against or p.part.id in against)]
        raise UnknownName(f"there is nothing to be clear of but curves, which have no faces to touch: {listed(curves)}"
                          if curves else "there is no other part to be clear of")
    moving = [(p.part, p.evaluation.surface.mesh) for p in parts
              if p.part.id in moves and p.evaluation.surface.mesh.topology.face_count]
    if not moving:
        raise NothingToMeet(f"'{mover.name}' has no faces that could touch anything; make faces of it first")
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
