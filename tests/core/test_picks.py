import numpy as np
import pytest
from pydantic import TypeAdapter

from rhytonic.core.errors import BadPick, PickFoundNothing
from rhytonic.core.mesh.names import hex_of
from rhytonic.core.pick.resolve import resolve
from rhytonic.core.pick.rules import Pick
from tests.helpers import box, evaluate, extrude, facing

READ = TypeAdapter(Pick)


def find(evaluation, kind, rule):
    state = evaluation.surface
    return resolve(state.mesh, state.history, READ.validate_python({kind: rule}))


@pytest.fixture(scope="module")
def cut():
    return evaluate(box((3, 3, 3), (3, 3, 3)))


@pytest.fixture(scope="module")
def plain():
    return evaluate(box((2, 2, 2)))


@pytest.mark.parametrize("kind, count", [("faces", 54), ("edges", 108), ("vertices", 56)])
def test_all(cut, kind, count):
    assert find(cut, kind, "all").elements.size == count


def test_facing_and_its_tolerance(cut):
    assert find(cut, "faces", {"facing": "+y"}).elements.size == 9
    assert find(cut, "faces", {"facing": [0, 1, 0.9], "within": 45}).elements.size == 9
    assert find(cut, "faces", {"facing": [0, 1, 0.9], "within": 50}).elements.size == 18
    with pytest.raises(PickFoundNothing):
        find(cut, "faces", {"facing": [1, 1, 1]})


def test_flat_around_stays_in_its_region(cut):
    assert find(cut, "faces", {"flat_around": {"nearest": [0, 3, 0]}}).elements.size == 9
    stepped = evaluate(box((3, 3, 3), (3, 3, 3)), extrude({"faces": {"nearest": [0, 3, 0]}}, 1))
    assert find(stepped, "faces", {"flat_around": {"nearest": [0, 4, 0]}}).elements.size == 1
    assert find(stepped, "faces", {"flat_around": {"nearest": [1, 3, 1]}}).elements.size == 8
    assert find(stepped, "faces", {"flat_around": {"facing": "+y"}}).elements.size == 9


def test_in_box_wants_every_vertex_and_open_sides(cut):
    rule = {"in_box": [[None, 3, None], [None, None, None]]}
    assert find(cut, "faces", rule).elements.size == 9
    assert find(cut, "edges", rule).elements.size == 24
    assert find(cut, "vertices", rule).elements.size == 16
    assert find(cut, "vertices", {"in_box": [[-1.5, 0, -1.5], [-1.5 - 5e-7, 0, -1.5]]}).elements.size == 1


def test_nearest_and_its_ties(plain):
    mesh = plain.surface.mesh
    assert np.allclose(mesh.points[find(plain, "vertices", {"nearest": [0, 1, 0]}).elements[0]], [-1, 0, -1])
    edge = find(plain, "edges", {"nearest": [0, 1, 0]}).elements[0]
    assert np.allclose(mesh.edge_centres[edge], [-1, 0, 0])
    face = find(plain, "faces", {"nearest": [0, 1, 0]}).elements[0]
    assert np.allclose(mesh.face_centres[face], [0, 0, 0])
    assert find(plain, "faces", {"nearest": [9, 1, 0]}).elements.size == 1


def test_sides_and_border():
    e = evaluate({"id": "c", "kind": "cylinder", "radius": 1, "height": 1, "sides": 6})
    assert find(e, "faces", {"sides": [5, None]}).elements.size == 2
    assert find(e, "faces", {"sides": [None, 4]}).elements.size == 6
    opened = evaluate(box(), {"id": "d", "kind": "delete", "pick": facing("+y")})
    assert find(opened, "edges", {"border": True}).elements.size == 4
    assert find(opened, "vertices", {"border": True}).elements.size == 4
    with pytest.raises(BadPick, match="border finds edges or vertices, not faces"):
        find(opened, "faces", {"border": True})


def test_combinations(plain):
    up, right = {"facing": "+y"}, {"facing": "+x"}
    assert find(plain, "faces", {"any_of": [up, right]}).elements.size == 2
    assert find(plain, "faces", {"not": {"any_of": [up, right]}}).elements.size == 4
    with pytest.raises(PickFoundNothing):
        find(plain, "faces", {"all_of": [up, right]})


def test_conversions(plain):
    up = {"facing": "+y"}
    assert find(plain, "vertices", {"of_faces": up}).elements.size == 4
    assert find(plain, "edges", {"of_faces": up}).elements.size == 4
    assert find(plain, "edges", {"outline_of": {"any_of": [up, {"facing": "+x"}]}}).elements.size == 6
    corners = {"of_faces": up}
    assert find(plain, "edges", {"of_vertices": corners}).elements.size == 4
    assert find(plain, "edges", {"of_vertices": corners, "touching": "any"}).elements.size == 8
    assert find(plain, "faces", {"of_vertices": corners}).elements.size == 1
    assert find(plain, "faces", {"of_vertices": corners, "touching": "any"}).elements.size == 5
    ring = {"of_faces": up}
    assert find(plain, "faces", {"of_edges": ring}).elements.size == 5
    assert find(plain, "faces", {"of_edges": ring, "touching": "all"}).elements.size == 1
    assert find(plain, "vertices", {"of_edges": ring}).elements.size == 4


def test_ids_of_every_kind(plain):
    names, t = plain.surface.mesh.names, plain.surface.mesh.topology
    assert find(plain, "faces", {"ids": hex_of(names.face[[4, 1]])}).elements.tolist() == [1, 4]
    a, b = hex_of(names.vertex[t.edges[3]])
    assert find(plain, "edges", {"ids": [f"{b}-{a}"]}).elements.tolist() == [3]
    assert find(plain, "edges", {"ids": [[a, b]]}).elements.tolist() == [3]
    with pytest.raises(BadPick, match="two vertex ids"):
        find(plain, "edges", {"ids": [a]})
    with pytest.raises(BadPick, match="one id each"):
        find(plain, "faces", {"ids": [[a, b]]})


def test_some_but_not_all_is_counted(plain):
    ids = hex_of(plain.surface.mesh.names.face[:2])
    assert find(plain, "faces", {"ids": [*ids, "123"]}).missing == 1
    with pytest.raises(PickFoundNothing, match="the one face that was picked is no longer there"):
        find(plain, "faces", {"ids": ["123"]})


@pytest.mark.parametrize("rule", [{"facing": "up"}, {"fcing": "+y"}, "every", {"nearest": [1, 2]}, {"in_box": [[1, 2, 3]]},
                                  {"facing": "+y", "within": 1, "nearest": [0, 0, 0]}, {"ids": ["xyz"]}, {"any_of": []}])
def test_rules_that_break_the_contract(rule):
    with pytest.raises(ValueError):
        READ.validate_python({"faces": rule})
