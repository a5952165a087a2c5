"""Parts together and model files: a door's clearance, and files read."""

from __future__ import annotations

import json
from collections.abc import Iterator

from rhytonic.core.files.model import Model, Node, Shape
from rhytonic.core.files.read import read_model
from rhytonic.core.files.writing.gltf import write_glb
from rhytonic.core.files.writing.obj import write_obj
from rhytonic.core.recipe.built import build
from rhytonic.core.recipe.document import load
from rhytonic.core.size.clearance.room_to_move import clearance_among

from .clock import Row, turn_by_turn

#: "told at once", in seconds
AT_ONCE = 1.0
#: for a file of 100,000 quads
READ = 2.0


def rows() -> Iterator[Row]:
    """A door of 2,000 faces against a body of 10,000, over a range that touches and one that does not."""
    for told, angle in (("until it touches", 90), ("never touching", 40)):
        document = load(json.dumps({"format": "rhytonic", "version": 1, "unit": "cm", "parts": [
            {"name": "Door", "joint": {"kind": "turn", "at": [-20, 0, 0], "axis": [0, -1, 0], "to": angle},
             "steps": [{"id": "b", "kind": "box", "size": [40, 80, 2], "segments": [31, 31, 1]}]},
            {"name": "Body", "placement": {"translate": [0, -10, 35]},
             "steps": [{"id": "b", "kind": "box", "size": [120, 100, 10], "segments": [50, 44, 30]}]}]}))
        parts = build(document)
        [one] = turn_by_turn(lambda document=document, parts=parts: clearance_among(document, parts, "Door"), times=5)
        yield Row(f"clearance of a door of 2 000 faces and a body of 10 000, {told}", one, AT_ONCE, "the least to reach",
                  AT_ONCE / one, "≤ 1 s", one <= AT_ONCE)
    mesh = build(load(json.dumps({"format": "rhytonic", "version": 1, "unit": "m", "parts": [{"name": "P", "steps": [
        {"id": "t", "kind": "torus", "radius": 3, "tube_radius": 1, "sides": 400, "tube_sides": 250}]}]})))[0].mesh
    model = Model((Node("P", shape=Shape("P", mesh), placed=mesh),))
    faces = mesh.topology.face_count
    for name, data in (("OBJ", write_obj(model)), ("GLB", write_glb(model))):
        [one] = turn_by_turn(lambda data=data: read_model(data), times=3)
        told = f"{name} of {faces // 1000} 000 quads read ({len(data) / 2**20:.0f} MB)"
        yield Row(told, one, READ, "the least to reach", READ / one, "≤ 2 s", one <= READ)
