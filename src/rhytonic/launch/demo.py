"""``./rhytonic demo``: everything needed to work, from nothing."""

from __future__ import annotations

import argparse
import contextlib
import os
import signal
import socket
import subprocess
import sys
import time
import urllib.request
from pathlib import Path
from types import FrameType

from ..demo.load import load_demo
from . import machine
from .cluster import Cluster, default_data
from .machine import say, stop


def run(argv: list[str]) -> int:
    """Start all that is needed, and stay until it is stopped; the exit code."""
    parser = argparse.ArgumentParser(prog="rhytonic demo")
    parser.add_argument("--port", type=int, default=8787)
    parser.add_argument("--data", type=Path, default=None, metavar="DIR", help="where the database lives")
    parser.add_argument("--fresh", action="store_true", help="throw this data folder's builds away first")
    args = parser.parse_args(argv)
    with socket.socket() as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind(("127.0.0.1", args.port))
        except OSError:
            stop(f"port {args.port} is taken; choose another with --port")
    cluster = Cluster(args.data or default_data())
    machine.nginx()
    machine.interface()
    if args.fresh:
        say("throwing away what was there …")
        _refuse_foreign(cluster.data)
        cluster.remove()
    for number in (signal.SIGINT, signal.SIGTERM):  # also where a shell in the background had told to ignore Ctrl-C
        signal.signal(number, _as_interrupt)
    server: subprocess.Popen[bytes] | None = None
    try:
        say("starting the database …")
        url = cluster.start()
        say("starting the server …")
        server = serve(url, args.port)
        address = f"http://127.0.0.1:{args.port}"
        wait_for(address, server)
        marker = cluster.data / "demo-loaded"
        if not marker.exists():
            say("loading the demo build …")
            load_demo(address)
            marker.touch()
        say("ready; Ctrl-C stops everything")
        print(address, flush=True)
        return watch(server, cluster)
    except KeyboardInterrupt:
        print()
        return 0
    finally:
        signal.signal(signal.SIGINT, signal.SIG_IGN)
        signal.signal(signal.SIGTERM, signal.SIG_IGN)
        if server is not None and server.poll() is None:
            say("stopping the server …")
            server.terminate()
            try:
                server.wait(10)
            except subprocess.TimeoutExpired:
                os.killpg(server.pid, signal.SIGKILL)
        if cluster.folder.exists():
            say("stopping the database …")
            cluster.stop()


def watch(server: subprocess.Popen[bytes], cluster: Cluster, every: float = 1.0) -> int:
    """Until the server ends, its exit code; a database that died meanwhile is started again where it was."""
    while True:
        try:
            return server.wait(every)
        except subprocess.TimeoutExpired:
            if not cluster.runs():
                say("the database stopped; starting it again …")
                with contextlib.suppress(SystemExit):  # what it left behind may take a moment to end: once more then
                    cluster.start()


def _refuse_foreign(data: Path) -> None:
    """Only a folder this program made is ever removed."""
    if data.exists() and any(data.iterdir()) and not (data / "password").exists():
        stop(f"{data} holds something that is not Rhytonic's; give another folder with --data")


def _as_interrupt(number: int, frame: FrameType | None) -> None:
    raise KeyboardInterrupt


def serve(url: str, port: int, *more: str) -> subprocess.Popen[bytes]:
    """The server as a process of its own session, so that Ctrl-C reaches only the launcher; ``more`` is told to it."""
    environment = {**os.environ, "RHYTONIC_DATABASE_URL": url, "OPENBLAS_NUM_THREADS": "1"}
    return subprocess.Popen([sys.executable, "-m", "rhytonic.cli", "serve", "--port", str(port), *more],
                            env=environment, start_new_session=True)


def wait_for(address: str, server: subprocess.Popen[bytes], seconds: float = 90.0) -> None:
    """Until the server answers: after an update it compiles its inner loops first."""
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        if server.poll() is not None:
            stop("the server ended before it answered; its message stands above")
        try:
            with urllib.request.urlopen(f"{address}/api/health", timeout=2):
                return
        except OSError:
            time.sleep(0.05)
    stop(f"the server did not answer within {seconds:g} s")
