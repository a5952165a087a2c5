import numpy as np
import pytest

from rhytonic.core.construct.caps.quad_grid import QuadGrid
from rhytonic.core.errors import InvalidDocument, StepError
from rhytonic.core.mesh.measure import measure
from tests.helpers import assert_sound, box, mesh_of


def cylinder(**more):
    return {"id": "body", "kind": "cylinder", "radius": 1, "height": 2, **more}


@pytest.mark.parametrize("segments", [(1, 1, 1), (2, 3, 4), (1, 5, 1)])
def test_box(segments):
    m = mesh_of(box((2, 4, 6), segments))
    assert_sound(m)
    x, y, z = segments
    told = measure(m)
    assert told.faces == 2 * (x * y + y * z + z * x) == told.quads
    assert told.minimum == (-1, 0, -3) and told.maximum == (1, 4, 3)
    assert told.volume == pytest.approx(48) and told.closed and told.manifold and told.genus == 0


def test_anchors():
    assert measure(mesh_of(box((2, 2, 2), anchor="centre"))).minimum == (-1, -1, -1)
    assert measure(mesh_of(cylinder(anchor="centre"))).minimum[1] == -1


def test_plane_faces_up():
    m = mesh_of({"id": "p", "kind": "plane", "size": [2, 3], "segments": [2, 5]})
    assert_sound(m)
    assert m.topology.face_count == 10 and np.allclose(m.normals, [0, 1, 0])
    assert measure(m).volume is None and measure(m).area == pytest.approx(6)


@pytest.mark.parametrize("cap, faces, closed", [("ngon", 18, True), ("fan", 48, True), ("quads", 48, True),
                                                ("none", 16, False)])
def test_cylinder_caps(cap, faces, closed):
    m = mesh_of(cylinder(cap=cap))
    assert_sound(m)
    told = measure(m)
    assert told.faces == faces and told.closed is closed and told.manifold
    if closed:
        assert told.volume == pytest.approx(16 / 2 * np.sin(2 * np.pi / 16) * 2)


def test_cylinder_starts_on_x_and_goes_towards_minus_z():
    m = mesh_of(cylinder(sides=8))
    assert np.allclose(m.points[0], [1, 0, 0])
    assert m.points[1][2] < 0 and np.allclose(m.points[2], [0, 0, -1])


def test_cone_has_one_apex_and_triangles():
    m = mesh_of(cylinder(radius_top=0, height_segments=3, sides=6))
    assert_sound(m)
    told = measure(m)
    assert (told.vertices, told.tris, told.quads, told.ngons) == (19, 6, 12, 1)
    assert told.closed and told.volume == pytest.approx(6 / 2 * np.sin(2 * np.pi / 6) * 2 / 3)


def test_frustum():
    told = measure(mesh_of(cylinder(radius_top=0.5, sides=4)))
    assert told.volume == pytest.approx(2 * 2 / 3 * (1 + 0.5 + 0.25))


def test_odd_sides_say_why_quads_do_not_go():
    with pytest.raises(StepError, match="even number of sides, not 7; use 8"):
        mesh_of(cylinder(sides=7, cap="quads"))


@pytest.mark.parametrize("n, rows", [(4, 1), (6, 1), (8, 2), (10, 2), (12, 3), (14, 3), (16, 4), (18, 4)])
def test_quad_grids_have_the_rows_the_contract_says(n, rows):
    grid = QuadGrid.for_loop(n)
    assert grid.rows == rows and grid.rows + grid.columns == n // 2
    assert sorted(set(grid.faces().ravel().tolist())) == list(range(n + grid.inner))


def test_coons_patch_of_a_flat_rectangle_is_its_grid():
    grid = QuadGrid.for_loop(12)
    loop = np.array([[x, 0, 0] for x in range(4)] + [[3, y, 0] for y in range(1, 4)]
                    + [[x, 3, 0] for x in (2, 1, 0)] + [[0, y, 0] for y in (2, 1)], float)
    assert np.allclose(grid.coons(loop), [[x, y, 0] for y in (1, 2) for x in (1, 2)])


def form(kind, **more):
    return {"id": "body", "kind": kind, **more}


def test_tube():
    m = mesh_of(form("tube", radius=2, inner_radius=1, height=3, sides=8, height_segments=2))
    assert_sound(m)
    told = measure(m)
    assert told.quads == told.faces == 8 * 2 * 2 + 8 * 2 and told.genus == 1 and m.topology.is_oriented
    assert told.volume == pytest.approx(8 / 2 * np.sin(np.pi / 4) * (4 - 1) * 3)
    assert told.minimum[1] == 0 and np.allclose(m.points[0], [2, 0, 0])
    with pytest.raises(InvalidDocument, match="inner_radius 2 must be less than radius 2"):
        mesh_of(form("tube", radius=2, inner_radius=2, height=3))


@pytest.mark.parametrize("sides, rings", [(16, 8), (3, 2), (5, 3)])
def test_sphere(sides, rings):
    m = mesh_of(form("sphere", radius=2, sides=sides, rings=rings))
    assert_sound(m)
    told = measure(m)
    assert told.faces == sides * rings and told.tris == 2 * sides and told.euler == 2 and told.volume > 0
    assert np.allclose(np.linalg.norm(m.points - [0, 2, 0], axis=1), 2)
    assert told.minimum[1] == 0 and told.maximum[1] == 4 and m.topology.is_oriented
    assert measure(mesh_of(form("sphere", radius=2, anchor="centre"))).minimum[1] == -2


@pytest.mark.parametrize("segments", [1, 2, 5])
def test_quad_sphere(segments):
    m = mesh_of(form("quad_sphere", radius=3, segments=segments))
    assert_sound(m)
    told = measure(m)
    assert told.quads == told.faces == 6 * segments**2 and told.euler == 2
    assert np.allclose(np.linalg.norm(m.points - [0, 3, 0], axis=1), 3)


def test_torus():
    m = mesh_of(form("torus", radius=3, tube_radius=1))
    assert_sound(m)
    told = measure(m)
    assert told.quads == told.faces == 24 * 12 and told.genus == 1 and told.volume > 0 and m.topology.is_oriented
    assert told.minimum[1] == pytest.approx(0) and told.maximum[0] == pytest.approx(4) and np.allclose(m.points[0], [4, 1, 0])
    with pytest.raises(InvalidDocument, match="must be less than radius"):
        mesh_of(form("torus", radius=1, tube_radius=1))


@pytest.mark.parametrize("steps", [form("tube", radius=2, inner_radius=1, height=3), form("sphere", radius=1),
                                   form("quad_sphere", radius=1), form("torus", radius=2, tube_radius=1)])
def test_ids_of_round_forms_survive_other_sizes(steps):
    bigger = {k: (v * 2 if isinstance(v, int) else v) for k, v in steps.items()}
    a, b = mesh_of(steps), mesh_of(bigger)
    assert (a.names.face == b.names.face).all() and not np.allclose(a.points, b.points)
