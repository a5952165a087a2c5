"""The recipe of the demo: a signal lantern blocked from boxes, in centimetres."""

from __future__ import annotations

from typing import Any

SIDES = ("+x", "-x", "+z", "-z")


def _top() -> dict[str, Any]:
    return {"faces": {"facing": "+y"}}


def housing() -> dict[str, Any]:
    """A box; its four panes are pushed in and framed."""
    return {
        "name": "Housing", "placement": {"translate": [0, 2, 0]},
        "steps": [
            {"id": "body", "kind": "box", "size": [18, 26, 18]},
            {"id": "frame", "label": "Frame", "kind": "extrude", "depth": 0.6, "as": "each", "margin": 1.5,
             "pick": {"faces": {"any_of": [{"facing": a} for a in SIDES]}}},
            {"id": "pane", "label": "Panes", "kind": "extrude", "depth": -0.8, "as": "each", "margin": 1.2,
             "pick": {"faces": {"made_by": "frame", "role": "cap"}}}]}


def roof() -> dict[str, Any]:
    """A slab, drawn up to the chimney."""
    return {
        "name": "Roof", "placement": {"translate": [0, 28, 0]},
        "steps": [
            {"id": "eaves", "kind": "box", "size": [23, 1, 23]},
            {"id": "slope", "label": "Slope", "kind": "extrude", "depth": 9, "scale": 0.26086957, "pick": _top()},
            {"id": "chimney", "label": "Chimney", "kind": "extrude", "depth": 3,
             "pick": {"faces": {"made_by": "slope", "role": "cap"}}}]}


def foot() -> dict[str, Any]:
    """A low box under the housing."""
    return {"name": "Foot", "steps": [{"id": "base", "kind": "box", "size": [20, 2, 20]}]}


def lamp() -> dict[str, Any]:
    """The lamp inside: a drum that is smoothed."""
    return {
        "name": "Lamp", "placement": {"translate": [0, 2.5, 0]},
        "steps": [
            {"id": "drum", "kind": "cylinder", "radius": 4, "height": 6, "sides": 12, "cap": "quads"},
            {"id": "neck", "label": "Neck", "kind": "extrude", "depth": 5, "scale": 0.55, "segments": 2, "pick": _top()},
            {"id": "soft", "kind": "subdivision", "levels": 2}]}


def knob() -> dict[str, Any]:
    """The knob on the chimney."""
    return {
        "name": "Knob", "placement": {"translate": [0, 41, 0]},
        "steps": [
            {"id": "block", "kind": "box", "size": [4, 4, 4]},
            {"id": "round", "kind": "subdivision", "levels": 2, "handover": 3}]}


def parts() -> list[dict[str, Any]]:
    """The parts of the lantern, as a document tells them."""
    return [housing(), roof(), foot(), lamp(), knob()]


def sizes(ids: dict[str, str]) -> list[dict[str, Any]]:
    """What the museum measured on the quay, in centimetres; ``ids`` are those of the parts by their names."""
    def of(part: str, pick: dict[str, Any] | None = None) -> list[dict[str, Any]]:
        return [{"part": ids[part], **({"pick": pick} if pick else {})}]

    pane = {"faces": {"all_of": [{"made_by": "pane", "role": "cap"}, {"facing": "+z"}]}}
    margin = {"kind": "step", "part": ids["Housing"], "step": "pane", "parameter": "margin"}
    return [
        {"id": "overall", "name": "Overall height", "measure": "height", "want": 44.6, "tolerance": 0.3},
        {"id": "housing", "name": "Housing width", "measure": "width", "of": of("Housing"), "want": 19.2, "tolerance": 0.2},
        {"id": "window", "name": "Window width", "measure": "width", "of": of("Housing", pane), "want": 12.6,
         "tolerance": 0.1, "driver": margin},
        {"id": "roof", "name": "Roof span", "measure": "width", "of": of("Roof"), "want": 23, "tolerance": 0.2,
         "shown": False},
        {"id": "lamp", "name": "Lamp gap", "measure": "gap", "of": of("Housing") + of("Lamp"), "shown": False},
        {"id": "foot", "name": "Foot height", "measure": "height", "of": of("Foot"), "want": 2, "tolerance": 0.05}]


def guides() -> list[dict[str, Any]]:
    """Heights the drawings agree on."""
    return [{"id": "eaves", "name": "Eaves", "kind": "level", "axis": "y", "at": [0, 28, 0]},
            {"id": "flame", "name": "Flame", "kind": "point", "at": [0, 15, 0]}]
