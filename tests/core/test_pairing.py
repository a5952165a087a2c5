"""How chains are paired, loops closed, and corners filled: the small parts the edits stand on."""

import itertools

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from rhytonic.core.construct.bevel.corner_patch import corner_patch
from rhytonic.core.construct.bevel.profile import arc_points
from rhytonic.core.construct.caps.open_loops import closed_loops, flat_faces, open_half_edges
from rhytonic.core.construct.pairing.pair import best_turn, match, parameters


def ring(n, radius=1.0, turn=0.0):
    a = 2 * np.pi * np.arange(n) / n + turn
    return np.stack([radius * np.cos(a), np.zeros(n), radius * np.sin(a)], axis=1)


@given(st.integers(3, 40), st.integers(0, 39))
def test_a_turned_ring_is_turned_back(n, k):
    a = ring(n) + np.array([0.0, 1.0, 0.0])
    assert best_turn(a, np.roll(ring(n), k, axis=0), np.arange(n).astype(np.uint64)) == k % n


@given(st.integers(3, 24), st.integers(3, 24), st.integers(-3, 3))
def test_rows_go_once_round_both_loops(n, m, twist):
    rows = match(ring(n), ring(m, 2.0, 0.3), True, twist, np.arange(m).astype(np.uint64))
    steps = np.diff(rows, axis=0)
    assert set(steps.ravel().tolist()) <= {0, 1} and (steps.sum(axis=1) > 0).all()
    assert steps.sum(axis=0).tolist() == [n, m] and len(rows) - 1 == max(n, m)


@given(st.integers(2, 20), st.integers(2, 20))
def test_open_chains_meet_end_to_end(n, m):
    line = np.stack([np.linspace(0, 1, n), np.zeros(n), np.zeros(n)], axis=1)
    other = np.stack([np.linspace(0, 1, m), np.ones(m), np.zeros(m)], axis=1)
    rows = match(line, other, False, 0, np.arange(m).astype(np.uint64))
    assert rows[0].tolist() == [0, 0] and rows[-1].tolist() == [n - 1, m - 1]
    assert parameters(line, False)[-1] == 1.0 if n > 1 else True


@pytest.mark.parametrize("sides", [(1, 1, 1), (2,) * 3, (3,) * 3, (5,) * 5, (4,) * 4, (3, 3, 1), (1, 3, 1, 3), (2, 1, 2, 2), (16,) * 3])
def test_a_corner_patch_fills_its_outline_once(sides):
    p = corner_patch(sides)
    starts = np.cumsum(p.sides) - p.sides
    halves = [(int(f[i]), int(f[(i + 1) % len(f)])) for f in (p.corners[a:a + k] for a, k in zip(starts, p.sides, strict=True))
              for i in range(len(f))]
    assert len(set(halves)) == len(halves)
    border = {h for h in halves if h[::-1] not in halves}
    assert border == {(i, (i + 1) % p.outline) for i in range(p.outline)}
    edges = {tuple(sorted(h)) for h in halves}
    assert p.outline + p.inner - len(edges) + p.sides.size == 1  # a disc, by Euler
    if p.inner:
        assert np.allclose(p.harmonic.sum(axis=1), 1) and (p.coons is None or np.allclose(p.coons.sum(axis=1), 1))
    odd = len(set(sides)) == 1 and sides[0] % 2 == 1 and sides[0] > 1
    assert (p.sides != 4).sum() <= (1 if odd or sum(sides) % 2 else 0) + (len(set(sides)) == 1 and sides[0] == 1)


@given(st.floats(0.2, 3.0), st.integers(2, 12))
def test_an_arc_keeps_its_distance_and_touches_both_sides(angle, segments):
    p, q = np.array([[1.0, 0, 0]]), np.array([[np.cos(angle), np.sin(angle), 0.0]])
    round_, _ = arc_points(p, q, np.zeros((1, 3)), np.array([angle]), segments)
    middle = (p + q)[0] / np.linalg.norm((p + q)[0]) / np.cos(angle / 2)  # where the normals at p and q meet
    assert np.allclose(np.linalg.norm(round_[0] - middle, axis=1), np.tan(angle / 2))


def test_loops_of_a_tube_and_of_touching_squares():
    outer, inner = ring(8, 2.0), ring(8, 1.0)
    corners = np.concatenate([[i, (i + 1) % 8, 8 + (i + 1) % 8, 8 + i] for i in range(8)])
    loose = open_half_edges(corners, np.full(8, 4))
    loops = closed_loops(loose)
    assert sorted(len(loop) for loop in loops) == [8, 8]
    faces, _ = flat_faces(loops, np.concatenate([outer, inner]), np.array([0.0, 1.0, 0.0]))
    assert all(len(f) == 4 for f in faces) and len(faces) == 8
    pair = np.array([[a, b, 0] for a, b in itertools.chain(zip([0, 1, 2, 3], [1, 2, 3, 0], strict=True),
                                                           zip([0, 4, 5, 6], [4, 5, 6, 0], strict=True))])
    assert sorted(len(loop) for loop in closed_loops(pair)) == [4, 4]  # they share vertex 0
