"""A real server on a real database, one of which is taken away."""

import json
import os
import signal
import tempfile
import time
import urllib.error
import urllib.request
import uuid
from pathlib import Path

import pytest

from rhytonic.launch.cluster import Cluster, free_port
from rhytonic.launch.demo import serve, wait_for
from tests.api.conftest import BOX, part


@pytest.fixture(scope="module")
def cluster():
    folder = Path(tempfile.mkdtemp(prefix="rhytonic-outage-", dir="/tmp"))
    folder.chmod(0o711)
    cluster = Cluster(folder)  # a lasting one: what is acknowledged must be on disk
    try:
        cluster.start()
        yield cluster
    finally:
        cluster.remove()


class Server:
    def __init__(self, url):
        self.url, self.port = url, free_port()
        self.process = None
        self.start()

    def start(self):
        self.process = serve(self.url, self.port)
        wait_for(f"http://127.0.0.1:{self.port}", self.process)

    def kill(self):
        """No goodbye: the whole process group at once."""
        os.killpg(self.process.pid, signal.SIGKILL)
        self.process.wait()

    def call(self, path, body=None):
        data = None if body is None else json.dumps(body).encode()
        request = urllib.request.Request(f"http://127.0.0.1:{self.port}{path}", data=data, headers={"Content-Type": "application/json", "X-Rhytonic": "1"})
        try:
            with urllib.request.urlopen(request, timeout=30) as answer:
                return answer.status, json.load(answer)
        except urllib.error.HTTPError as error:
            return error.code, json.load(error)


@pytest.fixture
def server(cluster):
    server = Server(cluster.url("rhytonic"))
    yield server
    server.kill()


def new_build(server):
    status, build = server.call("/api/builds", {"name": f"Dinghy {uuid.uuid4().hex[:6]}", "document": {
        "format": "rhytonic", "version": 1, "parts": [part(BOX)]}})
    assert status == 201
    return build


def change(server, build, depth, key=None):
    return server.call(f"/api/builds/{build['id']}/changes", {
        "revision": build["revision"], "label": "Size", "key": key or uuid.uuid4().hex,
        "patch": [{"op": "replace", "path": "/parts/0/steps/0/size/1", "value": depth}]})


def test_the_database_goes_and_comes_back(server, cluster):
    build = new_build(server)
    cluster.stop()
    key = uuid.uuid4().hex
    started = time.monotonic()
    status, told = change(server, build, 44, key)
    assert status == 503 and told["code"] == "database_gone" and "kept" in told["message"]
    assert time.monotonic() - started < 15
    status, health = server.call("/api/health")
    assert status == 503 and not health["ok"] and not health["database"]
    cluster.start()
    assert server.call("/api/health")[0] == 200
    status, now = change(server, build, 44, key)
    assert status == 200 and now["document"]["parts"][0]["steps"][0]["size"][1] == 44


def test_killing_the_server_loses_nothing_that_was_acknowledged(server):
    build = new_build(server)
    for depth in range(30, 45):
        status, build = change(server, build, depth)
        assert status == 200
    server.kill()
    server.start()
    _, found = server.call(f"/api/builds/{build['id']}")
    assert found["revision"] == build["revision"] and found["document"]["parts"][0]["steps"][0]["size"][1] == 44
    status, undone = server.call(f"/api/builds/{build['id']}/undo", {"revision": found["revision"]})
    assert status == 200 and undone["document"]["parts"][0]["steps"][0]["size"][1] == 43
