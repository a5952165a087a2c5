"""A shorter way in for previews.

A drag waits for every one of them, and Flask's routing, contexts and hooks take as long as packing the answer. This layer
answers previews, with a packet or with the refusal the application would give; anything else goes through the application.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable
from http import HTTPStatus
from typing import Any

from . import packets
from .faults import sentence_of
from .meshes_api import preview_packet
from .workroom import Workroom

Wsgi = Callable[[dict[str, Any], Callable[..., Any]], Iterable[bytes]]
_PATH = re.compile(r"/api/builds/([0-9a-f]{1,32})/preview")


class PreviewDoor:
    """WSGI middleware over an application and its workroom."""

    def __init__(self, inner: Wsgi, room: Workroom, largest: int) -> None:
        self.inner, self.room, self.largest = inner, room, largest

    def __call__(self, environ: dict[str, Any], start_response: Callable[..., Any]) -> Iterable[bytes]:
        found = _PATH.fullmatch(environ["PATH_INFO"]) if environ["REQUEST_METHOD"] == "POST" else None
        length = environ.get("CONTENT_LENGTH", "")
        if found is None or not length.isdecimal() or int(length) > self.largest:
            return self.inner(environ, start_response)
        raw = environ["wsgi.input"].read(int(length))
        try:
            data, status, kind = preview_packet(self.room, found[1], raw, environ), 200, packets.MEDIA_TYPE
        except Exception as error:  # the outermost edge of this layer: told as the application tells it, computed once
            fault, status = sentence_of(error)
            data, kind = fault.model_dump_json(exclude_none=True).encode(), "application/json"
        start_response(f"{status} {HTTPStatus(status).phrase}",
                       [("Content-Type", kind), ("Content-Length", str(len(data)))])
        return [data]
