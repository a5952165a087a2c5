"""The fit to the boards, the sizes, and what would bring them nearer."""

from __future__ import annotations

from typing import Any

from flask import Response

from ..core.errors import StepError
from ..core.size.drive import drive
from ..core.units import METRES
from . import brief_room, packets
from .blueprint import blueprint
from .brief_schemas import BriefTrial, DrivenInfo, DriveTrial, NudgeInfo, NudgeTrial
from .builds_api import room
from .meshes_api import trial_part
from .schemas import BuildPath, Fault, PatchOperation
from .workroom import part_of

api = blueprint("brief", __name__, "/api/builds", {404: Fault, 409: Fault, 422: Fault, 503: Fault})

_STATE = {200: {"description": "MessagePack of a BriefState", "content": {
    packets.MEDIA_TYPE: {"schema": {"$ref": "#/components/schemas/BriefState"}}}}}


@api.post("/<build_id>/brief", responses=_STATE)
def brief(path: BuildPath, body: BriefTrial) -> Any:
    """Sizes and fit, live: of the build as it stands, or with a step of trial numbers. Nothing is stored."""
    standing = room().at(path.build_id, body.revision)
    document = standing.document
    with standing.bench.held():
        if body.trial is not None:
            part, _ = trial_part(part_of(document, body.trial.part), body.trial)
            parts = [part if p.id == part.id else p for p in document.parts]
            document = document.model_copy(update={"parts": parts})
        sizes = [*(document.sizes if body.sizes else []), *body.more]
        infos = brief_room.size_infos(standing, document, sizes)
        fitted = brief_room.fits(room(), standing, document) if body.boards else []
    return Response(brief_room.packet(infos, fitted, METRES[document.unit]), mimetype=packets.MEDIA_TYPE)


@api.post("/<build_id>/drive", responses={200: DrivenInfo})
def drive_size(path: BuildPath, body: DriveTrial) -> Any:
    """The change that makes a size what is wanted; says so when no value does. Nothing is stored."""
    standing = room().at(path.build_id, body.revision)
    with standing.bench.held():
        found = drive(standing.document, body.size, body.want, body.driver, standing.run)
    return DrivenInfo(value=found.value, have=found.have, label=found.label, trials=found.trials,
                      patch=[PatchOperation.model_validate(op) for op in found.patch]).model_dump(by_alias=True,
                                                                                                  exclude_unset=True)


@api.post("/<build_id>/nudge", responses={200: NudgeInfo})
def nudge(path: BuildPath, body: NudgeTrial) -> Any:
    """The move of picked elements in a board's plane that lowers the mean distance to its outline most."""
    standing = room().at(path.build_id, body.revision)
    metres = METRES[standing.document.unit]
    with standing.bench.held():
        found = brief_room.suggestion(room(), standing, body.board, body.part, body.pick)
    if found is None:
        raise StepError("no move of what is picked brings the outline nearer to the picture's; pick vertices on the outline")
    suggested, move = found
    return NudgeInfo(translate=tuple(float(f"{v / metres:.9g}") for v in move), before=suggested.before.mean / metres,
                     after=suggested.after.mean / metres, iou_before=suggested.before.iou,
                     iou_after=suggested.after.iou).model_dump()
