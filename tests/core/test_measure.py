import itertools

import numpy as np
import pytest

from rhytonic.core import tolerance
from rhytonic.core.mesh.measure import faces_without_area, measure
from rhytonic.core.mesh.mesh import Mesh
from rhytonic.core.mesh.topology import Topology
from rhytonic.core.mesh.triangulate import triangulate
from tests.helpers import box, mesh_of


def mesh(points, faces):
    return Mesh(np.array(points, float), Topology.of_faces(len(points), faces))


def covers(m):
    """Area of the triangles, and whether all of them face the way of their face."""
    triangles, face = triangulate(m)
    p = m.points[triangles]
    double = np.cross(p[:, 1] - p[:, 0], p[:, 2] - p[:, 0])
    return np.linalg.norm(double, axis=1).sum() / 2, (np.einsum("ij,ij->i", double, m.normals[face]) > -1e-12).all()


def test_a_warped_quad_is_split_on_its_shorter_diagonal():
    m = mesh([[0, 0, 0], [2, 0, 0], [3, 2, 1], [0, 1, 0]], [[0, 1, 2, 3]])
    assert {1, 3} <= set(triangulate(m)[0][0]) and {1, 3} <= set(triangulate(m)[0][1])


def test_an_arrow_head_is_split_inside():
    m = mesh([[0, 0, 0], [4, 0, 0], [1, 1, 0], [0, 4, 0]], [[0, 1, 2, 3]])
    area, same_way = covers(m)
    assert area == pytest.approx(4) and same_way


def test_a_concave_face_of_many_corners():
    cross = [(1, 0), (2, 0), (2, 1), (3, 1), (3, 2), (2, 2), (2, 3), (1, 3), (1, 2), (0, 2), (0, 1), (1, 1)]
    m = mesh([[x, 0, -y] for x, y in cross], [list(range(12))])
    area, same_way = covers(m)
    assert area == pytest.approx(5) and same_way and len(triangulate(m)[0]) == 10


def test_counts_bounds_and_an_inside_out_box():
    cube = [[x, y, z] for x in (0, 1) for y in (0, 1) for z in (0, 1)]
    faces = [[0, 1, 3, 2], [4, 6, 7, 5], [0, 4, 5, 1], [2, 3, 7, 6], [0, 2, 6, 4], [1, 5, 7, 3]]
    told = measure(mesh(cube, faces))
    assert told.volume == pytest.approx(1) and told.area == pytest.approx(6) and told.shells == 1
    assert measure(mesh(cube, [f[::-1] for f in faces])).volume == pytest.approx(-1)


def test_two_shells_and_a_pinch():
    tetra = [[0, 2, 1], [0, 1, 3], [1, 2, 3], [2, 0, 3]]
    points = [[0, 0, 0], [1, 0, 0], [0, 1, 0], [0, 0, 1]]
    both = measure(mesh(points + [[9, 9, z] for z in range(4)], tetra + [[v + 4 for v in f] for f in tetra]))
    assert (both.shells, both.genus, both.euler) == (2, 0, 4)
    pinched = measure(mesh([*points, [-1, 0, 0], [0, -1, 0], [0, 0, -1]], tetra + [[{0: 0, 1: 4, 2: 5, 3: 6}[v] for v in f] for f in tetra]))
    assert pinched.closed and not pinched.manifold and pinched.genus is None


def test_nothing_measures_nothing():
    told = measure(mesh(np.zeros((0, 3)), []))
    assert told.minimum is None and told.volume is None and told.faces == 0


def test_faces_without_area_are_told_face_by_face():
    """Corners laid upon each other and onto planes, looked at one face after the other."""
    found = [_nothing_among(np.random.default_rng(seed)) for seed in range(40)]
    assert sum(found) > 40


def _nothing_among(r):
    """How many faces without area a box has some of whose corners were laid elsewhere."""
    whole = mesh_of(box((3, 2, 1), (4, 3, 2)))
    p = whole.points.copy()
    p[r.integers(0, len(p), 40)] = p[r.integers(0, len(p), 40)]
    p[r.integers(0, len(p), 10)] *= [1, 0, 1]
    tried, t = whole.with_points(p), whole.topology
    rings = [p[t.corners[a:b]] for a, b in itertools.pairwise(t.offsets)]
    nothing = [f for f, c in enumerate(rings) if np.linalg.norm(np.cross(c - c[0], np.roll(c, -1, 0) - c[0]).sum(0)) / 2
               <= max(tolerance.NO_AREA * ((np.roll(c, -1, 0) - c) ** 2).sum(1).max(), tolerance.NO_AREA_ABSOLUTE)]
    assert faces_without_area(tried).tolist() == nothing
    some = np.sort(r.choice(t.face_count, 9, replace=False))
    assert faces_without_area(tried, some).tolist() == [f for f in some if f in nothing]
    return len(nothing)
