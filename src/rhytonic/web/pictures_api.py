"""Reference pictures."""

from __future__ import annotations

from typing import Any

from flask import Response, request
from flask_openapi3 import APIBlueprint, Tag

from ..store import pictures
from .builds_api import room
from .schemas import Fault, PictureInfo, PicturePath

api = APIBlueprint("pictures", __name__, url_prefix="/api/pictures", abp_tags=[Tag(name="pictures")],
                   abp_responses={404: Fault, 413: Fault, 422: Fault, 503: Fault})

_BODY: dict[str, Any] = {"requestBody": {"required": True, "content": {
    kind: {"schema": {"type": "string", "format": "binary"}} for kind in pictures.FORMATS.values()}}}


@api.post("", responses={201: PictureInfo}, openapi_extensions=_BODY)
def add_picture() -> Any:
    """Keep a picture; the body is the file. Refused before it is decoded when over 20 MB or 40 megapixels."""
    if (request.content_length or 0) > pictures.LARGEST_BYTES:
        raise pictures.BadPicture(f"the picture has {(request.content_length or 0) / 2**20:.1f} MB; "
                                  f"at most {pictures.LARGEST_BYTES // 2**20} MB are taken")
    data = request.stream.read(pictures.LARGEST_BYTES + 1)
    with room().database.session() as session:
        row = pictures.store(session, data)
        return PictureInfo(sha256=row.sha256, width=row.width, height=row.height,
                           media_type=row.media_type).model_dump(), 201


@api.get("/<sha256>", responses={200: {"content": {"image/*": {"schema": {"type": "string", "format": "binary"}}}}})
def picture(path: PicturePath) -> Any:
    """The picture as it came."""
    with room().database.session() as session:
        row = pictures.get(session, path.sha256, with_data=True)
        return Response(row.data, mimetype=row.media_type, headers={
            "Cache-Control": "public, max-age=31536000, immutable", "X-Content-Type-Options": "nosniff"})
