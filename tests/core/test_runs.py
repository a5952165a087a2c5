import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from rhytonic.core.construct.rings import rings
from rhytonic.core.errors import BadPick, NotManifold, PickFoundNothing
from rhytonic.core.pick import runs
from tests.core import labelled_runs
from tests.core.test_picks import find
from tests.helpers import box, evaluate, extrude, facing
from tests.random_recipes import meshes

BOX = [box((3, 3, 3), (3, 3, 3))]
PLANE = {"id": "p", "kind": "plane", "size": [4, 4], "segments": [4, 4]}


@pytest.fixture(scope="module")
def cut():
    return evaluate(*BOX)


@pytest.fixture(scope="module")
def plane():
    return evaluate(PLANE)


def points(evaluation, edges):
    mesh = evaluation.surface.mesh
    return mesh.points[mesh.topology.edges[edges]]


def test_a_loop_goes_straight_on_through_four_edges(cut):
    found = find(cut, "edges", {"loop_through": {"nearest": [0, 1, 1.5]}}).elements
    assert found.size == 12 and np.allclose(points(cut, found)[..., 1], 1)


def test_a_loop_stops_where_five_or_three_edges_meet(cut):
    found = find(cut, "edges", {"loop_through": {"nearest": [0, 3, 1.5]}}).elements
    assert found.size == 3 and np.allclose(points(cut, found)[..., 1:], [3, 1.5])


def test_a_border_loop_stays_on_the_border_and_an_inner_one_ends_there(plane):
    border = find(plane, "edges", {"loop_through": {"nearest": [-1.5, 0, 2]}}).elements
    assert border.size == 16 and plane.surface.mesh.topology.border_edges[border].all()
    assert find(plane, "edges", {"loop_through": {"nearest": [0, 0, 0.5]}}).elements.size == 4


def test_a_ring_crosses_opposite_edges_of_quads(cut, plane):
    ring = find(cut, "edges", {"ring_through": {"nearest": [1.5, 1.5, 1.5]}}).elements
    assert ring.size == 12 and np.allclose(np.sort(points(cut, ring)[..., 1], axis=1), [1, 2])
    assert find(plane, "edges", {"ring_through": {"nearest": [0.5, 0, 0]}}).elements.size == 5
    drum = evaluate({"id": "c", "kind": "cylinder", "radius": 1, "height": 2, "sides": 8})
    assert find(drum, "edges", {"ring_through": {"nearest": [1, 1, 0]}}).elements.size == 8
    rim = find(drum, "edges", {"ring_through": {"nearest": [0.9, 0, 0.4]}}).elements
    assert rim.size == 2  # stops at the n-gons


def test_bands_are_the_quads_a_ring_crosses(cut):
    assert find(cut, "faces", {"loop_through": {"nearest": [1.5, 1.5, 1.5]}}).elements.size == 12
    drum = evaluate({"id": "c", "kind": "cylinder", "radius": 1, "height": 2, "sides": 8})
    assert find(drum, "faces", {"loop_through": {"nearest": [1, 1, 0]}}).elements.size == 8


def test_paths_are_the_shortest_in_metres(plane):
    across = {"path_between": [{"nearest": [-1.5, 0, -1.5]}, {"nearest": [1.5, 0, -1.5]}]}
    assert find(plane, "faces", across).elements.size == 4
    edges = find(plane, "edges", {"path_between": [{"nearest": [-1.5, 0, 0]}, {"nearest": [1.5, 0, 0]}]}).elements
    assert edges.size == 4 and np.allclose(points(plane, edges)[..., 2], 0)
    assert find(plane, "faces", {"path_between": [{"nearest": [0.5, 0, 0.5]}, {"nearest": [0.5, 0, 0.5]}]}).elements.size == 1


def test_a_longer_way_round_when_the_short_one_is_longer_in_metres():
    far = {"id": "t", "kind": "transform", "pick": {"vertices": {"nearest": [0, 0, 0]}}, "translate": [0, 9, 0]}
    e = evaluate(PLANE, far)
    found = find(e, "edges", {"path_between": [{"nearest": [-1.5, 0, 0]}, {"nearest": [1.5, 0, 0]}]}).elements
    assert points(e, found)[..., 1].max() == 0 and found.size == 6


