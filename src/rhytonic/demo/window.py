"""The round-headed window of the pilot house: a drawn profile swept down both sides and round its half circle."""

from __future__ import annotations

from typing import Any

#: the moulding's section in centimetres, from the wall outwards
SECTION: list[tuple[float, float]] = [(0, 0), (6, 0), (6, 1.5), (3.5, 1.5), (1.5, 3.5), (0, 3.5)]
ROUND = 30


def parts() -> list[dict[str, Any]]:
    """Profile, casing, sill and pane. The profile lies where it is drawn, its board behind it."""
    profile: list[Any] = [[x, y, 0] for x, y in SECTION]
    profile[3] = {"at": profile[3], "corner": "soft", "in": [1, 0, 0], "out": [-1, 0.4, 0]}
    profile[4] = {"at": profile[4], "corner": "fillet", "size": 0.8}
    corner = {"corner": "fillet", "size": ROUND}
    every = {"vertices": "all"}
    return [
        {"name": "Moulding profile", "id": "profile", "steps": [
            {"id": "line", "kind": "path", "closed": True, "steps": 4, "points": profile}]},
        {"name": "Casing", "id": "casing", "steps": [
            {"id": "opening", "kind": "path", "steps": 8, "points": [
                [ROUND, 0, 0], {"at": [ROUND, 80, 0], **corner}, {"at": [-ROUND, 80, 0], **corner}, [-ROUND, 0, 0]]},
            {"id": "moulding", "kind": "sweep", "profile": "profile", "mirrored": True}]},
        {"name": "Sill", "id": "sill", "placement": {"translate": [0, -4, 2]}, "steps": [
            {"id": "board", "kind": "box", "size": [76, 4, 8]}]},
        {"name": "Head", "id": "head", "placement": {"translate": [0, 50, 0]}, "steps": [
            {"id": "arch", "kind": "arc", "radius": ROUND, "from": 0, "to": 360, "steps": 12}]},
        {"name": "Pane", "id": "pane", "steps": [
            {"id": "opening", "kind": "rectangle", "size": [60, 50]},
            {"id": "stand", "kind": "flatten", "pick": every, "to": "y", "at": 0, "by": "shift"},
            {"id": "round", "kind": "combine", "parts": ["head"]},
            {"id": "glass", "kind": "extrude_curve", "depth": 0.6}]},
    ]
