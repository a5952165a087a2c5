"""Meshes of parts, and previews of steps that are not stored."""

from __future__ import annotations

import contextlib
from concurrent.futures import ThreadPoolExecutor
from typing import Any

from flask import Response, request
from pydantic import ValidationError

from ..core.errors import Cancelled, StepError
from ..core.inspect.smoothing import advice
from ..core.inspect.thresholds import Limits
from ..core.params import to_metres
from ..core.pick.extent import Extent, extent
from ..core.pick.resolve import resolve
from ..core.recipe.assembly import followers
from ..core.recipe.document import read_document
from ..core.recipe.part import Part
from ..core.recipe.place import placed
from ..core.recipe.registry import KINDS, is_live, kind_of
from ..core.step.kind import Context, Step
from ..core.units import METRES
from ..core.waiting import waited_for
from . import packets
from .asker import Asker
from .blueprint import blueprint
from .builds_api import room
from .faults import refused_body
from .schemas import (
    BuildPath,
    Estimate,
    ExtentInfo,
    ExtentTrial,
    Fault,
    Findings,
    FindingsQuery,
    MeshQuery,
    PartMesh,
    PartPath,
    PartQuery,
    PickedElements,
    PickedQuery,
    PickTrial,
    SmoothingAdvice,
    Trial,
)
from .workroom import Workroom, findings, part_of

api = blueprint("meshes", __name__, "/api/builds", {404: Fault, 409: Fault, 422: Fault, 503: Fault})

_MESH = {200: {"description": "MessagePack of a PartMesh", "content": {
    packets.MEDIA_TYPE: {"schema": {"$ref": "#/components/schemas/PartMesh"}}}}}


@api.get("/<build_id>/parts/<path:part_id>/mesh", responses=_MESH)
def part_mesh(path: PartPath, query: MeshQuery) -> Any:
    """Cage and surface of a part as it stands."""
    standing = room().at(path.build_id)
    with standing.bench.held():
        evaluation = standing.run(part_of(standing.document, path.part_id))
        data = packets.part_packet(evaluation, ())
    return Response(data, mimetype=packets.MEDIA_TYPE)


def trial_part(part: Part, trial: Trial) -> tuple[Part, int]:
    """The part with the trial step in it, and where that stands.

    Raises:
        InvalidDocument: the step breaks the contract.
    """
    step_id = trial.replace or "trial"
    read = read_trial({**trial.step, "id": step_id}, part.name)
    steps = list(part.steps)
    if trial.replace is not None:
        at = _place_of(part, trial.replace)
        steps[at] = read
        _refuse_out_of_order(read, at, part.name)
        return part.model_copy(update={"steps": steps}), at
    below = is_live(read)
    at = len(steps) if below else part.cage_end()
    _refuse_out_of_order(read, at, part.name)
    steps.insert(at, read)
    mark = step_id if part.mark is not None and not below else part.mark
    return part.model_copy(update={"steps": steps, "mark": mark}), at


def _place_of(part: Part, step: str) -> int:
    """Which of a part's steps has an id. Raises StepError where none has."""
    at = next((i for i, s in enumerate(part.steps) if s.id == step), None)
    if at is None:
        raise StepError(f"there is no step '{step}' in this part").at(part.name, step)
    return at


def _refuse_out_of_order(step: Step, at: int, part: str) -> None:
    """Raises StepError where a base form would not be first, or another step would: a document is refused for it too."""
    if (at == 0) != kind_of(step).form:
        told = f"only the first step may be a base form, and this would be step {at + 1}" if at else \
            "the first step must be a base form"
        raise StepError(f"{step.kind} cannot stand there: {told}").at(part, step.id)


def read_trial(raw: dict[str, Any], part: str) -> Step:
    """One step from outside, judged as it would be in a document; one that does not fit is told as a document tells it."""
    known = KINDS.get(raw["kind"]) if isinstance(raw.get("kind"), str) else None
    form = known is not None and known.form
    if known is not None:
        with contextlib.suppress(ValidationError):
            quick: Step = known.model.model_validate(raw)
            return quick
    steps = [raw] if form else [{"kind": "plane", "id": "trial-base", "size": [1, 1]}, raw]
    read = read_document({"format": "rhytonic", "version": 1, "parts": [{"name": part, "steps": steps}]})
    return read.parts[0].steps[-1]


def preview_packet(workroom: Workroom, build_id: str, raw: bytes, environ: dict[str, Any]) -> bytes:
    """The answer to a preview, read straight from the bytes of its request: this is what a drag waits for.

    Raises:
        ValidationError: the request is no Trial. RhytonicError: the trial cannot be. Cancelled: nobody waits for it.
    """
    body = Trial.model_validate_json(raw)
    with workroom.askers.asking(build_id, body.window, environ) as asker:
        if body.sure:
            return _aside(workroom, build_id, body, asker)
        with waited_for(asker.gone):
            return _trial_packet(workroom, build_id, body)


#: seconds between looks at whether what takes long is still waited for
_LOOK = 0.03


def _aside(workroom: Workroom, build_id: str, body: Trial, asker: Asker) -> bytes:
    """What may take long, in a thread of its own. Once nobody waits for it, it is left to end at its next look, however long
    the one call it is in takes; nobody is held up by it."""
    bench = workroom.bench(build_id)
    evaluator = bench.evaluator

    def work() -> bytes:
        with waited_for(asker.gone):
            return _trial_packet(workroom, build_id, body)

    with_thread = ThreadPoolExecutor(1)
    try:
        doing = with_thread.submit(work)
        while True:
            try:
                return doing.result(_LOOK)
            except TimeoutError:
                if asker.gone():
                    bench.abandon(evaluator)
                    raise Cancelled("nobody waits for it any more") from None
    finally:
        with_thread.shutdown(wait=False)


