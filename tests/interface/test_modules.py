"""The interface's own logic, without a page: bundled once, run by Node's test runner, a file at a time."""

import os
import subprocess

import pytest

from rhytonic.launch import machine
from rhytonic.web.kinds_api import kinds_json

FILES = sorted(p.name.removesuffix(".test.ts") for p in (machine.WEB / "tests").glob("*.test.ts"))


@pytest.fixture(scope="module")
def bundles(tmp_path_factory):
    """Where the bundled tests are, and the step kinds as the API tells them."""
    machine.npm_packages()
    folder = tmp_path_factory.mktemp("interface")
    # beside the packages, so that Node finds those that are not bundled
    out = machine.WEB / "dist-tests" / f"{folder.name}-{os.getpid()}"
    done = subprocess.run(["npx", "vite", "build", "--config", "vite.tests.config.ts", "--logLevel", "warn", "--outDir", str(out)],
                          cwd=machine.WEB, capture_output=True, text=True)
    assert done.returncode == 0, done.stdout + done.stderr
    told = folder / "kinds.json"
    told.write_bytes(kinds_json())
    yield out, told
    subprocess.run(["rm", "-r", str(out)], check=True)


@pytest.mark.parametrize("name", FILES)
def test_module(bundles, name):
    out, kinds = bundles
    done = subprocess.run(["node", "--test", "--test-reporter=spec", str(out / f"{name}.test.js")], capture_output=True, text=True,
                          env={**os.environ, "RHYTONIC_KINDS": str(kinds), "NO_COLOR": "1"}, timeout=120)
    assert done.returncode == 0, done.stdout[-6000:] + done.stderr[-2000:]
    assert "pass 0" not in done.stdout


def test_there_are_modules_to_test():
    assert len(FILES) > 5
