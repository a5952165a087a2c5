"""``rhytonic serve``: migrate the database and serve with gunicorn; the launcher calls it."""

from __future__ import annotations

import argparse
import os
import signal
import subprocess
import sys
import tempfile

from ..web.environment import MEETING, WORKERS

#: more processes than this help no one person, and each keeps builds of its own in memory
MOST_WORKERS = 4


def add_to(commands: argparse._SubParsersAction) -> None:
    parser = commands.add_parser("serve", help="serve an existing database (RHYTONIC_DATABASE_URL)")
    parser.add_argument("--port", type=int, default=8787)
    parser.add_argument("--host", default="127.0.0.1")
    parser.add_argument("--workers", type=int, default=None, help="processes; one for each core, four at most, by default")
    parser.set_defaults(run=run)


def run(args: argparse.Namespace) -> int:
    from ..store.database import migrate  # slow to load, and no other command asks
    migrate(os.environ["RHYTONIC_DATABASE_URL"])
    workers = args.workers or min(os.cpu_count() or 1, MOST_WORKERS)
    os.environ[WORKERS] = str(workers)
    with tempfile.TemporaryDirectory(prefix="rhytonic-") as meeting:  # where worker processes find each other
        os.environ[MEETING] = meeting
        command = [sys.executable, "-m", "gunicorn", "--bind", f"{args.host}:{args.port}", "--config",
                   "python:rhytonic.web.worker", "--worker-class", "rhytonic.web.worker.KeepingWorker", "--preload",
                   "--workers", str(workers), "--threads", "12", "--timeout", "120", "--keep-alive", "75",
                   "--graceful-timeout", "5", "--no-control-socket", "--log-level", "warning",
                   "rhytonic.web.app:create_app()"]
        return _passing_signals(command)


def _passing_signals(command: list[str]) -> int:
    """Run a command until it ends, passing on what it is told; its exit code."""
    server = subprocess.Popen(command)
    for number in (signal.SIGTERM, signal.SIGINT, signal.SIGQUIT):
        signal.signal(number, lambda n, _: server.send_signal(n))
    return server.wait()
