"""Every polygon edit with a pick of up to 200 elements, from nothing and scrubbed."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from rhytonic.core.mesh.names import hex_of
from rhytonic.core.pick.resolve import resolve
from rhytonic.core.pick.rules import Ids
from rhytonic.core.recipe.document import Document
from rhytonic.core.recipe.evaluate import Evaluator
from rhytonic.core.recipe.part import Part
from rhytonic.core.recipe.registry import kind_of
from rhytonic.core.recipe.state import State
from rhytonic.core.step.kind import Context

from .clock import Row, turn_by_turn
from .edits import sheet

SIZES = (("20 000", (200, 100), 0.006), ("2 000", (50, 40), 0.002))
SCRUB = 0.001


def _steps(columns: int, rows: int) -> list[tuple[str, dict[str, Any], str | None]]:
    """Name, step, and the number to scrub, on a plane of so many quads."""
    low, high = [-columns / 2, None, -rows / 2], [-columns / 2 + 20, None, -rows / 2 + 10]
    block = {"faces": {"in_box": [low, high]}}
    points = {"vertices": {"in_box": [low, high]}}
    loop = {"edges": {"loop_through": {"nearest": [0.0, 0.0, 0.5]}}}
    ring = {"edges": {"ring_through": {"nearest": [0.0, 0.0, 0.5]}}}
    side = {"in_box": [[-columns / 2 - 0.1, None, None], [-columns / 2 + 0.1, None, None]]}
    left, back = -columns / 2, -rows / 2
    two = {"faces": {"any_of": [{"in_box": [low, [left + 10, None, back + 10]]},
                                {"in_box": [[left + 12, None, back], [left + 22, None, back + 10]]}]}}
    return [
        ("bevel of a loop, 3 segments", {"kind": "bevel", "width": 0.2, "segments": 3, "pick": loop}, "width"),
        ("ridge of a loop", {"kind": "ridge", "width": 0.3, "height": 0.2, "pick": loop}, "height"),
        ("connect across a ring", {"kind": "connect", "pick": ring}, "shift"),
        ("slice", {"kind": "slice", "point": [0.3, 0, 0], "normal": [1, 0, 0]}, None),
        ("bridge of two regions", {"kind": "bridge", "segments": 2, "pick": two}, "taper"),
        ("slide of a loop", {"kind": "slide", "amount": 0.3, "pick": loop}, "amount"),
        ("even out a loop", {"kind": "even_out", "pick": loop}, None),
        ("relax of 200 vertices", {"kind": "relax", "pick": points}, "strength"),
        ("round out a patch", {"kind": "round_out", "pick": block}, "radius"),
        ("extrude edges of a border", {"kind": "extrude_edges", "width": 0.5, "pick": {"edges": side}}, "width"),
        ("weld of 200 vertices", {"kind": "weld", "distance": 0.5, "pick": points}, None),
        ("dissolve of 200 faces", {"kind": "dissolve", "pick": block}, None),
        ("crease of a loop", {"kind": "crease", "sharpness": 3, "pick": loop}, None),
        ("duplicate of 200 faces", {"kind": "duplicate", "translate": [0, 1, 0], "pick": block}, "translate")]


def _from_nothing(base: State, step: Any) -> float:
    def run() -> None:
        state = Evaluator().step(base, step, 1.0, Context("step"))
        t = state.mesh.topology
        _ = t.edges, t.twin, state.mesh.names.vertex, state.mesh.names.face

    return turn_by_turn(run, times=11, warm=2)[0]


def _scrubbed(base: State, step: Any, name: str) -> float:
    evaluator = Evaluator()
    evaluator.step(base, step, 1.0, Context("step"))
    turn = 0

    def run() -> None:
        nonlocal turn
        turn += 1
        held = getattr(step, name)
        by = 1e-4 * turn
        value = tuple(v + by for v in held) if isinstance(held, tuple) else (2.0 if held is None else held) - by
        evaluator.step(base, step.model_copy(update={name: value}), 1.0, Context("step"))

    return turn_by_turn(run, times=21, warm=2)[0]


def _by_ids(document: Document) -> tuple[Part, State]:
    """The part with its pick as the interface stores it, and the plane it acts on."""
    part = document.parts[0]
    base: State = Evaluator().run(part, "m", upto=1).surface
    step = part.steps[1]
    pick = kind_of(step).pick_of(step)
    if pick is None:
        return part, base
    found, names, t = resolve(base.mesh, base.history, pick), base.mesh.names, base.mesh.topology
    ids: Any = [tuple(hex_of(e)) for e in names.vertex[t.edges[found.elements]]] if found.kind == "edges" else \
        hex_of(names.of("face" if found.kind == "faces" else "vertex")[found.elements])
    return part.model_copy(update={"steps": [part.steps[0], step.model_copy(update={
        "pick": type(pick)(**{found.kind: Ids(ids=ids)})})]}), base


def rows() -> Iterator[Row]:
    for size, (columns, rows_), limit in SIZES:
        for name, raw, number in _steps(columns, rows_):
            part, base = _by_ids(sheet(columns, rows_, raw))
            _ = base.mesh.topology.edges, base.mesh.topology.twin, base.mesh.names.face, base.mesh.names.vertex
            taken = _from_nothing(base, part.steps[1])
            yield Row(f"{name} on {size}", taken, limit, "the least to reach", limit / taken, f"≤ {limit * 1000:.0f} ms",
                      taken <= limit)
            if number is not None and size == "20 000":
                taken = _scrubbed(base, part.steps[1], number)
                yield Row(f"  its {number} scrubbed", taken, SCRUB, "the least to reach", SCRUB / taken, "≤ 1 ms",
                          taken <= SCRUB)
