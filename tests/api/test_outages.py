"""A real server on a real database, one of which is taken away."""

import http.client
import json
import os
import signal
import socket
import subprocess
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


@pytest.fixture(scope="module")
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
    status, told = change(server, build, 44, key)  # answered within the patience of a call
    assert status == 503 and told["code"] == "database_gone" and "kept" in told["message"]
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


def test_a_preview_whose_asker_went_away_is_given_up(server):
    build = new_build(server)
    path = f"/api/builds/{build['id']}/preview"

    def dense(n):
        return {"revision": build["revision"], "part": "part1", "replace": "body", "sure": True,
                "step": {"kind": "box", "size": [10, 10, 10], "segments": [n, 350, 350]}}

    def left_after(seconds, n):
        body = json.dumps(dense(n)).encode()
        with socket.create_connection(("127.0.0.1", server.port)) as gone:
            gone.sendall(f"POST {path} HTTP/1.1\r\nHost: 127.0.0.1\r\nX-Rhytonic: 1\r\nContent-Type: application/json\r\n"
                         f"Content-Length: {len(body)}\r\n\r\n".encode() + body)
            time.sleep(seconds)
        return elapsed(server, path, {**dense(1), "step": {**BOX, "size": [1, 2, n]}})

    whole = elapsed(server, path, dense(350))
    # in one run, and the best of a few: whatever else the machine does meanwhile only makes each longer
    waited = [left_after(whole / 6, n) for n in (349, 348, 347)]
    assert min(waited) < whole / 2  # the next one does not wait for what nobody wants


def elapsed(server, path, body):
    """Seconds of an answer that is not JSON."""
    data = json.dumps(body).encode()
    headers = {"Content-Type": "application/json", "X-Rhytonic": "1"}
    started = time.monotonic()
    with urllib.request.urlopen(urllib.request.Request(f"http://127.0.0.1:{server.port}{path}", data, headers), timeout=60) as a:
        assert a.status == 200 and len(a.read()) > 100
    return time.monotonic() - started


def test_each_build_is_kept_by_one_process_and_any_other_takes_over(server):
    builds = [new_build(server) for _ in range(12)]

    def keepers():
        """Who answers for each build, asked on one connection after the other's."""
        out = {}
        connection = http.client.HTTPConnection("127.0.0.1", server.port)
        for build in builds * 2:
            connection.request("GET", f"/api/builds/{build['id']}")
            answer = connection.getresponse()
            answer.read()
            assert answer.status == 200
            out.setdefault(build["id"], set()).add(answer.headers["Server-Timing"].split("desc=")[1])
        return out

    end = time.monotonic() + 20
    while len(set.union(*(first := keepers()).values())) < 2:  # the second process comes up a moment after the first
        assert time.monotonic() < end
        time.sleep(0.1)
    first = keepers()
    assert all(len(who) == 1 for who in first.values())
    victim = builds[0]["id"]
    workers = subprocess.run(["pgrep", "-P", subprocess.run(["pgrep", "-P", str(server.process.pid)], capture_output=True,
                                                            text=True).stdout.split()[0]], capture_output=True, text=True)
    for pid in workers.stdout.split():
        os.kill(int(pid), signal.SIGKILL)
        assert insistently(server, f"/api/builds/{victim}")[0] == 200
    end = time.monotonic() + 20
    while True:  # a connection that reached the one just killed breaks, and is made anew
        try:
            assert keepers().keys() == first.keys()
            return
        except (OSError, http.client.HTTPException):
            assert time.monotonic() < end
            time.sleep(0.1)


def insistently(server, path, body=None, seconds=20):
    """As the interface does: a connection that broke is tried again."""
    end = time.monotonic() + seconds
    while True:
        try:
            return server.call(path, body)
        except (OSError, http.client.HTTPException):
            assert time.monotonic() < end
            time.sleep(0.1)
