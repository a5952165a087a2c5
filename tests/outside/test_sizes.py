"""Measures against handbook geometry, and a size driven to its value."""

import itertools
import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import TypeAdapter
from scipy.optimize import minimize

from rhytonic.core.brief.size import Driver, Size
from rhytonic.core.recipe.document import read_document
from rhytonic.core.recipe.evaluate import Evaluator
from rhytonic.core.size.clearance.nearest import nearest_pair
from rhytonic.core.size.drive import NotReached, drive
from rhytonic.core.size.judge import judge
from rhytonic.core.size.scene import Scene

DRIVER = TypeAdapter(Driver)


def scene(*parts, unit="cm"):
    document = read_document({"format": "rhytonic", "version": 1, "unit": unit, "parts": [
        {"name": f"P{i}", "id": f"p{i}", **part} for i, part in enumerate(parts)]})
    evaluator = Evaluator()
    return Scene(document, lambda part: evaluator.run(part, document.unit, tolerant=True))


def size(measure, *of, **more):
    targets = [{"part": t} if isinstance(t, str) else {"part": t[0], "pick": t[1]} for t in of]
    return Size.model_validate({"id": "s", "name": "Size", "measure": measure, "of": targets, **more})


def have(s, *args, **more):
    found = judge(s, size(*args, **more))
    assert found.problem is None, found.problem
    return found.have


BOX = {"steps": [{"id": "b", "kind": "box", "size": [3, 4, 12]}]}
def at(x, y, z):
    return {"vertices": {"nearest": [x, y, z]}}


def test_the_diagonal_of_a_3_4_12_box_is_13():
    s = scene(BOX)
    ends = ("p0", at(-1.5, 0, -6)), ("p0", at(1.5, 4, 6))
    assert have(s, "distance", *ends) == pytest.approx(13)
    assert [have(s, "distance", *ends, along=a) for a in "xyz"] == pytest.approx([3, 4, 12])


def test_edge_loop_face_and_body_of_a_box():
    s = scene(BOX)
    top = ("p0", {"faces": {"facing": "+y"}})
    assert have(s, "length", ("p0", {"edges": {"nearest": [1.5, 4, 0]}})) == pytest.approx(12)
    assert have(s, "length", top) == pytest.approx(2 * (3 + 12))
    assert have(s, "area", top) == pytest.approx(36)
    assert have(s, "area", "p0") == pytest.approx(2 * (3 * 4 + 4 * 12 + 3 * 12))
    assert have(s, "volume", "p0") == pytest.approx(144)
    assert [have(s, m, "p0") for m in ("width", "height", "depth")] == pytest.approx([3, 4, 12])
    assert have(s, "width", top) == pytest.approx(3) and have(s, "height", top) == 0


def test_sizes_are_told_in_the_unit_of_the_file():
    s = scene({"steps": [{"kind": "box", "size": [1, 1, 1]}]}, unit="in")
    assert have(s, "height", "p0") == 1 and have(s, "volume", "p0") == pytest.approx(1) and have(s, "area", "p0") == pytest.approx(6)


def test_angles_of_regular_prisms():
    """The inner angle of a regular n-gon is 180° (n − 2)/n, that between neighbouring sides of its prism too."""
    for n in (3, 5, 6, 8):
        s = scene({"steps": [{"id": "c", "kind": "cylinder", "radius": 5, "height": 3, "sides": n}]})
        mid = 5 * math.cos(math.pi / n)
        a, b = (mid * math.cos(math.pi / n), mid * math.sin(math.pi / n)), (mid * math.cos(3 * math.pi / n), mid * math.sin(3 * math.pi / n))
        faces = [("p0", {"faces": {"nearest": [x, 1.5, -z]}}) for x, z in (a, b)]
        edges = [("p0", {"edges": {"nearest": [x, 3, -z]}}) for x, z in (a, b)]
        corner = 2 * math.pi / n
        three = [("p0", at(5 * math.cos(k * corner), 3, -5 * math.sin(k * corner))) for k in range(3)]
        inner = 180 * (n - 2) / n
        for found in (have(s, "angle", *faces), have(s, "angle", *edges), have(s, "angle", *three)):
            assert found == pytest.approx(inner, abs=1e-9)


