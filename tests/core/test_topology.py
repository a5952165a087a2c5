import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components

from rhytonic.core import tolerance
from rhytonic.core.mesh.geometry import shortest_offsets, unit
from rhytonic.core.mesh.topology import Topology, components
from tests.helpers import box, mesh_of

CUBE = [[0, 3, 2, 1], [4, 5, 6, 7], [0, 1, 5, 4], [1, 2, 6, 5], [2, 3, 7, 6], [3, 0, 4, 7]]


def test_a_cube_is_closed_manifold_and_oriented():
    t = Topology.of_faces(8, CUBE)
    assert (t.vertex_count, t.edge_count, t.face_count) == (8, 12, 6)
    assert t.is_closed and t.is_manifold and t.is_oriented
    assert (t.twin[t.twin] == np.arange(24)).all()
    assert t.shells.max() == 0 and t.uniform == 4


def test_equal_faces_share_one_topology():
    assert Topology.of_faces(8, CUBE) is Topology.of_faces(8, CUBE)
    assert Topology.of_faces(8, CUBE) is not Topology.of_faces(9, CUBE)


def test_next_and_previous_undo_each_other():
    t = Topology.of_faces(6, [[0, 1, 2], [0, 2, 3, 4, 5]])
    assert (t.previous_corner[t.next_corner] == np.arange(8)).all()
    assert t.corner_face.tolist() == [0, 0, 0, 1, 1, 1, 1, 1]
    assert t.uniform == 0


def test_borders_and_edges_are_found_by_their_ends():
    t = Topology.of_faces(4, [[0, 1, 2], [0, 2, 3]])
    inner = t.find_edges(np.array([2]), np.array([0]))
    assert not t.border_edges[inner[0]] and t.border_edges.sum() == 4
    assert t.find_edges(np.array([1]), np.array([3]))[0] == -1
    assert not t.is_closed and t.is_manifold


def test_an_edge_of_three_faces_is_seen():
    t = Topology.of_faces(5, [[0, 1, 2], [1, 0, 3], [0, 1, 4]])
    assert not t.is_manifold
    assert t.edge_face_count.max() == 3
    assert (t.twin == -1).all()


def test_a_vertex_of_two_fans_is_seen():
    t = Topology.of_faces(5, [[0, 1, 2], [0, 3, 4]])
    assert t.vertex_fan_count.tolist() == [2, 1, 1, 1, 1]
    assert not t.is_manifold


def test_a_face_turned_against_its_neighbour_is_seen():
    assert Topology.of_faces(4, [[0, 1, 2], [0, 2, 3]]).is_oriented
    assert not Topology.of_faces(4, [[0, 1, 2], [2, 0, 3]]).is_oriented


def test_a_loose_vertex_has_no_fan():
    assert Topology.of_faces(4, [[0, 1, 2]]).vertex_fan_count.tolist() == [1, 1, 1, 0]


def test_fans_turn_round_each_vertex_by_shared_edges():
    t = mesh_of(box(segments=(3, 2, 4))).topology
    order, starts = t.ordered_fans
    for v in range(t.vertex_count):
        fan = order[starts[v]:starts[v + 1]]
        assert (t.corners[fan] == v).all()
        onward = t.twin[t.previous_corner[fan]]
        assert (onward == np.roll(fan, -1)).all()


def test_an_open_fan_begins_at_its_border():
    t = Topology.of_faces(5, [[0, 1, 2], [0, 2, 3], [0, 3, 4]])
    order, starts = t.ordered_fans
    fan = order[starts[0]:starts[1]]
    assert t.corner_face[fan].tolist() == [0, 1, 2]


@pytest.mark.parametrize("faces, word", [([[0, 1]], "three corners"), ([[0, 1, 9]], "not there"), ([[0, 1, 0]], "twice")])
def test_faults_tell_what_is_wrong(faces, word):
    assert any(word in f for f in Topology.of_faces(3, faces).faults())


@given(st.integers(1, 60), st.data())
def test_components_are_numbered_by_their_first_nodes(nodes, data):
    links = data.draw(st.lists(st.tuples(st.integers(0, nodes - 1), st.integers(0, nodes - 1)), max_size=80))
    a, b = (np.array([pair[k] for pair in links], np.int64) for k in (0, 1))
    graph = coo_array((np.ones(a.size), (a, b)), shape=(nodes, nodes))
    assert (components(nodes, a, b) == connected_components(graph, directed=False)[1]).all()


def test_long_chains_are_one_component():
    n = 4000
    order = np.random.default_rng(1).permutation(n)
    assert (components(n, order[:-1], order[1:]) == 0).all()


def test_keys_too_wide_for_one_word_are_sorted_all_the_same():
    t = Topology.of_faces(2**31 - 10, [[2**31 - 11, 3, 7], [7, 3, 9]])
    assert t.edge_count == 5 and t.edge_face_count.max() == 2


@given(st.integers(0, 2**32 - 1), st.integers(1, 4), st.booleans())
def test_shortest_offsets_are_the_pseudoinverse(seed, conditions, repeated):
    """The quick ways for one and two conditions give what the general one gives."""
    rng = np.random.default_rng(seed)
    normals = unit(rng.normal(size=(conditions, 3)))
    if repeated:
        normals = np.concatenate([normals, normals[:1]])
    found = shortest_offsets(np.zeros(len(normals), np.int64), normals, 1, 0.7)[0]
    expected = np.linalg.pinv(normals[:conditions], rcond=tolerance.RANK) @ np.full(conditions, 0.7)
    assert np.allclose(found, expected, atol=1e-9 * max(1, np.abs(expected).max()))
