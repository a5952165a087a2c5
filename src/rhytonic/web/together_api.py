"""Parts among each other: lined up, spread, clear of each other."""

from __future__ import annotations

from typing import Any

import msgpack
from flask import Response

from ..core.errors import UnknownName
from ..core.mesh.mesh import Floats, Mesh
from ..core.recipe.assembly import followers
from ..core.recipe.built import build as build_parts
from ..core.recipe.part import Group, Part
from ..core.recipe.place import placed
from ..core.size import line_up
from ..core.size.clearance.neighbour import neighbours_of
from ..core.size.clearance.room_to_move import clearance_among
from ..core.units import METRES
from . import packets
from .blueprint import blueprint
from .builds_api import room
from .schemas import BuildPath, Fault
from .together_schemas import BesideInfo, BesideTrial, ClearanceInfo, ClearanceTrial, LineUpTrial, Moves, MoveTo, PlacedTrial
from .workroom import Standing

api = blueprint("together", __name__, "/api/builds", {404: Fault, 409: Fault, 422: Fault, 503: Fault})


@api.post("/<build_id>/clearance", responses={200: ClearanceInfo})
def part_clearance(path: BuildPath, body: ClearanceTrial) -> Any:
    """The room a jointed part or group has over its range. Nothing is stored."""
    standing = room().at(path.build_id, body.revision)
    document = standing.document
    metres = METRES[document.unit]
    with standing.bench.held():
        parts = build_parts(document, evaluator=standing.evaluator)
        found = clearance_among(document, parts, body.member, body.against, body.steps)
    x, y, z = (found.where / metres).tolist()
    return ClearanceInfo(least=found.least / metres, at=found.at, touches=found.touches, touches_at=found.touches_at,
                         rests=found.rests, where=(x, y, z)).model_dump()


@api.post("/<build_id>/placed", responses={200: {"description": "MessagePack: others, by part id", "content": {
    packets.MEDIA_TYPE: {"schema": {"type": "object"}}}}})
def placed_others(path: BuildPath, body: PlacedTrial) -> Any:
    """Parts that follow others, as they would be with those others somewhere else. Nothing is stored."""
    standing = room().at(path.build_id, body.revision)
    have = set(body.have)
    with standing.bench.held():
        members = {key: member_of(standing, key) for key in body.placements}
        moved = {id(m): m.model_copy(update={"placement": body.placements[key]}) for key, m in members.items()}
        document = standing.document.model_copy(update={
            "parts": [moved.get(id(p), p) for p in standing.document.parts],
            "groups": [moved.get(id(g), g) for g in standing.document.groups]})
        trial = Standing(standing.bench, document)
        carried = {p.id or "" for m in members.values() for p in _parts(standing, m)}
        following = {p.id or "": p for one in carried for p in followers(document, one)}
        others = {key: packets.part_values(trial.run(p), have) for key, p in following.items()}
    return Response(bytes(msgpack.packb({"others": others})), mimetype=packets.MEDIA_TYPE)


@api.post("/<build_id>/beside", responses={200: BesideInfo})
def beside_another(path: BuildPath, body: BesideTrial) -> Any:
    """How near a part or group comes to another, or how far one stands in the other. Nothing is stored."""
    standing = room().at(path.build_id, body.revision)
    metres = METRES[standing.document.unit]
    with standing.bench.held():
        found = neighbours_of(*(_meshes(standing, member_of(standing, key)) for key in (body.member, body.to)))

    def told(place: Floats) -> tuple[float, float, float]:
        x, y, z = (place / metres).tolist()
        return x, y, z

    return BesideInfo(gap=found.gap / metres, ends=(told(found.ends[0]), told(found.ends[1])),
                      overlap=None if found.overlap is None else found.overlap / metres**3,
                      low=None if found.low is None else told(found.low),
                      high=None if found.high is None else told(found.high)).model_dump()


@api.post("/<build_id>/line-up", responses={200: Moves})
def lined_up(path: BuildPath, body: LineUpTrial) -> Any:
    """Where parts and groups stand once they are put as asked. Nothing is stored."""
    standing = room().at(path.build_id, body.revision)
    document = standing.document
    metres = METRES[document.unit]
    with standing.bench.held():
        members = {key: member_of(standing, key) for key in dict.fromkeys(body.members)}
        bounds = {key: line_up.bounds_of(_points(standing, m)) for key, m in members.items()}
        other = None if body.to is None else line_up.bounds_of(_points(standing, member_of(standing, body.to)))
    moves = _moves(body, bounds, other, metres)
    return Moves(moves=[MoveTo(member=key, translate=line_up.moved_by(document, members[key], move, metres))
                        for key, move in moves.items()]).model_dump()


def _moves(body: LineUpTrial, bounds: dict[str, line_up.Bounds], other: line_up.Bounds | None,
           metres: float) -> dict[str, Floats]:
    axis = "xyz".index(body.axis)
    if body.how == "spread":
        return line_up.spread(bounds, axis, body.by)
    if body.how == "floor":
        return {key: line_up.onto_floor(b) for key, b in bounds.items()}
    if body.how == "centre":
        return {key: line_up.centred(b, [axis]) for key, b in bounds.items()}
    if body.how == "origin":
        return {key: line_up.onto_floor(b) + line_up.centred(b, [0, 2]) for key, b in bounds.items()}
    if body.how == "grid":
        return {key: line_up.onto_grid(b, body.step * metres) for key, b in bounds.items()}
    if other is None:
        raise line_up.CannotLineUp("choose what it is to be lined up with")
    moving = {key: b for key, b in bounds.items() if key != body.to}
    if body.how == "align":
        return {key: line_up.aligned(b, other, axis, body.place) for key, b in moving.items()}
    return {key: line_up.stand_against(b, other, body.side) for key, b in moving.items()}


def member_of(standing: Standing, key: str) -> Part | Group:
    """A part or group by its key, which is its id after ``p:`` or ``g:``. Raises UnknownName."""
    kind, _, named = key.partition(":")
    everything: list[Part | Group] = [*standing.document.parts] if kind == "p" else [*standing.document.groups]
    found = next((m for m in everything if m.id == named), None)
    if found is None:
        raise UnknownName(f"there is no {'part' if kind == 'p' else 'group'} '{named}' in this build")
    return found


def _parts(standing: Standing, member: Part | Group) -> list[Part]:
    document = standing.document
    return [member] if isinstance(member, Part) else [p for p in document.parts if member in document.groups_of(p)]


def _meshes(standing: Standing, member: Part | Group) -> list[Mesh]:
    """Surfaces of a part, or of all parts of a group, where they stand."""
    return [placed(standing.run(p).surface.mesh, standing.document, p) for p in _parts(standing, member)]


def _points(standing: Standing, member: Part | Group) -> list[Floats]:
    return [m.points for m in _meshes(standing, member)]
