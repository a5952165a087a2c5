"""Where parts stand: frames put together, taken apart and carried into each other's axes."""

import json

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from rhytonic.core.errors import InvalidDocument
from rhytonic.core.recipe.document import load
from rhytonic.core.recipe.part import Joint, Placement
from rhytonic.core.recipe.place import IDENTITY, frame_of, frame_of_joint, frame_of_placement
from tests.helpers import box

numbers = st.floats(-50, 50)
angles = st.floats(-360, 360)
placements = st.builds(lambda t, r, s: Placement(translate=t, rotate=r, scale=s), st.tuples(numbers, numbers, numbers),
                       st.tuples(angles, angles, angles), st.tuples(*[st.floats(0.1, 10)] * 3))
POINTS = np.array([[0.3, -1, 2], [0, 0, 0], [5, 1, -0.25]])


@given(placements, placements)
def test_one_after_the_other_is_both(first, second):
    a, b = frame_of_placement(first, "m"), frame_of_placement(second, "m")
    np.testing.assert_allclose(b.after(a).apply(POINTS), b.apply(a.apply(POINTS)), atol=1e-9)


@given(placements, placements)
def test_into_the_axes_of_another_and_out_again(first, second):
    a, b = frame_of_placement(first, "m"), frame_of_placement(second, "m")
    np.testing.assert_allclose(b.apply(a.into(b).apply(POINTS)), a.apply(POINTS), atol=1e-7)


@given(placements)
def test_into_its_own_axes_nothing_moves(placement):
    frame = frame_of_placement(placement, "cm")
    assert frame.into(frame).is_identity and frame.into(frame).apply(POINTS) is POINTS


def test_turns_go_about_x_then_y_then_z():
    """By hand: +y turned by 90° about x is +z, about y then +x, about z then +y."""
    frame = frame_of_placement(Placement(rotate=(90, 90, 90)), "m")
    np.testing.assert_allclose(frame.apply(np.array([[0.0, 1, 0]])), [[0, 1, 0]], atol=1e-12)
    np.testing.assert_allclose(frame.apply(np.array([[1.0, 0, 0]])), [[0, 0, -1]], atol=1e-12)


@given(placements)
def test_only_what_neither_stretches_nor_mirrors_is_rigid(placement):
    assert frame_of_placement(placement.model_copy(update={"scale": (1.0, 1.0, 1.0)}), "m").is_rigid
    assert frame_of_placement(placement.model_copy(update={"scale": (1.0, 2.0, 1.0)}), "m").is_rigid is False


@given(st.tuples(numbers, numbers, numbers), st.tuples(*[st.floats(0.1, 1)] * 3), st.floats(0, 360))
def test_a_hinge_leaves_its_axis_where_it_is(at, axis, now):
    frame = frame_of_joint(Joint(kind="turn", at=at, axis=axis, to=360, now=now), "cm")
    on_axis = np.array(at) / 100 + np.outer([-1, 0, 2], axis)
    np.testing.assert_allclose(frame.apply(on_axis), on_axis, atol=1e-9)
    assert frame.is_rigid


def test_a_joint_at_rest_moves_nothing():
    assert frame_of_joint(None, "cm") is IDENTITY
    assert frame_of_joint(Joint(kind="turn", axis=(0, 1, 0), to=90), "cm").is_identity


@pytest.mark.parametrize(("joint", "told"), [
    ({"kind": "turn", "axis": [0, 0, 0], "to": 90}, "an axis cannot be"),
    ({"kind": "turn", "axis": [0, 1, 0], "to": 90, "now": 91}, "between from and to"),
    ({"kind": "turn", "axis": [0, 1, 0], "from": 10, "to": -10, "now": 11}, "between from and to"),
    ({"kind": "roll", "axis": [0, 1, 0], "to": 90}, "kind"),
    ({"kind": "slide", "axis": [0, 1, 0]}, "to")])
def test_joints_that_cannot_be_say_why(joint, told):
    with pytest.raises(InvalidDocument, match=told):
        load(json.dumps({"format": "rhytonic", "version": 1, "parts": [{"name": "Lid", "steps": [box()], "joint": joint}]}))


@pytest.mark.parametrize(("part", "told"), [
    ({"name": "Leg 2", "of": "Leg", "steps": [box()]}, "no steps of its own"),
    ({"name": "Leg 2", "mirrored": "x", "steps": [box()]}, "only a linked copy can be mirrored"),
    ({"name": "Leg 2", "of": "Leg", "mirrored": "w"}, "mirrored"),
    ({"name": "Leg 2", "group": "gone", "steps": [box()]}, "is in a group 'gone' that is not there"),
    ({"name": "Leg", "steps": [box()]}, "two parts are called 'Leg'"),
    ({"name": "Leg 2", "steps": [{"kind": "boolean", "part": "Leg"}]}, "must be a base form"),
    ({"name": "Leg 2", "steps": [box(), {"kind": "boolean"}]}, "either part or parts"),
    ({"name": "Leg 2", "steps": [box(), {"kind": "boolean", "part": "Leg", "parts": ["Leg"]}]}, "either part or parts"),
    ({"name": "Leg 2", "steps": [box(), {"kind": "array", "count": 2}]}, "one of step, span, around and along"),
    ({"name": "Leg 2", "steps": [box(), {"kind": "array", "count": 2, "step": [1, 0, 0], "span": [1, 0, 0]}]}, "one of step, span"),
    ({"name": "Leg 2", "steps": [box(), {"kind": "array", "count": 0, "step": [1, 0, 0]}]}, "count"),
    ({"name": "Leg 2", "steps": [box(), {"kind": "join", "parts": []}]}, "parts: needs at least 1"),
    ({"name": "Leg 2", "steps": [box(), {"kind": "from_part", "part": "Leg", "step": "s"}]}, "only the first step")])
def test_parts_that_cannot_be_say_why(part, told):
    leg = {"name": "Leg", "steps": [box()]}
    with pytest.raises(InvalidDocument, match=told):
        load(json.dumps({"format": "rhytonic", "version": 1, "parts": [leg, part]}))


def test_a_group_in_a_group_is_placed_by_both():
    document = load(json.dumps({"format": "rhytonic", "version": 1, "unit": "m", "parts": [
        {"name": "Knob", "group": "in", "steps": [box()], "placement": {"scale": [2, 2, 2]}}], "groups": [
        {"id": "in", "name": "In", "group": "out", "joint": {"kind": "slide", "axis": [0, 3, 0], "to": 9, "now": 4}},
        {"id": "out", "name": "Out", "placement": {"scale": [1, 0.5, 1]}}]}))
    frame = frame_of(document, document.parts[0])
    np.testing.assert_allclose(frame.apply(np.array([[1.0, 1, 1]])), [[2, (2 + 4) / 2, 2]])
