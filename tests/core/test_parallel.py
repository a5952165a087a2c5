"""Lines beside a run before anything is cut off them: what stands at each corner of them."""

import numpy as np
import pytest

from rhytonic.core.curve.curve import ARC
from rhytonic.core.curve.nest import nested
from rhytonic.core.curve.parallel import flat_run, offset_run
from rhytonic.core.curve.plane import plane_of

from .test_curve_steps import curve
from .test_curves import path

#: an L in centimetres, counter-clockwise: five corners outwards seen from its right, one (the fourth) inwards
L = [[0, 0, 0], [30, 0, 0], [30, 10, 0], [10, 10, 0], [10, 20, 0], [0, 20, 0]]


def run_of(points, closed):
    found = curve(path(points, closed=closed))
    plane = plane_of(found, "this test")
    return flat_run(found, 0, plane), plane


@pytest.mark.parametrize("corners", ["round", "mitre"])
@pytest.mark.parametrize("side", [1, -1])
def test_a_corner_is_joined_on_its_outside_and_met_on_its_inside(corners, side):
    run, _ = run_of(L, closed=True)
    d = side * 0.01
    found = offset_run(run, d, corners)
    for number, here in enumerate(run.at):
        mine = found.flat[found.source == run.number[number]]
        away = np.linalg.norm(mine - here, axis=1)
        # square angles: both sides meet at √2 of the distance on the inside, and so do mitres on the outside
        outwards = (number != 3) == (np.sign(d) != np.sign(_area(run.at)))
        if not outwards or corners == "mitre":
            assert len(mine) == 1 and away[0] == pytest.approx(0.01 * np.sqrt(2))
        else:
            assert len(mine) == 2 and away == pytest.approx([0.01, 0.01])
            assert (found.kind[found.source == run.number[number]][0] == ARC) == (corners == "round")


def _area(flat):
    x, y = flat.T
    return float(x @ np.roll(y, -1) - y @ np.roll(x, -1)) / 2


def test_a_run_that_turns_back_inside_an_arc_is_not_called_sound():
    run, _ = run_of(L, closed=True)
    assert offset_run(run, 0.01, "round").sound and offset_run(run, -0.01, "round").sound
    assert not offset_run(run, np.sign(_area(run.at)) * 0.06, "round").sound  # wider than half the arm of the L


@pytest.mark.parametrize("order", [[0, 1, 2, 3, 4], [4, 2, 0, 3, 1], [1, 3, 0, 4, 2]])
def test_outlines_within_outlines_are_outlines_and_holes_by_turns(order):
    squares = {0: (0, 0, 10), 1: (1, 1, 8), 2: (2, 2, 6), 3: (3, 3, 1), 4: (20, 0, 2)}
    rings = [np.array([[x, y], [x + s, y], [x + s, y + s], [x, y + s]], float)[::(-1 if i % 2 else 1)] for i, (x, y, s) in
             ((i, squares[i]) for i in order)]
    found = nested(rings)
    assert sorted(tuple(order[i] for i in region) for region in found.regions) == [(0, 1), (2, 3), (4,)]
    assert [t for _, t in sorted(zip(order, found.turned, strict=True))] == [False, False, False, False, False]
    alone = nested([r[::-1] for r in rings])
    assert all(alone.turned)