def test_no_way_between_shells():
    e = evaluate(PLANE, {"id": "d", "kind": "delete", "pick": {"faces": {"in_box": [[-1, None, None], [1, None, None]]}}})
    with pytest.raises(PickFoundNothing):
        find(e, "faces", {"path_between": [{"nearest": [-1.5, 0, 0.5]}, {"nearest": [1.5, 0, 0.5]}]})
    assert find(e, "faces", {"connected_to": {"nearest": [-1.5, 0, 0.5]}}).elements.size == 4
    assert find(e, "vertices", {"connected_to": {"nearest": [-2, 0, 0]}}).elements.size == 10
    assert find(e, "edges", {"connected_to": {"nearest": [-1.5, 0, 0]}}).elements.size == 13


def test_sharper_than(cut):
    assert find(cut, "edges", {"sharper_than": 30}).elements.size == 36
    with pytest.raises(PickFoundNothing):
        find(cut, "edges", {"sharper_than": 90})
    roof = evaluate(box(), extrude(facing("+y"), 1, scale=0.5))
    assert find(roof, "edges", {"sharper_than": 80}).elements.size < find(roof, "edges", {"sharper_than": 20}).elements.size


def test_grow_and_shrink(plane):
    middle = {"in_box": [[-1, None, -1], [1, None, 1]]}
    assert find(plane, "faces", {"grow": 1, "from": {"nearest": [0.5, 0, 0.5]}}).elements.size == 9
    assert find(plane, "faces", {"grow": 1, "from": middle}).elements.size == 16
    assert find(plane, "vertices", {"grow": 1, "from": {"nearest": [0, 0, 0]}}).elements.size == 5
    assert find(plane, "vertices", {"grow": 2, "from": {"nearest": [0, 0, 0]}}).elements.size == 13
    assert find(plane, "edges", {"grow": 1, "from": {"nearest": [0.5, 0, 0]}}).elements.size == 7
    assert find(plane, "vertices", {"shrink": 1, "from": {"of_faces": middle}}).elements.size == 1
    whole = {"shrink": 3, "from": "all"}
    assert find(plane, "faces", whole).elements.size == 16  # nothing is outside
    with pytest.raises(PickFoundNothing):
        find(plane, "faces", {"shrink": 1, "from": middle})


def test_an_edge_pick_as_the_faces_it_touches_and_shrunk(cut):
    loop = {"loop_through": {"nearest": [0, 1, 1.5]}}
    touched = {"of_edges": loop}
    assert find(cut, "faces", touched).elements.size == 24
    assert find(cut, "vertices", {"shrink": 1, "from": {"of_faces": touched}}).elements.size == 12 + 4  # the lower corners' neighbours are all inside


@pytest.mark.parametrize("kind, rule", [("vertices", {"loop_through": "all"}), ("faces", {"ring_through": "all"}),
                                        ("vertices", {"path_between": ["all", "all"]}), ("faces", {"sharper_than": 1})])
def test_rules_say_what_they_find(cut, kind, rule):
    with pytest.raises(BadPick, match="finds"):
        find(cut, kind, rule)


@given(meshes(), st.lists(st.integers(0, 9999), min_size=1, max_size=3))
def test_walking_and_labelling_find_the_same(mesh, numbers):
    t = mesh.topology
    seeds = np.unique(np.array(numbers) % t.edge_count)
    assert np.array_equal(runs.loops_through(t, seeds), labelled_runs.loops_at_once(t, seeds))
    assert np.array_equal(runs.rings_through(t, seeds), labelled_runs.rings_at_once(t, seeds))
    ids = mesh.names.vertex
    order = np.lexsort((ids[t.edges[seeds]].max(axis=1), ids[t.edges[seeds]].min(axis=1)))
    ends = t.edges[seeds]
    low = np.where(ids[ends[:, 0]] < ids[ends[:, 1]], ends[:, 0], ends[:, 1])
    two = labelled_runs.oriented_at_once(t, seeds, low, order)
    try:
        one = rings.find_rings(t, seeds, ids)
    except NotManifold:
        assert two is None
        return
    assert two is not None and all(map(np.array_equal, (one.edges, one.start, one.named), two))
