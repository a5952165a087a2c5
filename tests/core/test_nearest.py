"""The nearest of two sets of triangles: by trees of boxes as by looking at every pair, moved or not, near or far."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rhytonic.core.mesh.geometry import rotation
from rhytonic.core.mesh.triangulate import triangulate
from rhytonic.core.recipe.place import IDENTITY, Frame
from rhytonic.core.size.clearance import overlap
from rhytonic.core.size.clearance.nearest import BoxTree, nearest_pair, nearest_triangles
from rhytonic.core.size.clearance.neighbour import NothingBeside, neighbours_of
from rhytonic.core.size.clearance.overlap import Body
from tests.helpers import box, mesh_of

BALL = {"id": "s", "kind": "sphere", "radius": 1, "sides": 9, "rings": 5}


def triangles_of(*steps, at=(0, 0, 0)):
    mesh = mesh_of(*steps)
    return (mesh.points + np.array(at, float))[triangulate(mesh)[0]]


def looked_through(a, b):
    """Every triangle against every other, one by one through the smallest of trees."""
    return min(nearest_pair(a[i:i + 1], b[j:j + 1])[0] for i in range(len(a)) for j in range(len(b)))


@settings(max_examples=5, deadline=None)
@given(st.tuples(*[st.floats(-3, 3)] * 3), st.tuples(*[st.floats(-180, 180)] * 3))
def test_trees_find_what_looking_at_every_pair_finds(move, turn):
    a, b = triangles_of(box((1, 2, 0.5))), triangles_of({"id": "t", "kind": "cylinder", "radius": 0.4, "height": 1, "sides": 4})
    frame = Frame(rotation(turn), np.array(move))
    moved = frame.apply(a.reshape(-1, 3)).reshape(-1, 3, 3)
    found = nearest_triangles(BoxTree(a), frame, BoxTree(b))
    assert found.distance == pytest.approx(looked_through(moved, b), abs=1e-12)
    assert np.linalg.norm(found.ends[0] - found.ends[1]) == pytest.approx(found.distance, abs=1e-9)


def test_balls_come_as_near_as_their_faces():
    """Two spheres of polygons side by side along an axis through vertices: their gap is that of the vertices."""
    a, b = triangles_of(BALL), triangles_of(BALL, at=(0, 5, 0))
    assert nearest_pair(a, b)[0] == pytest.approx(3.0)  # poles at 2 above the base and at 5


@pytest.mark.parametrize("n", [1, 3, 5, 17, 64])
def test_trees_of_any_size_hold_every_triangle_once(n):
    rng = np.random.default_rng(n)
    triangles = rng.normal(size=(n, 3, 3))
    tree = BoxTree(triangles)
    order = [tuple(t.ravel()) for t in tree.triangles]
    assert sorted(order) == sorted(tuple(t.ravel()) for t in triangles)
    seen, there = tree.leaves(np.arange(2**tree.depth))
    assert sorted(seen[there].tolist()) == list(range(n))
    low, high = tree.middle - tree.half, tree.middle + tree.half
    assert np.allclose(low[0], triangles.min(axis=(0, 1))) and np.allclose(high[0], triangles.max(axis=(0, 1)))


def test_what_is_not_nearer_than_a_limit_is_not_looked_for():
    a, b = BoxTree(triangles_of(BALL)), BoxTree(triangles_of(BALL, at=(0, 5, 0)))
    far = nearest_triangles(a, IDENTITY, b, within=2.0)
    assert far.distance == 2.0 and far.pair is None
    near = nearest_triangles(a, IDENTITY, b, within=3.5)
    assert near.distance == pytest.approx(3.0) and near.pair is not None
    again = nearest_triangles(a, Frame(np.eye(3), np.array([0, 0.1, 0])), b, begin=near.pair)
    assert again.distance == pytest.approx(2.9)


def test_crossing_is_no_distance():
    a, b = triangles_of(box((2, 2, 2))), triangles_of(box((2, 2, 2)), at=(0.5, 0.5, 0.5))
    assert nearest_pair(a, b)[0] == 0.0


def test_overlap_is_the_volume_two_boxes_share():
    one, two = mesh_of(box((2, 2, 2))), mesh_of(box((2, 2, 2)))
    shifted = two.with_points(two.points + np.array([0.5, 1.0, 0.25]))
    found = neighbours_of([one], [shifted])
    assert found.overlap == pytest.approx(1.5 * 1.0 * 1.75) and found.gap == 0
    assert np.allclose(found.high - found.low, [1.5, 1.0, 1.75])
    apart = neighbours_of([one], [two.with_points(two.points + np.array([5.0, 0, 0]))])
    assert apart.gap == pytest.approx(3) and apart.overlap == 0 and apart.low is None
    several = neighbours_of([one, two.with_points(two.points + np.array([5.0, 0, 0]))], [shifted])
    assert several.overlap == pytest.approx(found.overlap)
    with pytest.raises(NothingBeside):
        neighbours_of([], [one])


@pytest.mark.parametrize("segments", [(1, 1, 1), (9, 4, 3)])
def test_triangles_of_one_plane_are_told_alike_and_of_others_apart(segments):
    """Against each pair looked at by itself, on a turned box whose planes are told with every rounding there is."""
    mesh = mesh_of(box((3, 2, 1), segments), {"id": "t", "kind": "transform", "pick": {"vertices": "all"}, "rotate": [17, 31, 47], "translate": [5, -3, 2]})
    body = Body(mesh)
    p = body.triangles
    normal = np.cross(p[:, 1] - p[:, 0], p[:, 2] - p[:, 0])
    normal /= np.linalg.norm(normal, axis=1)[:, None]
    away = np.einsum("ij,ij->i", normal, p[:, 0])
    alike = (np.abs(normal[:, None] - normal).max(axis=2) < 1e-6) & (np.abs(away[:, None] - away) < 1e-6)
    assert ((body.planes[:, None] == body.planes) == alike).all()
    assert np.unique(body.planes).size == 6


def test_a_plane_of_many_triangles_is_told_without_looking_at_their_pairs(monkeypatch):
    looked_at = []
    tree = overlap.cKDTree
    monkeypatch.setattr(overlap, "cKDTree", lambda points: looked_at.append(len(points)) or tree(points))
    body = Body(mesh_of(box((3, 2, 1), (60, 50, 1))))
    assert len(body.triangles) > 12_000 and np.unique(body.planes).size == 6
    assert sum(looked_at) < 100
