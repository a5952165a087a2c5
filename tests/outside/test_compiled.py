"""Compiled loops against the array library whose place they take, and against a reference library of exact predicates.

Sources: numpy.org/doc/stable, einsum, cross, linalg.pinv; libigl's predicates on J. R. Shewchuk, Adaptive Precision
Floating-Point Arithmetic, Discrete & Computational Geometry 18, 1997; shapely's manual, distance, of points to a boundary.
"""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation

from rhytonic.core.compiled import NEW_POINTS, POINTS, compiled
from rhytonic.core.construct.relaxing.volume import Enclosed
from rhytonic.core.mesh.crossing import crossing_faces, surely_apart
from rhytonic.core.mesh.geometry import area_vectors, cross, lengths, shortest_offsets, unit
from rhytonic.core.mesh.mesh import Mesh
from rhytonic.core.mesh.patch import patch_of
from rhytonic.core.mesh.topology import Topology
from rhytonic.core.mesh.triangulate import triangulate
from rhytonic.core.pick.depth import depth, within_reach

ROOT = Path(__file__).parents[2]
_SEEDS = st.integers(0, 2**32 - 1)


def _laid_out(r: np.random.Generator, n: int) -> np.ndarray:
    """Vectors (n, 3) of any size, laid out in memory in any of the ways arrays are."""
    v = r.normal(size=(n, 3)) * 10.0 ** r.integers(-9, 9, (n, 1))
    v[r.random(n) < 0.1] = 0.0
    way = r.integers(4)
    if way == 1:
        return np.asfortranarray(v)
    if way == 2:
        return np.repeat(v, 2, axis=0)[::2]
    if way == 3:
        v.flags.writeable = False
    return v


@given(_SEEDS, st.integers(0, 40))
def test_products_lengths_and_directions_are_numpys(seed: int, n: int) -> None:
    r = np.random.default_rng(seed)
    a, b = _laid_out(r, n), _laid_out(r, n)
    assert (cross(a, b) == np.cross(a, b)).all()
    size = np.sqrt(np.einsum("ij,ij->i", a, a))
    np.testing.assert_array_max_ulp(lengths(a), size, 1)  # which product is added first is up to einsum
    whole = size > 1e-14
    np.testing.assert_array_max_ulp(unit(a)[whole], a[whole] / size[whole, None], 2)
    assert not unit(a)[~whole].any()
    assert (cross(a[None], b[:1]) == np.cross(a[None], b[:1])).all()


@given(_SEEDS, st.lists(st.integers(3, 12), min_size=1, max_size=6))
def test_areas_of_loops_are_the_sums_of_their_triangles(seed: int, sides: list[int]) -> None:
    r = np.random.default_rng(seed)
    count = sum(sides)
    t = Topology(count, np.concatenate([[0], np.cumsum(sides)]), r.permutation(count))
    mesh = Mesh(_laid_out(r, count), t)
    triangles, face = triangulate(mesh)
    assert np.bincount(face, minlength=len(sides)).tolist() == [n - 2 for n in sides]
    p = mesh.points[triangles]
    split = np.zeros((len(sides), 3))
    np.add.at(split, face, np.cross(p[:, 1] - p[:, 0], p[:, 2] - p[:, 0]) / 2)
    large = np.maximum.reduceat(np.abs(mesh.points[t.corners]).max(axis=1), t.offsets[:-1])[:, None]
    assert (np.abs(split - mesh.area_vectors) <= 1e-12 * large**2).all()
    some = r.permutation(len(sides))
    assert np.allclose(area_vectors(mesh.points, t, some), mesh.area_vectors[some], rtol=0, atol=1e-14 * large.max()**2)


@given(_SEEDS, st.integers(1, 5), st.integers(1, 12))
def test_offsets_meet_their_conditions_as_the_pseudo_inverse_does(seed: int, groups: int, count: int) -> None:
    r = np.random.default_rng(seed)
    normals = np.concatenate([np.eye(3), -np.eye(3), unit(r.normal(size=(3, 3))), np.zeros((1, 3))])[r.integers(0, 10, count)]
    group = r.integers(0, groups, count)
    found = shortest_offsets(group, normals, groups, 0.3)
    for g in range(groups):
        rows = np.unique(normals[(group == g) & normals.any(axis=1)], axis=0)
        expected = np.linalg.pinv(rows, rcond=1e-7) @ np.full(len(rows), 0.3) if len(rows) else np.zeros(3)
        assert np.allclose(found[g], expected, atol=1e-9)


def _soup(r: np.random.Generator, count: int, spread: float) -> Mesh:
    """Triangles each with corners of its own, one size, within a cube."""
    corners = r.uniform(0, spread, (count, 1, 3)) + r.normal(size=(count, 3, 3)) * 0.4
    return Mesh(corners.reshape(-1, 3), Topology(3 * count, np.arange(count + 1) * 3, np.arange(3 * count)))


@settings(max_examples=150)
@given(_SEEDS, st.integers(2, 40), st.floats(0.5, 8.0))
def test_the_quick_look_for_crossing_faces_agrees_with_exact_predicates(seed: int, count: int, spread: float) -> None:
    mesh = _soup(np.random.default_rng(seed), count, spread)
    crossing = crossing_faces(mesh)
    assert surely_apart(mesh, np.ones(count, bool)) == (crossing.size == 0)
    others = np.ones(count, bool)
    others[crossing] = False
    assert surely_apart(mesh, others)  # none of those takes part


