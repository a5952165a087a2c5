import numpy as np
import pytest

from rhytonic.core.errors import InvalidDocument, StepError
from rhytonic.core.mesh.measure import measure
from tests.core.test_attributes import after
from tests.core.test_extrude import mesh_pick
from tests.helpers import assert_sound, box, evaluate, extrude, facing, made, mesh_of

UPRIGHT = {"nearest": [1, 1, 1]}  # an upright edge of a box of size 2


def loops(through=UPRIGHT, id="loop", **more):
    return {"id": id, "kind": "insert_loop", "through": through, **more}


def levels(m, axis=1):
    return np.unique(m.points[:, axis].round(9)).tolist()


def test_one_loop_round_a_box():
    m = mesh_of(box((2, 2, 2)), loops())
    assert_sound(m)
    told = measure(m)
    assert (told.faces, told.vertices, told.quads) == (10, 12, 10) and told.closed and told.manifold and m.topology.is_oriented
    assert levels(m) == [0, 1, 2] and told.volume == pytest.approx(8)


@pytest.mark.parametrize("values, expected", [
    ({"count": 3}, [0.5, 1, 1.5]), ({"count": 2, "spread": 0}, None), ({"count": 2, "spread": 0.5}, [5 / 6, 7 / 6]),
    ({"count": 1, "shift": 0.5}, [1.5]), ({"count": 1, "shift": -0.5}, [0.5]), ({"at": [0.25, 0.9]}, [0.5, 1.8]),
    ({"distance": [0.2]}, [0.2]), ({"distance": [-0.2, 0.2]}, [0.2, 1.8])])
def test_where_loops_stand(values, expected):
    """t = ½ + spread·(k/(count+1) − ½) + (shift/2)·(1 − spread·(count−1)/(count+1)), from the lower end."""
    if expected is None:
        with pytest.raises(StepError, match="fall together"):
            mesh_of(box((2, 2, 2)), loops(**values))
        return
    m = mesh_of(box((2, 2, 2)), loops(**values))
    assert_sound(m)
    assert levels(m) == pytest.approx([0, *expected, 2])


def test_fractions_run_from_the_lower_end_all_round():
    lean = {"id": "t", "kind": "transform", "pick": facing("+y"), "rotate": [0, 90, 0]}
    m = mesh_of(box((2, 2, 2)), lean, loops({"nearest": [0, 1, 1.4]}, at=[0.1]))
    assert_sound(m)
    assert levels(m) == pytest.approx([0, 0.2, 2])


def test_a_ring_stops_at_faces_that_are_not_quads():
    drum = {"id": "c", "kind": "cylinder", "radius": 1, "height": 2, "sides": 6}
    m = mesh_of(drum, loops({"nearest": [0.75, 0, 0.43]}))
    assert_sound(m)
    assert sorted(m.topology.sides.tolist()) == [4] * 7 + [7, 7] and measure(m).closed and measure(m).volume == pytest.approx(
        measure(mesh_of(drum)).volume)
    round_ = mesh_of(drum, loops({"nearest": [1, 1, 0]}))
    assert round_.topology.face_count == 14 and (round_.topology.sides == 6).sum() == 2


def test_a_ring_stops_at_borders():
    m = mesh_of({"id": "p", "kind": "plane", "size": [3, 2], "segments": [3, 2]}, loops({"nearest": [0, 0, 0.1]}))
    assert_sound(m)
    assert m.topology.face_count == 8 and not m.topology.is_closed and levels(m, 0) == [-1.5, -0.5, 0, 0.5, 1.5]


def test_quads_crossed_twice_become_grids():
    two = {"any_of": [{"nearest": [0, 2, 1]}, {"nearest": [1, 1, 1]}]}
    m = mesh_of(box((2, 2, 2)), loops(two, count=2))
    assert_sound(m)
    told = measure(m)
    assert told.faces == 2 * 9 + 4 * 3 and told.closed and told.manifold and m.topology.is_oriented and told.volume == pytest.approx(8)
    assert levels(m, 0) == pytest.approx([-1, -1 / 3, 1 / 3, 1]) and levels(m) == pytest.approx([0, 2 / 3, 4 / 3, 2])


