"""Steps on whole meshes, caps of many corners, and long recipes whose first numbers change."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from rhytonic.core.recipe.evaluate import Evaluator
from rhytonic.core.recipe.state import State
from rhytonic.core.step.kind import Context
from rhytonic.web.process import load_what_is_slow

from .clock import Row, turn_by_turn
from .edits import sheet
from .replay import changed, document, early_count, long_recipe, seconds, stored


def _one_step(steps: list[dict[str, object]], times: int = 5) -> float:
    """Seconds of the last step, with the new topology and all ids."""
    part = document(steps).parts[0]
    base: State = Evaluator().run(part, "m", upto=len(steps) - 1).surface

    def run() -> None:
        state = Evaluator().step(base, part.steps[-1], 1.0, Context("step"))
        _ = state.mesh.topology.edges, state.mesh.names.vertex, state.mesh.names.face

    return turn_by_turn(run, times=times)[0]


def _on_sheet(faces: int, step: dict[str, object]) -> float:
    columns = int((2 * faces) ** 0.5)
    part = sheet(columns, faces // columns, step).parts[0]
    return _one_step([s.model_dump(by_alias=True, exclude_unset=True) | {"kind": s.kind} for s in part.steps])


def _cap(corners: int) -> float:
    drum = {"id": "drum", "kind": "cylinder", "radius": 1, "height": 1, "sides": corners}
    return _one_step([drum, {"id": "step", "kind": "quad_cap", "pick": {"faces": {"facing": "+y"}}}], 9)


def _steps() -> Iterator[tuple[str, Callable[[], float], float]]:
    border = {"edges": {"border": True}}
    everything = {"edges": {"not": {"border": True}}}
    yield "fill of a border with quads, 20 000 faces", lambda: _on_sheet(
        20_000, {"kind": "fill", "style": "quads", "pick": border}), 0.15
    yield "fill of a border with quads, 100 000 faces", lambda: _on_sheet(
        100_000, {"kind": "fill", "style": "quads", "pick": border}), 0.75
    for corners, goal in ((100, 0.005), (200, 0.010), (400, 0.020), (800, 0.040)):
        yield f"quad_cap of {corners} corners", lambda n=corners: _cap(n), goal  # type: ignore[misc]
    yield "bevel of all edges, 3 segments, 20 000 faces", lambda: _on_sheet(
        20_000, {"kind": "bevel", "width": 0.1, "segments": 3, "pick": everything}), 0.2
    yield "ridge of all edges, 20 000 faces", lambda: _on_sheet(
        20_000, {"kind": "ridge", "width": 0.1, "height": 0.1, "pick": everything}), 0.2


def rows() -> Iterator[Row]:
    load_what_is_slow()  # as a server has
    for name, run, goal in _steps():
        taken = run()
        yield Row(name, taken, goal, "the least to reach", goal / taken, _told(goal), taken <= goal)
    for count, goals in ((100, (0.5, 0.03, 0.12, 2.0)), (300, (None, None, None, 1.0))):
        steps = stored(long_recipe(count))
        warm = Evaluator()
        cold = seconds(warm, steps)
        taken_by = {"cold": cold,
                    "a position changed first": seconds(warm, changed(steps, size=[4.1, 3, 2]), steps),
                    "a count changed early": seconds(warm, early_count(steps, 2), steps),
                    "all counts changed first": seconds(warm, changed(steps, segments=[17, 17, 17]), steps)}
        for (what, taken), goal in zip(taken_by.items(), goals, strict=True):
            if goal is not None:
                yield Row(f"replay of {count} steps, {what}", taken, goal, "the least to reach", goal / taken, _told(goal),
                          taken <= goal)


def _told(goal: float) -> str:
    return f"≤ {goal:g} s" if goal >= 0.1 else f"≤ {goal * 1e3:g} ms"
