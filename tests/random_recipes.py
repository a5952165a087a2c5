"""Random small recipes for property tests: a form, then edits that pick by what is there."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from hypothesis import assume
from hypothesis import strategies as st

from rhytonic.core.errors import StepError
from rhytonic.core.mesh.mesh import Mesh
from rhytonic.core.mesh.names import hex_of
from rhytonic.core.recipe.evaluate import Evaluation, Evaluator
from tests.helpers import document

MOST_FACES = 400
Steps = list[dict[str, Any]]

small = st.integers(1, 3)
size = st.floats(0.5, 3).map(lambda v: round(v, 3))
number = st.floats(0.1, 1).map(lambda v: round(v, 3))


def forms() -> st.SearchStrategy[dict[str, Any]]:
    box = st.fixed_dictionaries({"size": st.tuples(size, size, size).map(list),
                                 "segments": st.tuples(small, small, small).map(list)})
    plane = st.fixed_dictionaries({"size": st.tuples(size, size).map(list), "segments": st.tuples(small, small).map(list)})
    cylinder = st.fixed_dictionaries({
        "radius": size, "height": size, "sides": st.integers(3, 9), "height_segments": st.integers(1, 2),
        "cap": st.sampled_from(["ngon", "fan", "none"]), "radius_top": st.one_of(st.just(0), size)})
    return st.one_of(box.map(lambda p: {"id": "form", "kind": "box", **p}),
                     plane.map(lambda p: {"id": "form", "kind": "plane", **p}),
                     cylinder.map(lambda p: {"id": "form", "kind": "cylinder", **p}))


@dataclass(frozen=True)
class Wish:
    """An edit wanted, before it is known what there is to pick."""

    kind: str
    picks: list[int]
    on: str
    values: dict[str, Any]


def wishes(kinds: tuple[str, ...]) -> st.SearchStrategy[Wish]:
    values = {
        "extrude": st.fixed_dictionaries({
            "depth": st.one_of(number, number.map(lambda v: -v)), "as": st.sampled_from(["region", "each"]),
            "along": st.sampled_from(["average", "surface", "+x", "-y", [1, 2, 3]]), "segments": st.integers(1, 2)}),
        "transform": st.fixed_dictionaries({
            "translate": st.tuples(number, number, number).map(list),
            "rotate": st.tuples(number, number, number).map(list)}),
        "delete": st.just({}),
        "weld": st.fixed_dictionaries({"distance": st.sampled_from([0.0, 0.3, 1.0])}),
        "dissolve": st.just({}),
        "flip": st.just({}),
        "quad_cap": st.just({}),
        "fill": st.fixed_dictionaries({"style": st.sampled_from(["ngon", "fan", "quads"])}),
        "duplicate": st.fixed_dictionaries({"translate": st.tuples(number, number, number).map(list)}),
        "flatten": st.just({}),
        "inset": st.fixed_dictionaries({"width": st.just(0.02), "as": st.sampled_from(["region", "each"])}),
        "insert_loop": st.fixed_dictionaries({"count": st.integers(1, 2), "spread": st.sampled_from([1.0, 0.5])}),
        "subdivision": st.just({"levels": 1})}
    on = {"extrude": ["faces"], "transform": ["faces", "edges", "vertices"], "delete": ["faces", "vertices"],
          "subdivision": ["faces"], "inset": ["faces"], "insert_loop": ["edges"],
          "weld": ["vertices"], "dissolve": ["edges", "vertices", "faces"], "flip": ["faces"], "quad_cap": ["faces"], "fill": ["edges"], "duplicate": ["faces"],
          "flatten": ["vertices", "faces"]}
    return st.sampled_from(kinds).flatmap(lambda k: st.builds(
        Wish, st.just(k), st.lists(st.integers(0, 999), min_size=1, max_size=5), st.sampled_from(on[k]), values[k]))


def ids_of(mesh: Mesh, kind: str, picks: list[int]) -> dict[str, Any]:
    """A pick by id of some elements, told by any whole numbers."""
    t, names = mesh.topology, mesh.names
    if kind == "faces":
        ids: list[Any] = hex_of(names.face[sorted({p % t.face_count for p in picks})])
    elif kind == "vertices":
        ids = hex_of(names.vertex[sorted({p % t.vertex_count for p in picks})])
    else:
        ids = [hex_of(names.vertex[t.edges[e]]) for e in sorted({p % t.edge_count for p in picks})]
    return {kind: {"ids": ids}}


def as_step(wish: Wish, mesh: Mesh, id: str) -> dict[str, Any]:
    step = {"id": id, "kind": wish.kind, **wish.values}
    if wish.kind == "insert_loop":
        return {**step, "through": ids_of(mesh, "edges", wish.picks)["edges"]}
    if wish.kind == "fill":
        return {**step, "pick": {"edges": {"border": True}}}
    return step if wish.kind == "subdivision" else {**step, "pick": ids_of(mesh, wish.on, wish.picks)}


def grow(steps: Steps, wish: Wish, id: str) -> Steps:
    """The recipe with the wish at its end, or as it was where that cannot be."""
    mesh = run(steps).surface.mesh
    if not mesh.topology.face_count:
        return steps
    longer = [*steps, as_step(wish, mesh, id)]
    try:
        after = run(longer).surface.mesh
    except StepError:
        return steps
    return longer if 0 < after.topology.face_count <= MOST_FACES else steps


def run(steps: Steps, evaluator: Evaluator | None = None, tolerant: bool = False) -> Evaluation:
    return (evaluator or Evaluator()).run(document(*steps).parts[0], "m", tolerant=tolerant)


ALL_KINDS = ("extrude", "extrude", "transform", "delete", "subdivision", "inset", "insert_loop", "insert_loop", "weld",
             "dissolve", "flip", "duplicate", "flatten", "quad_cap", "fill")


@st.composite
def recipes(draw: st.DrawFn, kinds: tuple[str, ...] = ALL_KINDS, least: int = 0, most: int = 4) -> Steps:
    """A recipe whose every step runs."""
    steps: Steps = [draw(forms())]
    for i, wish in enumerate(draw(st.lists(wishes(kinds), min_size=least, max_size=most))):
        steps = grow(steps, wish, f"s{i}")
    assume(len(steps) > least)
    return steps


def meshes(kinds: tuple[str, ...] = ALL_KINDS) -> st.SearchStrategy[Mesh]:
    return recipes(kinds).map(lambda steps: run(steps).surface.mesh)
