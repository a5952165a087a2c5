"""``./rhytonic test``: every check there is, on a database of its own."""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
import time
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
    tools = Path(sys.executable).parent
    failed = []
    if not argv:
        for title, command, folder in (
                ("ruff", [str(tools / "ruff"), "check", "src", "tests", "bench"], ROOT),
                ("mypy on the core", [str(tools / "mypy")], ROOT),
                ("import-linter", [str(tools / "lint-imports"), "--no-cache"], ROOT),
                ("tsc", ["npm", "run", "--silent", "typecheck"], WEB),
                ("dependency-cruiser", ["npm", "run", "--silent", "floors"], WEB)):
            started = time.monotonic()
            done = subprocess.run(command, cwd=folder, capture_output=True, text=True)
            say(f"{title}: {'fine' if done.returncode == 0 else 'FAILED'} ({time.monotonic() - started:.1f} s)")
            if done.returncode:
                failed.append(title)
                print(done.stdout + done.stderr, flush=True)
    folder = Path(tempfile.mkdtemp(prefix="rhytonic-test-", dir="/tmp"))
    folder.chmod(0o711)
    cluster = Cluster(folder, lasting=False)
    try:
        say("starting a database for the tests …")
        # compiled files are kept for the many servers that are started, but not in the checkout
        kept = {k: v for k, v in os.environ.items() if k != "PYTHONDONTWRITEBYTECODE"}
        environment = {**kept, "RHYTONIC_TEST_DATABASE_URL": cluster.start(), "OPENBLAS_NUM_THREADS": "1",
                       "PYTHONPYCACHEPREFIX": str(folder / "compiled")}
        say("pytest …")
        code = subprocess.run([sys.executable, "-m", "pytest", *(argv or TOGETHER)], cwd=ROOT, env=environment).returncode
    finally:
        cluster.remove()
    if failed:
        print(f"Rhytonic: failed beside pytest: {', '.join(failed)}", file=sys.stderr)
    return code or bool(failed)
