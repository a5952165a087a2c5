"""Lattices, bends, twists, tapers, stretches and noise, against formulas."""

import numpy as np
import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st
from scipy.interpolate import BPoly
from scipy.special import comb

from rhytonic.core.deform.bent import Bent
from rhytonic.core.deform.control_grid import ControlGrid, redivided
from rhytonic.core.deform.deformation import Reach
from rhytonic.core.deform.gradient_noise import gradient_noise
from rhytonic.core.mesh.measure import measure
from tests.helpers import box, mesh_of

OFFSETS = {"0,0,0": [0.1, 0, 0], "1,2,1": [0, 0.3, -0.2], "2,1,0": [-0.1, 0.2, 0.4], "3,2,1": [0.2, -0.3, 0.1]}
divisions = st.tuples(*[st.integers(1, 4)] * 3)


def grid(divisions, seed=1, basis="bernstein", low=(0, 0, 0), high=(1, 1, 1)):
    offsets = np.random.default_rng(seed).normal(size=(*(n + 1 for n in divisions), 3))
    return ControlGrid(np.array(low, float), np.array(high, float), offsets, basis)


def inside(count=200, seed=2):
    points = np.random.default_rng(seed).uniform(0, 1, (count, 3))
    points.flags.writeable = False
    return points


def test_a_lattice_moves_by_the_trivariate_bernstein_sum():
    """T. Sederberg, S. Parry, SIGGRAPH 1986, equation 2: the sum over C(l,i)(1−s)^(l−i)s^i and so on, by scipy's comb."""
    length, m, n = 3, 2, 1
    body = mesh_of(box((3, 2, 1), (5, 3, 2)))
    mesh = mesh_of(box((3, 2, 1), (5, 3, 2)), {"kind": "lattice", "divisions": [length, m, n], "offsets": OFFSETS})
    s, t, u = ((body.points - body.points.min(axis=0)) / [3, 2, 1]).T
    expected = body.points.copy()
    for word, move in OFFSETS.items():
        i, j, k = map(int, word.split(","))
        weight = \
            comb(length, i) * s**i * (1 - s) ** (length - i) * comb(m, j) * t**j * (1 - t) ** (m - j) * comb(n, k) * u**k * (1 - u) ** (n - k)
        expected += weight[:, None] * np.array(move)
    np.testing.assert_allclose(mesh.points, expected, atol=1e-14)


def test_a_row_of_control_points_is_a_bernstein_polynomial():
    """scipy's BPoly along one axis."""
    values = np.array([0.0, 1.0, -2.0, 0.5, 3.0])
    offsets = np.zeros((5, 2, 2, 3))
    offsets[:, :, :, 1] = values[:, None, None]
    points = inside()
    moved = ControlGrid(np.zeros(3), np.ones(3), offsets).apply(points) - points
    np.testing.assert_allclose(moved[:, 1], BPoly(values[:, None], [0, 1])(points[:, 0]), atol=1e-13)
    assert not moved[:, [0, 2]].any()


@pytest.mark.parametrize("basis", ["bernstein", "bspline"])
@pytest.mark.parametrize("cells", [(1, 1, 1), (2, 3, 4), (5, 1, 2)])
def test_a_lattice_is_affine_when_all_points_move_affinely(basis, cells):
    """Linear precision of both bases: G. Farin, Curves and Surfaces for CAGD, 2002, section 5.1; Bartels, Beatty, Barsky,
    An Introduction to Splines, 1987, section 4.4 for the phantom ends."""
    linear, shift = np.random.default_rng(4).normal(size=(3, 3)), np.array([0.3, -1, 2])
    rest = np.stack(np.meshgrid(*(np.linspace(0, 1, n + 1) for n in cells), indexing="ij"), axis=3)
    lattice = ControlGrid(np.zeros(3), np.ones(3), rest @ (linear - np.eye(3)).T + shift, basis)
    points = inside()
    np.testing.assert_allclose(lattice.apply(points), points @ linear.T + shift, atol=1e-13)


def test_a_pull_on_the_spline_basis_is_felt_two_cells_far_and_no_further():
    """The support of a uniform cubic B-spline is four spans, from memory."""
    offsets = np.zeros((9, 2, 2, 3))
    offsets[4, :, :, 0] = 1.0
    points = inside(2000)
    moved = (ControlGrid(np.zeros(3), np.ones(3), offsets, "bspline").apply(points) != points).any(axis=1)
    off = np.abs(points[:, 0] - 0.5) * 8
    assert moved[off < 1.99].all() and not moved[off > 2].any()


@settings(deadline=None)
@given(divisions, st.tuples(*[st.integers(0, 4)] * 3), st.integers(0, 99))
def test_more_cells_are_the_same_polynomial_to_the_last_bits(cells, more, seed):
    """Degree elevation is exact: Farin 2002, section 6.1."""
    before = grid(cells, seed)
    after, error = redivided(before.offsets, tuple(c + m for c, m in zip(cells, more, strict=True)), "bernstein")
    points = inside(60, seed)
    np.testing.assert_allclose(ControlGrid(before.low, before.high, after).apply(points), before.apply(points), atol=1e-12)
    assert error < 1e-12


