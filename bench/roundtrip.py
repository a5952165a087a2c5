"""One preview over HTTP beside the bare product: a 2 000-face cage at level 2, as a drag asks for it."""

from __future__ import annotations

import itertools
import json
import socket
import time
import urllib.request
import uuid
from collections.abc import Iterator
from typing import Any

import msgpack
import numpy as np

from rhytonic.core.construct.refining.refine import refinement
from rhytonic.core.recipe.document import read_document
from rhytonic.core.recipe.evaluate import Evaluator

from .clock import Row, turn_by_turn
from .served import served

COLUMNS, ROWS = 50, 40
STEPS = [{"id": "base", "kind": "plane", "size": [COLUMNS, ROWS], "segments": [COLUMNS, ROWS]},
         {"id": "soft", "kind": "subdivision", "levels": 2}]


class Browser:
    """One kept-alive connection, as a browser has, over a bare socket: Python's own client parses headers as slowly as
    mail, which no browser does."""

    def __init__(self, port: int) -> None:
        self.socket = socket.create_connection(("127.0.0.1", port))
        self.socket.setsockopt(socket.IPPROTO_TCP, socket.TCP_NODELAY, 1)
        self.buffer = bytearray(1 << 20)

    def send(self, path: str, body: dict[str, Any]) -> memoryview:
        """The answer's body, until the next call."""
        data = json.dumps(body).encode()
        self.socket.sendall(f"POST {path} HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Type: application/json\r\nX-Rhytonic: 1\r\n"
                            f"Content-Length: {len(data)}\r\n\r\n".encode() + data)
        view, got, end = memoryview(self.buffer), 0, -1
        while end < 0:
            got += self.socket.recv_into(view[got:])
            end = self.buffer.find(b"\r\n\r\n", 0, got)
        head = bytes(view[:end]).lower()
        want = end + 4 + int(head.split(b"content-length:")[1].split(b"\r\n")[0])
        while got < want:
            got += self.socket.recv_into(view[got:])
        answer = view[end + 4:want]
        if int(head.split(b" ")[1]) >= 300:
            raise RuntimeError(bytes(answer[:300]).decode())
        return answer


def _bare(shift: Iterator[int]) -> Any:
    """The product of the operators and the packing of its points, and nothing else."""
    document = read_document({"format": "rhytonic", "version": 1, "unit": "m", "parts": [{"name": "P", "steps": STEPS[:1]}]})
    mesh = Evaluator().run(document.parts[0], "m").surface.mesh
    chain = refinement(mesh.topology)
    chain.apply(mesh.points, 2)

    def run() -> None:
        points = mesh.points + 1e-6 * next(shift)
        msgpack.packb({"positions": chain.apply(points, 2).astype("<f4").tobytes(),
                       "cage": points.astype("<f4").tobytes()})

    return run


def _over_http(port: int, shift: Iterator[int]) -> Any:
    browser = Browser(port)
    build = json.loads(bytes(browser.send("/api/builds", {"name": f"bench {uuid.uuid4().hex}", "unit": "m", "document": {
        "format": "rhytonic", "version": 1, "unit": "m", "parts": [{"name": "Sheet", "steps": STEPS}]}})))
    path = f"/api/builds/{build['id']}"
    part = build["document"]["parts"][0]["id"]
    with urllib.request.urlopen(f"http://127.0.0.1:{port}{path}/parts/{part}/mesh") as answer:
        mesh = msgpack.unpackb(answer.read())
    ids = np.frombuffer(mesh["cage"]["vertex_ids"], "<u8")[:COLUMNS]
    step = {"kind": "transform", "pick": {"vertices": {"ids": [f"{i:016x}" for i in ids]}}}
    have = [mesh["cage"]["digest"], mesh["surface"]["digest"]]

    def run() -> None:
        trial = {"revision": build["revision"], "part": part, "have": have,
                 "step": {**step, "translate": [0, 0.001 * next(shift), 0]}}
        data = browser.send(path + "/preview", trial)
        assert len(data) > 4 * 3 * 16 * COLUMNS * ROWS

    return run


def rows() -> Iterator[Row]:
    with served(lasting=False) as (port, _, _):
        time.sleep(0.3)
        shift = itertools.count(1)
        whole, bare = turn_by_turn(_over_http(port, shift), _bare(shift), times=101, warm=10)
    yield Row("preview round trip over HTTP, 2 000 faces at level 2 (384 kB)", whole, bare, "bare product and packing",
              whole / bare, "≤ 1.5 (ours / other)", whole / bare <= 1.5)
