"""Where parts stand in their build: joints, placements and groups put together."""

from __future__ import annotations

import functools
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from ..curve.curve import Curve
from ..mesh.geometry import about, rotation
from ..mesh.mesh import Floats, Mesh
from ..units import METRES, Unit
from .part import Group, Joint, Part, Placement

if TYPE_CHECKING:
    from .document import Document


@dataclass(frozen=True, eq=False)
class Frame:
    """An affine map from one set of axes to another, in metres: ``linear`` (3, 3), then ``shift`` (3,)."""

    linear: Floats
    shift: Floats

    @property
    def is_identity(self) -> bool:
        """Whether it moves nothing."""
        return bool((self.linear == np.eye(3)).all() and (self.shift == 0).all())

    @property
    def is_rigid(self) -> bool:
        """Whether it only turns and moves."""
        return bool(np.abs(self.linear @ self.linear.T - np.eye(3)).max() < 1e-12 and np.linalg.det(self.linear) > 0)

    def after(self, first: Frame) -> Frame:
        """This map after another."""
        return Frame(self.linear @ first.linear, self.linear @ first.shift + self.shift)

    def into(self, other: Frame) -> Frame:
        """From this map's own axes to those of ``other``; exact where only a move lies between them."""
        if (self.linear == other.linear).all():
            by = self.shift - other.shift
            inverse = np.eye(3) if (other.linear == np.eye(3)).all() else np.linalg.inv(other.linear)
            return Frame(np.eye(3), inverse @ by)
        inverse = np.linalg.inv(other.linear)
        return Frame(inverse @ self.linear, inverse @ (self.shift - other.shift))

    def apply(self, points: Floats) -> Floats:
        """(n, 3) points mapped; the same array where nothing moves."""
        if self.is_identity:
            return points
        out: Floats = points @ self.linear.T + self.shift
        return out


IDENTITY = Frame(np.eye(3), np.zeros(3))


@functools.lru_cache(4096)
def linear_part(placement: Placement) -> Floats:
    """(3, 3) Rz·Ry·Rx·S, read-only."""
    out: Floats = rotation(placement.rotate) @ np.diag(placement.scale)
    out.flags.writeable = False
    return out


def frame_of_placement(placement: Placement, unit: Unit) -> Frame:
    """A placement alone."""
    return Frame(linear_part(placement), np.asarray(placement.translate) * METRES[unit])


def frame_of_joint(joint: Joint | None, unit: Unit, now: float | None = None) -> Frame:
    """What a joint does at its present value, or at another."""
    if joint is None:
        return IDENTITY
    value = joint.now if now is None else now
    axis = np.asarray(joint.axis, float)
    axis = axis / np.linalg.norm(axis)
    if joint.kind == "slide":
        return Frame(np.eye(3), axis * value * METRES[unit])
    if value == 0.0:
        return IDENTITY
    at = np.asarray(joint.at) * METRES[unit]
    turn = about((float(axis[0]), float(axis[1]), float(axis[2])), value)
    return Frame(turn, at - turn @ at)


def frame_of_member(member: Part | Group, unit: Unit) -> Frame:
    """A part's or group's own joint, then its placement."""
    own = frame_of_placement(member.placement, unit)
    return own if member.joint is None else own.after(frame_of_joint(member.joint, unit))


def frame_of(document: Document, part: Part) -> Frame:
    """From a part's own axes to the build's: its joint, its placement, then those of its groups from the inmost out."""
    frame = frame_of_member(part, document.unit)
    for group in document.groups_of(part) if part.group is not None else ():
        frame = frame_of_member(group, document.unit).after(frame)
    return frame


def placed(mesh: Mesh, document: Document, part: Part) -> Mesh:
    """A part's mesh where the part stands in the build."""
    frame = frame_of(document, part)
    return mesh if frame.is_identity else mesh.with_points(frame.apply(mesh.points))


def placed_curve(curve: Curve, document: Document, part: Part) -> Curve:
    """A part's curve where the part stands in the build."""
    frame = frame_of(document, part)
    return curve if frame.is_identity else curve.mapped(frame.linear, frame.shift)
