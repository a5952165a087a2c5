from rhytonic.core.mesh.measure import measure
from tests.helpers import ALL, assert_sound, box, evaluate, facing, mesh_of


def delete(pick):
    return {"id": "del", "kind": "delete", "pick": pick}


def test_a_face_goes_and_its_edges_stay_while_others_use_them():
    m = mesh_of(box(), delete(facing("+y")))
    assert_sound(m)
    told = measure(m)
    assert (told.vertices, told.edges, told.faces, told.closed) == (8, 12, 5, False)


def test_what_is_left_without_a_face_goes_too():
    m = mesh_of(box((2, 1, 2), (2, 1, 2)), delete(facing("+y")))
    assert_sound(m)
    assert not any((p[0] == 0 and p[2] == 0 and p[1] == 1) for p in m.points)


def test_edges_and_vertices_take_their_faces():
    m = mesh_of(box(), delete({"edges": {"nearest": [0.5, 1, 0]}}))
    assert m.topology.face_count == 4
    m = mesh_of(box(), delete({"vertices": {"nearest": [0.5, 1, 0.5]}}))
    assert m.topology.face_count == 3 and m.topology.vertex_count == 7


def test_ids_of_the_rest_stay():
    before, after = mesh_of(box()), mesh_of(box(), delete(facing("+y")))
    assert set(after.names.face.tolist()) < set(before.names.face.tolist())
    assert (after.names.vertex == before.names.vertex).all()


def test_deleting_everything_is_noted():
    e = evaluate(box(), delete(ALL))
    assert e.surface.mesh.topology.face_count == 0 and e.surface.mesh.topology.vertex_count == 0
    assert e.results[-1].notes == ("nothing is left of the part",)
