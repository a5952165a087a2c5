"""Builds: list, make, rename and change, undo, delete."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Callable
from dataclasses import replace
from typing import Any

from flask import Response, current_app, jsonify
from sqlalchemy.orm import Session

from ..core.files.write import MEDIA_TYPES, model_files
from ..core.handover.curves import MEDIA_TYPES as DRAWING_TYPES
from ..core.handover.curves import drawing_of
from ..core.handover.to_model import model_of
from ..core.recipe.built import build as build_parts
from ..core.recipe.leaving import leaving
from ..store import builds
from ..store.errors import Stale
from ..store.models import BuildRow, ChangeRow
from .asker import window
from .blueprint import blueprint
from .schemas import (
    AtRevision,
    Build,
    BuildList,
    BuildPath,
    BuildSummary,
    Change,
    ExportQuery,
    Fault,
    NewBuild,
    PickMemo,
)
from .workroom import Standing, Workroom, refuse_broken, status, with_meanings_kept

api = blueprint("builds", __name__, "/api/builds", {404: Fault, 409: Fault, 422: Fault, 503: Fault})


def _build(status: int) -> dict[int, Any]:
    """An answer with a whole build, by name: working its schema out for every endpoint would take most of a start."""
    return {status: {"description": "The build", "content": {"application/json": {
        "schema": {"$ref": "#/components/schemas/Build"}}}}}


def room() -> Workroom:
    """The workroom of this process."""
    workroom: Workroom = current_app.extensions["workroom"]
    return workroom


def _summary(row: BuildRow) -> BuildSummary:
    document = row.document
    picture = next((b["picture"] for b in document.get("boards", [])), None)
    return BuildSummary(id=row.id, name=row.name, unit=document.get("unit", "cm"), parts=len(document.get("parts", [])),
                        boards=len(document.get("boards", [])), revision=row.revision, saved_at=row.saved_at,
                        picture=picture)


#: what an endpoint does within its transaction: the build to answer with, and what undo or redo hands back
Work = Callable[[Session], tuple[BuildRow, dict[str, Any] | None]]


def _answer(work: Work, status_code: int = 200) -> Any:
    """Do the work, and answer with the build as it then stands. Nothing is evaluated while a row is held."""
    with room().database.session() as session:
        row, pick = work(session)
        undoable = builds.undoable(session, row.id, window())
    standing = room().read(row.id, row.document)
    room().keep(standing, row.revision)
    with standing.bench.held():
        told = Build.model_construct(id=row.id, name=row.name, revision=row.revision, saved_at=row.saved_at,
                                     undo=undoable.undo, redo=undoable.redo,
                                     pick=PickMemo.model_validate(pick) if pick is not None else None,
                                     parts=[status(standing, part) for part in standing.document.parts])
    # the document goes out as it is stored, so that patches written against it fit
    return jsonify(told.model_dump(mode="json") | {"document": row.document}), status_code


@api.get("", responses={200: BuildList})
def list_builds() -> Any:
    """All builds, the last changed first."""
    with room().database.session() as session:
        return BuildList(builds=[_summary(row) for row in builds.list_builds(session)]).model_dump(mode="json")


@api.post("", responses=_build(201))
def new_build(body: NewBuild) -> Any:
    """A new build, empty or from a recipe file."""
    document = body.document or {"format": "rhytonic", "version": 1, "unit": body.unit}
    return _answer(lambda session: (builds.create(session, body.name, document), None), 201)


@api.get("/<build_id>", responses=_build(200))
def get_build(path: BuildPath) -> Any:
    """A build as it stands."""
    return _answer(lambda session: (builds.get(session, path.build_id), None))


@api.get("/<build_id>/revision", responses={200: AtRevision})
def get_revision(path: BuildPath) -> Any:
    """Its revision alone, for a window that may have missed something."""
    with room().database.session() as session:
        return AtRevision(revision=builds.get(session, path.build_id).revision).model_dump()


@api.delete("/<build_id>", responses={204: None})
def delete_build(path: BuildPath) -> Any:
    """Take a build off the list; ``restore`` brings it back."""
    with room().database.session() as session:
        builds.delete(session, path.build_id)
    return "", 204


@api.post("/<build_id>/restore", responses=_build(200))
def restore_build(path: BuildPath) -> Any:
    """Bring a deleted build back."""
    return _answer(lambda session: (builds.restore(session, path.build_id), None))


@api.post("/<build_id>/duplicate", responses=_build(201))
def duplicate_build(path: BuildPath) -> Any:
    """A copy under a free name."""
    return _answer(lambda session: (builds.duplicate(session, path.build_id), None), 201)


@api.post("/<build_id>/changes", responses=_build(200))
def change_build(path: BuildPath, body: Change) -> Any:
    """Apply a JSON Patch to the build. Refused whole, with nothing stored, when a step it touches cannot run."""
    patch = [op.model_dump(by_alias=True, exclude_unset=True) for op in body.patch]
    pick = body.pick.model_dump() if body.pick is not None else None
    with room().database.session() as session:
        row = builds.get(session, path.build_id)
        done = builds.is_done(session, path.build_id, body.key)
    if done:
        return _answer(lambda session: (builds.get(session, path.build_id), None))
    if row.revision != body.revision:
        raise Stale(row.revision)
    planned = builds.plan_change(row, patch)
    bench = room().bench(path.build_id)
    with bench.held():
        refuse_broken(Standing(bench, planned.after), planned.before, body.sure)
        planned = replace(planned, after=with_meanings_kept(bench, planned.before, planned.after))
    return _answer(lambda session: (builds.change(session, path.build_id, planned, body.label, body.key, body.group, pick,
                                                  window()), None))


@api.post("/<build_id>/undo", responses=_build(200))
def undo(path: BuildPath, body: AtRevision) -> Any:
    """Take the last change of the window that asks back."""
    return _answer(lambda session: _with_pick(builds.undo(session, path.build_id, body.revision, window())))


@api.post("/<build_id>/redo", responses=_build(200))
def redo(path: BuildPath, body: AtRevision) -> Any:
    """Do again what the window that asks undid last."""
    return _answer(lambda session: _with_pick(builds.redo(session, path.build_id, body.revision, window())))


def _with_pick(done: tuple[BuildRow, ChangeRow]) -> tuple[BuildRow, dict[str, Any] | None]:
    return done[0], done[1].pick


@api.get("/<build_id>/export", responses={200: {"content": {"application/octet-stream": {
    "schema": {"type": "string", "format": "binary"}}}}})
def export(path: BuildPath, query: ExportQuery) -> Any:
    """The model as a file, at hand-over smoothness and true scale; its curves as a drawing. Hidden parts stay home unless
    they are asked for."""
    standing = room().at(path.build_id)
    document = standing.document
    name = "".join(c if c.isascii() and (c.isalnum() or c in "-_") else "-" for c in (document.name or "build"))
    with standing.bench.held():
        built = build_parts(document, query.stage, evaluator=standing.evaluator)
        if query.format in ("svg", "dxf"):
            data = drawing_of(document, [p for p in built if not query.of or p.part.id in query.of], f".{query.format}")
            return Response(data, mimetype=DRAWING_TYPES[f".{query.format}"], headers={
                "Content-Disposition": f'attachment; filename="{name}.{query.format}"', "X-Content-Type-Options": "nosniff"})
        parts = leaving(document, built, query.of)
        files = model_files(model_of(document, parts), f"{name}.{'obj' if query.format == 'zip' else query.format}",
                            beside=query.format == "zip")
    if query.format == "zip":
        packed = io.BytesIO()
        with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as archive:
            for file, content in files.items():
                archive.writestr(file, content)
        files = {f"{name}.zip": packed.getvalue()}
    told = f'attachment; filename="{name}.{query.format}"'
    return Response(files[f"{name}.{query.format}"], mimetype=MEDIA_TYPES["." + query.format],
                    headers={"Content-Disposition": told})


@api.get("/<build_id>/file", responses={200: {"content": {"application/json": {"schema": {"type": "object"}}}}})
def recipe_file(path: BuildPath) -> Any:
    """The build as a recipe file."""
    with room().database.session() as session:
        return builds.get(session, path.build_id).document
