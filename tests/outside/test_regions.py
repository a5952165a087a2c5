"""Flat regions with holes as few polygons, against shapely; mean value coordinates against what defines them."""

import itertools
import math

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from rhytonic.core.construct.boolean.mean_value import in_corners
from rhytonic.core.construct.caps.simple_polygons import simple_polygons
from rhytonic.core.mesh.mesh import Mesh
from rhytonic.core.mesh.topology import Topology

UP = np.array([0.0, 0.0, 1.0])


def ring(x, y, radius, sides, turn=0.0):
    angle = turn + 2 * math.pi * np.arange(sides) / sides
    return np.stack([x + radius * np.cos(angle), y + radius * np.sin(angle)], axis=1)


def polygons_of(outer, *holes):
    """Polygons in the plane z = 0, and the points they are told in: holes run the other way."""
    loops = [outer, *(h[::-1] for h in holes)]
    points = np.concatenate(loops)
    ends = np.cumsum([0, *(len(loop) for loop in loops)])
    told = [np.arange(a, b) for a, b in itertools.pairwise(ends)]
    return simple_polygons(np.column_stack([points, np.zeros(len(points))]), told, UP), points


def covers(polygons, points, region):
    """Together they are the region, no two of them overlap, none visits a point twice, all run counter-clockwise."""
    shapes = [shapely.Polygon(points[p]) for p in polygons]
    assert all(len(set(p)) == len(p) and s.is_valid and s.exterior.is_ccw for p, s in zip(polygons, shapes, strict=True))
    assert sum(s.area for s in shapes) == pytest.approx(region.area, rel=1e-12)
    assert shapely.union_all(shapes).symmetric_difference(region).area < 1e-9 * region.area


@given(sides=st.integers(3, 24), turn=st.floats(0, 6), x=st.floats(-2, 2), y=st.floats(-2, 2))
def test_one_hole_leaves_two_polygons(sides, turn, x, y):
    square, hole = ring(0, 0, 8, 4, math.pi / 4), ring(x, y, 1.5, sides, turn)
    polygons, points = polygons_of(square, hole)
    assert len(polygons) == 2
    covers(polygons, points, shapely.Polygon(square, [hole]))


@given(holes=st.lists(st.tuples(st.integers(0, 3), st.integers(0, 3)), min_size=1, max_size=6, unique=True),
       sides=st.integers(3, 9), turn=st.floats(0, 6))
def test_several_holes(holes, sides, turn):
    square = np.array([[-1.0, -1], [9, -1], [9, 9], [-1, 9]])
    rings = [ring(2.5 * i + 0.3, 2.5 * j + 0.4, 0.8, sides, turn + i) for i, j in holes]
    polygons, points = polygons_of(square, *rings)
    covers(polygons, points, shapely.Polygon(square, rings))
    assert len(polygons) <= 2 * len(holes) + 1


def test_a_convex_face_stays_whole():
    polygons, points = polygons_of(ring(0, 0, 3, 12))
    assert len(polygons) == 1 and sorted(polygons[0]) == list(range(12))
    covers(polygons, points, shapely.Polygon(points))


def test_a_concave_face_stays_whole():
    plan = np.array([[0.0, 0], [4, 0], [4, 3], [3, 3], [3, 1], [1, 1], [1, 3], [0, 3]])
    polygons, points = polygons_of(plan)
    assert len(polygons) == 1
    covers(polygons, points, shapely.Polygon(plan))


def test_points_along_a_straight_stretch_stay():
    plan = np.array([[0.0, 0], [1, 0], [2, 0], [3, 0], [3, 2], [1.5, 2], [0, 2]])
    polygons, _ = polygons_of(plan)
    assert [sorted(p) for p in polygons] == [list(range(7))]


@given(sides=st.integers(3, 12), share=st.lists(st.floats(0.01, 1), min_size=12, max_size=12), turn=st.floats(0, 6))
def test_mean_value_coordinates_make_up_the_point(sides, share, turn):
    """They sum to one and reproduce linear functions (M. Floater, 2003, Proposition 1)."""
    plan = ring(1, 2, 3, sides, turn)
    corners = np.column_stack([plan, np.full(sides, 0.5)])
    mesh = Mesh(corners, Topology.of_faces(sides, [list(range(sides))]))
    weight = np.array(share[:sides])
    point = (weight / weight.sum()) @ corners
    told = in_corners(mesh, np.array([0]), point[None]).toarray()[0]
    assert told.sum() == pytest.approx(1) and (told >= -1e-9).all()
    np.testing.assert_allclose(told @ corners, point, atol=1e-9)


def test_on_an_edge_only_its_ends_count():
    corners = np.array([[0.0, 0, 0], [4, 0, 0], [4, 4, 0], [0, 4, 0]])
    mesh = Mesh(corners, Topology.of_faces(4, [[0, 1, 2, 3]]))
    told = in_corners(mesh, np.array([0, 0]), np.array([[1.0, 0, 0], [4, 4, 0]])).toarray()
    np.testing.assert_allclose(told, [[0.75, 0.25, 0, 0], [0, 0, 1, 0]], atol=1e-9)
