"""Who may ask: the door before all others.

The application runs on a person's own machine beside a browser that visits anything. A page of another origin may send
requests here, and may give this address a name of its own; neither is answered. What is refused is refused before a body is
read.
"""

from __future__ import annotations

import os
import re
import time
from collections.abc import Callable, Iterable
from http import HTTPStatus
from typing import Any
from urllib.parse import urlsplit

from .environment import HOSTS, NUMBER
from .schemas import Fault

Wsgi = Callable[[dict[str, Any], Callable[..., Any]], Iterable[bytes]]
LOOPBACK = frozenset({"localhost", "127.0.0.1", "::1"})
#: sent with every change; no page of another origin can send it without being asked first, and is refused then
OWN_HEADER = "X-Rhytonic"
#: with it a refusal is told in ``X-Refused`` instead of the status: browsers note every other one as an error of the page
QUIET_HEADER = "X-Rhytonic-Quiet"
_QUIET = "HTTP_" + QUIET_HEADER.upper().replace("-", "_")
_REFUSED = frozenset({"404", "409", "422"})
_SLASHES = re.compile("//+")
_READS = frozenset({"GET", "HEAD"})

#: what every answer says to browsers
SAFE = {
    "X-Content-Type-Options": "nosniff", "X-Frame-Options": "DENY", "Referrer-Policy": "same-origin",
    "Cross-Origin-Resource-Policy": "same-origin", "Cross-Origin-Opener-Policy": "same-origin",
    "Permissions-Policy": "camera=(), microphone=(), geolocation=(), payment=(), usb=()",
    "Content-Security-Policy": "default-src 'self'; img-src 'self' blob: data:; style-src 'self' 'unsafe-inline'; "
                               "worker-src 'self' blob:; font-src 'self' data:; frame-ancestors 'none'; base-uri 'none'; "
                               "form-action 'self'"}


def refusal(environ: dict[str, Any], hosts: frozenset[str]) -> Fault | None:
    """Why a request is not answered; None where it is.

    The ``Host`` is one of ours; anything but reading the page comes from no other origin (Fetch Metadata, W3C working draft;
    RFC 6454 for ``Origin``); a change carries the header of the interface.
    """
    name = _host(environ.get("HTTP_HOST", ""))
    if name not in hosts:
        return Fault(code="foreign_host", message=f"this server does not answer to the name '{name[:100]}'; open it by "
                                                  f"localhost, or start it with {HOSTS} naming the host")
    method = environ["REQUEST_METHOD"]
    reads, api = method in _READS, environ.get("PATH_INFO", "").startswith("/api")
    if reads and not api:
        return None
    origin, site = environ.get("HTTP_ORIGIN"), environ.get("HTTP_SEC_FETCH_SITE")
    if (origin is not None and not _is_own(origin, environ)) or site in ("cross-site", "same-site"):
        return Fault(code="foreign_origin", message="pages of other origins may not ask this server for anything; open "
                                                    "Rhytonic itself")
    if not reads and not environ.get("HTTP_" + OWN_HEADER.upper().replace("-", "_")):
        return Fault(code="header_missing", message=f"a change needs the header {OWN_HEADER}, which pages of other origins "
                                                    f"cannot send; add '{OWN_HEADER}: 1'")
    return None


_HOST = re.compile(r"(?:\[(?P<six>[0-9a-fA-F:.]+)\]|(?P<name>[^\[\]:]+))(?::[0-9]{1,5})?")


def _host(header: str) -> str:
    """The name in a Host header, without its port (RFC 9110, 7.2); what is none is told whole, and is none of ours."""
    found = _HOST.fullmatch(header)
    return header if found is None else (found["six"] or found["name"]).rstrip(".").lower()


def _is_own(origin: str, environ: dict[str, Any]) -> bool:
    try:
        parts = urlsplit(origin)
    except ValueError:
        return False
    return parts.scheme in ("http", "https") and parts.netloc.lower() == environ.get("HTTP_HOST", "").lower()


class Gate:
    """WSGI middleware: refuses strangers, and tells with every answer how to treat it and how long it took."""

    def __init__(self, inner: Wsgi) -> None:
        named = (h.strip().lower() for h in os.environ.get(HOSTS, "").split(","))
        self.inner, self.hosts = inner, LOOPBACK | {h for h in named if h}

    def __call__(self, environ: dict[str, Any], start_response: Callable[..., Any]) -> Iterable[bytes]:
        started = time.perf_counter()
        # slashes in a row lead where one does: what is judged is what will be answered
        environ["PATH_INFO"] = _SLASHES.sub("/", environ.get("PATH_INFO", ""))

        quiet = _QUIET in environ and environ.get("PATH_INFO", "").startswith("/api")

        def start(status: str, headers: list[tuple[str, str]], *more: Any) -> Any:
            if quiet and status[:3] in _REFUSED:
                headers, status = [*headers, ("X-Refused", status[:3])], "200 OK"
            has = {name.lower() for name, _ in headers}
            told = [(k, v) for k, v in SAFE.items() if k.lower() not in has]
            took = ("Server-Timing", f"total;dur={(time.perf_counter() - started) * 1e3:.1f}, "
                                     f"worker;desc={os.environ.get(NUMBER, '0')}")
            return start_response(status, [*headers, *told, took], *more)

        refused = refusal(environ, self.hosts)
        if refused is None:
            return self.inner(environ, start)
        data = refused.model_dump_json(exclude_none=True).encode()
        status = HTTPStatus.MISDIRECTED_REQUEST if refused.code == "foreign_host" else HTTPStatus.FORBIDDEN
        start(f"{status.value} {status.phrase}", [("Content-Type", "application/json"), ("Content-Length", str(len(data))),
                                                  ("Connection", "close")])
        return [data]
