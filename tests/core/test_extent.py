import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import TypeAdapter

from rhytonic.core.mesh.shading import corner_groups
from rhytonic.core.pick.extent import extent
from rhytonic.core.pick.resolve import resolve
from rhytonic.core.pick.rules import Pick
from tests.helpers import evaluate, mesh_of


def measured(steps, rule):
    state = evaluate(*steps).surface
    return extent(state.mesh, resolve(state.mesh, state.history, TypeAdapter(Pick).validate_python(rule)))


BOX = {"kind": "box", "size": [0.2, 0.3, 0.4]}


def test_of_a_face():
    e = measured([BOX], {"faces": {"facing": "+y"}})
    assert np.allclose(e.low, [-0.1, 0.3, -0.2]) and np.allclose(e.high, [0.1, 0.3, 0.2]) and np.allclose(e.mean, [0, 0.3, 0])
    assert np.allclose(e.normal, [0, 1, 0])
    assert e.area == pytest.approx(0.08) and e.length == pytest.approx(1.2)  # the edges round it


def test_of_edges_and_of_all():
    e = measured([BOX], {"edges": {"in_box": [[None, 0.3, None], [None, None, None]]}})
    assert e.length == pytest.approx(1.2) and e.area == 0
    whole = measured([BOX], {"faces": "all"})
    assert np.array_equal(whole.normal, [0, 0, 0]) and whole.length == 0  # a closed mesh has no outline and no way to face
    assert whole.area == pytest.approx(2 * (0.06 + 0.08 + 0.12))


@given(st.tuples(*[st.floats(-5, 5)] * 3))
def test_moving_a_pick_moves_its_extent(by):
    steps = [BOX, {"kind": "transform", "pick": {"faces": "all"}, "translate": list(by)}]
    e = measured(steps, {"vertices": "all"})
    assert np.allclose(e.low, np.add([-0.1, 0, -0.2], by)) and np.allclose(e.mean, np.add([0, 0.15, 0], by))


def test_groups_of_corners_break_at_hard_edges():
    mesh = mesh_of({"kind": "cylinder", "radius": 0.1, "height": 0.2, "sides": 8}, {"kind": "shade", "angle": 60})
    t = mesh.topology
    group = corner_groups(mesh, np.ones(t.face_count, bool))
    # a vertex stands once for the side, whose edges are soft, and once for the cap
    assert group.max() + 1 == 2 * t.vertex_count
    assert np.unique(np.stack([group, t.corners], axis=1), axis=0).shape[0] == 2 * t.vertex_count
    flat = corner_groups(mesh, np.zeros(t.face_count, bool))
    assert flat.max() + 1 == t.corner_count