def test_each_ring_is_cut_once_however_many_of_its_edges_are_named():
    upright = {"all_of": [{"not": {"in_box": [[None, 0, None], [None, 0, None]]}}, {"not": {"in_box": [[None, 2, None], [None, 2, None]]}}]}
    assert mesh_of(box((2, 2, 2)), loops(upright)).topology.face_count == 10


def test_what_it_made_and_what_took_its_place():
    e = evaluate(box((2, 2, 2)), loops(count=2))
    assert mesh_pick(e, made("loop", "loop", "edges")) == 8
    assert mesh_pick(e, made("loop")) == 12 and mesh_pick(e, made("body")) == 14
    assert mesh_pick(e, made("body", None, "edges")) == 8 + 12
    assert mesh_pick(e, {"edges": {"loop_through": {"nearest": [1, 2 / 3, 0]}}}) == 4


def test_later_picks_are_found_in_the_pieces():
    front = {"faces": {"ids": None}}
    from rhytonic.core.mesh.names import hex_of
    plain = evaluate(box((2, 2, 2)))
    at = np.flatnonzero(plain.surface.mesh.normals[:, 2] > 0.9)
    front["faces"]["ids"] = hex_of(plain.surface.mesh.names.face[at])
    m = mesh_of(box((2, 2, 2)), loops(), extrude(front, 1))
    assert_sound(m)
    assert measure(m).volume == pytest.approx(8 + 4)


def test_marks_go_to_the_pieces_and_corner_values_interpolate():
    before, mesh = after({"id": "l", "kind": "insert_loop", "through": {"nearest": [1, 1, 1]}, "at": [0.25]}, (1, 1, 1))
    cut = before.topology.edges[np.isclose(np.ptp(before.points[before.topology.edges][..., 1], axis=1), 2)]
    marks = before.attributes["seam"].values[before.topology.find_edges(cut[:, 0], cut[:, 1])].sum()
    assert mesh.attributes["seam"].values.sum() == before.attributes["seam"].values.sum() + marks
    assert np.allclose(mesh.attributes["height"].values, mesh.points[:, 1])
    t = mesh.topology
    sides = np.abs(mesh.normals[t.corner_face][:, 1]) < 0.5
    assert np.allclose(mesh.attributes["uv"].values[sides], mesh.points[t.corners[sides]][:, [0, 2]])


@pytest.mark.parametrize("values, told", [({"distance": [3]}, "outside the ring; the shortest edge of the ring is 2 m long"),
                                          ({"distance": [0.5, 0.5]}, "fall together"), ({"count": 2, "spread": 0}, "fall together")])
def test_what_cannot_be(values, told):
    with pytest.raises(StepError, match=told):
        mesh_of(box((2, 2, 2)), loops(**values))
    with pytest.raises(InvalidDocument, match="either at or distance"):
        mesh_of(box(), loops(at=[0.5], distance=[0.5]))


def test_ids_stay_when_only_numbers_change():
    a, b = mesh_of(box((2, 2, 2)), loops(count=2)), mesh_of(box((2, 4, 2)), loops(count=2, spread=0.3))
    assert (a.names.vertex == b.names.vertex).all() and (a.names.face == b.names.face).all()


def test_the_number_of_loops_is_part_of_the_plan():
    from rhytonic.core.recipe.evaluate import Evaluator
    evaluator = Evaluator()
    for values, faces in (({"at": [0.5]}, 10), ({"at": [0.2, 0.6]}, 14), ({"distance": [0.5]}, 10), ({"at": [0.5, 0.6, 0.7]}, 18)):
        assert evaluate(box((2, 2, 2)), loops(**values), evaluator=evaluator).surface.mesh.topology.face_count == faces
