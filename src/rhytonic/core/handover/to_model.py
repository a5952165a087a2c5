"""A build as a model for files: groups, joints and parts as nodes about their pivots, linked copies sharing one shape."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from ..files.model import Model, Move, Node, Shape
from ..mesh.geometry import about, rotation
from ..mesh.mesh import Floats, Mesh
from ..recipe.built import BuiltPart
from ..recipe.document import Document
from ..recipe.part import Group, Joint, Part
from ..units import METRES, Unit


@dataclass(frozen=True)
class _Shown:
    """What a part shows: a shape, and how the shape lies in the part's own axes: mirrored by signs, then moved."""

    shape: Shape
    signs: Floats
    shift: Floats


def model_of(document: Document, parts: Sequence[BuiltPart]) -> Model:
    """The parts that are to leave, in the tree of their groups, in metres.

    A node's origin is its part's or group's pivot. A joint is a node of its own above its member, at the joint's place, so
    that turning that node swings what is in it; what the joint may do is told as custom data. Groups without any part stay
    home.
    """
    metres = METRES[document.unit]
    shown = _shown(document, parts, metres)
    members: dict[str | None, list[BuiltPart]] = {}
    for part in parts:
        members.setdefault(part.part.group, []).append(part)
    inner: dict[str | None, list[Group]] = {}
    for group in document.groups:
        inner.setdefault(group.group, []).append(group)

    def below(group: str | None, origin: Floats) -> tuple[Node, ...]:
        nodes: list[Node] = []
        for child in inner.get(group, []):
            pivot = np.array(child.pivot) * metres
            children = below(child.id, pivot)
            if children:
                nodes.append(_member(child, document.unit, origin, Node(child.name, children=children)))
        for part in members.get(group, []):
            nodes.append(_member(part.part, document.unit, origin, _part_node(part, shown[part.name], metres)))
        return tuple(nodes)

    return Model(below(None, np.zeros(3)))


def _shown(document: Document, parts: Sequence[BuiltPart], metres: float) -> dict[str, _Shown]:
    """What each part shows, by name. A linked copy shows the shape of its source where that leaves too and is at the same
    stage."""
    by_id = {p.part.id: p for p in parts}
    out: dict[str, _Shown] = {}
    by_mesh: dict[int, _Shown] = {}

    def shown(built: BuiltPart) -> _Shown:
        known = out.get(built.name)
        if known is not None:
            return known
        mesh = built.evaluation.surface.mesh
        source = by_id.get(built.part.of) if built.part.of is not None else None
        found = by_mesh.get(id(mesh))
        if found is None and source is not None and _same_stage(source, mesh):
            of = shown(source)
            flip = np.ones(3)
            if built.part.mirrored is not None:
                flip["xyz".index(built.part.mirrored)] = -1.0
            found = replace(of, signs=of.signs * flip, shift=of.shift * flip)
        if found is None:
            pivot = np.array(built.part.pivot) * metres
            own = mesh if not pivot.any() else mesh.with_points(mesh.points - pivot)
            found = _Shown(Shape(built.name, own), np.ones(3), pivot)
        by_mesh[id(mesh)] = out[built.name] = found
        return found

    for built in parts:
        shown(built)
    return out


def _same_stage(source: BuiltPart, mesh: Mesh) -> bool:
    other = source.evaluation.surface.mesh
    return other is mesh or (other.points.shape == mesh.points.shape and
                             bool((np.abs(other.points) == np.abs(mesh.points)).all()))


def _part_node(built: BuiltPart, shown: _Shown, metres: float) -> Node:
    """The part's node, at its pivot; what does not lie about the pivot is a node within."""
    gap = shown.shift - np.array(built.part.pivot) * metres
    if not gap.any() and (shown.signs == 1.0).all():
        return Node(built.name, shape=shown.shape, placed=built.mesh)
    return Node(built.name, children=(
        Node(f"{built.name} surface", Move(gap, scale=shown.signs), shown.shape, built.mesh, inner=True),))


def _member(member: Part | Group, unit: Unit, origin: Floats, node: Node) -> Node:
    """A node where its part or group stands, seen from ``origin`` of the node it is in."""
    metres = METRES[unit]
    p, pivot = member.placement, np.array(member.pivot) * metres
    shift, turn, scale = np.array(p.translate) * metres - origin, rotation(p.rotate), np.array(p.scale, float)
    if member.joint is None:
        return replace(node, move=Move(shift + (turn * scale) @ pivot, turn, scale))
    at = np.array(member.joint.at) * metres
    inner = replace(node, move=Move(pivot - at))
    joint, told = _joint_move(member.joint, metres), {"joint": _told(member.joint, unit)}
    name = f"{member.name} {'hinge' if member.joint.kind == 'turn' else 'slide'}"
    place = Move(shift + (turn * scale) @ at, turn, scale)
    if (joint.turn == np.eye(3)).all() or np.ptp(scale) == 0:
        whole = Move(place.shift + place.linear @ joint.shift, turn @ joint.turn, scale)
        return Node(name, whole, children=(inner,), about=told)
    return Node(f"{member.name} place", place, children=(Node(name, joint, children=(inner,), about=told),))


def _joint_move(joint: Joint, metres: float) -> Move:
    """What the joint does about its own place."""
    axis = np.array(joint.axis, float)
    axis = axis / np.linalg.norm(axis)
    if joint.kind == "slide":
        return Move(axis * joint.now * metres)
    return Move(turn=about((float(axis[0]), float(axis[1]), float(axis[2])), joint.now)) if joint.now else Move()


def _told(joint: Joint, unit: Unit) -> dict[str, Any]:
    """The joint as custom data: its axis in the member's own axes, in degrees or in the build's unit; what it stands at now
    is in the node's own move already."""
    return {"kind": joint.kind, "axis": list(joint.axis), "from": joint.from_, "to": joint.to, "now": joint.now,
            "unit": "degrees" if joint.kind == "turn" else unit}