def _trial_packet(workroom: Workroom, build_id: str, body: Trial) -> bytes:
    standing = workroom.at(build_id, body.revision)
    with standing.bench.held():
        part, at = trial_part(part_of(standing.document, body.part), body)
        upto = None if body.surface else max(part.cage_end(), at + 1)
        trial = standing.with_part(part)
        evaluation = trial.run(part, upto, () if body.sure else (part.steps[at].id or "",))
        result = evaluation.results[at]
        if result.error is not None:
            raise result.error
        have = set(body.have)
        others = {p.id or "": packets.part_values(trial.run(p), have) for p in followers(trial.document, body.part)} \
            if body.surface else {}
        return packets.part_packet(evaluation, have, body.surface, result, evaluation.after(at).mesh, others)


@api.post("/<build_id>/preview", responses=_MESH, openapi_extensions={"requestBody": {"required": True, "content": {
    "application/json": {"schema": {"$ref": "#/components/schemas/Trial"}}}}})
def preview(path: BuildPath) -> Any:
    """The part as it would be with a step of trial numbers. Nothing is stored."""
    try:
        data = preview_packet(room(), path.build_id, request.get_data(), request.environ)
        return Response(data, mimetype=packets.MEDIA_TYPE)
    except ValidationError as error:
        return refused_body(error)


@api.get("/<build_id>/picked", responses={200: PickedElements})
def picked(path: BuildPath, query: PickedQuery) -> Any:
    """What a step picked, followed to where it is in the cage now."""
    standing = room().at(path.build_id, query.revision)
    with standing.bench.held():
        evaluation = standing.run(part_of(standing.document, query.part))
        kind, elements = evaluation.picked_in_cage(query.step)
        lost = [place.tolist() for place in evaluation.lost_places(query.step)]
    return PickedElements(kind=kind, elements=elements.tolist(), lost=lost).model_dump()


@api.get("/<build_id>/findings", responses={200: Findings})
def part_findings(path: BuildPath, query: FindingsQuery) -> Any:
    """What is wrong with a part: its cage, and its surface where the cage does not show it."""
    standing = room().at(path.build_id, query.revision)
    key, found = findings(standing, part_of(standing.document, query.part), Limits(query.doubled, query.thin))
    return Findings(part=query.part, key=key, findings=found).model_dump()


@api.get("/<build_id>/smoothing", responses={200: SmoothingAdvice})
def smoothing(path: BuildPath, query: PartQuery) -> Any:
    """What would make a part's cage smooth better, and the steps that do it."""
    standing = room().at(path.build_id, query.revision)
    metres = METRES[standing.document.unit]
    with standing.bench.held():
        found = advice(standing.run(part_of(standing.document, query.part)).cage.mesh, metres)
    return SmoothingAdvice(ngons=found.ngons, rims=found.rims, caps=found.caps, loops=found.loops).model_dump()


@api.post("/<build_id>/pick", responses={200: PickedElements})
def pick(path: BuildPath, body: PickTrial) -> Any:
    """What a rule finds in a part's cage; a rule that finds nothing says so."""
    standing = room().at(path.build_id, body.revision)
    with standing.bench.held():
        part = part_of(standing.document, body.part)
        cage = standing.run(part).cage
        try:
            found = resolve(cage.mesh, cage.history, to_metres(body.pick, METRES[standing.document.unit]))
        except StepError as error:
            raise error.at(part.name, "pick") from None
    return PickedElements(kind=found.kind, elements=found.elements.tolist()).model_dump()


@api.post("/<build_id>/extent", responses={200: ExtentInfo})
def pick_extent(path: BuildPath, body: ExtentTrial) -> Any:
    """How far a pick of a part's cage reaches, exactly: what pivots, placements and typed coordinates are set by."""
    standing = room().at(path.build_id, body.revision)
    unit = standing.document.unit
    with standing.bench.held():
        part = part_of(standing.document, body.part)
        cage = standing.run(part).cage if body.above is None else standing.run(part, _place_of(part, body.above)).surface
        try:
            picked = resolve(cage.mesh, cage.history, to_metres(body.pick, METRES[unit]))
        except StepError as error:
            raise error.at(part.name, "pick") from None
        mesh = cage.mesh if body.space == "part" else placed(cage.mesh, standing.document, part)
        found = extent(mesh, picked)
    return ExtentInfo(**extent_in_unit(found, METRES[unit])).model_dump()


def extent_in_unit(e: Extent, metres: float) -> dict[str, Any]:
    """An extent in a unit, free of the last digits that dividing leaves."""
    def tidy(value: float) -> float:
        return float(f"{value:.12g}") + 0.0

    def each(values: Any, by: float) -> tuple[float, ...]:
        return tuple(tidy(v / by) for v in values)

    return {"low": each(e.low, metres), "high": each(e.high, metres), "mean": each(e.mean, metres),
            "normal": each(e.normal, 1.0), "length": tidy(e.length / metres), "area": tidy(e.area / metres**2)}


@api.post("/<build_id>/estimate", responses={200: Estimate})
def estimate(path: BuildPath, body: Trial) -> Any:
    """How many faces a step would leave, without running it."""
    standing = room().at(path.build_id, body.revision)
    with standing.bench.held():
        part, at = trial_part(part_of(standing.document, body.part), body)
        above = standing.run(part, at)
        step = part.steps[at]
        if kind_of(step).pick_of(step) is not None:
            raise StepError("only forms and whole-part steps can be estimated").at(part.name, step.id or "")
        faces, _ = kind_of(step).estimate(step, above.surface.mesh.topology, None, Context(step.id or ""))
    return Estimate(faces=faces, triangles=2 * faces).model_dump()


__all__ = ["PartMesh", "api"]
