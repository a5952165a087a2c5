"""What a history says of edges whose ends gave way."""

import numpy as np
import pytest

from rhytonic.core.lineage.history import History, Record, Succession
from rhytonic.core.mesh.mesh import Mesh
from rhytonic.core.mesh.names import Names
from rhytonic.core.mesh.topology import Topology


def gave_way(old, new):
    succession = Succession(np.array(old, np.uint64), np.array(new, np.uint64))
    return Record("s", dict, dict, lambda: {"vertex": succession})


@pytest.mark.parametrize(("old", "new", "found"), [([10], [0], [[0, 1]]), ([10, 10], [0, 2], []), ([10, 11], [0, 2], [[0, 2]]), ([10], [1], [])])
def test_an_edge_is_found_between_the_only_heirs_of_its_ends_and_never_guessed(old, new, found):
    """A triangle of vertices 0, 2 and 4 (by id); the edge sought ran from vertex 10 to 2, or to 11."""
    t = Topology.of_faces(3, [[0, 1, 2]])
    mesh = Mesh(np.eye(3), t, Names(np.array([0, 2, 4], np.uint64), np.array([1], np.uint64)))
    new = [{0: 0, 1: 2, 2: 4}[v] for v in new]
    sought = np.array([[10, 11 if 11 in old else 2]], np.uint64)
    edges, whose = History((gave_way(old, new),)).follow_edges(t, mesh.names, sought)
    assert t.edges[edges].tolist() == found and whose.tolist() == [0] * len(found)
