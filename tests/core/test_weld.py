import numpy as np
import pytest

from rhytonic.core.errors import InvalidDocument, StepError
from rhytonic.core.mesh.measure import measure
from rhytonic.core.mesh.names import hex_of
from tests.core.test_attributes import after
from tests.helpers import assert_sound, box, evaluate, extrude, facing, mesh_of

EACH = [box((2, 1, 2), (2, 1, 2)), extrude(facing("+y"), 1, **{"as": "each"})]


def weld(pick=None, **more):
    return {"id": "w", "kind": "weld", "pick": {"vertices": pick or "all"}, **more}


def test_doubled_points_become_one():
    """Common practice, no source: distance 0 merges nothing, a little above 0 merges what coincides."""
    apart = mesh_of(*EACH)
    assert mesh_of(*EACH, weld(distance=0)).topology is apart.topology
    m = mesh_of(*EACH, weld(distance=1e-6))
    assert m.topology.vertex_count == apart.topology.vertex_count - 7


def test_clusters_are_chains_of_near_pairs_at_their_mean():
    plane = {"id": "p", "kind": "plane", "size": [4, 1], "segments": [4, 1]}
    m = mesh_of(plane, weld({"in_box": [[None, 0, -0.5], [None, 0, -0.5]]}, distance=1.001))
    assert_sound(m)
    assert m.topology.sides.tolist() == [3, 3, 3, 3] and np.isclose(m.points, [0, 0, -0.5]).all(axis=1).any()
    assert mesh_of(plane, weld({"in_box": [[None, 0, -0.5], [None, 0, -0.5]]}, distance=1.0)).topology.vertex_count == 10  # strictly nearer


def test_faces_left_with_two_corners_go_and_are_noted():
    e = evaluate(box((1, 1, 1)), weld({"of_faces": {"facing": "+y"}}, distance=1.1))
    m = e.surface.mesh
    assert_sound(m)
    assert m.topology.face_count == 5 and sorted(m.topology.sides.tolist()) == [3, 3, 3, 3, 4]
    assert measure(m).closed and measure(m).volume == pytest.approx(1 / 3)
    assert e.results[1].notes == ("1 face collapsed",)


def test_onto_one_and_in_pairs():
    top = {"of_faces": {"facing": "+y"}}
    m = mesh_of(box((2, 2, 2)), weld(top, to={"nearest": [1, 2, 1]}))
    assert np.isclose(m.points, [1, 2, 1]).all(axis=1).sum() == 1 and m.topology.vertex_count == 5
    two = mesh_of(box((2, 2, 2)), weld("all", pairs=[[{"nearest": [1, 2, 1]}, {"nearest": [-1, 2, 1]}]]))
    assert two.topology.vertex_count == 7 and np.isclose(two.points, [0, 2, 1]).all(axis=1).any()


@pytest.mark.parametrize("values, told", [({"to": {"facing": "+y"}}, "facing finds faces"), ({"to": "all"}, "to must find one vertex, not 8"),
                                          ({"pairs": [["all", {"nearest": [0, 0, 0]}]]}, "one vertex, not 8 and 1")])
def test_what_cannot_be(values, told):
    with pytest.raises(StepError, match=told):
        mesh_of(box(), weld(**values))


def test_one_way_to_say_it():
    for values in ({}, {"distance": 1, "to": "all"}):
        with pytest.raises(InvalidDocument, match="one of distance, to and pairs"):
            mesh_of(box(), weld(**values))


def test_a_face_that_would_touch_itself_stops_the_step():
    plane = {"id": "p", "kind": "cylinder", "radius": 1, "height": 1, "sides": 6}
    with pytest.raises(StepError, match="touches itself"):
        mesh_of(plane, weld(pairs=[[{"nearest": [1, 1, 0]}, {"nearest": [-1, 1, 0]}]]))


def test_the_vertex_made_first_stands_for_the_others():
    plain = evaluate(*EACH)
    mesh = plain.surface.mesh
    at = np.flatnonzero(np.isclose(mesh.points, [0, 2, 0]).all(axis=1))
    assert at.size == 4
    last = hex_of(mesh.names.vertex[at])[-1]
    lift = {"id": "lift", "kind": "transform", "pick": {"vertices": {"ids": [last]}}, "translate": [0, 1, 0]}
    e = evaluate(*EACH, weld(distance=1e-6), lift)
    assert e.results[3].missing == 0 and e.surface.mesh.points[:, 1].max() == 3
    assert np.isin(mesh.names.vertex[at[:1]], e.surface.mesh.names.vertex).all()


def test_marks_stay_on_the_edges_that_stay():
    before, mesh = after({"id": "w", "kind": "weld", "pick": {"vertices": {"nearest": [1, 2, 1]}}, "distance": 1}, (1, 1, 1))
    assert (mesh.attributes["seam"].values == before.attributes["seam"].values).all()


def test_moving_a_point_away_changes_what_is_welded():
    from rhytonic.core.recipe.evaluate import Evaluator
    evaluator = Evaluator()
    for far, count in ((0.5, 7), (2, 8)):
        move = {"id": "m", "kind": "transform", "pick": {"vertices": {"nearest": [0.5, 1, 0.5]}}, "translate": [0, 0, far - 1]}
        e = evaluate(box((1, 1, 1)), move, weld({"of_faces": {"facing": "+x", "within": 60}}, distance=0.9), evaluator=evaluator)
        assert e.surface.mesh.topology.vertex_count == count
