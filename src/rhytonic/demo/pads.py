"""The fender pads of the dinghy: a ridged face with a mark, and the mirrored twin on which the mark reads right."""

from __future__ import annotations

from typing import Any

_FACE = {"faces": {"facing": "+z", "within": 5}}
_SIDES = {"faces": {"not": {"facing": "+z", "within": 5}}}


def document() -> dict[str, Any]:
    """The build, in centimetres."""
    steps: list[dict[str, Any]] = [
        {"id": "body", "kind": "box", "size": [26, 14, 6], "segments": [4, 2, 1]},
        {"id": "soft", "kind": "bevel", "pick": {"edges": {"sharper_than": 60}}, "width": 0.8, "segments": 2},
        {"id": "face", "kind": "project", "how": "plane", "axis": "+z", "size": 26, "pick": _FACE},
        {"id": "put", "kind": "uv_transform", "pick": _FACE, "move": [0.5, -0.015], "about": [0, 0]},
        {"id": "sides", "kind": "project", "how": "box", "pick": _SIDES},
        {"id": "set", "kind": "pack", "pick": _SIDES, "hold": _FACE},
        {"id": "ridges", "kind": "relief", "pattern": "ridges", "height": 0.6, "levels": 4, "pick": _FACE}]
    layers: list[dict[str, Any]] = [
        {"shape": "stripes", "at": [1.6, 1.6], "size": [15.4, 10.2], "pitch": 1.4, "width": 0.7, "soft": 0.25},
        {"shape": "text", "text": "EBB 7", "at": [18.2, 5.2], "size": [6.2, 3], "soft": 0.15, "height": 0.8}]
    return {
        "format": "rhytonic", "version": 1, "unit": "cm", "name": "Fender pads of the dinghy",
        "patterns": [{"id": "ridges", "name": "Ridges and mark", "size": [26, 26], "resolution": 20, "layers": layers}],
        "parts": [
            {"name": "Pad, port", "id": "port", "colour": "#8d9498", "placement": {"translate": [-16, 0, 0]},
             "steps": steps},
            {"name": "Pad, starboard", "id": "starboard", "of": "port", "mirrored": "x", "readable": ["ridges"],
             "colour": "#8d9498", "placement": {"translate": [16, 0, 0]}}]}
