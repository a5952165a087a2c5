import numpy as np
import pytest

from rhytonic.core.errors import InvalidDocument
from rhytonic.core.mesh.geometry import rotation
from tests.helpers import ALL, assert_sound, box, facing, mesh_of


def transform(pick, **more):
    return {"id": "move", "kind": "transform", "pick": pick, **more}


def top(m, axis=1):
    return m.points[:, axis].max()


def test_move():
    m = mesh_of(box(), transform(facing("+y"), translate=[0, 2, 0]))
    assert_sound(m)
    assert top(m) == 3 and m.points[:, 1].min() == 0


def test_turn_is_about_x_then_y_then_z():
    m = rotation((90, 90, 0))
    assert np.allclose(m @ [0, 1, 0], rotation((0, 90, 0)) @ (rotation((90, 0, 0)) @ [0, 1, 0]))
    assert np.allclose(rotation((0, 0, 90)) @ [1, 0, 0], [0, 1, 0])
    assert (rotation((90, 180, 270)) == np.round(rotation((90, 180, 270)))).all()


def test_about_pick_is_the_middle_of_its_box():
    m = mesh_of(box((2, 2, 2)), transform(facing("+y"), scale=[0.5, 1, 1]))
    assert np.allclose(np.abs(m.points[m.points[:, 1] > 1, 0]), 0.5)


def test_about_origin_and_a_point():
    m = mesh_of(box(), transform(ALL, scale=[2, 2, 2], about="origin"))
    assert top(m) == 2 and m.points[:, 1].min() == 0
    m = mesh_of(box(), transform(ALL, scale=[2, 2, 2], about=[0, 1, 0]))
    assert top(m) == 1 and m.points[:, 1].min() == -1


def test_about_each_turns_every_piece_on_its_own():
    two = {"faces": {"any_of": [{"facing": "+y"}, {"facing": "-y"}]}}
    m = mesh_of(box(), transform(two, rotate=[0, 45, 0], about="each"))
    assert np.allclose(np.hypot(m.points[:, 0], m.points[:, 2]), np.sqrt(0.5))
    assert set(m.points[:, 1]) == {0, 1}


def test_scaling_to_zero_flattens():
    m = mesh_of(box((2, 2, 2)), transform(ALL, scale=[1, 0, 1]))
    assert np.allclose(m.points[:, 1], 1)


def test_push_goes_along_each_vertex_normal():
    m = mesh_of(box((2, 2, 2), anchor="centre"), transform(ALL, push=np.sqrt(3)))
    assert np.allclose(np.abs(m.points), 2)


def test_hold_plane_keeps_the_middle():
    m = mesh_of(box((2, 1, 1), (2, 1, 1)), transform(ALL, translate=[1, 0, 0], hold_plane="x"))
    assert sorted(set(m.points[:, 0])) == [0, 2]


def test_normal_frame_moves_along_the_normal():
    m = mesh_of(box(), transform(facing("+x"), translate=[0, 0, 1], frame="normal"))
    assert m.points[:, 0].max() == pytest.approx(1.5)
    m = mesh_of(box(), transform(facing("+y"), translate=[0, 0, 1], frame="normal"))
    assert top(m) == pytest.approx(2)


def test_build_frame_knows_the_placement():
    placed = {"placement": {"rotate": [0, 0, 90], "scale": [2, 2, 2]}}
    m = mesh_of(box(), transform(ALL, translate=[0, 4, 0], frame="build"), **placed)
    assert np.allclose(m.points.mean(axis=0), [2, 0.5, 0])


def test_soft_selection_follows_the_formula():
    plane = {"id": "p", "kind": "plane", "size": [4, 1], "segments": [8, 1]}
    pick = {"vertices": {"in_box": [[-2, 0, None], [-2, 0, None]]}}
    m = mesh_of(plane, transform(pick, translate=[0, 1, 0], falloff={"radius": 2, "fullness": 0.75}))
    t = np.clip((m.points[:, 0] + 2) / 2, 0, 1)
    assert np.allclose(m.points[:, 1], 1 - (3 * t**2 - 2 * t**3) ** 2)


def test_soft_selection_along_the_surface_does_not_jump_gaps():
    plane = {"id": "p", "kind": "plane", "size": [4, 1], "segments": [4, 1]}
    cut = {"id": "gap", "kind": "delete", "pick": {"faces": {"nearest": [-0.5, 0, 0]}}}
    pick = {"vertices": {"in_box": [[-2, 0, None], [-1, 0, None]]}}
    through = mesh_of(plane, cut, transform(pick, translate=[0, 1, 0], falloff={"radius": 1.5}))
    along = mesh_of(plane, cut, transform(pick, translate=[0, 1, 0], falloff={"radius": 1.5, "connected": True}))
    assert (through.points[through.points[:, 0] >= 0, 1] > 0).any()
    assert (along.points[along.points[:, 0] >= 0, 1] == 0).all()


def test_a_drawn_curve_and_its_order():
    plane = {"id": "p", "kind": "plane", "size": [4, 1], "segments": [4, 1]}
    pick = {"vertices": {"in_box": [[-2, 0, None], [-2, 0, None]]}}
    m = mesh_of(plane, transform(pick, translate=[0, 1, 0], falloff={"radius": 4, "curve": [[0, 1], [1, 0]]}))
    assert np.allclose(m.points[:, 1], (2 - m.points[:, 0]) / 4)
    with pytest.raises(InvalidDocument, match="must rise"):
        mesh_of(plane, transform(pick, falloff={"radius": 4, "curve": [[0, 1], [0, 0]]}))


def test_moving_keeps_ids():
    a, b = mesh_of(box()), mesh_of(box(), transform(facing("+y"), translate=[0, 2, 0]))
    assert (a.names.vertex == b.names.vertex).all() and a.topology is b.topology
