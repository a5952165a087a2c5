"""Model files: kept, looked at, taken as parts."""

from __future__ import annotations

from typing import Any

from flask import Response, request

from ..core.files.drawing import LARGEST_DRAWING
from ..core.files.limits import BadModel
from ..core.files.read import format_of
from ..core.files.sandbox import read_drawing_apart, read_model_apart
from ..core.handover.curves import recipe_of
from ..core.handover.from_model import guess, taken
from ..store import model_files
from .blueprint import blueprint
from .builds_api import room
from .environment import LARGEST_UPLOAD
from .model_schemas import DrawingQuery, ModelInfo, ModelName, ModelNode, TakenModel, TakenQuery
from .schemas import Fault, PicturePath

api = blueprint("models", __name__, "/api/models", {404: Fault, 413: Fault, 422: Fault, 503: Fault})

_BODY: dict[str, Any] = {"requestBody": {"required": True, "content": {
    "application/octet-stream": {"schema": {"type": "string", "format": "binary"}}}}}


def _body(most: int) -> bytes:
    """The body of the request, judged by its length before it is read."""
    request.max_content_length = most + 1
    if (request.content_length or 0) > most:
        raise BadModel(f"the file has {(request.content_length or 0) / 2**20:.0f} MB; at most {most // 2**20} MB are taken")
    return request.stream.read(most + 1)


@api.post("", responses={201: ModelInfo}, openapi_extensions=_BODY)
def add_model(query: ModelName) -> Any:
    """Keep a model file; the body is the file. Its format is told from its bytes. What cannot be read is not kept."""
    data = _body(LARGEST_UPLOAD)
    format, model = format_of(data), read_model_apart(data)
    found = guess(model, format)
    with room().database.session() as session:
        sha256 = model_files.store(session, data, format)
    nodes = [ModelNode(name=s.node.name, path=list(s.path), faces=s.node.shape.mesh.topology.face_count)
             for s in model.walk() if s.node.shape is not None]
    return ModelInfo(sha256=sha256, format=format, nodes=nodes, unit=found.unit, up=found.up, low=found.low.tolist(),
                     high=found.high.tolist(), vertices=found.vertices, faces=found.faces, doubled=found.doubled,
                     pairs=found.pairs).model_dump(), 201


@api.post("/drawing", responses={200: TakenModel}, openapi_extensions=_BODY)
def drawing_parts(query: DrawingQuery) -> Any:
    """An SVG or DXF drawing as parts that are curves; the body is the file. It is not kept: its points are in the parts."""
    drawing = read_drawing_apart(_body(LARGEST_DRAWING), query.name, query.unit)
    return TakenModel(groups=[], parts=recipe_of(drawing, query.to)["parts"], notes=list(drawing.notes),
                      assumed=drawing.unit).model_dump()


@api.get("/<sha256>/parts", responses={200: TakenModel})
def model_parts(path: PicturePath, query: TakenQuery) -> Any:
    """The file as parts and groups of a document, their ids to be made free by whoever puts them in."""
    given: dict[str, Any] = {"unit": query.unit, "up": query.up}
    given |= ({"weld": query.weld} if query.weld else {}) | ({"quads": True} if query.quads else {})
    found = taken(room().model(path.sha256), path.sha256, query.name, given, query.to)
    return TakenModel(groups=found.groups, parts=found.parts).model_dump()


@api.get("/<sha256>", responses={200: {"content": {"application/octet-stream": {
    "schema": {"type": "string", "format": "binary"}}}}})
def model_file(path: PicturePath) -> Any:
    """The file as it came."""
    with room().database.session() as session:
        row = model_files.get(session, path.sha256)
        return Response(row.data, mimetype="application/octet-stream", headers={
            "Content-Disposition": f'attachment; filename="{path.sha256}.{row.format}"',
            "Cache-Control": "public, max-age=31536000, immutable", "X-Content-Type-Options": "nosniff"})
