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
