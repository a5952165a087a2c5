"""The search for a root: outwards from where things stand, past values that are refused, and honest where there is none."""

import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rhytonic.core.size.solve import MOST_TRIALS, NoRoot, solve


def test_it_begins_where_things_stand():
    value, tried = solve(lambda x: 0.0, 3.0, 0.1, 1e-9)
    assert value == 3.0 and len(tried.results) == 1


@settings(max_examples=100, deadline=None)
@given(st.floats(-1e3, 1e3), st.floats(0.01, 100), st.floats(-1e3, 1e3))
def test_any_line_is_solved_wherever_it_crosses(root, slope, start):
    value, tried = solve(lambda x: slope * (x - root), start, 0.05 * max(abs(start), 1), 1e-9)
    assert value == pytest.approx(root, abs=1e-6 * max(abs(root), 1)) and len(tried.results) <= MOST_TRIALS


@settings(max_examples=60, deadline=None)
@given(st.floats(0.5, 400))
def test_a_cube_root(wanted):
    value, _ = solve(lambda x: x**3 - wanted, 1.0, 0.05, 1e-10 * wanted)
    assert value == pytest.approx(wanted ** (1 / 3), rel=1e-8)


def test_the_side_that_comes_nearer_is_searched_first():
    asked = []

    def off(x):
        asked.append(x)
        return 10 - x
    value, _ = solve(off, 0.0, 1.0, 1e-9)
    assert value == 10 and min(asked) >= -1


@pytest.mark.parametrize("edge, root", [(2.0, 1.9), (2.0, 1.99), (5.0, 0.3)])
def test_values_that_are_refused_are_approached_but_not_used(edge, root):
    value, tried = solve(lambda x: x - root if x < edge else None, 0.0, 0.4, 1e-9)
    assert value == pytest.approx(root, abs=1e-8)
    assert all(v < edge for v, r in tried.results.items() if r is not None)


def test_a_root_beyond_a_start_that_is_itself_refused():
    value, _ = solve(lambda x: None if x < 1 else x - 3, 0.0, 0.25, 1e-9)
    assert value == pytest.approx(3)


def test_a_tidy_number_is_preferred_where_it_is_as_good():
    assert solve(lambda x: 18 - 2 * x - 11.4, 1.2, 0.06, 1e-9)[0] == 3.3
    value, _ = solve(lambda x: x**2 - 2, 1.0, 0.05, 1e-12)
    assert value == pytest.approx(math.sqrt(2), abs=1e-12)


@pytest.mark.parametrize("off", [lambda x: 1.0, lambda x: 1 + x * x, lambda x: math.atan(x) + 2, lambda x: None])
def test_no_root_is_said_with_what_was_tried(off):
    with pytest.raises(NoRoot) as error:
        solve(off, 0.0, 0.1, 1e-9)
    tried = error.value.tried
    assert 1 <= len(tried.results) <= MOST_TRIALS
    assert all(r is not None for _, r in tried.good)
