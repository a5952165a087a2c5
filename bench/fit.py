"""The outline of a fine surface and its figures against a drawn one, beside the union of its faces by shapely."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
import shapely

from rhytonic.core.brief.views import project
from rhytonic.core.fit.compare import compare
from rhytonic.core.fit.outline import outline
from rhytonic.core.mesh.mesh import Mesh
from rhytonic.core.mesh.triangulate import triangulate
from rhytonic.core.recipe.built import build
from rhytonic.core.recipe.document import read_document

from .clock import Row, turn_by_turn

LIMIT = 0.1


def bent_torus() -> Mesh:
    """40 960 quads, bent so that the outline passes over itself."""
    steps = [{"kind": "torus", "radius": 10, "tube_radius": 3, "sides": 40, "tube_sides": 16},
             {"kind": "transform", "pick": {"vertices": {"in_box": [[0, None, None], [None, None, None]]}},
              "translate": [2, 3, 1], "rotate": [20, 30, 5]},
             {"kind": "subdivision", "levels": 3}]
    return build(read_document({"format": "rhytonic", "version": 1, "parts": [{"name": "Ring", "steps": steps}]}))[0].mesh


def drawn() -> shapely.Polygon:
    """An outline of 1 000 points."""
    t = np.linspace(0, 2 * np.pi, 1000, endpoint=False)
    return shapely.Polygon(np.stack([np.cos(t), np.sin(t)], axis=1) * 0.13)


def rows() -> Iterator[Row]:
    mesh, picture = bent_torus(), drawn()
    _ = mesh.topology.edges
    triangles, _ = triangulate(mesh)
    flat = project(mesh.points, "front")[triangles]
    ours, = turn_by_turn(lambda: outline([mesh], "front"), times=11)
    other, = turn_by_turn(lambda: shapely.union_all(shapely.make_valid(shapely.polygons(flat))), times=1, warm=0)
    yield Row("outline of 40 960 quads in a view", ours, other, "shapely union of faces", other / ours, "≥ 50",
              other / ours >= 50)
    whole, = turn_by_turn(lambda: compare(outline([mesh], "front"), picture), times=11)
    yield Row("  with its figures against 1 000 points", whole, LIMIT, "the least to reach", LIMIT / whole, "≤ 100 ms",
              whole <= LIMIT)
