"""Topology and extrude, from nothing, with ids and the new topology."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from rhytonic.core.mesh.topology import Topology
from rhytonic.core.recipe.document import Document, read_document
from rhytonic.core.recipe.evaluate import Evaluator, State
from rhytonic.core.recipe.kind import Context

from .clock import Row, turn_by_turn


def _sheet(columns: int, rows: int, picked: int) -> Document:
    """A plane of quads with one extrude of a block of ``picked`` faces (10 rows deep) on it."""
    along = picked // 10
    return read_document({"format": "rhytonic", "version": 1, "unit": "m", "parts": [{"name": "Sheet", "steps": [
        {"id": "base", "kind": "plane", "size": [columns, rows], "segments": [columns, rows]},
        {"id": "up", "kind": "extrude", "depth": 0.5, "pick": {"faces": {"in_box": [
            [-columns / 2, None, -rows / 2], [-columns / 2 + along, None, -rows / 2 + 10]]}}}]}]})


def _extrude(columns: int, rows: int, picked: int) -> float:
    part = _sheet(columns, rows, picked).parts[0]
    base: State = Evaluator().run(part, "m", upto=1).surface
    _ = base.mesh.topology.edges, base.mesh.names.face, base.mesh.names.vertex

    def run() -> None:
        state = Evaluator().step(base, part.steps[1], 1.0, Context("up"))
        t = state.mesh.topology
        _ = t.edges, t.twin, state.mesh.names.vertex, state.mesh.names.face
        assert t.face_count - base.mesh.topology.face_count == 2 * (10 + picked // 10)

    return turn_by_turn(run, times=21, warm=2)[0]


def rows() -> Iterator[Row]:
    from .shapes import torus
    points, quads = torus(200, 100)
    offsets, corners = np.arange(0, quads.size + 1, 4), quads.ravel()

    def topology() -> None:
        t = Topology(len(points), offsets, corners)
        _ = t.edges, t.twin, t.corner_face, t.vertex_corners

    taken = turn_by_turn(topology)[0]
    yield Row("topology of 20 000 quads: edges, twins, vertex fans", taken, 0.010, "the least to reach", 0.010 / taken,
              "≤ 10 ms", taken <= 0.010)
    taken = _extrude(200, 100, 200)
    yield Row("extrude of 200 faces on 20 000, topology and ids with it", taken, 0.025, "the least to reach",
              0.025 / taken, "≤ 25 ms", taken <= 0.025)
    taken = _extrude(50, 40, 200)
    yield Row("extrude of 200 faces on 2 000, topology and ids with it", taken, 0.005, "the least to reach",
              0.005 / taken, "≤ 5 ms", taken <= 0.005)
