"""What holds for any sequence of steps on any small mesh."""

import copy
import itertools

import numpy as np
from hypothesis import assume, given
from hypothesis import strategies as st

from rhytonic.core.errors import StepError
from rhytonic.core.mesh.measure import measure
from rhytonic.core.recipe.evaluate import Evaluator
from tests.helpers import assert_sound
from tests.random_recipes import grow, number, recipes, run, wishes


@given(recipes())
def test_every_step_leaves_a_sound_mesh(steps):
    for result in run(steps).results:
        mesh = result.state.mesh
        assert_sound(mesh)
        t = mesh.topology
        a, b = t.corners, t.corners[t.next_corner]
        low, high = np.minimum(a, b), np.maximum(a, b)
        assert (t.edges[t.corner_edge] == np.stack([low, high], axis=1)).all()
        assert len(np.unique(t.edges, axis=0)) == t.edge_count
        paired = t.twin >= 0
        assert (t.twin[t.twin[paired]] == np.flatnonzero(paired)).all()
        assert t.edge_face_count.sum() == t.corner_count


@given(recipes(("extrude", "extrude", "transform", "subdivision", "inset", "insert_loop", "bevel", "bevel", "ridge", "connect",
                "cut", "slice", "bridge", "mirror", "shell", "slide", "relax", "crease")))
def test_closed_manifold_meshes_stay_so(steps):
    results = run(steps).results
    for before, after in itertools.pairwise(results):
        t = before.state.mesh.topology
        step = after.step
        if step.kind == "slice" and not step.cap and step.keep != "both":
            continue  # cut open on purpose
        if step.kind == "mirror" and not step.clip:
            continue  # both halves of what already stands on both sides
        if t.is_closed and t.is_manifold and t.is_oriented:
            u = after.state.mesh.topology
            assert u.is_closed and u.is_oriented and u.edge_face_count.max() == 2
            assert measure(after.state.mesh).euler % 2 == 0


@given(recipes())
def test_the_same_recipe_gives_the_same_bits(steps):
    one, two = run(steps).surface.mesh, run(copy.deepcopy(steps)).surface.mesh
    assert one.points.tobytes() == two.points.tobytes() and one.topology is two.topology
    assert (one.names.vertex == two.names.vertex).all() and (one.names.face == two.names.face).all()


@given(recipes(("extrude", "transform", "delete", "subdivision", "inset", "insert_loop", "dissolve", "flip", "duplicate", "bevel",
                "slide", "relax", "extrude_edges", "connect", "to_ball", "even_out", "crease"), most=5),
       st.lists(number, min_size=8, max_size=8))
def test_other_numbers_same_names(steps, numbers):
    """Depths, distances and sizes leave connectivity alone, so every id stays. (A ridge looks whether it ends at a sharp
    edge, and has a wall there or not.)"""
    turn = iter(numbers * 10)
    other = copy.deepcopy(steps)
    for step in other:
        for key in ("depth", "radius", "height", "amount", "strength", "roundness"):
            if key in step:
                step[key] = next(turn)
        if step["kind"] == "bevel":
            step["width"] = next(turn)
        for key in ("translate", "size"):
            if key in step:
                step[key] = [next(turn) for _ in step[key]]
        if step.get("radius_top"):
            step["radius_top"] = next(turn)
    one = run(steps).surface.mesh
    try:
        two = run(other).surface.mesh
    except StepError:
        assume(False)  # directions can cancel out at other numbers
    assert one.topology is two.topology or (one.topology.corners == two.topology.corners).all()
    assert (one.names.vertex == two.names.vertex).all() and (one.names.face == two.names.face).all()


@given(recipes(most=4))
def test_warm_caches_change_nothing(steps):
    evaluator = Evaluator()
    for n in range(1, len(steps) + 1):
        warm = run(steps[:n], evaluator).surface.mesh
    cold = run(steps).surface.mesh
    assert warm.points.tobytes() == cold.points.tobytes()
    assert (warm.names.face == cold.names.face).all() and (warm.names.vertex == cold.names.vertex).all()


def made_counts(result):
    record = result.state.history.records[-1]
    return {key: ids.size for key, ids in record.made.items()}


@given(recipes(("extrude", "transform", "subdivision", "inset"), least=1, most=4),
       st.lists(wishes(("extrude", "transform")), min_size=1, max_size=2), st.integers(1, 3))
def test_picks_are_found_after_steps_are_inserted_above(steps, wished, at):
    """As long as the steps between make the same things: a region that now falls apart makes walls where none were."""
    at = min(at, len(steps) - 1)
    before = run(steps)
    longer = steps[:at]
    for i, wish in enumerate(wished):
        longer = grow(longer, wish, f"inserted{i}")
    added = len(longer) - at
    assume(added)
    after = run([*longer, *steps[at:]], tolerant=True)
    for was, now in zip(before.results[at:], after.results[at + added:], strict=True):
        assume(now.error is None or now.error.code != "bad_parameter")  # found, but the numbers no longer fit
        assert now.error is None and now.missing == 0, (now.step, str(now.error))
        assert now.state.picked is None or now.state.picked.elements.size >= was.state.picked.elements.size
        assume(made_counts(was) == made_counts(now))


@given(recipes(("extrude", "transform"), least=2, most=4), st.integers(1, 4))
def test_a_step_switched_off_and_on_again_leaves_no_trace(steps, which):
    which = min(which, len(steps) - 1)
    evaluator = Evaluator()
    before = run(steps, evaluator).surface.mesh
    off = [{**s, "enabled": False} if i == which else s for i, s in enumerate(steps)]
    run(off, evaluator, tolerant=True)
    after = run(steps, evaluator).surface.mesh
    assert before.points.tobytes() == after.points.tobytes() and (before.names.face == after.names.face).all()


@given(recipes(least=1, most=4))
def test_a_step_switched_off_gives_back_the_mesh_above_it(steps):
    evaluator = Evaluator()
    run(steps, evaluator)
    before = run(steps[:-1]).surface.mesh
    after = run([*steps[:-1], {**steps[-1], "enabled": False}], evaluator).surface.mesh
    assert before.points.tobytes() == after.points.tobytes() and before.topology is after.topology
    assert (before.names.face == after.names.face).all() and before.attributes.keys() == after.attributes.keys()
