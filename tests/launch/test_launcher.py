"""What ``./rhytonic`` promises before anything runs."""

import os
import socket
import subprocess
import sys
import tempfile
import threading
import time
from pathlib import Path

import psycopg
import pytest

from rhytonic.launch import cluster as clusters
from rhytonic.launch import demo, machine
from rhytonic.launch.machine import ROOT


@pytest.fixture
def folder():
    path = Path(tempfile.mkdtemp(prefix="rhytonic-launch-", dir="/tmp"))
    path.chmod(0o711)
    yield path
    clusters.Cluster(path).remove()


def test_a_cluster_is_private_and_comes_back(folder):
    cluster = clusters.Cluster(folder, lasting=False)
    url = cluster.start()
    assert "127.0.0.1" in url and cluster.password in url
    assert (folder / "password").stat().st_mode & 0o077 == 0
    owner = (folder / "pg").stat().st_uid
    assert owner != 0, "a server never runs as root"
    with pytest.raises(psycopg.OperationalError):
        psycopg.connect(host="127.0.0.1", port=cluster.port, user="rhytonic", password="wrong", dbname="rhytonic")
    again = clusters.Cluster(folder, lasting=False)
    assert again.start() == url  # found running, not started twice
    cluster.stop()
    with pytest.raises(OSError):
        socket.create_connection(("127.0.0.1", cluster.port), timeout=1)


def test_a_database_that_died_is_started_again_where_it_was(folder):
    cluster = clusters.Cluster(folder, lasting=False)
    url = cluster.start()
    server = subprocess.Popen([sys.executable, "-c", "import time; time.sleep(60)"])
    watching = threading.Thread(target=lambda: demo.watch(server, cluster, every=0.2))
    watching.start()
    try:
        assert cluster.runs()
        cluster.stop("immediate")
        assert_soon(lambda: answers(url.replace("+psycopg", "")))
    finally:
        server.kill()
        watching.join(30)
        cluster.remove()


def answers(url):
    try:
        with psycopg.connect(url) as connection:
            return connection.execute("select 1").fetchone() == (1,)
    except psycopg.OperationalError:
        return False


def assert_soon(check, seconds=30):
    end = time.monotonic() + seconds
    while not check():
        assert time.monotonic() < end
        time.sleep(0.1)


def test_fresh_never_touches_what_is_not_ours(tmp_path):
    (tmp_path / "thesis.txt").write_text("years of work")
    with pytest.raises(SystemExit):
        demo._refuse_foreign(tmp_path)
    assert (tmp_path / "thesis.txt").exists()
    demo._refuse_foreign(tmp_path / "not-there")


def test_a_taken_port_is_said(capsys, tmp_path):
    with socket.socket() as s:
        s.bind(("127.0.0.1", 0))
        s.listen()
        with pytest.raises(SystemExit):
            demo.run(["--port", str(s.getsockname()[1]), "--data", str(tmp_path / "data")])
    assert "is taken; choose another with --port" in capsys.readouterr().err
    assert not (tmp_path / "data").exists()


def test_builds_of_the_interface_are_made_when_something_changed(tmp_path):
    one, two = tmp_path / "a", tmp_path / "b"
    one.write_text("x")
    stamp = tmp_path / "stamp"
    assert not machine._up_to_date(stamp, "y")
    stamp.write_text("y")
    assert machine._up_to_date(stamp, "y") and not machine._up_to_date(stamp, "z")
    assert not two.exists()


def test_help_and_unknown_commands():
    run = [str(ROOT / "rhytonic")]
    told = subprocess.run([*run, "help"], capture_output=True, text=True, env={**os.environ})
    assert told.returncode == 0 and all(word in told.stdout for word in ("demo", "test", "build", "schema", "bench"))
    assert subprocess.run([*run, "nonsense"], capture_output=True, text=True).returncode == 2


def test_every_version_is_pinned():
    for lock in ("run", "test"):
        lines = (Path(__file__).parents[2] / "requirements" / f"{lock}.lock").read_text().splitlines()
        named = [line for line in lines if line and not line.startswith((" ", "#", "-"))]
        assert named and all("==" in line for line in named)
        assert sum("--hash=sha256:" in line for line in lines) >= len(named)
    import json
    package = json.loads((ROOT / "web" / "package.json").read_text())
    for versions in (package["dependencies"], package["devDependencies"]):
        assert all(v[0].isdigit() for v in versions.values())


def test_tests_run_on_what_ships():
    """Every package of the product is pinned to one version, in the tests as where it runs."""
    import re

    def pinned(name):
        text = (Path(__file__).parents[2] / "requirements" / f"{name}.lock").read_text()
        return dict(re.findall(r"^([a-z0-9._-]+)==(\S+)", text, re.MULTILINE))

    run, test = pinned("run"), pinned("test")
    assert {k: (v, test.get(k)) for k, v in run.items() if test.get(k) != v} == {}
