"""Foreign files read in a process of their own, with limits of memory and seconds: what nobody thought of is bounded too."""

from __future__ import annotations

import contextlib
import json
import os
import signal
import subprocess
import sys
import time
from pathlib import Path
from threading import Lock, Thread
from typing import Any

from ..units import Unit
from ..waiting import check
from .drawing import Drawing
from .limits import LARGEST_BYTES, BadModel
from .model import Model
from .packed import unpack_drawing, unpack_model

#: what a reader may take beside itself, and more for each byte of the file
_MEMORY, _MEMORY_EACH = 220 * 2**20, 20
#: seconds it may take, and more for each megabyte of the file
_SECONDS, _SECONDS_EACH, _MOST_SECONDS = 5.0, 2.0, 90.0
#: how many times as long may pass: a machine that does much else is not the file's fault, nor is that a reader comes up
_PATIENCE = 4
#: seconds between looks at whether anybody still waits
_LOOK = 0.05
#: of what this process was told, what a child is told too: no secrets
_HANDED_ON = ("PATH", "LANG", "LC_ALL", "HOME", "TMPDIR", "PYTHONDONTWRITEBYTECODE")
_ROOT = Path(__file__).resolve().parents[3]


class Readers:
    """Processes that read one file each. One that was used is followed by another, which waits for the next file."""

    def __init__(self) -> None:
        self._lock = Lock()
        self._spare: subprocess.Popen[bytes] | None = None
        self._owner = os.getpid()

    def read(self, told: dict[str, Any], data: bytes) -> bytes:
        """What the child answers, without its first letter.

        Raises:
            BadModel: the file cannot be taken, or asks for more memory or time than such a file may.
            Cancelled: nobody waits for it any more.
        """
        if len(data) > LARGEST_BYTES:
            raise BadModel(f"the file has {len(data) / 2**20:.0f} MB; at most {LARGEST_BYTES // 2**20} MB are taken")
        seconds = min(_SECONDS + _SECONDS_EACH * len(data) / 2**20, _MOST_SECONDS)
        told = told | {"bytes": len(data), "memory": _MEMORY + _MEMORY_EACH * len(data), "seconds": seconds}
        child = self._taken()
        try:
            answer = _asked(child, [json.dumps(told).encode() + b"\n", data], seconds)
            if not answer:  # it was ended by its limits: by which one its end tells
                with contextlib.suppress(subprocess.TimeoutExpired):
                    child.wait(1)
        finally:
            _end(child)
            Thread(target=self._make_ready, daemon=True).start()
        if answer[:1] == b"R":
            return answer[1:]
        if answer[:1] == b"E":
            raise BadModel(answer[1:].decode("utf-8", "replace"))
        if child.returncode == -signal.SIGXCPU:
            raise _too_long(seconds)
        raise BadModel("reading the file takes more memory than a file of its size may; it holds far more than it says, or "
                       "is broken")

    def _taken(self) -> subprocess.Popen[bytes]:
        with self._lock:
            spare, self._spare = (self._spare, None) if self._owner == os.getpid() else (None, None)
        if spare is not None and spare.poll() is None:
            return spare
        return _started()

    def _make_ready(self) -> None:
        with self._lock:
            if self._owner != os.getpid():
                self._owner, self._spare = os.getpid(), None
            if self._spare is None or self._spare.poll() is not None:
                self._spare = _started()


_readers = Readers()


def read_model_apart(data: bytes) -> Model:
    """The model of a file. Raises BadModel, Cancelled."""
    return unpack_model(_readers.read({"what": "model"}, data))


def read_drawing_apart(data: bytes, name: str, unit: Unit | None = None) -> Drawing:
    """What an SVG or DXF file draws; ``unit`` is taken where a DXF tells none. Raises BadModel, Cancelled."""
    return unpack_drawing(_readers.read({"what": "drawing", "name": name[-200:], "unit": unit}, data))


def _started() -> subprocess.Popen[bytes]:
    environment = {k: v for k, v in os.environ.items() if k in _HANDED_ON}
    environment |= {"PYTHONPATH": str(_ROOT), "OPENBLAS_NUM_THREADS": "1", "OMP_NUM_THREADS": "1"}
    return subprocess.Popen([sys.executable, "-m", "rhytonic.core.files.reading.child"], stdin=subprocess.PIPE,
                            stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, env=environment, start_new_session=True)


def _asked(child: subprocess.Popen[bytes], request: list[bytes], seconds: float) -> bytes:
    """What a child answers to a request; it is given up where it takes longer, or where nobody waits for it.

    Raises:
        BadModel: it takes longer. Cancelled: nobody waits for it any more.
    """
    answer: list[bytes] = []

    def hand_over() -> None:
        assert child.stdin is not None
        with contextlib.suppress(OSError):  # it ended before it had read all: its answer tells why
            for piece in request:
                child.stdin.write(piece)
            child.stdin.close()

    def take() -> None:
        assert child.stdout is not None
        with contextlib.suppress(OSError, ValueError):
            answer.append(child.stdout.read())

    threads = [Thread(target=work, daemon=True) for work in (hand_over, take)]
    for thread in threads:
        thread.start()
    until = time.monotonic() + _PATIENCE * seconds
    while threads[1].is_alive():
        threads[1].join(_LOOK)
        check()
        if threads[1].is_alive() and time.monotonic() > until:
            raise _too_long(seconds)
    return answer[0] if answer else b""


def _too_long(seconds: float) -> BadModel:
    return BadModel(f"reading the file takes longer than {seconds:.0f} s, which a file of its size may not; it holds far "
                    "more than it says, or is broken")


def _end(child: subprocess.Popen[bytes]) -> None:
    if child.poll() is None:
        child.kill()
    child.wait()
    for pipe in (child.stdin, child.stdout):
        if pipe is not None:
            with contextlib.suppress(OSError):
                pipe.close()
