"""People at work on builds of their own, all at once: how long a small edit takes them. ``python -m bench.load``."""

from __future__ import annotations

import argparse
import http.client
import json
import random
import threading
import time
import uuid
from typing import Any

import numpy as np

from .served import served

HEADERS = {"Content-Type": "application/json", "X-Rhytonic": "bench"}
#: seconds between the edits of one person
THINKS = (0.5, 1.5)
STEPS = [
    {"id": "body", "kind": "cylinder", "radius": 4, "height": 12, "sides": 24, "height_segments": 6},
    {"id": "rim", "kind": "bevel", "pick": {"edges": {"sharper_than": 50}}, "width": 0.3, "segments": 2},
    {"id": "soft", "kind": "subdivision", "levels": 2}]


class Person:
    """One build, one connection, one edit after the other with a pause between."""

    def __init__(self, port: int, seconds: float) -> None:
        self.connection = http.client.HTTPConnection("127.0.0.1", port, timeout=60)
        self.seconds, self.took, self.faults = seconds, list[float](), 0
        self.build = self.ask("POST", "/api/builds", {"name": f"Load {uuid.uuid4().hex[:8]}", "document": {
            "format": "rhytonic", "version": 1, "parts": [{"name": "Buoy", "steps": STEPS}]}})

    def ask(self, method: str, path: str, body: dict[str, Any] | None = None) -> Any:
        self.connection.request(method, path, None if body is None else json.dumps(body), HEADERS)
        answer = self.connection.getresponse()
        data = answer.read()
        if answer.status >= 300:
            raise RuntimeError(f"{answer.status}: {data[:200]!r}")
        return json.loads(data)

    def work(self) -> None:
        """Change the height again and again."""
        end = time.monotonic() + self.seconds
        time.sleep(random.uniform(0, THINKS[1]))
        while time.monotonic() < end:
            started = time.perf_counter()
            try:
                self.build = self.ask("POST", f"/api/builds/{self.build['id']}/changes", {
                    "revision": self.build["revision"], "label": "Height", "key": uuid.uuid4().hex,
                    "patch": [{"op": "replace", "path": "/parts/0/steps/0/height", "value": random.uniform(8, 16)}]})
                self.took.append(time.perf_counter() - started)
            except (RuntimeError, OSError, http.client.HTTPException):
                self.faults += 1
            time.sleep(random.uniform(*THINKS))


def crowd(port: int, people: int, seconds: float) -> dict[str, float]:
    """So many people for so many seconds: milliseconds of half and of nineteen in twenty of their edits."""
    everybody = [Person(port, seconds) for _ in range(people)]
    threads = [threading.Thread(target=p.work) for p in everybody]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    took = np.array([t for p in everybody for t in p.took]) * 1e3
    return {"people": people, "edits": len(took), "p50": float(np.percentile(took, 50)),
            "p95": float(np.percentile(took, 95)), "worst": float(took.max()), "faults": sum(p.faults for p in everybody)}


def main() -> None:
    parser = argparse.ArgumentParser(prog="python -m bench.load", description=__doc__)
    parser.add_argument("--seconds", type=float, default=20)
    parser.add_argument("--people", type=int, nargs="*", default=[1, 10, 30])
    args = parser.parse_args()
    with served() as (port, _, _):
        for people in args.people:
            told = crowd(port, people, args.seconds)
            print("  ".join(f"{k} {v:.0f}" for k, v in told.items()), flush=True)
        connection = http.client.HTTPConnection("127.0.0.1", port)
        connection.request("GET", "/api/health")
        print("kept warm in one process:", json.loads(connection.getresponse().read())["held"] // 2**20, "MB")


if __name__ == "__main__":
    main()