@settings(deadline=None)
@given(divisions, st.tuples(*[st.integers(1, 3)] * 3), st.integers(0, 99), st.sampled_from(["bernstein", "bspline"]))
def test_fewer_cells_give_baclengthwhat_they_had_and_tell_how_far_they_are_off(cells, more, seed, basis):
    """What was raised is lowered again without loss (Bernstein); every other fit tells its largest error and keeps the corners."""
    before = grid(cells, seed, basis)
    finer = tuple(c + m for c, m in zip(cells, more, strict=True))
    raised, up = redivided(before.offsets, finer, basis)
    lowered, down = redivided(raised, cells, basis)
    if basis == "bernstein":
        np.testing.assert_allclose(lowered, before.offsets, atol=1e-9)
        assert max(up, down) < 1e-9
    coarse, error = redivided(before.offsets, (1, 1, 1), basis)
    np.testing.assert_allclose(coarse[0, 0, 0], before.offsets[0, 0, 0], atol=1e-12)
    np.testing.assert_allclose(coarse[1, 1, 1], before.offsets[-1, -1, -1], atol=1e-12)
    points = inside(400, seed)
    off = np.linalg.norm(ControlGrid(before.low, before.high, coarse, basis).apply(points) - before.apply(points), axis=1)
    assert off.max() <= error * 1.05 + 1e-12


def bar(steps, segments=60, size=(4, 0.4, 0.5)):
    return mesh_of(box(size, (segments, 2, 2)), *steps)


def bend(angle, **more):
    return {"kind": "bend", "along": "x", "toward": "+y", "angle": angle, **more}


def middle_line(mesh, size=(4, 0.4, 0.5), segments=60):
    """The bent middle line, from the mean of opposite points of each section."""
    rest = bar([], segments).points
    sections = np.unique(rest[:, 0].round(9))
    return np.array([mesh.points[np.abs(rest[:, 0] - x) < 1e-6].mean(axis=0) for x in sections])


@pytest.mark.parametrize("toward", ["+y", "-y", "+z", "-z"])
@pytest.mark.parametrize("hold", ["from", "middle", "to"])
def test_a_quarter_turn_of_a_bar_has_the_radius_2l_by_pi_and_keeps_its_middle_line(toward, hold):
    """Arc length = radius × angle, Euclid and Archimedes; chords are 2R·sin(step/2)."""
    line = middle_line(bar([bend(90, toward=toward, hold=hold)]))
    radius = 2 * 4 / np.pi
    chords = np.linalg.norm(np.diff(line, axis=0), axis=1)
    np.testing.assert_allclose(chords, 2 * radius * np.sin(np.pi / 2 / 60 / 2), rtol=1e-9)
    a, b, c = line[0], line[30], line[60]  # circle through three points: R = |ab||bc||ca| / 4·area
    area = np.linalg.norm(np.cross(b - a, c - a)) / 2
    sides = np.linalg.norm(b - a) * np.linalg.norm(c - b) * np.linalg.norm(a - c)
    assert sides / (4 * area) == pytest.approx(radius, rel=1e-9)


def test_the_end_that_is_held_stays_to_the_last_bit_and_the_upper_end_goes_where_it_is_told():
    rest = bar([])
    for hold, end in (("from", -2.0), ("to", 2.0)):
        held = np.abs(rest.points[:, 0] - end) < 1e-9
        mesh = bar([bend(70, toward="-z", hold=hold)])
        assert (mesh.points[held] == rest.points[held]).all()
    free = np.abs(rest.points[:, 0] - 2) < 1e-9
    assert bar([bend(70, toward="-z")]).points[free, 2].mean() < -0.5


def test_a_bent_bar_has_its_boxs_volume():
    """Pappus–Guldinus for a section symmetric about the middle line; a divided arc has sin(step)/step of it exactly."""
    for angle in (30, 90, 200):
        step = np.radians(angle) / 60
        assert measure(bar([bend(angle)])).volume == pytest.approx(4 * 0.4 * 0.5 * np.sin(step) / step, rel=1e-9)


def test_beyond_its_range_a_bent_part_goes_on_straight():
    mesh = bar([bend(90, **{"from": -0.5, "to": 0.5})])
    rest = bar([])
    below, above = rest.points[:, 0] <= -0.5, rest.points[:, 0] >= 0.5
    assert (mesh.points[below] == rest.points[below]).all()
    far = mesh.points[above] - mesh.points[above].mean(axis=0)
    was = rest.points[above] - rest.points[above].mean(axis=0)
    turned = np.column_stack([-was[:, 1], was[:, 0], was[:, 2]])  # a quarter turn from x to y
    np.testing.assert_allclose(far, turned, atol=1e-12)


