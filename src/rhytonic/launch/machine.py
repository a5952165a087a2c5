"""Installs what is missing on the machine. Says what it does."""

from __future__ import annotations

import contextlib
import fcntl
import hashlib
import os
import shutil
import subprocess
import sys
from collections.abc import Iterable, Iterator
from pathlib import Path

ROOT = Path(__file__).resolve().parents[3]
WEB = ROOT / "web"
#: the API's types, made from web/openapi.json by every build
GENERATED = WEB / "src" / "api" / "schema.ts"


def say(text: str) -> None:
    """Tell the person at the terminal what goes on."""
    print(f"Rhytonic: {text}", flush=True)


def stop(text: str) -> None:
    """End with one sentence on standard error."""
    print(f"Rhytonic: {text}", file=sys.stderr)
    raise SystemExit(1)


def _as_root(command: list[str]) -> list[str]:
    if os.geteuid() == 0:
        return command
    if shutil.which("sudo") is None:
        stop(f"needs '{' '.join(command)}' to be run once as root, and sudo is not there")
    return ["sudo", *command]


def install_debian(packages: Iterable[str]) -> None:
    """Install Debian packages."""
    wanted = list(packages)
    say(f"installing Debian's {', '.join(wanted)} …")
    environment = {**os.environ, "DEBIAN_FRONTEND": "noninteractive"}
    with _no_services():
        for command in (["apt-get", "update", "-qq"],
                        ["apt-get", "install", "-y", "-qq", "--no-install-recommends", *wanted]):
            done = subprocess.run(_as_root(command), env=environment, capture_output=True, text=True)
            if done.returncode:
                stop(f"'{' '.join(command)}' failed: {done.stderr.strip()[-500:]}")


#: what Debian asks before a service of the machine is started (policy-rc.d, package init-system-helpers)
_POLICY = Path("/usr/sbin/policy-rc.d")


@contextlib.contextmanager
def _no_services() -> Iterator[None]:
    """Within, what is installed starts no service of the machine: only its programs are wanted."""
    if _POLICY.exists():
        yield
        return
    script = f"printf '#!/bin/sh\\nexit 101\\n' > {_POLICY} && chmod 755 {_POLICY}"
    subprocess.run(_as_root(["sh", "-c", script]), check=False)
    try:
        yield
    finally:
        subprocess.run(_as_root(["rm", "-f", str(_POLICY)]), check=False)


def postgres_programs() -> Path:
    """The folder of Debian's newest PostgreSQL programs, installed if there are none."""
    def newest() -> Path | None:
        found = [p.parent for p in Path("/usr/lib/postgresql").glob("*/bin/initdb")]
        return max(found, key=lambda p: int(p.parent.name), default=None)

    if newest() is None:
        install_debian(["postgresql"])
    found = newest()
    if found is None:
        stop("PostgreSQL is still missing after installing Debian's postgresql")
        raise AssertionError
    return found


def nginx() -> None:
    """Debian's nginx, installed if it is missing; the machine's own service that comes with it stays off."""
    if shutil.which("nginx") or Path("/usr/sbin/nginx").exists():
        return
    install_debian(["nginx"])
    if shutil.which("systemctl"):
        subprocess.run(_as_root(["systemctl", "disable", "--quiet", "nginx"]), capture_output=True, check=False)


def chromium() -> Path:
    """Debian's Chromium without a window, installed if it is missing: pages open in two thirds of the time."""
    path = Path("/usr/bin/chromium-headless-shell")
    if not path.exists():
        install_debian(["chromium-headless-shell"])
    return path


def _digest(paths: Iterable[Path]) -> str:
    h = hashlib.sha256()
    for path in sorted(paths):
        h.update(str(path.relative_to(ROOT)).encode())
        h.update(path.read_bytes())
    return h.hexdigest()


def _up_to_date(stamp: Path, want: str) -> bool:
    return stamp.exists() and stamp.read_text() == want


def npm_packages() -> None:
    """``npm ci`` when the lock file is not what is installed."""
    if shutil.which("npm") is None:
        stop("needs Node.js 20 with npm; install it and run this again")
    stamp, want = WEB / "node_modules" / ".rhytonic-stamp", _digest([WEB / "package-lock.json"])
    if _up_to_date(stamp, want):
        return
    say("installing the interface's packages (npm ci) …")
    done = subprocess.run(["npm", "ci", "--no-audit", "--no-fund", "--loglevel=error"], cwd=WEB, capture_output=True,
                          text=True)
    if done.returncode:
        stop(f"npm ci failed: {done.stderr.strip()[-1500:]}")
    stamp.write_text(want)


def interface() -> None:
    """Build the interface when its sources changed; two that start at once wait for each other."""
    with (ROOT / ".venv.lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        _interface()


def _interface() -> None:
    npm_packages()
    sources = [p for p in (WEB / "src").rglob("*") if p.is_file() and p != GENERATED]
    sources += [WEB / n for n in ("index.html", "openapi.json", "vite.config.ts", "tsconfig.json", "package-lock.json")]
    stamp, want = WEB / "dist" / ".stamp", _digest(sources)
    if _up_to_date(stamp, want):
        return
    say("building the interface (vite build) …")
    done = subprocess.run(["npm", "run", "--silent", "build"], cwd=WEB, capture_output=True, text=True)
    if done.returncode:
        stop(f"the interface cannot be built: {(done.stdout + done.stderr).strip()[-1500:]}")
    stamp.write_text(want)


def main(command: str) -> None:
    """Fetch what a command needs beside Python packages. Runs beside their installing, so it may use none of them."""
    postgres_programs()
    nginx()
    if command == "test":
        chromium()
    npm_packages()


if __name__ == "__main__":
    main(sys.argv[1])
