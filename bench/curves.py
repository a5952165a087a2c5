"""A sweep of 200 × 24 points, and its numbers scrubbed; copies along a curve."""

from __future__ import annotations

import itertools
import json
from collections.abc import Iterator
from typing import Any

import numpy as np

from rhytonic.core.recipe.document import Document, load
from rhytonic.core.recipe.evaluate import Evaluator

from .clock import Row, turn_by_turn

WHOLE, SCRUBBED = 0.008, 0.003


def _swept(**sweep: Any) -> Document:
    turn = np.linspace(0, 8 * np.pi, 200)
    points = np.stack([np.cos(turn), turn / 20, np.sin(turn)], axis=1).round(6).tolist()
    return load(json.dumps({"format": "rhytonic", "version": 1, "unit": "m", "parts": [{"name": "Wire", "steps": [
        {"id": "way", "kind": "path", "points": points},
        {"id": "body", "kind": "sweep", "profile": {"circle": 0.05, "sides": 24}, **sweep}]}]}))


def rows() -> Iterator[Row]:
    """The sweep alone, its path known; then a number of it that leaves the faces as they are."""
    document = _swept()
    twists = [_swept(turn=float(t)) for t in range(1, 40)]
    fresh = itertools.cycle(twists)

    def whole() -> None:
        Evaluator().run(next(fresh).parts[0], "m")

    def path_alone() -> None:
        Evaluator().run(next(fresh).parts[0], "m", upto=1)

    one, path = turn_by_turn(whole, path_alone, times=15, warm=3)
    yield Row("sweep of 200 × 24 points, its path's own time taken off", one - path, WHOLE, "the least to reach",
              WHOLE / (one - path), "≤ 8 ms", one - path <= WHOLE)
    evaluator = Evaluator()
    evaluator.run(document.parts[0], "m")

    part = document.parts[0]
    turned = itertools.cycle([part.model_copy(update={"steps": [part.steps[0], d.parts[0].steps[1]]}) for d in twists])

    def scrub() -> None:
        evaluator.run(next(turned), "m")

    [one] = turn_by_turn(scrub, times=15, warm=3)
    yield Row("  its turn scrubbed", one, SCRUBBED, "the least to reach", SCRUBBED / one, "≤ 3 ms", one <= SCRUBBED)
    yield from _outlines()


THICKENED = 0.020


def _outlines() -> Iterator[Row]:
    """A line of 500 points with a thickness, where that crosses itself and where not; and carried on into a body."""
    x = np.linspace(0, 10, 500)
    points = np.stack([x, np.sin(2 * x), 0 * x], axis=1).round(6).tolist()
    line = {"id": "way", "kind": "path", "points": points}

    def drawn(*steps: dict[str, Any]) -> Document:
        return load(json.dumps({"format": "rhytonic", "version": 1, "unit": "m", "parts": [{"name": "Rail", "steps": [
            line, *steps]}]}))

    def scrubbed(told: str, limit: float, documents: list[Document]) -> Row:
        first = documents[0].parts[0]
        parts = itertools.cycle([first.model_copy(update={"steps": [first.steps[0], *d.parts[0].steps[1:]]})
                                 for d in documents])
        evaluator = Evaluator()
        [one] = turn_by_turn(lambda: evaluator.run(next(parts), "m"), times=9, warm=2)
        return Row(told, one, limit, "the least to reach", limit / one, f"≤ {limit * 1000:.0f} ms", one <= limit)

    def band(width: float) -> dict[str, Any]:
        return {"id": "band", "kind": "thicken", "width": width}

    yield scrubbed("thickness of 500 points scrubbed", THICKENED, [drawn(band(0.05 + k / 1e4)) for k in range(20)])
    body = {"id": "body", "kind": "extrude_curve", "depth": 1}
    yield scrubbed("  with a body of it", THICKENED, [drawn(band(0.05 + k / 1e4), body) for k in range(20)])
    yield scrubbed("  where it crosses itself", 0.2, [drawn(band(1.8 + k / 1e3)) for k in range(20)])
