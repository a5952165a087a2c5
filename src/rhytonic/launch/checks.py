"""``./rhytonic test``: every check there is, on a database of its own."""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
import time
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

from . import machine
from .cluster import Cluster
from .machine import ROOT, WEB, say

#: many at a time: browser tests mostly wait, for the page or for what it draws
TOGETHER = ["-n", "3", "--dist", "worksteal", "--durations=15"]


def run(argv: list[str]) -> int:
    """Run all checks; with arguments, only pytest with those."""
    # compiled files are kept, for the many processes that are started; version control leaves them out
    kept = {k: v for k, v in os.environ.items() if k != "PYTHONDONTWRITEBYTECODE"}
    with ThreadPoolExecutor(1) as beside:
        # what only looks at the sources goes on beside all else: on two cores something always waits
        early = [] if argv else [beside.submit(_check, kept, *told) for told in _ALONE]
        machine.postgres_programs()
        machine.nginx()
        machine.chromium()
        machine.interface()
        if early:
            for done in early[:2]:  # compiled once, before many processes want it
                done.result()
        late = [] if argv else [beside.submit(_check, kept, *told) for told in _WITH_INTERFACE]
        folder = Path(tempfile.mkdtemp(prefix="rhytonic-test-", dir="/tmp"))
        folder.chmod(0o711)
        cluster = Cluster(folder, lasting=False)
        try:
            say("starting a database for the tests …")
            environment = {**kept, "RHYTONIC_TEST_DATABASE_URL": cluster.start(), "OPENBLAS_NUM_THREADS": "1"}
            say("pytest …")
            command = [sys.executable, "-m", "pytest", *(argv or TOGETHER)]
            code = subprocess.run(command, cwd=ROOT, env=environment).returncode
        finally:
            cluster.remove()
        failed = [title for done in early + late if (title := done.result())]
    if failed:
        print(f"Rhytonic: failed beside pytest: {', '.join(failed)}", file=sys.stderr)
    return code or bool(failed)


_TOOLS = Path(sys.executable).parent
_LOOPS = "import rhytonic.web.app; from rhytonic.core.compiled import compile_all; compile_all()"
_ALONE: list[tuple[str, list[str], Path]] = [
    ("inner loops compiled", [sys.executable, "-c", _LOOPS], ROOT),
    ("collection of the tests", [sys.executable, "-m", "pytest", "--collect-only", "-qq"], ROOT),
    ("mypy on the core", [str(_TOOLS / "mypy")], ROOT),
    ("ruff", [str(_TOOLS / "ruff"), "check", "src", "tests", "bench"], ROOT),
    ("import-linter", [str(_TOOLS / "lint-imports"), "--no-cache"], ROOT)]
_WITH_INTERFACE: list[tuple[str, list[str], Path]] = [
    ("tsc", [str(WEB / "node_modules/.bin/tsc"), "--noEmit"], WEB),
    ("dependency-cruiser", ["npm", "run", "--silent", "floors"], WEB)]


def _check(environment: dict[str, str], title: str, command: list[str], folder: Path) -> str | None:
    """Runs what looks at the sources alone; its title where it failed."""
    started = time.monotonic()
    done = subprocess.run(command, cwd=folder, capture_output=True, text=True, env=environment)
    say(f"{title}: {'fine' if done.returncode == 0 else 'FAILED'} ({time.monotonic() - started:.1f} s)")
    if done.returncode:
        print(done.stdout + done.stderr, flush=True)
    return title if done.returncode else None
