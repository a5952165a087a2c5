"""Short ways to say recipes in tests."""

from __future__ import annotations

import io
import json
from typing import Any

import numpy as np
from PIL import Image

from rhytonic.core.mesh.mesh import Mesh
from rhytonic.core.mesh.topology import Topology
from rhytonic.core.recipe.document import Document, load
from rhytonic.core.recipe.evaluate import Evaluator
from rhytonic.core.recipe.state import Evaluation

ALL = {"faces": "all"}


def facing(direction: Any, **more: Any) -> dict[str, Any]:
    return {"faces": {"facing": direction, **more}}


def made(step: str, role: str | None = None, kind: str = "faces") -> dict[str, Any]:
    return {kind: {"made_by": step, **({"role": role} if role else {})}}


def box(size: tuple[float, float, float] = (1, 1, 1), segments: tuple[int, int, int] = (1, 1, 1),
        **more: Any) -> dict[str, Any]:
    return {"id": "body", "kind": "box", "size": list(size), "segments": list(segments), **more}


def extrude(pick: dict[str, Any], depth: float, id: str = "ext", **more: Any) -> dict[str, Any]:
    return {"id": id, "kind": "extrude", "pick": pick, "depth": depth, **more}


def document(*steps: dict[str, Any], unit: str = "m", **part: Any) -> Document:
    """A document of one part."""
    return load(json.dumps({"format": "rhytonic", "version": 1, "unit": unit,
                            "parts": [{"name": "Part", "steps": list(steps), **part}]}))


def together(*parts: dict[str, Any], unit: str = "cm", **more: Any) -> Document:
    """A document of several parts."""
    return load(json.dumps({"format": "rhytonic", "version": 1, "unit": unit, "parts": list(parts), **more}))


def evaluate(*steps: dict[str, Any], evaluator: Evaluator | None = None, unit: str = "m", tolerant: bool = False,
             **part: Any) -> Evaluation:
    d = document(*steps, unit=unit, **part)
    return (evaluator or Evaluator()).run(d.parts[0], d.unit, tolerant=tolerant)


def mesh_of(*steps: dict[str, Any], **more: Any) -> Mesh:
    return evaluate(*steps, **more).surface.mesh


def assert_sound(mesh: Mesh) -> None:
    """Valid faces, unique ids of the right number, every point finite."""
    t = mesh.topology
    assert t.faults() == []
    assert len(mesh.points) == t.vertex_count
    assert np.isfinite(mesh.points).all()
    ids = np.concatenate([mesh.names.vertex, mesh.names.face])
    assert mesh.names.vertex.size == t.vertex_count and mesh.names.face.size == t.face_count
    assert np.unique(ids).size == ids.size
    for attribute in mesh.attributes.values():
        count = {"vertex": t.vertex_count, "edge": t.edge_count, "face": t.face_count, "corner": t.corner_count}
        assert len(attribute.values) == count[attribute.domain]


def prism(plan: list[tuple[float, float]], height: float) -> Mesh:
    """An upright prism over a plan given counter-clockwise as seen from above: x to the right, −z up the plan."""
    n = len(plan)
    points = np.array([[x, y, -z] for y in (0.0, height) for x, z in plan])
    sides = [[i, (i + 1) % n, n + (i + 1) % n, n + i] for i in range(n)]
    return Mesh(points, Topology.of_faces(2 * n, [list(range(n))[::-1], list(range(n, 2 * n)), *sides]))


def png(image: Image.Image) -> bytes:
    out = io.BytesIO()
    image.save(out, "PNG")
    return out.getvalue()
