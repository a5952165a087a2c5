"""Models and drawings as bytes, from one process to another: arrays and plain words, nothing that could run."""

from __future__ import annotations

import io
import json
from dataclasses import replace
from typing import Any

import numpy as np

from ..mesh.mesh import Mesh
from ..mesh.topology import Topology
from ..mesh.uv import UV, uv_attribute, uvs
from .drawing import Drawing, Run
from .model import Model, Move, Node, Shape


def pack_model(model: Model) -> bytes:
    """Nodes, and each shape once however many nodes show it."""
    shapes: list[Shape] = []
    number: dict[int, int] = {}

    def told(node: Node) -> dict[str, Any]:
        if node.shape is not None and id(node.shape) not in number:
            number[id(node.shape)] = len(shapes)
            shapes.append(node.shape)
        move = [node.move.shift.tolist(), node.move.turn.tolist(), node.move.scale.tolist()]
        return {"name": node.name, "move": move, "shape": None if node.shape is None else number[id(node.shape)],
                "children": [told(c) for c in node.children], "inner": node.inner, "about": dict(node.about)}

    words = {"nodes": [told(n) for n in model.nodes]}
    arrays: dict[str, Any] = {}
    for i, shape in enumerate(shapes):
        t = shape.mesh.topology
        arrays |= {f"points{i}": shape.mesh.points, f"offsets{i}": t.offsets, f"corners{i}": t.corners}
        uv = uvs(shape.mesh)
        if uv is not None:
            arrays[f"uv{i}"] = uv
    return _packed(words | {"shapes": [s.name for s in shapes]}, arrays)


def unpack_model(data: bytes) -> Model:
    """The model that :func:`pack_model` packed."""
    words, arrays = _unpacked(data)
    shapes = []
    for i, name in enumerate(words["shapes"]):
        points = arrays[f"points{i}"]
        mesh = Mesh(points, Topology.of(len(points), arrays[f"offsets{i}"], arrays[f"corners{i}"]))
        if f"uv{i}" in arrays:
            mesh = replace(mesh, attributes={UV: uv_attribute(arrays[f"uv{i}"])})
        shapes.append(Shape(name, mesh))

    def node(told: dict[str, Any]) -> Node:
        shift, turn, scale = (np.array(v, float) for v in told["move"])
        return Node(told["name"], Move(shift, turn, scale), None if told["shape"] is None else shapes[told["shape"]],
                    children=tuple(node(c) for c in told["children"]), inner=told["inner"], about=told["about"])

    return Model(tuple(node(n) for n in words["nodes"]))


def pack_drawing(drawing: Drawing) -> bytes:
    """Runs with their handles."""
    def told(run: Run) -> dict[str, Any]:
        return {"points": run.points, "out": run.out, "into": run.into, "closed": run.closed, "arc": run.arc}

    return _packed({"metres": drawing.metres, "notes": drawing.notes, "unit": drawing.unit,
                    "shapes": [(name, [told(r) for r in runs]) for name, runs in drawing.shapes]}, {})


def unpack_drawing(data: bytes) -> Drawing:
    """The drawing that :func:`pack_drawing` packed."""
    words, _ = _unpacked(data)

    def run(told: dict[str, Any]) -> Run:
        out, into = ([None if h is None else (h[0], h[1]) for h in told[k]] for k in ("out", "into"))
        arc = told["arc"]
        return Run([(x, y) for x, y in told["points"]], out, into, told["closed"],
                   None if arc is None else ((arc[0][0], arc[0][1]), arc[1], arc[2], arc[3]))

    return Drawing(words["metres"], [(name, [run(r) for r in runs]) for name, runs in words["shapes"]],
                    tuple(words["notes"]), words["unit"])


def _packed(words: dict[str, Any], arrays: dict[str, Any]) -> bytes:
    out = io.BytesIO()
    np.savez(out, allow_pickle=False, words=np.frombuffer(json.dumps(words).encode(), np.uint8), **arrays)
    return out.getvalue()


def _unpacked(data: bytes) -> tuple[dict[str, Any], dict[str, Any]]:
    with np.load(io.BytesIO(data), allow_pickle=False) as held:
        arrays = {k: held[k] for k in held.files}
    words: dict[str, Any] = json.loads(arrays.pop("words").tobytes())
    return words, arrays
