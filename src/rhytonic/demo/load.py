"""Loads the demo build into a running server, as any user of the API would: pictures, boards, then part by part."""

from __future__ import annotations

import json
import urllib.request
import uuid
from typing import Any

from . import drawings, lantern


class Client:
    """The few calls the demo needs."""

    def __init__(self, address: str) -> None:
        self.address = address

    def call(self, path: str, body: bytes, kind: str) -> Any:
        request = urllib.request.Request(self.address + path, data=body, method="POST", headers={"Content-Type": kind})
        with urllib.request.urlopen(request, timeout=30) as answer:
            return json.load(answer)

    def send(self, path: str, body: Any) -> Any:
        return self.call(path, json.dumps(body).encode(), "application/json")

    def change(self, build: dict[str, Any], label: str, patch: list[dict[str, Any]]) -> dict[str, Any]:
        answer: dict[str, Any] = self.send(f"/api/builds/{build['id']}/changes", {
            "revision": build["revision"], "label": label, "key": uuid.uuid4().hex, "patch": patch})
        return answer


def load_demo(address: str) -> str:
    """Make the demo build; its id."""
    client = Client(address)
    build = client.send("/api/builds", {"name": "Signal lantern", "unit": "cm"})
    boards = []
    for view, name, png, at in (("front", "Front elevation", drawings.elevation(), [0, 0]),
                                ("right", "Right elevation", drawings.elevation(), [0, 0]),
                                ("top", "Plan", drawings.plan(), [0, -15])):
        picture = client.call("/api/pictures", png, "image/png")
        boards.append({"id": f"{view}-board", "picture": picture["sha256"], "name": name, "view": view, "width": 30,
                       "at": at, "opacity": 0.6})
    build = client.change(build, "Add boards", [{"op": "add", "path": "/boards", "value": boards}])
    for part in lantern.parts():
        steps = part["steps"]
        build = client.change(build, f"New part {part['name']}", [
            {"op": "add", "path": "/parts/-", "value": {**part, "steps": steps[:1]}}])
        at = len(build["document"]["parts"]) - 1
        for number, step in enumerate(steps[1:], 1):
            build = client.change(build, f"{part['name']}: {step['kind']}", [
                {"op": "add", "path": f"/parts/{at}/steps/{number}", "value": step}])
    return str(build["id"])