def test_faces_that_share_corners_or_lie_on_each_other_are_apart() -> None:
    step = np.arange(5.0)
    points = np.stack([*np.meshgrid(step, step, indexing="ij"), np.zeros((5, 5))], axis=2).reshape(-1, 3)
    at = np.arange(25).reshape(5, 5)
    quads = np.stack([at[:-1, :-1], at[1:, :-1], at[1:, 1:], at[:-1, 1:]], axis=2).reshape(-1, 4)
    t = Topology(25, np.arange(17) * 4, quads.ravel())
    bent = points + np.array([0, 0, 1.0]) * (points[:, :1] ** 2 - points[:, 1:2] ** 2)  # a saddle
    for p in (points, bent):
        assert surely_apart(Mesh(p, t), np.ones(16, bool))


@given(_SEEDS)
def test_the_volumes_slope_is_that_between_two_places(seed: int) -> None:
    r = np.random.default_rng(seed)
    corners = np.array([0, 1, 2, 3, 0, 3, 2, 4, 0, 4, 1, 1, 4, 2])
    t = Topology(5, np.array([0, 4, 8, 11, 14]), corners)
    before = r.normal(size=(5, 3))
    patch = patch_of(t, np.arange(4))
    enclosed = Enclosed(before, patch, np.arange(5))
    at, way = before, r.normal(size=(5, 3))
    split = enclosed._split(at)
    slope = float((enclosed._gradient(at, split) * way).sum())
    step = 1e-5
    ends = [enclosed._volume(at + s * step * way, split) for s in (1, -1)]
    assert slope == pytest.approx((ends[0] - ends[1]) / (2 * step), rel=1e-5, abs=1e-6)


@given(_SEEDS, st.integers(3, 9))
def test_depths_within_a_convex_polygon_are_the_distances_to_its_boundary(seed: int, corners: int) -> None:
    r = np.random.default_rng(seed)
    angles = np.sort(r.uniform(0, 2 * np.pi, corners))
    flat = np.column_stack([2 * np.cos(angles), np.sin(angles)])  # on an ellipse: convex
    outline = shapely.Polygon(flat)
    if outline.area < 0.1:
        return
    at = r.uniform([-2, -1], [2, 1], (40, 2))
    turn, shift = Rotation.random(random_state=r), r.normal(size=3)
    placed = [turn.apply(np.column_stack([p, np.zeros(len(p))])) + shift for p in (flat, at)]
    told = depth(*placed)
    inside = shapely.contains_xy(outline, at)
    np.testing.assert_allclose(told[inside], shapely.distance(outline.exterior, shapely.points(at[inside])), atol=1e-9)
    assert (told[~inside] < 1e-9).all()
    assert within_reach(placed[1], np.zeros(40), np.arange(40), placed[0])[inside].all()
    # a point lifted off the plane by more than a fifth of the size is as far outside as it is off
    size = np.sqrt(((flat - flat.mean(axis=0)) ** 2).sum(axis=1)).max()
    lifted = placed[1] + turn.apply([0, 0, 0.3 * size])
    np.testing.assert_allclose(depth(placed[0], lifted), -0.3 * size, atol=1e-9)


@given(_SEEDS)
def test_depths_along_an_edge_are_what_is_left_to_its_ends(seed: int) -> None:
    r = np.random.default_rng(seed)
    ends, shares = r.normal(size=(2, 3)), r.uniform(-1, 2, 20)
    length = float(np.sqrt(((ends[1] - ends[0]) ** 2).sum()))
    told = depth(ends, ends[0] + shares[:, None] * (ends[1] - ends[0]))
    np.testing.assert_allclose(told, np.minimum(shares, 1 - shares) * length, atol=1e-9)
    assert (depth(ends[:1], ends) > 0).tolist() == [True, False]  # a point is at itself alone
    far = ends.mean(axis=0) + 10
    assert not within_reach(np.array([far]), np.zeros(1), np.array([0]), ends)[0]


def test_compiled_loops_stay_within_their_arrays() -> None:
    """Numba's reference manual, environment variables: NUMBA_DISABLE_JIT."""
    run = subprocess.run([sys.executable, "-m", "tests.within_bounds"], cwd=ROOT, capture_output=True, text=True, env={
        **os.environ, "NUMBA_DISABLE_JIT": "1", "PYTHONPATH": f"{ROOT / 'src'}:{ROOT}"})
    assert run.returncode == 0 and run.stdout.strip() == "within bounds", run.stdout + run.stderr


def test_where_compiled_code_cannot_be_kept_it_is_compiled_all_the_same() -> None:
    namespace: dict[str, object] = {}
    exec("def doubled(p):\n    return p * 2.0\n", namespace)  # has no file beside which it could be kept
    doubled = compiled(NEW_POINTS, POINTS)(namespace["doubled"])  # type: ignore[type-var]
    assert (doubled(np.ones((2, 3))) == 2.0).all()
    with pytest.raises(TypeError):
        doubled(np.ones((2, 3), np.float32))
