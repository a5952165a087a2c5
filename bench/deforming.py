"""A lattice, a bend and a brush on a hundred thousand vertices, beside the plain NumPy way of each."""

from __future__ import annotations

import itertools
import json
from collections.abc import Iterator
from typing import Any

import numpy as np
from scipy.special import comb

from rhytonic.core.recipe.document import load
from rhytonic.core.recipe.evaluate import Evaluator
from rhytonic.core.recipe.part import Part

from .clock import Row, turn_by_turn

LATTICE, BEND, SAMPLE = 0.010, 0.010, 0.016
BALL = {"id": "ball", "kind": "quad_sphere", "radius": 1, "segments": 129, "anchor": "centre"}


def _part(step: dict[str, Any]) -> Part:
    steps = [BALL, {"id": "shape", **step}]
    raw = {"format": "rhytonic", "version": 1, "unit": "m", "parts": [{"name": "Ball", "steps": steps}]}
    return load(json.dumps(raw)).parts[0]


def _row(name: str, steps: list[Part], plain: Any, other: str, goal: float) -> Row:
    """One of our steps changed again and again on a ball that stays, beside another way on the same points."""
    evaluator = Evaluator()
    base = steps[0].steps[0]
    fresh = itertools.cycle([p.model_copy(update={"steps": [base, p.steps[1]]}) for p in steps])
    evaluator.run(next(fresh), "m")

    def ours() -> None:
        evaluator.run(next(fresh), "m")

    one, two = turn_by_turn(ours, plain, times=15, warm=3)
    return Row(name, one, two, other, two / one, f"≤ {goal * 1000:.0f} ms", one <= goal)


def rows() -> Iterator[Row]:
    """Each with the points known, as in a drag."""
    points = Evaluator().run(_part({"kind": "lattice"}), "m").surface.mesh.points
    low, high = points.min(axis=0), points.max(axis=0)
    offsets = np.zeros((3, 3, 3, 3))
    offsets[2, 2] = [0, 0.2, 0]

    def lattice() -> Any:
        places = (points - low) / (high - low)
        i = np.arange(3)
        tables = [comb(2, i) * c[:, None] ** i * (1 - c[:, None]) ** (2 - i) for c in places.T]
        return points + np.einsum("ni,nj,nk,ijkc->nc", *tables, offsets, optimize=True)

    moved = [_part({"kind": "lattice", "offsets": {f"2,2,{k}": [0, 0.002 * n, 0] for k in range(3)}}) for n in range(1, 60)]
    yield _row("lattice of 100k vertices, a row of it dragged", moved, lattice, "bases worked out each time", LATTICE)

    def bend() -> Any:
        s = points[:, 0] - low[0]
        turn = s * (1.0 / (high[0] - low[0]))
        radius = high[0] - low[0]
        away = radius - points[:, 1]
        return np.stack([low[0] + away * np.sin(turn), radius - away * np.cos(turn), points[:, 2]], axis=1)

    bent = [_part({"kind": "bend", "along": "x", "toward": "+y", "angle": float(n)}) for n in range(1, 60)]
    yield _row("bend of 100k vertices, its angle dragged", bent, bend, "the formula alone", BEND)
    yield from _strokes(points)


def _strokes(points: np.ndarray) -> Iterator[Row]:
    turn = np.linspace(0, 2.5, 60)
    samples = [[float(np.sin(t)), float(np.cos(t)), 0.0, 1.0] for t in turn]

    def sample() -> Any:
        off = np.linalg.norm(points - [0, 1, 0], axis=1)
        t = np.clip(off / 0.1, 0, 1)
        return points + (1 - (3 * t**2 - 2 * t**3))[:, None] * 0.01 * points

    for tool in ("smooth", "relax", "inflate", "groove"):
        brush = {"kind": "brush", "tool": tool, "radius": 0.1}
        drawn = [_part({**brush, "strokes": [{"points": samples[:n]}]}) for n in range(1, 60)]
        yield _row(f"brush on 100k vertices, {tool}: one sample more", drawn, sample, "all distances each time", SAMPLE)
    brush = {"kind": "brush", "tool": "grab", "radius": 0.1}
    grabbed = [_part({**brush, "strokes": [{"points": samples[:1], "move": [0.0, 0.002 * n, 0.0]}]}) for n in range(1, 60)]
    yield _row("brush on 100k vertices, grab: dragged further", grabbed, sample, "all distances each time", SAMPLE)
