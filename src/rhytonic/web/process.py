"""What gunicorn is told of a process that answers (its settings file; the names are gunicorn's)."""

from __future__ import annotations

import signal
import threading
from importlib import import_module
from typing import Any

from ..core.compiled import compile_all
from .environment import STOPPING

worker_class = "gthread"
workers = 1  # one for each number: the front knows which of them keeps a build
threads = 12
timeout = 120
graceful_timeout = 5
preload_app = True
control_socket_disable = True
loglevel = "warning"


def on_starting(server: Any) -> None:
    """The application is loaded, no process answers yet."""
    compile_all()


def post_worker_init(worker: Any) -> None:
    """A process is about to answer."""
    threading.Thread(target=load_what_is_slow, daemon=True).start()
    told = signal.getsignal(signal.SIGTERM)

    def stop(number: int, frame: Any) -> None:
        """Told to stop: streams, which end by themselves only then, end."""
        STOPPING.set()
        if callable(told):
            told(number, frame)

    signal.signal(signal.SIGTERM, stop)


def load_what_is_slow() -> None:
    """Load what the core loads only where it needs it, so that the first one to need it does not wait."""
    for name in ("scipy.optimize", "scipy.spatial", "ezdxf", "scipy.sparse.csgraph", "scipy.sparse.linalg"):
        import_module(name)
