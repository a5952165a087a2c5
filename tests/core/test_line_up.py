"""Parts put against each other: the moves are those that school geometry asks for."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from rhytonic.core.recipe.place import frame_of
from rhytonic.core.size import line_up
from rhytonic.core.size.line_up import Bounds, CannotLineUp
from tests.helpers import box, together


def bounds(low, high):
    return Bounds(np.array(low, float), np.array(high, float))


BOX = bounds((1, 2, 3), (2, 4, 6))
OTHER = bounds((10, 0, -4), (16, 1, 0))


def test_onto_the_floor_and_the_grid():
    assert line_up.onto_floor(BOX).tolist() == [0, -2, 0]
    assert np.allclose(line_up.onto_grid(bounds((0.13, -0.27, 1), (1, 1, 2)), 0.1), [-0.03, -0.03, 0])


@pytest.mark.parametrize(("side", "axis", "move"), [("on", 1, -1), ("under", 1, -4), ("left", 0, 8), ("right", 0, 15),
                                                    ("front", 2, -3), ("behind", 2, -10)])
def test_against_each_side(side, axis, move):
    found = line_up.stand_against(BOX, OTHER, side)
    assert found[axis] == move and np.count_nonzero(found) == 1


def test_inside_and_aligned():
    assert np.allclose(BOX.middle + line_up.stand_against(BOX, OTHER, "inside"), OTHER.middle)
    assert [line_up.aligned(BOX, OTHER, 0, p)[0] for p in ("low", "middle", "high")] == [9, 11.5, 14]


@given(st.lists(st.tuples(st.floats(-50, 50), st.floats(0.1, 5)), min_size=3, max_size=7, unique_by=lambda t: t[0]),
       st.sampled_from(["gaps", "centres"]))
def test_spreading_evens_what_is_between_and_leaves_the_outer_two(things, by):
    found = {str(i): bounds((0, at, 0), (1, at + size, 1)) for i, (at, size) in enumerate(things)}
    moves = line_up.spread(found, 1, by)
    order = sorted(found, key=lambda k: (found[k].middle[1], k))
    assert moves[order[0]].tolist() == moves[order[-1]].tolist() == [0, 0, 0]
    low = [found[k].low[1] + moves[k][1] for k in order]
    high = [found[k].high[1] + moves[k][1] for k in order]
    apart = np.diff((np.array(low) + high) / 2) if by == "centres" else np.array(low[1:]) - np.array(high[:-1])
    assert np.allclose(apart, apart[0], atol=1e-9)


def test_two_cannot_be_spread():
    with pytest.raises(CannotLineUp, match="three or more"):
        line_up.spread({"a": BOX, "b": OTHER}, 0, "gaps")
    with pytest.raises(CannotLineUp, match="nothing of it"):
        line_up.bounds_of([np.zeros((0, 3))])


def test_a_move_is_told_in_the_axes_of_its_group():
    d = together({"name": "Peg", "group": "g", "placement": {"translate": [1, 2, 3]}, "steps": [box()]},
                 groups=[{"id": "g", "name": "G", "placement": {"rotate": [0, 90, 30], "scale": [2, 1, 1]}}])
    [peg] = d.parts
    before = frame_of(d, peg).shift
    translate = line_up.moved_by(d, peg, np.array([0.1, -0.2, 0.3]), 0.01)
    moved = d.model_copy(update={"parts": [peg.model_copy(update={"placement": peg.placement.model_copy(
        update={"translate": translate})})]})
    assert np.allclose(frame_of(moved, moved.parts[0]).shift - before, [0.1, -0.2, 0.3], atol=1e-12)
