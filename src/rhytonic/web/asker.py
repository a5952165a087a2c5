"""Who asks: which window, and whether it still waits for a preview."""

from __future__ import annotations

import contextlib
import re
import socket
import time
from collections.abc import Callable, Iterable
from threading import Lock
from typing import Any

from flask import request

from ..core.waiting import waited_for
from .gate import OWN_HEADER, Wsgi

#: seconds between looks at the connection
_EVERY = 0.03
_WINDOW = re.compile(r"w-[0-9a-z-]{8,60}")


def window() -> str | None:
    """The window of the interface that asks, by the header it sends; none where something else does."""
    told: str = request.headers.get(OWN_HEADER, "")
    return told if _WINDOW.fullmatch(told) else None


class Asker:
    """One request that is being answered. It is over once its connection is closed, or the same window asked for more.

    A browser that gives a request up closes its connection (Fetch standard, WHATWG; common practice of HTTP/1.1).
    """

    def __init__(self, connection: socket.socket | None) -> None:
        self._connection, self._next, self._over = connection, 0.0, False

    def supersede(self) -> None:
        """The same window asked for something else."""
        self._over = True

    def gone(self) -> bool:
        """Whether nobody waits any more."""
        now = time.monotonic()
        if self._over or now < self._next:
            return self._over
        self._next = now + _EVERY
        self._over = self._connection is not None and _is_closed(self._connection)
        return self._over


def _is_closed(connection: socket.socket) -> bool:
    try:
        return connection.recv(1, socket.MSG_PEEK | socket.MSG_DONTWAIT) == b""
    except BlockingIOError:
        return False
    except OSError:
        return True


#: what is stored once it is asked for, whoever waits for the answer: nobody who leaves loses a step
_STORED = re.compile(r"/api/builds/[0-9a-f]+(/(changes|undo|redo|restore|duplicate))?")


class Waiting:
    """WSGI middleware: what is computed for a request stops once nobody waits for it."""

    def __init__(self, inner: Wsgi) -> None:
        self.inner = inner

    def __call__(self, environ: dict[str, Any], start_response: Callable[..., Any]) -> Iterable[bytes]:
        if environ["REQUEST_METHOD"] not in ("GET", "HEAD") and _STORED.fullmatch(environ["PATH_INFO"]):
            return self.inner(environ, start_response)
        with waited_for(Asker(environ.get("gunicorn.socket")).gone):
            return self.inner(environ, start_response)


class Askers:
    """Who is being answered, by window: what a window asks next takes the place of what it asked before."""

    def __init__(self) -> None:
        self._by_window: dict[tuple[str, str], Asker] = {}
        self._lock = Lock()

    @contextlib.contextmanager
    def asking(self, build: str, window: str | None, environ: dict[str, Any]) -> Any:
        """Within, the one who asks; the same window's request before is over."""
        asker = Asker(environ.get("gunicorn.socket"))
        if window is None:
            yield asker
            return
        key = build, window
        with self._lock:
            before = self._by_window.get(key)
            self._by_window[key] = asker
        if before is not None:
            before.supersede()
        try:
            yield asker
        finally:
            with self._lock:
                if self._by_window.get(key) is asker:
                    del self._by_window[key]
