"""Connections that lie idle or trickle: nobody else waits for them."""

import http.client
import json
import os
import socket
import subprocess
import time
from contextlib import ExitStack
from itertools import cycle, islice

import pytest

from rhytonic.cli import front
from rhytonic.launch.cluster import free_port
from rhytonic.launch.demo import serve, wait_for
from rhytonic.web.schemas import Fault
from tests.api.conftest import BOX, part
from tests.conftest import new_database

#: as many as the issue that asked for this; twice what all threads of the processes are
MANY = 60
HEAD = "Host: 127.0.0.1\r\nX-Rhytonic: 1\r\nContent-Type: application/json\r\n"


@pytest.fixture(scope="module")
def port(database_url):
    port = free_port()
    process = serve(new_database(database_url, "front"), port)
    wait_for(f"http://127.0.0.1:{port}", process)
    yield port
    process.terminate()
    assert process.wait(15) in (0, -15)


def ask(port, method, path, body=None, **headers):
    """Status, headers and body of one request on a connection of its own."""
    connection = http.client.HTTPConnection("127.0.0.1", port, timeout=front.PATIENCE / 2)
    connection.request(method, path, None if body is None else json.dumps(body),
                       {"X-Rhytonic": "1", "Content-Type": "application/json", **headers})
    answer = connection.getresponse()
    told = answer.status, answer.headers, answer.read()
    connection.close()
    return told


def new_build(port, segments):
    status, _, told = ask(port, "POST", "/api/builds", {"name": "Lantern", "document": {
        "format": "rhytonic", "version": 1, "parts": [part({**BOX, "segments": [segments] * 3})]}})
    assert status == 201
    return json.loads(told)


def kinds_of_slowness(build):
    """What is sent, and then no more."""
    path = f"/api/builds/{build['id']}"
    return {
        "nothing": b"",
        "half a line": b"GET /api/he",
        "half a head": f"GET /api/health HTTP/1.1\r\n{HEAD}".encode(),
        "half a line of a build": f"GET {path}".encode(),
        "half a change": f"POST {path}/changes HTTP/1.1\r\n{HEAD}Content-Length: 4000\r\n\r\n{{".encode(),
        "half a preview": f"POST {path}/preview HTTP/1.1\r\n{HEAD}Content-Length: 4000\r\n\r\n{{".encode(),
        "half a model": f"POST /api/models?name=buoy.obj HTTP/1.1\r\n{HEAD}Content-Length: 9000000\r\n\r\nv 0 0 0".encode(),
        "a chunk": f"POST {path}/changes HTTP/1.1\r\n{HEAD}Transfer-Encoding: chunked\r\n\r\n5\r\n{{\"a".encode(),
        # asked for whole, and never read
        "a mesh": f"GET {path}/parts/part1/mesh HTTP/1.1\r\n{HEAD}\r\n".encode(),
        "news": f"GET /api/events HTTP/1.1\r\n{HEAD}\r\n".encode()}


@pytest.mark.parametrize("kind", [*kinds_of_slowness({"id": "0"}), "all of them"])
def test_sixty_slow_connections_keep_nobody_waiting(port, kind):
    build = new_build(port, 24 if kind == "a mesh" else 2)
    every = kinds_of_slowness(build)
    with ExitStack() as held:
        for sent in islice(cycle(every.values() if kind == "all of them" else [every[kind]]), MANY):
            slow = held.enter_context(socket.socket())
            slow.setsockopt(socket.SOL_SOCKET, socket.SO_RCVBUF, 4096)
            slow.connect(("127.0.0.1", port))
            slow.sendall(sent)
        time.sleep(0.5)  # all have arrived where they are going to lie
        # any of them that had to be waited for would be, for longer than these questions have patience
        status, _, told = ask(port, "GET", "/api/health")
        assert status == 200 and json.loads(told)["ok"]
        status, _, told = ask(port, "GET", f"/api/builds/{build['id']}")  # and whoever keeps the build answers for it
        assert status == 200 and json.loads(told)["revision"] == build["revision"]


def test_what_the_front_says_itself_is_told_as_all_else(port):
    for status, sent in ((400, "GET /a b c HTTP/9\r\nnonsense\r\n\r\n"), (400, f"GET /a%00b HTTP/1.1\r\n{HEAD}\r\n"),
                         (400, f"GET /../../etc HTTP/1.1\r\n{HEAD}\r\n"), (400, f"GET / HTTP/1.1\r\nX: {'x' * 40000}\r\n\r\n"),
                         (413, f"POST /api/models HTTP/1.1\r\n{HEAD}Content-Length: 99999999999\r\n\r\n")):
        with socket.create_connection(("127.0.0.1", port)) as asked:
            asked.sendall(sent.encode())
            answer = http.client.HTTPResponse(asked)
            answer.begin()
            assert answer.status == status and answer.headers["Content-Type"] == "application/json"
            assert Fault.model_validate_json(answer.read()).message


def test_no_header_of_a_stranger_passes_for_one_of_the_front(port):
    for name in ("SCRIPT_NAME", "PATH_INFO", "X-Forwarded-Proto", "X-Forwarded-Host", "Forwarded"):
        assert ask(port, "GET", "/api/health", **{name: "https"})[0] == 200
    assert ask(port, "GET", "/api/health", Host="prices.example")[0] == 421
    assert ask(port, "GET", "//api/builds", Host="prices.example")[0] == 421
    assert ask(port, "GET", "/api/health", Origin=f"http://127.0.0.1:{port}")[0] == 200
    assert ask(port, "GET", "/api/health", Origin="http://127.0.0.1:1")[0] == 403


def test_a_stranger_cannot_find_what_the_front_keeps(port):
    for path in ("/nginx.conf", "/unread", "/nginx.pid", "/bodies/", "/0.socket", "/../0.socket", "/%2e%2e/%2e%2e/etc/passwd"):
        status, _, body = ask(port, "GET", path)
        assert status in (400, 404) or b"<!doctype html>" in body  # the page itself, as for any address


@pytest.mark.parametrize("host", ["127.0.0.1", "::1", "localhost"])
def test_what_nginx_is_told_is_what_it_understands(tmp_path, host):
    file = tmp_path / "nginx.conf"
    file.write_text(front.configuration(tmp_path, host, free_port(), 4, root=os.geteuid() == 0))
    done = subprocess.run([front.program(), "-t", "-e", "stderr", "-c", str(file), "-p", str(tmp_path)], capture_output=True,
                          text=True)
    assert done.returncode == 0 and "warn" not in done.stderr, done.stderr
