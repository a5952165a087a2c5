"""Loads the demo build into a running server, as any user of the API would: pictures, boards, then part by part."""

from __future__ import annotations

import json
import urllib.request
import uuid
from typing import Any

from . import drawings, lantern, pads, quay, window

#: of the drawings, in centimetres
WIDTH = 30


class Client:
    """The few calls the demo needs."""

    def __init__(self, address: str) -> None:
        self.address = address

    def call(self, path: str, body: bytes, kind: str) -> Any:
        """One request; its answer."""
        headers = {"Content-Type": kind, "X-Rhytonic": "demo"}
        request = urllib.request.Request(self.address + path, data=body, method="POST", headers=headers)
        with urllib.request.urlopen(request, timeout=30) as answer:
            return json.load(answer)

    def get(self, path: str) -> Any:
        """What stands at a path."""
        with urllib.request.urlopen(self.address + path, timeout=30) as answer:
            return json.load(answer)

    def send(self, path: str, body: Any) -> Any:
        """Something new at a path; the answer."""
        return self.call(path, json.dumps(body).encode(), "application/json")

    def change(self, build: dict[str, Any], label: str, patch: list[dict[str, Any]]) -> dict[str, Any]:
        """A change of a build, stored."""
        answer: dict[str, Any] = self.send(f"/api/builds/{build['id']}/changes", {
            "revision": build["revision"], "label": label, "key": uuid.uuid4().hex, "patch": patch})
        return answer


def load_demo(address: str) -> str:
    """Make the demo builds; the id of the lantern's."""
    client = Client(address)
    load_quay(client)
    load_window(client)
    load_pads(client)
    return load_lantern(client)


def load_quay(client: Client) -> str:
    """What stands on the quay, piece by piece; the lantern is stood on the bench as by hand. The build's id."""
    build = client.send("/api/builds", {"name": "The quay", "unit": "cm"})
    wheel = client.get("/api/stock/spoked-wheel/parts?to=cm")
    for label, piece in quay.pieces(wheel):
        build = client.change(build, label, [
            *({"op": "add", "path": "/groups/-", "value": group} for group in piece["groups"]),
            *({"op": "add", "path": "/parts/-", "value": part} for part in piece["parts"])])
    moves = client.send(f"/api/builds/{build['id']}/line-up", {
        "revision": build["revision"], "members": ["g:lantern"], "how": "side", "side": "on", "to": "g:bench"})["moves"]
    at = next(i for i, g in enumerate(build["document"]["groups"]) if g["id"] == "lantern")
    build = client.change(build, "Stand on top", [
        {"op": "add", "path": f"/groups/{at}/placement/translate", "value": m["translate"]} for m in moves])
    return str(build["id"])


def load_window(client: Client) -> str:
    """The pilot house's window, its moulding drawn over a board; the build's id."""
    build = client.send("/api/builds", {"name": "Pilot house window", "unit": "cm"})
    picture = client.call("/api/pictures", drawings.moulding(), "image/png")["sha256"]
    board = {"id": "section", "picture": picture, "name": "Moulding section", "view": "front", "width": 16, "at": [0, -1]}
    build = client.change(build, "Add board", [{"op": "add", "path": "/boards", "value": [board]}])
    parts = window.parts()
    for part in [*parts[:1], *parts[3:4], *parts[1:3], *parts[4:]]:
        build = client.change(build, f"New part {part['name']}", [{"op": "add", "path": "/parts/-", "value": part}])
    return str(build["id"])


def load_pads(client: Client) -> str:
    """The fender pads, unwrapped, with a face in relief; the build's id."""
    document = pads.document()
    return str(client.send("/api/builds", {"name": document["name"], "document": document})["id"])


def load_lantern(client: Client) -> str:
    """The lantern with its boards, sizes and guides; the build's id."""
    build = client.send("/api/builds", {"name": "Signal lantern", "unit": "cm"})
    boards = []
    for view, name, png, at in (("front", "Front elevation", drawings.elevation(), [0, 0]),
                                ("right", "Right elevation", drawings.elevation(), [0, 0]),
                                ("top", "Plan", drawings.plan(), [0, -15])):
        picture = client.call("/api/pictures", png, "image/png")["sha256"]
        tracing = {"holes": "fill"}
        traced = client.send(f"/api/pictures/{picture}/outline", {"tracing": tracing})
        rings = [[[round(x * WIDTH, 5), round(y * WIDTH, 5)] for x, y in ring] for ring in traced["rings"]]
        boards.append({"id": f"{view}-board", "picture": picture, "name": name, "view": view, "width": WIDTH, "at": at,
                       "opacity": 0.6, "outline": {"width": WIDTH, "tracing": tracing, "rings": rings}})
    build = client.change(build, "Add boards", [{"op": "add", "path": "/boards", "value": boards}])
    for part in lantern.parts():
        steps = part["steps"]
        build = client.change(build, f"New part {part['name']}", [
            {"op": "add", "path": "/parts/-", "value": {**part, "steps": steps[:1]}}])
        at = len(build["document"]["parts"]) - 1
        for number, step in enumerate(steps[1:], 1):
            build = client.change(build, f"{part['name']}: {step['kind']}", [
                {"op": "add", "path": f"/parts/{at}/steps/{number}", "value": step}])
    ids = {part["name"]: part["id"] for part in build["document"]["parts"]}
    build = client.change(build, "Target sizes", [{"op": "add", "path": "/sizes", "value": lantern.sizes(ids)}])
    build = client.change(build, "Guides", [{"op": "add", "path": "/guides", "value": lantern.guides()}])
    return str(build["id"])
