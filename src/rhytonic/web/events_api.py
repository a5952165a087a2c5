"""Windows: what others change is told to them, and what they did is anyone's once they are closed."""

from __future__ import annotations

import threading
from collections.abc import Iterator
from typing import Annotated, Any

from flask import Response
from pydantic import Field

from ..store import undoing
from ..store.listening import Listener
from .blueprint import blueprint
from .builds_api import room
from .environment import STOPPING
from .schemas import Fault, Taken

api = blueprint("events", __name__, "/api", {503: Fault})

#: seconds after which a stream says that it is still there, and finds out whether anybody reads it
BEAT = 10.0
#: seconds between looks at whether the server is being stopped
_LOOK = 0.5
#: streams of one process: each holds a thread, and a browser needs one for all its windows
MOST_STREAMS = 6
_open = threading.Semaphore(MOST_STREAMS)


class WindowPath(Taken):
    window: Annotated[str, Field(pattern=r"^w-[0-9a-z-]{8,60}$")]


@api.post("/windows/<window>/closed", responses={204: None})
def window_closed(path: WindowPath) -> Any:
    """A window was closed: what it did is anyone's to undo."""
    with room().database.session() as session:
        undoing.let_go(session, path.window)
    return "", 204


@api.get("/events", responses={200: {"content": {"text/event-stream": {"schema": {"type": "string"}}}}})
def events() -> Any:
    """Server-sent events (HTML standard, WHATWG, section 9.2): ``changed`` with a build's id and its revision; ``look`` when
    something may have been missed."""
    if STOPPING.is_set() or not _open.acquire(blocking=False):
        return Fault(code="busy", message="too many windows listen already; this one looks for itself").model_dump(
            exclude_none=True), 503
    response = Response(_stream(room().listener), mimetype="text/event-stream", headers={"Cache-Control": "no-store"})
    response.call_on_close(_open.release)
    return response


def _stream(listener: Listener) -> Iterator[str]:
    number = listener.now()
    yield "retry: 2000\nevent: look\ndata: \n\n"
    quiet = 0.0
    while not STOPPING.is_set():
        number, news = listener.since(number, _LOOK)
        quiet = 0.0 if news else quiet + _LOOK
        for build, revision in news:
            yield f"event: changed\ndata: {build} {revision}\n\n" if build else "event: look\ndata: \n\n"
        if quiet >= BEAT:
            quiet = 0.0
            yield ": \n\n"