def test_the_radius_of_a_loop_is_that_of_the_circle_its_vertices_lie_on():
    s = scene({"placement": {"rotate": [20, 30, 40], "translate": [5, 6, 7]},
               "steps": [{"id": "c", "kind": "cylinder", "radius": 4.5, "height": 3, "sides": 7, "cap": "none"}]})
    rim = ("p0", {"vertices": {"in_box": [[None, 2.9, None], [None, 3.1, None]]}})
    assert have(s, "radius", rim) == pytest.approx(4.5)


def test_the_gap_between_two_balls_and_between_boxes():
    ball = [{"kind": "sphere", "radius": 2, "sides": 32, "rings": 16, "anchor": "centre"}]
    s = scene({"steps": ball}, {"placement": {"translate": [7, 0, 0]}, "steps": ball})
    assert have(s, "gap", "p0", "p1") == pytest.approx(3)  # vertices lie on +x and −x
    s = scene({"steps": [{"kind": "box", "size": [2, 2, 2]}]},
              {"placement": {"translate": [5, 6, 0]}, "steps": [{"kind": "box", "size": [2, 2, 2]}]})
    assert have(s, "gap", "p0", "p1") == pytest.approx(5)  # between edges: 3 across, 4 up
    assert [have(s, "gap", "p0", "p1", along=a) for a in "xyz"] == pytest.approx([3, 4, -2])


def test_bodies_that_cross_have_no_gap_and_one_inside_another_has():
    s = scene({"steps": [{"kind": "box", "size": [10, 10, 10]}]},
              {"placement": {"translate": [5, 2, 0]}, "steps": [{"kind": "box", "size": [4, 4, 4]}]},
              {"placement": {"translate": [1, 3, 0]}, "steps": [{"kind": "box", "size": [2, 2, 2]}]})
    assert have(s, "gap", "p0", "p1") == 0
    assert have(s, "gap", "p0", "p2") == pytest.approx(3)  # to the wall at x = 5 from x = 2, and to the floor


def by_optimizer(p, q):
    """Distance of two triangles as a small quadratic programme, by scipy."""
    def off(w):
        a = p[0] + w[0] * (p[1] - p[0]) + w[1] * (p[2] - p[0])
        b = q[0] + w[2] * (q[1] - q[0]) + w[3] * (q[2] - q[0])
        return float(((a - b)**2).sum())
    inside = [{"type": "ineq", "fun": lambda w: 1 - w[0] - w[1]}, {"type": "ineq", "fun": lambda w: 1 - w[2] - w[3]}]
    starts = [(1 / 3,) * 4, *itertools.product((0.05, 0.9), repeat=4)]
    best = min(minimize(off, s, bounds=[(0, 1)] * 4, constraints=inside, method="SLSQP", tol=1e-14).fun for s in starts[:6])
    return math.sqrt(max(best, 0.0))


@settings(max_examples=25, deadline=None)
@given(st.lists(st.floats(-1, 1), min_size=18, max_size=18))
def test_the_distance_of_two_triangles_is_the_least_there_is(values):
    t = np.array(values).reshape(2, 1, 3, 3)
    found, ends = nearest_pair(t[0], t[1])
    assert found <= by_optimizer(t[0, 0], t[1, 0]) + 1e-6
    assert np.linalg.norm(ends[0] - ends[1]) == pytest.approx(found, abs=1e-9)


def test_near_pairs_among_many_are_found():
    rng = np.random.default_rng(5)
    a = rng.random((300, 1, 3)) * 10 + rng.random((300, 3, 3)) * 0.3
    b = rng.random((300, 1, 3)) * 10 + [11, 0, 0] + rng.random((300, 3, 3)) * 0.3
    one_by_one = min(nearest_pair(a[i:i + 1], b[j:j + 1])[0] for i in np.argsort(-a[:, :, 0].max(axis=1))[:25] for j in np.argsort(b[:, :, 0].min(axis=1))[:25])
    assert nearest_pair(a, b)[0] == pytest.approx(one_by_one, abs=1e-12)


