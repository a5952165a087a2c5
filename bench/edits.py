"""Topology and extrude, from nothing, with ids and the new topology."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from rhytonic.core.mesh.topology import Topology
from rhytonic.core.recipe.document import Document, read_document
from rhytonic.core.recipe.evaluate import Evaluator
from rhytonic.core.recipe.state import State
from rhytonic.core.step.kind import Context

from .clock import Row, turn_by_turn


def sheet(columns: int, rows: int, step: dict[str, object]) -> Document:
    """A plane of quads with one step on it."""
    return read_document({"format": "rhytonic", "version": 1, "unit": "m", "parts": [{"name": "Sheet", "steps": [
        {"id": "base", "kind": "plane", "size": [columns, rows], "segments": [columns, rows]}, {"id": "step", **step}]}]})


def _block(columns: int, rows: int, picked: int) -> dict[str, object]:
    """A pick of a block of faces, ten rows deep, in a corner of the plane."""
    low, high = [-columns / 2, None, -rows / 2], [-columns / 2 + picked // 10, None, -rows / 2 + 10]
    return {"faces": {"in_box": [low, high]}}


def _timed(columns: int, rows: int, step: dict[str, object], added: int) -> float:
    """Seconds of one step from a plane that stands, with the new topology and all ids."""
    part = sheet(columns, rows, step).parts[0]
    base: State = Evaluator().run(part, "m", upto=1).surface
    _ = base.mesh.topology.edges, base.mesh.names.face, base.mesh.names.vertex

    def run() -> None:
        state = Evaluator().step(base, part.steps[1], 1.0, Context("step"))
        t = state.mesh.topology
        _ = t.edges, t.twin, state.mesh.names.vertex, state.mesh.names.face
        assert t.face_count - base.mesh.topology.face_count == added

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
    for size, (columns, rows_), limit in (("20 000", (200, 100), 0.006), ("2 000", (50, 40), 0.002)):
        pick = _block(columns, rows_, 200)
        for name, step, added in (
                ("extrude of 200 faces", {"kind": "extrude", "depth": 0.5, "pick": pick}, 60),
                ("inset of 200 faces, each", {"kind": "inset", "width": 0.2, "as": "each", "pick": pick}, 800),
                (f"a loop through {columns} quads",
                 {"kind": "insert_loop", "through": {"nearest": [0.0, 0.0, 0.5]}}, columns)):
            taken = _timed(columns, rows_, step, added)
            yield Row(f"{name} on {size}, topology and ids with it", taken, limit, "the least to reach", limit / taken,
                      f"≤ {limit * 1000:.0f} ms", taken <= limit)
