"""Workers and the database killed while people work: whatever was acknowledged must be there. ``python -m bench.kills``."""

from __future__ import annotations

import argparse
import http.client
import json
import os
import random
import signal
import subprocess
import threading
import time
import uuid
from typing import Any

from .served import served

HEADERS = {"Content-Type": "application/json", "X-Rhytonic": "bench"}
BOX = {"id": "body", "kind": "box", "size": [10, 10, 10]}


class Person:
    """Changes one number of one build again and again, and remembers what was acknowledged."""

    def __init__(self, port: int) -> None:
        self.port, self.stop, self.acknowledged, self.tried_again = port, False, 0, 0
        self.build = self.insist("POST", "/api/builds", {"name": f"Kill {uuid.uuid4().hex[:8]}", "document": {
            "format": "rhytonic", "version": 1, "parts": [{"name": "Box", "steps": [BOX]}]}})

    def ask(self, method: str, path: str, body: dict[str, Any] | None = None) -> tuple[int, Any]:
        connection = http.client.HTTPConnection("127.0.0.1", self.port, timeout=20)
        try:
            connection.request(method, path, None if body is None else json.dumps(body), HEADERS)
            answer = connection.getresponse()
            return answer.status, json.loads(answer.read())
        finally:
            connection.close()

    def insist(self, method: str, path: str, body: dict[str, Any] | None = None) -> Any:
        """As the interface does: what broke or was refused for now is sent again, with its own key."""
        end = time.monotonic() + 60
        while time.monotonic() < end:
            try:
                status, told = self.ask(method, path, body)
                if status < 500:
                    return told
            except (OSError, http.client.HTTPException, ValueError):
                pass
            self.tried_again += 1
            time.sleep(0.1)
        raise RuntimeError("nobody answered for a minute")

    def work(self) -> None:
        while not self.stop:
            height = self.acknowledged + 11.0
            told = self.insist("POST", f"/api/builds/{self.build['id']}/changes", {
                "revision": self.build["revision"], "label": "Height", "key": uuid.uuid4().hex,
                "patch": [{"op": "replace", "path": "/parts/0/steps/0/size/1", "value": height}]})
            if told["document"]["parts"][0]["steps"][0]["size"][1] != height:
                raise RuntimeError(f"acknowledged {height} and answered otherwise")
            self.build, self.acknowledged = told, self.acknowledged + 1

    def check(self) -> None:
        """What is stored is what was acknowledged last, and all before it can be undone."""
        stands = self.insist("GET", f"/api/builds/{self.build['id']}")
        if stands["revision"] != self.build["revision"] or stands["document"] != self.build["document"]:
            raise RuntimeError("what was acknowledged is not there")
        for _ in range(min(self.acknowledged, 5)):
            stands = self.insist("POST", f"/api/builds/{self.build['id']}/undo", {"revision": stands["revision"]})
        told = stands["document"]["parts"][0]["steps"][0]["size"][1]
        if told != max(self.acknowledged + 10.0 - 5, 10.0):
            raise RuntimeError(f"five undone from {self.acknowledged + 10.0} is {told}")


def children(pid: int) -> list[int]:
    found = subprocess.run(["pgrep", "-P", str(pid)], capture_output=True, text=True, check=False)
    return [int(p) for p in found.stdout.split()]


def main() -> None:
    parser = argparse.ArgumentParser(prog="python -m bench.kills", description=__doc__)
    parser.add_argument("--workers", type=int, default=100, help="kills of worker processes")
    parser.add_argument("--databases", type=int, default=20, help="kills of the database")
    parser.add_argument("--people", type=int, default=4)
    args = parser.parse_args()
    with served() as (port, server, cluster):
        people = [Person(port) for _ in range(args.people)]
        threads = [threading.Thread(target=p.work) for p in people]
        for thread in threads:
            thread.start()
        started = time.monotonic()
        for kill in range(args.workers):
            workers = [worker for arbiter in children(server.pid) for worker in children(arbiter)]
            if workers:
                os.kill(random.choice(workers), signal.SIGKILL)
            time.sleep(random.uniform(0.1, 0.4))
            if args.databases and kill % max(args.workers // args.databases, 1) == 0:
                os.kill(int((cluster.folder / "postmaster.pid").read_text().splitlines()[0]), signal.SIGKILL)
                time.sleep(0.5)
                while not cluster.runs():
                    try:
                        cluster.start()
                    except SystemExit:  # what the killed one left behind takes a moment to end
                        time.sleep(0.5)
        for person in people:
            person.stop = True
        for thread in threads:
            thread.join()
        for person in people:
            person.check()
        print(f"{args.workers} workers and {args.databases} databases killed in {time.monotonic() - started:.0f} s: "
              f"{sum(p.acknowledged for p in people)} changes acknowledged, {sum(p.tried_again for p in people)} sent "
              "again, none lost")


if __name__ == "__main__":
    main()
