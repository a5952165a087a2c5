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
    machine.postgres_programs()
    machine.chromium()
    machine.interface()
    # compiled files are kept, for the many processes that are started; version control leaves them out
    kept = {k: v for k, v in os.environ.items() if k != "PYTHONDONTWRITEBYTECODE"}
    failed = [] if argv else _beside(kept)
    folder = Path(tempfile.mkdtemp(prefix="rhytonic-test-", dir="/tmp"))
    folder.chmod(0o711)
    cluster = Cluster(folder, lasting=False)
    try:
        say("starting a database for the tests …")
        environment = {**kept, "RHYTONIC_TEST_DATABASE_URL": cluster.start(), "OPENBLAS_NUM_THREADS": "1"}
        say("pytest …")
        code = subprocess.run([sys.executable, "-m", "pytest", *(argv or TOGETHER)], cwd=ROOT, env=environment).returncode
    finally:
        cluster.remove()
    if failed:
        print(f"Rhytonic: failed beside pytest: {', '.join(failed)}", file=sys.stderr)
    return code or bool(failed)


def _beside(environment: dict[str, str]) -> list[str]:
    """What is checked without running anything, two at a time; the titles of those that failed."""
    tools = Path(sys.executable).parent

    def check(title: str, command: list[str], folder: Path) -> str | None:
        started = time.monotonic()
        done = subprocess.run(command, cwd=folder, capture_output=True, text=True, env=environment)
        say(f"{title}: {'fine' if done.returncode == 0 else 'FAILED'} ({time.monotonic() - started:.1f} s)")
        if done.returncode:
            print(done.stdout + done.stderr, flush=True)
        return title if done.returncode else None

    with ThreadPoolExecutor(2) as pool:
        return [title for title in pool.map(lambda told: check(*told), (
            ("mypy on the core", [str(tools / "mypy")], ROOT),
            ("tsc", [str(WEB / "node_modules/.bin/tsc"), "--noEmit"], WEB),
            ("dependency-cruiser", ["npm", "run", "--silent", "floors"], WEB),
            ("ruff", [str(tools / "ruff"), "check", "src", "tests", "bench"], ROOT),
            ("import-linter", [str(tools / "lint-imports"), "--no-cache"], ROOT),
            ("collection of the tests", [sys.executable, "-m", "pytest", "--collect-only", "-qq"], ROOT))) if title]
