"""Sizes that refusals and notes tell to work do work, typed as they are told; and what no size can mend says so."""

import re

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from rhytonic.core.errors import StepError
from rhytonic.core.mesh.measure import measure
from tests.helpers import ALL, assert_sound, box, evaluate, facing, mesh_of
from tests.random_recipes import ids_of, recipes, run

#: kinds that tell a size, with a parameter far too large for any mesh of the test
TOO_MUCH = [("inset", {"width": 40.0}, "faces"), ("inset", {"width": 40.0, "as": "each"}, "faces"),
            ("extrude", {"depth": 0.1, "margin": 40.0}, "faces"), ("extrude", {"depth": -40.0, "along": "surface"}, "faces"),
            ("shell", {"thickness": -40.0}, None), ("shell", {"thickness": 40.0}, None),
            ("ridge", {"height": 0.01, "width": 40.0}, "edges"), ("bevel", {"width": 40.0}, "edges")]


@settings(max_examples=60, deadline=None)
@given(recipes(kinds=("extrude", "transform", "inset", "insert_loop", "bevel", "slice"), most=2), st.sampled_from(TOO_MUCH),
       st.lists(st.integers(0, 999), min_size=1, max_size=4))
def test_the_widest_that_works_works(steps, kind, picks):
    word, values, on = kind
    mesh = run(steps).surface.mesh
    pick = {} if on is None else {"pick": ids_of(mesh, on, picks)}

    def tried(values):
        evaluation = run([*steps, {"id": "much", "kind": word, **values, **pick}], tolerant=True)
        return evaluation, evaluation.results[-1].error

    parameter = next(k for k, v in values.items() if abs(v if isinstance(v, float) else 0) == 40.0)
    for _ in range(8):
        _, error = tried(values)
        if error is None:
            return
        told = re.search(r"(?:works is|thickness of|margin of) (-?[\d.e+-]+) m|(-?[\d.e+-]+) m works", error.message)
        if told is None:
            assert "widest" not in error.message and "largest" not in error.message, error.message
            return
        values = {**values, parameter: float(told[1] or told[2])}
        evaluation, error = tried(values)
        if error is None or "pass through" not in error.message:
            assert error is None, (values, error)
            assert np.isfinite(evaluation.surface.mesh.points).all()
            return


def test_a_shell_thicker_than_its_part_is_refused_with_what_works():
    """A box of 10 cm: 5 from both sides is all of it; −20 was a body of 30."""
    ten = box((0.1, 0.1, 0.1))
    with pytest.raises(StepError, match=r"the part is thinner .* a thickness of -0\.05 m works"):
        mesh_of(ten, {"id": "s", "kind": "shell", "thickness": -0.2})
    mesh = mesh_of(ten, {"id": "s", "kind": "shell", "thickness": -0.05})
    assert_sound(mesh)
    assert measure(mesh).volume == pytest.approx(1e-3, rel=1e-9)  # nothing is left inside
    slab = box((0.1, 0.01, 0.1))
    with pytest.raises(StepError, match="the part is thinner"):
        mesh_of(slab, {"id": "s", "kind": "shell", "thickness": -0.06})


def test_a_layer_that_turns_over_in_places_says_where_and_up_to_what():
    """Narrow strips of a bevel within a thick shell."""
    steps = [box((2, 2, 2)), {"id": "b", "kind": "bevel", "width": 0.1, "pick": {"edges": "all"}}]
    thick = {"id": "s", "kind": "shell", "thickness": -0.5}
    (note,) = evaluate(*steps, thick).results[-1].notes
    told = re.search(r"(\d+) faces of the new layer turn over, at \(.*\) for one; with -([\d.]+) m none does", note)
    assert told and int(told[1]) == 20  # twelve strips, eight corners
    assert evaluate(*steps, {**thick, "thickness": -float(told[2])}).results[-1].notes == ()
    assert evaluate(*steps, {**thick, "thickness": 0.5}).results[-1].notes == ()


@pytest.mark.parametrize("points", [[[-1, 0, 0], [2, 0, 0], [2, 1, 0], [-1, 1, 0]], [[-0.5, 0, 0], [1, 1, 0]]])
def test_a_lathe_across_its_axis_is_refused_with_how_far(points):
    way = {"id": "w", "kind": "path", "points": points, "closed": len(points) > 2}
    with pytest.raises(StepError, match="both sides of the axis") as refused:
        evaluate(way, {"id": "l", "kind": "lathe"})
    by = float(re.search(r"by ([\d.]+) m", str(refused.value))[1])
    assert by == -points[0][0]
    mesh = mesh_of(way, {"id": "l", "kind": "lathe", "at": [-by, 0, 0]})
    assert_sound(mesh)


def test_a_circle_turned_about_its_own_diameter_is_refused_and_half_of_it_is_a_ball():
    with pytest.raises(StepError, match="both sides"):
        evaluate({"id": "c", "kind": "circle", "radius": 1, "sides": 32}, {"id": "l", "kind": "lathe"})
    mesh = mesh_of({"id": "c", "kind": "arc", "radius": 1, "from": -90, "to": 90, "steps": 8}, {"id": "l", "kind": "lathe", "sides": 64})
    assert measure(mesh).volume == pytest.approx(4 / 3 * np.pi, rel=0.02) and measure(mesh).closed


EIGHT = [[-1, -1, 0], [1, 1, 0], [1, -1, 0], [-1, 1, 0]]


@pytest.mark.parametrize("after", [{"kind": "extrude_curve", "depth": 1}, {"kind": "lathe", "at": [-5, 0, 0]}, {"kind": "fill"}])
def test_outlines_that_cross_themselves_are_noted_where(after):
    evaluation = evaluate({"id": "w", "kind": "path", "points": EIGHT, "closed": True}, {"id": "a", **after}, tolerant=True)
    last = evaluation.results[-1]
    told = " ".join(last.notes) + (last.error.message if last.error else "")
    assert "crosses itself" in told and "(0, 0, 0)" in told
    straight = evaluate({"id": "w", "kind": "path", "points": [EIGHT[0], EIGHT[2], EIGHT[1], EIGHT[3]], "closed": True}, {"id": "a", **after})
    assert straight.results[-1].notes == ()


@settings(max_examples=40, deadline=None)
@given(st.lists(st.tuples(st.floats(-5, 5), st.floats(-5, 5)).map(lambda p: (round(p[0], 1), round(p[1], 1))), min_size=4, max_size=9, unique=True))
def test_crossing_outlines_are_told_as_shapely_tells_them(points):
    import shapely

    ring = shapely.Polygon(points)
    try:
        evaluation = evaluate({"id": "w", "kind": "path", "points": [[x, y, 0] for x, y in points], "closed": True}, {"id": "a", "kind": "extrude_curve", "depth": 1})
    except StepError:
        assume(False)
    assert (evaluation.results[-1].notes == ()) == ring.is_valid


def test_picks_of_faces_all_round_leave_nothing_to_fit():
    with pytest.raises(StepError):
        mesh_of(box(), {"id": "i", "kind": "inset", "width": 3, "pick": facing("+y")}, {"id": "j", "kind": "inset", "width": 3, "pick": ALL})