def test_a_twist_keeps_the_volume_and_turns_the_upper_end():
    """Sections are turned, not changed, and Cavalieri; the split of warped faces converges to it with the step."""
    off = []
    for segments in (40, 80):
        mesh = bar([{"kind": "twist", "axis": "x", "angle": 90}], segments)
        off.append(abs(measure(mesh).volume / (4 * 0.4 * 0.5) - 1))
    assert off[1] < 4e-3 and off[0] / off[1] == pytest.approx(2, rel=0.1)
    rest, mesh = bar([]), bar([{"kind": "twist", "axis": "x", "angle": 90}])
    end = np.abs(rest.points[:, 0] - 2) < 1e-9
    y, z = (rest.points[end] - [0, 0.2, 0])[:, 1:].T
    np.testing.assert_allclose(mesh.points[end] - [0, 0.2, 0], np.column_stack([np.full(y.size, 2.0), -z, y]), atol=1e-12)


@pytest.mark.parametrize(("hold", "low", "high"), [("from", 1, 0.5), ("to", 0.5, 1), ("middle", 1.5, 0.5)])
def test_a_tapered_box_is_a_frustum(hold, low, high):
    """V = h/3·(A + a + √(A·a)), Heron of Alexandria, Metrica II."""
    mesh = mesh_of(box((2, 3, 1)), {"kind": "taper", "axis": "y", "scale": 0.5, "hold": hold})
    a, b = 2 * low**2, 2 * high**2
    assert measure(mesh).volume == pytest.approx(3 / 3 * (a + b + np.sqrt(a * b)), rel=1e-12)


@pytest.mark.parametrize("factor", [0.3, 1.0, 2.7])
def test_a_stretch_keeps_the_volume_of_a_box_and_lets_its_lower_end_stay(factor):
    mesh = mesh_of(box((2, 3, 1)), {"kind": "stretch", "axis": "y", "factor": factor})
    assert measure(mesh).volume == pytest.approx(6, rel=1e-9)
    assert mesh.points[:, 1].min() == 0 and mesh.points[:, 1].max() == pytest.approx(3 * factor)
    loose = mesh_of(box((2, 3, 1)), {"kind": "stretch", "axis": "y", "factor": factor, "keep_volume": False})
    assert measure(loose).volume == pytest.approx(6 * factor, rel=1e-12)


def test_gradient_noise_is_bounded_smooth_repeatable_and_about_nothing_on_the_mean():
    """K. Perlin, SIGGRAPH 1985 and 2002: zero on the grid, |n| ≤ √3/2 for gradients of length 1, which is told as 1 here."""
    points = np.random.default_rng(0).uniform(-40, 40, (200_000, 3))
    values = gradient_noise(points, 7)
    assert np.abs(values).max() <= 1 and np.abs(values).max() > 0.6
    assert abs(values.mean()) < 0.02
    assert (gradient_noise(points, 7) == values).all() and not (gradient_noise(points, 8) == values).all()
    near = gradient_noise(points + 1e-6, 7)
    assert np.abs(near - values).max() < 1e-5
    offset = np.random.default_rng(7).uniform(0, 1, 3)
    assert not gradient_noise(np.array([[3.0, -2, 5]]) - offset, 7).round(12).any()


@pytest.mark.parametrize("along", ["normal", "free"])
def test_noise_moves_no_point_further_than_it_was_told(along):
    rest = mesh_of({"kind": "quad_sphere", "radius": 1, "segments": 12})
    mesh = mesh_of({"kind": "quad_sphere", "radius": 1, "segments": 12},
                   {"kind": "noise", "pick": {"faces": "all"}, "amount": 0.1, "size": 0.4, "along": along})
    far = np.linalg.norm(mesh.points - rest.points, axis=1)
    assert far.max() <= 0.1 and far.max() > 0.03


@settings(max_examples=40)
@example(5e-324, 0.5, 1)
@example(1e-90, 0.5, 1)
@given(st.floats(-300, 300), st.floats(0, 1), st.integers(0, 10_000))
def test_beyond_its_reach_a_bend_goes_on_straight(degrees, hold, seed):
    """S. Timoshenko, Strength of Materials, 1930: a beam free of load beyond the bent stretch stays straight, along the tangent."""
    bend = Bent(Reach(0, -0.5, 1.5, (0.5, 0.1, -0.2)), 1, 1.0, float(np.radians(degrees)), 2.0 * hold)
    rng = np.random.default_rng(seed)
    section = np.array([[0.1, -0.2]]) + rng.uniform(-0.3, 0.3, (1, 2))
    for end, way in ((1.5, 1.0), (-0.5, -1.0)):
        away = np.array([0.0, 0.2, 0.9, 3.0])
        line = np.column_stack([end + way * away, np.repeat(section, 4, axis=0)])
        bent = bend.apply(line)
        assert np.linalg.norm(bent - bent[0], axis=1) == pytest.approx(away, abs=1e-12)  # as far apart as they were
        just = bend.apply(line[:1] - [[way * 1e-6, 0, 0]])
        tangent = (bent[0] - just[0]) / np.linalg.norm(bent[0] - just[0])
        assert (bent[1] - bent[0]) / 0.2 == pytest.approx(tangent, abs=1e-4)
