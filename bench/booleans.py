"""A cutter that moves: the boolean run again, beside the library's own operation on the bare triangles."""

from __future__ import annotations

import itertools
import json
from collections.abc import Iterator

import manifold3d
import numpy as np
from numpy.typing import NDArray

from rhytonic.core.mesh.mesh import Floats
from rhytonic.core.mesh.triangulate import triangulate
from rhytonic.core.recipe.document import Document, load
from rhytonic.core.recipe.evaluate import Evaluator

from .clock import Row, turn_by_turn

#: faces, and the parameters of a sphere of about so many
SIZES = (("5 000", 100, 50), ("500", 32, 16))
DRAG = 0.040
Unsigned = NDArray[np.uint64]


def _two_spheres(sides: int, rings: int, x: float) -> Document:
    sphere = {"kind": "sphere", "radius": 1, "sides": sides, "rings": rings}
    return load(json.dumps({"format": "rhytonic", "version": 1, "unit": "m", "parts": [
        {"name": "Hood", "steps": [{"id": "body", **sphere},
                                   {"id": "cut", "kind": "boolean", "part": "Cutter", "operation": "subtract"}]},
        {"name": "Cutter", "placement": {"translate": [x, 0.2, 0.1]}, "steps": [{"id": "tool", **sphere}]}]}))


def rows() -> Iterator[Row]:
    """The bare library takes triangles that are there already and gives triangles; ours gives polygons with their ids."""
    for told, sides, rings in SIZES:
        places = itertools.cycle(0.3 + 0.013 * np.arange(40))
        documents = {x: _two_spheres(sides, rings, x) for x in itertools.islice(places, 40)}
        evaluator = Evaluator()
        first = next(iter(documents.values()))
        mesh = evaluator.run(first.parts[1], "m", within=first).surface.mesh
        triangles = np.ascontiguousarray(triangulate(mesh)[0], np.uint64)
        points = np.array(mesh.points, order="C")

        def ours(places: Iterator[float] = places, documents: dict[float, Document] = documents,
                 evaluator: Evaluator = evaluator) -> None:
            document = documents[next(places)]
            evaluator.run(document.parts[0], "m", within=document)

        bare = itertools.cycle(0.3065 + 0.013 * np.arange(40))

        def other(points: Floats = points, triangles: Unsigned = triangles,
                  bare: Iterator[float] = bare) -> None:
            beside = np.ascontiguousarray(points + np.array([next(bare), 0.2, 0.1]))
            hood, cutter = (manifold3d.Manifold(manifold3d.Mesh64(p, triangles)) for p in (points, beside))
            (hood - cutter).to_mesh64()

        one, two = turn_by_turn(ours, other, times=15, warm=3)
        goal, most = ("≤ 40 ms", DRAG) if told == "500" else ("≤ 1.3 × bare", 1.3 * two)
        yield Row(f"boolean of two spheres of {told} faces, the cutter moved", one, two, "manifold3d, bare triangles",
                  two / one, goal, one <= most)
