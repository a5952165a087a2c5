"""Worker processes of which each keeps some of the builds warm.

Any of them can answer anything: what matters is in the database. A build is still answered by one and the same as long as
that one lives, so that it is evaluated once and its previews find everything warm. Whoever has the connection looks at the
request line, without taking it, and hands the connection itself to the process that keeps the build; where that process is
gone, whoever has the connection answers.
"""

from __future__ import annotations

import array
import os
import re
import selectors
import socket
import threading
from importlib import import_module
from pathlib import Path
from typing import Any

from gunicorn.workers.gthread import DEFAULT_WORKER_DATA_TIMEOUT, TConn, ThreadWorker

from .environment import MEETING, NUMBER, STOPPING, WORKERS

_BUILD = re.compile(rb"[A-Z]+ /api/builds/([0-9a-f]{1,32})[/ ?]")
_LOOK = 256
#: what a connection comes to that another process has by now
_HANDED = object()


def keeper_of(line: bytes, workers: int) -> int | None:
    """Number of the process that keeps the build a request line names; None where it names none."""
    found = _BUILD.match(line)
    return None if found is None or workers < 2 else int(found[1][:8], 16) % workers


def pre_fork(server: Any, worker: Any) -> None:
    """Give a process the lowest number that is free: gunicorn calls this before each fork."""
    taken = {w.number for w in server.WORKERS.values() if hasattr(w, "number")}
    worker.number = next(n for n in range(len(taken) + 1) if n not in taken)


def load_what_is_slow() -> None:
    """Load what the core loads only where it needs it, so that the first one to need it does not wait."""
    for name in ("scipy.optimize", "scipy.spatial", "ezdxf", "scipy.sparse.csgraph", "scipy.sparse.linalg"):
        import_module(name)


class KeepingWorker(ThreadWorker):  # type: ignore[misc]
    """A thread worker that hands connections to whoever keeps their build."""

    number = 0

    def run(self) -> None:
        """Serve until told to stop."""
        threading.Thread(target=load_what_is_slow, daemon=True).start()
        self.workers = int(os.environ.get(WORKERS, "1"))
        os.environ[NUMBER] = str(self.number)
        self.meeting = Path(os.environ[MEETING]) if self.workers > 1 else None
        if self.meeting is not None:
            own = self.meeting / str(self.number)
            own.unlink(missing_ok=True)
            self.incoming = socket.socket(socket.AF_UNIX, socket.SOCK_DGRAM)
            self.incoming.bind(str(own))
            own.chmod(0o600)
            self.incoming.setblocking(False)
            self.poller.register(self.incoming, selectors.EVENT_READ, self.receive)
        super().run()

    def handle_exit(self, sig: Any, frame: Any) -> None:
        """Told to stop: streams, which end by themselves only then, end."""
        STOPPING.set()
        super().handle_exit(sig, frame)

    def handle(self, conn: Any) -> Any:
        """Answer a request, or hand its connection over. Runs in a thread."""
        if self.meeting is not None and not getattr(conn, "handed", False):
            if not conn.initialized and not conn.data_ready and not conn.wait_for_data(DEFAULT_WORKER_DATA_TIMEOUT):
                return super().handle(conn)
            buffered = conn.parser is not None and conn.parser.unreader.buf.getvalue()
            if not buffered and self._hand_over(conn.sock):
                return _HANDED
        conn.handed = False
        return super().handle(conn)

    def _hand_over(self, connection: socket.socket) -> bool:
        try:
            connection.setblocking(False)
            keeper = keeper_of(connection.recv(_LOOK, socket.MSG_PEEK), self.workers)
        except OSError:
            return False
        if keeper is None or keeper == self.number:
            return False
        assert self.meeting is not None
        with socket.socket(socket.AF_UNIX, socket.SOCK_DGRAM) as out:
            out.settimeout(0.2)
            try:
                out.sendmsg([b"c"], [(socket.SOL_SOCKET, socket.SCM_RIGHTS, array.array("i", [connection.fileno()]))],
                            0, str(self.meeting / str(keeper)))
            except OSError:  # it is gone, or cannot keep up: whoever is here answers
                return False
        return True

    def receive(self, incoming: socket.socket) -> None:
        """Connections that others hand over."""
        while True:
            try:
                _, handles, _, _ = socket.recv_fds(incoming, 16, 4)
            except BlockingIOError:
                return
            for handle in handles:
                connection = socket.socket(fileno=handle)
                self.nr_conns += 1
                try:
                    conn = TConn(self.cfg, connection, connection.getpeername(), connection.getsockname())
                except OSError:  # closed on its way
                    self.nr_conns -= 1
                    connection.close()
                    continue
                conn.data_ready = conn.handed = True
                self.enqueue_req(conn)

    def finish_request(self, conn: Any, fs: Any) -> None:
        """What becomes of a connection after a request."""
        if not fs.cancelled() and fs.exception() is None and fs.result() is _HANDED:
            self.nr_conns -= 1
            conn.sock.close()  # this process's own handle alone; the connection goes on in the other
            return
        super().finish_request(conn, fs)
