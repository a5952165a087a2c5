import numpy as np
import pytest

from rhytonic.core.errors import StepError
from rhytonic.core.mesh.measure import measure
from tests.core.test_extrude import mesh_pick
from tests.helpers import ALL, assert_sound, box, evaluate, extrude, facing, made, mesh_of


def inset(pick, width, id="ins", **more):
    return {"id": id, "kind": "inset", "pick": pick, "width": width, **more}


def test_one_face():
    m = mesh_of(box((4, 1, 2)), inset(facing("+y"), 0.5))
    assert_sound(m)
    told = measure(m)
    assert told.faces == 10 and told.closed and told.manifold and told.volume == pytest.approx(8)
    inner = m.points[8:]
    assert np.allclose(np.abs(inner[:, 0]), 1.5) and np.allclose(np.abs(inner[:, 2]), 0.5) and np.allclose(inner[:, 1], 1)


def test_a_region_keeps_its_inner_edges_and_each_has_its_own_rim():
    region = mesh_of(box((2, 1, 2), (2, 1, 2)), inset(facing("+y"), 0.25))
    each = mesh_of(box((2, 1, 2), (2, 1, 2)), inset(facing("+y"), 0.25, **{"as": "each"}))
    assert_sound(region)
    assert_sound(each)
    assert region.topology.face_count == 16 + 8 and each.topology.face_count == 16 + 16
    assert measure(each).volume == measure(region).volume == pytest.approx(4)


def test_a_region_round_an_edge_slides_along_it():
    m = mesh_of(box((2, 2, 2)), inset({"faces": {"any_of": [{"facing": "+y"}, {"facing": "+z"}]}}, 0.25))
    assert_sound(m)
    on_edge = m.points[(np.abs(m.points[:, 1] - 2) < 1e-9) & (np.abs(m.points[:, 2] - 1) < 1e-9)]
    assert sorted(np.round(on_edge[:, 0], 9)) == [-1, -0.75, 0.75, 1]
    assert measure(m).volume == pytest.approx(8)


def test_an_inner_corner_keeps_the_distance_from_both_edges():
    """An L of three faces: the reflex corner moves along the bisector."""
    plane = {"id": "p", "kind": "plane", "size": [2, 2], "segments": [2, 2]}
    ell = {"faces": {"not": {"nearest": [0.5, 0, 0.5]}}}
    m = mesh_of(plane, inset(ell, 0.2))
    assert_sound(m)
    assert np.isclose(m.points, [-0.2, 0, -0.2]).all(axis=1).any()
    assert measure(m).area == pytest.approx(4)


def test_depth_pushes_the_inner_faces():
    m = mesh_of(box((2, 2, 2)), inset(facing("+y"), 0.5, depth=-1))
    assert measure(m).volume == pytest.approx(8 - (4 + 1 + 2) / 3)
    with pytest.raises(StepError, match="cancel out"):
        mesh_of(box(), inset({"faces": {"any_of": [{"facing": "+y"}, {"facing": "-y"}, {"facing": "+x"}, {"facing": "-x"}]}}, 0.1, depth=1))


def test_to_the_point_where_it_would_vanish():
    m = mesh_of(box((4, 1, 2)), inset(facing("+y"), 0.999999))
    assert measure(m).closed
    with pytest.raises(StepError, match="the widest width that works is 1 m"):
        mesh_of(box((4, 1, 2)), inset(facing("+y"), 1.2))


def test_inner_and_rim_take_the_faces_place():
    e = evaluate(box(), inset(facing("+y"), 0.25))
    assert mesh_pick(e, made("ins", "inner")) == 1 and mesh_pick(e, made("ins", "rim")) == 4
    assert mesh_pick(e, made("body")) == 10
    assert mesh_pick(e, made("ins", "inner", "edges")) == 4 and mesh_pick(e, made("ins", "rim", "edges")) == 4


def test_the_file_of_the_contract():
    e = evaluate(box((18, 26, 18)), inset(facing("+z"), 1.2, "pane"), extrude(made("pane", "inner"), -0.8, "sink"),
                 {"id": "soft", "kind": "subdivision", "levels": 2}, unit="cm")
    assert e.cage.mesh.topology.face_count == 14 and e.surface.mesh.topology.face_count == 14 * 16


def test_a_whole_closed_shell_has_no_outline():
    m = mesh_of(box(), inset(ALL, 0.1))
    assert m.topology.face_count == 6
    assert mesh_of(box(), inset(ALL, 0.1, **{"as": "each"})).topology.face_count == 30


def cut_out(size, holes):
    """A flat face of many corners: a plane with pieces taken out, its inner edges dissolved."""
    return [{"id": "p", "kind": "plane", "size": size, "segments": size},
            {"id": "d", "kind": "delete", "pick": {"faces": {"any_of": [{"in_box": h} for h in holes]}}},
            {"id": "one", "kind": "dissolve", "pick": {"faces": "all"}, "keep_points": True}]


@pytest.mark.parametrize("size, holes", [
    ([6, 4], [[[-1, None, -1], [1, None, 2]]]),  # a U: its bar is one wide
    ([6, 3], [[[-1, None, -1.5], [1, None, -0.5]], [[-1, None, 0.5], [1, None, 1.5]]]),  # two rooms and a passage
    ([6, 3], [[[0, None, -1.5], [1, None, 0.5]]])])  # a notch that comes near the far side
def test_a_concave_face_goes_as_far_as_its_narrowest_place(size, holes):
    shape = cut_out(size, holes)
    pick = {"faces": "all"}
    m = mesh_of(*shape, {"id": "i", "kind": "inset", "pick": pick, "width": 0.49})
    assert_sound(m)
    rim = mesh_of(*shape, {"id": "i", "kind": "inset", "pick": pick, "width": 0.49},
                  {"id": "x", "kind": "delete", "pick": {"faces": {"made_by": "i", "role": "rim"}}})
    assert rim.topology.face_count == 1 and (rim.area_vectors[:, 1] > 0).all()
    with pytest.raises(StepError, match=r"widest width that works is 0\.5 m"):
        mesh_of(*shape, {"id": "i", "kind": "inset", "pick": pick, "width": 0.51})
