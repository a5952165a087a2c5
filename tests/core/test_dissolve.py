import numpy as np
import pytest

from rhytonic.core.errors import StepError
from rhytonic.core.mesh.measure import measure
from rhytonic.core.mesh.names import hex_of
from tests.core.test_attributes import after
from tests.helpers import assert_sound, box, evaluate, extrude, mesh_of

PLANE = {"id": "p", "kind": "plane", "size": [4, 4], "segments": [4, 4]}


def dissolve(pick, **more):
    return {"id": "d", "kind": "dissolve", "pick": pick, **more}


def test_one_edge_makes_one_face_of_two():
    m = mesh_of(PLANE, dissolve({"edges": {"nearest": [0, 0, 0.5]}}))
    assert_sound(m)
    assert m.topology.face_count == 15 and sorted(m.topology.sides.tolist())[-1] == 6 and measure(m).area == pytest.approx(16)


def test_a_loop_goes_with_its_points():
    loop = {"id": "l", "kind": "insert_loop", "through": {"nearest": [1, 1, 1]}}
    m = mesh_of(box((2, 2, 2)), loop, dissolve({"edges": {"made_by": "l", "role": "loop"}}))
    assert_sound(m)
    assert m.topology.face_count == 6 and m.topology.vertex_count == 8 and measure(m).volume == pytest.approx(8)
    kept = mesh_of(box((2, 2, 2)), loop, dissolve({"edges": {"made_by": "l", "role": "loop"}}, keep_points=True))
    assert kept.topology.vertex_count == 12 and kept.topology.face_count == 6


def test_a_vertex_takes_its_edges_with_it():
    m = mesh_of(PLANE, dissolve({"vertices": {"nearest": [0, 0, 0]}}))
    assert_sound(m)
    assert m.topology.face_count == 13 and m.topology.vertex_count == 24 and m.topology.sides.max() == 8


def test_faces_become_one():
    m = mesh_of(box((2, 2, 2), (3, 3, 3)), dissolve({"faces": {"facing": "+y"}}))
    assert_sound(m)
    assert m.topology.face_count == 45 + 1 and m.topology.sides.max() == 12 and measure(m).closed


def test_an_edge_left_between_merged_faces_goes_too():
    """Three of the four spokes round a point merge all four faces; the fourth would be a slit."""
    spokes = {"any_of": [{"nearest": [0.5, 0, 0]}, {"nearest": [-0.5, 0, 0]}, {"nearest": [0, 0, 0.5]}]}
    m = mesh_of(PLANE, dissolve({"edges": spokes}))
    assert_sound(m)
    assert m.topology.face_count == 13


@pytest.mark.parametrize("pick, told", [
    ({"edges": {"border": True}}, "none of these edges lies between two faces"), ({"faces": {"nearest": [0.5, 0, 0.5]}}, "none of these edges"),
    ({"faces": {"not": {"in_box": [[-1, None, -1], [1, None, 1]]}}}, "hole in it")])
def test_what_cannot_be_dissolved(pick, told):
    with pytest.raises(StepError, match=told):
        mesh_of(PLANE, dissolve(pick))


def test_a_whole_shell_stays():
    with pytest.raises(StepError, match="dissolve into nothing"):
        mesh_of(box(), dissolve({"edges": "all"}))


def test_the_face_made_first_stands_for_the_others():
    plain = evaluate(PLANE).surface.mesh
    faces = np.flatnonzero(np.isclose(plain.face_centres, [0.5, 0, 0.5]).all(axis=1) | np.isclose(plain.face_centres, [-0.5, 0, 0.5]).all(axis=1))
    for face in faces:
        up = extrude({"faces": {"ids": hex_of(plain.names.face[[face]])}}, 1)
        e = evaluate(PLANE, dissolve({"edges": {"nearest": [0, 0, 0.5]}}), up)
        assert e.results[2].missing == 0 and e.surface.mesh.topology.face_count == 15 + 6


def test_attributes_of_what_stays():
    _, mesh = after(dissolve({"edges": {"nearest": [0, 2, 0.5]}}))
    assert_sound(mesh)
    assert np.allclose(mesh.attributes["height"].values, mesh.points[:, 1])
    assert np.allclose(mesh.attributes["uv"].values, mesh.points[mesh.topology.corners][:, [0, 2]])
