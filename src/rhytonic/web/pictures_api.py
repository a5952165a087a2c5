"""Reference pictures: kept, traced, straightened."""

from __future__ import annotations

from typing import Any

import numpy as np
import shapely
from flask import Response, request

from ..core.picture import decode
from ..core.picture.coverage import background_of
from ..core.picture.straighten import Straight, straighten
from ..core.picture.trace import to_rings, trace
from ..store import pictures
from ..store.models import PictureRow
from .blueprint import blueprint
from .brief_schemas import StraightenedQuery, StraightenTrial, StraightPicture, TracedOutline, TracingTrial
from .builds_api import room
from .schemas import Fault, PictureInfo, PicturePath

api = blueprint("pictures", __name__, "/api/pictures", {404: Fault, 413: Fault, 422: Fault, 503: Fault})

_BODY: dict[str, Any] = {"requestBody": {"required": True, "content": {
    kind: {"schema": {"type": "string", "format": "binary"}} for kind in decode.FORMATS.values()}}}
_IMAGE: dict[int, Any] = {200: {"content": {"image/*": {"schema": {"type": "string", "format": "binary"}}}}}
_FOREVER = {"Cache-Control": "public, max-age=31536000, immutable", "X-Content-Type-Options": "nosniff"}


@api.post("", responses={201: PictureInfo}, openapi_extensions=_BODY)
def add_picture() -> Any:
    """Keep a picture; the body is the file. Refused before it is decoded when over 20 MB or 40 megapixels."""
    if (request.content_length or 0) > decode.LARGEST_BYTES:
        raise decode.BadPicture(f"the picture has {(request.content_length or 0) / 2**20:.1f} MB; "
                              f"at most {decode.LARGEST_BYTES // 2**20} MB are taken")
    return _kept(request.stream.read(decode.LARGEST_BYTES + 1)).model_dump(), 201


def _kept(data: bytes) -> PictureInfo:
    with room().database.session() as session:
        return _about(pictures.store(session, data))


def _about(row: PictureRow) -> PictureInfo:
    return PictureInfo(sha256=row.sha256, width=row.width, height=row.height, media_type=row.media_type)


@api.get("/<sha256>", responses=_IMAGE)
def picture(path: PicturePath) -> Any:
    """The picture as it came."""
    with room().database.session() as session:
        row = pictures.get(session, path.sha256, with_data=True)
        return Response(row.data, mimetype=row.media_type, headers=_FOREVER)


@api.get("/<sha256>/about", responses={200: PictureInfo})
def about_picture(path: PicturePath) -> Any:
    """What a picture is, and its size as it is seen."""
    with room().database.session() as session:
        return _about(pictures.get(session, path.sha256)).model_dump()


@api.post("/<sha256>/outline", responses={200: TracedOutline})
def trace_picture(path: PicturePath, body: TracingTrial) -> Any:
    """The outline of what a picture shows. Nothing is stored."""
    decoded = room().picture(path.sha256)
    outline = trace(decoded, body.tracing, body.crop, body.opaque)
    rings = [[(round(float(x), 7), round(float(y), 7)) for x, y in ring] for ring in to_rings(outline)]
    ground = "#" + "".join(f"{round(float(c) * 255):02x}" for c in background_of(decoded))
    return TracedOutline(rings=rings, corners=sum(len(r) for r in rings), area=float(shapely.area(outline)),
                         background=ground).model_dump()


@api.get("/<sha256>/straightened", responses=_IMAGE)
def straightened(path: PicturePath, query: StraightenedQuery) -> Any:
    """A first look at a picture with its distortion taken out."""
    looked_at = straighten(room().picture(path.sha256), None, None, query.distortion, query.side)
    return Response(looked_at.data, mimetype="image/png", headers=_FOREVER)


@api.post("/<sha256>/straighten", responses={200: StraightPicture})
def straighten_picture(path: PicturePath, body: StraightenTrial) -> Any:
    """Keep a straightened picture beside the original."""
    if (body.corners is None) != (body.size is None):
        raise decode.BadPicture("four corners need the rectangle's true sides, and sides their corners")
    with room().database.session() as session:
        data = pictures.get(session, path.sha256, with_data=True).data
    corners = None if body.corners is None else np.array(body.corners)
    made: Straight = straighten(decode.decode(data), corners, body.size, body.distortion)
    return StraightPicture(picture=_kept(made.data), real=made.real).model_dump()