# driven sizes ---------------------------------------------------------------------------------------------------------

WINDOW = {"steps": [{"id": "body", "kind": "box", "size": [18, 26, 18]},
                    {"id": "pane", "kind": "inset", "pick": {"faces": {"facing": "+z"}}, "width": 1.2}]}
PANE = ("p0", {"faces": {"made_by": "pane", "role": "inner"}})


def driven(s, driver, want, *args, **more):
    return drive(s.document, size(*args, **more), want, DRIVER.validate_python(driver), s.run)


def test_make_the_window_11_4_changes_the_width_of_the_inset():
    """18 − 2 w = 11.4 where w = 3.3."""
    s = scene(WINDOW)
    found = driven(s, {"kind": "step", "part": "p0", "step": "pane", "parameter": "width"}, 11.4, "width", PANE)
    assert found.value == 3.3 and found.have == pytest.approx(11.4, abs=1e-9)
    assert found.patch == [{"op": "add", "path": "/parts/0/steps/1/width", "value": 3.3}]


@pytest.mark.parametrize("want, radius", [(4 / 3 * math.pi, 1.0), (100.0, None)])
def test_a_volume_drives_a_radius(want, radius):
    """A sphere of n sides and rings is smaller than the ball; its volume still grows with the cube of the radius."""
    s = scene({"steps": [{"id": "ball", "kind": "sphere", "radius": 2, "sides": 24, "rings": 12}]})
    found = driven(s, {"kind": "step", "part": "p0", "step": "ball", "parameter": "radius"}, want, "volume", "p0")
    now = have(s, "volume", "p0")
    assert found.value == pytest.approx(2 * (want / now) ** (1 / 3), rel=1e-8)
    assert radius is None or found.value > radius


def test_a_move_of_what_is_picked_and_a_scale_of_the_part():
    s = scene(WINDOW)
    top = {"faces": {"facing": "+y"}}
    found = driven(s, {"kind": "move", "part": "p0", "pick": top, "axis": "y"}, 30, "height", "p0")
    assert found.value == 4 and found.patch[0]["value"]["translate"] == [0.0, 4.0, 0.0]
    found = driven(s, {"kind": "scale", "part": "p0", "axis": "y"}, 39, "height", "p0")
    assert found.patch[0]["value"]["scale"] == [1.0, 1.5, 1.0]


def test_a_second_drive_corrects_its_own_move():
    s = scene({"steps": [{"id": "b", "kind": "box", "size": [2, 2, 2]}, {
        "id": "move1", "kind": "transform", "pick": {"faces": {"facing": "+y"}}, "frame": "build", "translate": [0, 1, 0]}]})
    found = driven(s, {"kind": "move", "part": "p0", "pick": {"faces": {"facing": "+y"}}, "axis": "y"}, 5, "height", "p0")
    assert found.patch == [{"op": "replace", "path": "/parts/0/steps/1/translate", "value": [0.0, 3.0, 0.0]}]


def test_it_says_when_no_value_reaches_it():
    s = scene(WINDOW)
    by = {"kind": "step", "part": "p0", "step": "pane", "parameter": "width"}
    with pytest.raises(NotReached, match=r"no value of width of pane reaches 40: from .* to .*, 'Size' goes from .* to 1[78]"):
        driven(s, by, 40.0, "width", PANE)
    with pytest.raises(NotReached, match="does not change 'Size': it stays 26"):
        driven(s, by, 30.0, "height", "p0")


@settings(max_examples=20, deadline=None)
@given(st.floats(0.5, 17.5))
def test_any_width_between_is_reached(want):
    s = scene(WINDOW)
    found = driven(s, {"kind": "step", "part": "p0", "step": "pane", "parameter": "width"}, want, "width", PANE)
    assert found.have == pytest.approx(want, abs=1e-8)
