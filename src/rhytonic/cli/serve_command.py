"""``rhytonic serve``: migrate the database and serve; the launcher calls it.

One nginx takes what people ask and hands it to a few gunicorns of one process each. Any of them can answer anything: what
matters is in the database. A build is still answered by one and the same, so that it is evaluated once and its previews find
everything warm.
"""

from __future__ import annotations

import argparse
import os
import signal
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterable
from pathlib import Path
from types import FrameType

from ..web.environment import NUMBER, WORKERS
from . import front

#: more processes than this help no one person, and each keeps builds of its own in memory
MOST_WORKERS = 4


def add_to(commands: argparse._SubParsersAction) -> None:
    """Tell the command and its arguments to the parser."""
    parser = commands.add_parser("serve", help="serve an existing database (RHYTONIC_DATABASE_URL)")
    parser.add_argument("--port", type=int, default=8787)
    parser.add_argument("--host", default="127.0.0.1")
    parser.add_argument("--workers", type=int, default=None, help="processes; one for each core, four at most, by default")
    parser.set_defaults(run=run)


def run(args: argparse.Namespace) -> int:
    """Do what the command says; its exit code."""
    from ..store.database import migrate  # slow to load, and no other command asks
    nginx = front.program()
    if nginx is None:
        print("rhytonic: serving needs nginx; install Debian's package of that name and run this again", file=sys.stderr)
        return 1
    migrate(os.environ["RHYTONIC_DATABASE_URL"])
    workers = args.workers or min(os.cpu_count() or 1, MOST_WORKERS)
    os.environ[WORKERS] = str(workers)
    with tempfile.TemporaryDirectory(prefix="rhytonic-") as name:  # open to nobody else
        folder = Path(name)
        told = folder / "nginx.conf"
        told.write_text(front.configuration(folder, args.host, args.port, workers, root=os.geteuid() == 0))
        together = Together()
        for number in range(workers):
            together.start([sys.executable, "-m", "gunicorn", "--config", "python:rhytonic.web.process",
                            "--bind", f"unix:{front.socket_of(folder, number)}", "rhytonic.web.app:create_app()"],
                           signal.SIGTERM, {NUMBER: str(number)})
        together.wait_for(front.socket_of(folder, number) for number in range(workers))
        together.start([nginx, "-e", "stderr", "-c", str(told), "-p", name], signal.SIGQUIT)  # what is under way is finished
        return together.wait()


class Together:
    """Processes that live as long as all of them do."""

    def __init__(self) -> None:
        self._stopping = False
        self._processes: dict[subprocess.Popen[bytes], signal.Signals] = {}
        for number in (signal.SIGTERM, signal.SIGINT, signal.SIGQUIT):
            signal.signal(number, self._told)

    def start(self, command: list[str], end: signal.Signals, environment: dict[str, str] | None = None) -> None:
        """Start one more; ``end`` is what tells it to finish what it has begun, and end."""
        self._processes[subprocess.Popen(command, env={**os.environ, **(environment or {})})] = end

    def wait_for(self, paths: Iterable[Path]) -> None:
        """Until all these are there, or a process has ended."""
        missing = list(paths)
        while missing and not self._stopping and all(process.poll() is None for process in self._processes):
            missing = [path for path in missing if not path.exists()]
            time.sleep(0.02)

    def wait(self) -> int:
        """Until one ends; then the others are ended. 0 where it was told to, else what the first one said."""
        if all(process.poll() is None for process in self._processes):
            os.waitid(os.P_ALL, 0, os.WEXITED | os.WNOWAIT)
        codes = [code for process in self._processes if (code := process.poll()) is not None]
        told = self._stopping
        self.stop()
        for process in self._processes:
            process.wait()
        return 0 if told else next((code for code in codes if code), 1)

    def stop(self) -> None:
        """Tell all to end: whoever takes requests first."""
        self._stopping = True
        for process, end in reversed(self._processes.items()):
            if process.poll() is None:
                process.send_signal(end)

    def _told(self, number: int, frame: FrameType | None) -> None:
        if not self._stopping:
            self.stop()
