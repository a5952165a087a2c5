"""Whether anybody still waits for what is being computed.

Long computations ask here between their pieces, wherever in the core they are: passing the question down through every
function would put it into every signature. It is a matter of the thread that computes.
"""

from __future__ import annotations

import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager

from .errors import Cancelled

_local = threading.local()


@contextmanager
def waited_for(cancelled: Callable[[], bool]) -> Iterator[None]:
    """Within, :func:`check` asks ``cancelled``; outside again, whatever was asked before."""
    before = getattr(_local, "cancelled", None)
    _local.cancelled = cancelled
    try:
        yield
    finally:
        _local.cancelled = before


def check() -> None:
    """Raises Cancelled once nobody waits for the result any more."""
    cancelled: Callable[[], bool] | None = getattr(_local, "cancelled", None)
    if cancelled is not None and cancelled():
        raise Cancelled("nobody waits for it any more")
