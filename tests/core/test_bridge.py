"""Bridge and stitch: what belongs to what, and the bands between."""

import numpy as np
import pytest

from rhytonic.core.errors import StepError
from rhytonic.core.mesh.measure import measure
from tests.helpers import ALL, assert_sound, box, evaluate, facing, made, mesh_of

BAR = box((4, 1, 1), (5, 1, 1))
ENDS = {"faces": {"any_of": [{"nearest": [-1.6, 1, 0]}, {"nearest": [1.6, 1, 0]}]}}
PIPE = {"id": "c", "kind": "cylinder", "radius": 1, "height": 2, "sides": 8, "cap": "none"}
UP = {"id": "up", "kind": "duplicate", "pick": ALL, "translate": [0, 4, 0]}
RIMS = {"edges": {"any_of": [{"in_box": [[None, 1.9, None], [None, 2.1, None]]}, {"in_box": [[None, 3.9, None], [None, 4.1, None]]}]}}
SHEET = {"id": "p", "kind": "plane", "size": [4, 4], "segments": [4, 4]}


def bridge(pick, **more):
    return {"id": "b", "kind": "bridge", "pick": pick, **more}


def test_two_regions_of_one_shell_make_a_handle():
    m = mesh_of(BAR, bridge(ENDS, segments=4))
    assert_sound(m)
    told = measure(m)
    assert told.genus == 1 and told.closed and told.manifold and told.quads == told.faces == 22 - 2 + 16


def test_two_regions_of_two_shells():
    e = evaluate(box(), {"id": "d", "kind": "duplicate", "pick": ALL, "translate": [0, 3, 0]},
                 bridge({"faces": {"any_of": [{"nearest": [0, 1, 0]}, {"nearest": [0, 3, 0]}]}}, segments=2))
    m = measure(e.surface.mesh)
    assert m.shells == 1 and m.genus == 0 and m.volume == pytest.approx(4)


def test_border_loops_of_equal_count():
    m = mesh_of(PIPE, UP, bridge(RIMS, segments=3))
    assert_sound(m)
    assert m.topology.is_oriented and m.topology.face_count == 16 + 24
    assert m.topology.border_edges.sum() == 16
    side = m.points[:, [0, 2]]
    assert np.allclose(np.linalg.norm(side, axis=1), 1)  # no twist: every ring lies on the pipe


def test_twist_and_taper():
    straight, turned = (mesh_of(PIPE, UP, bridge(RIMS, segments=2, twist=t)) for t in (0, 1))
    middle = [p[np.isclose(p[:, 1], 3)] for p in (straight.points, turned.points)]
    assert np.allclose(np.linalg.norm(middle[0][:, [0, 2]], axis=1), 1)
    assert np.allclose(np.linalg.norm(middle[1][:, [0, 2]], axis=1), np.cos(np.pi / 8))
    waist = mesh_of(PIPE, UP, bridge(RIMS, segments=2, taper=0.5)).points
    assert np.allclose(np.linalg.norm(waist[np.isclose(waist[:, 1], 3)][:, [0, 2]], axis=1), 0.5)


def test_unequal_counts_meet_with_triangles():
    small = {"id": "up", "kind": "duplicate", "pick": ALL, "translate": [0, 4, 0]}
    fewer = {"id": "di", "kind": "dissolve", "pick": {"vertices": {"any_of": [
        {"nearest": [np.cos(a) * 1.0, 4, np.sin(a)]} for a in np.arange(0, 6.2, np.pi / 2)]}}}
    for segments in (1, 2, 3):
        e = evaluate(PIPE, small, fewer, bridge({"edges": {"any_of": [
            {"in_box": [[None, 1.9, None], [None, 2.1, None]]}, {"in_box": [[None, 3.9, None], [None, 4.1, None]]}]}}, segments=segments))
        m = e.surface.mesh
        assert_sound(m)
        assert m.topology.is_oriented and m.topology.is_manifold
        triangles = (m.topology.sides == 3).sum() - (e.results[2].state.mesh.topology.sides == 3).sum()
        assert triangles == 4  # eight against four


def test_chains():
    two = [SHEET, {"id": "d", "kind": "duplicate", "pick": ALL, "translate": [6, 1, 0]}]
    near = {"edges": {"any_of": [{"in_box": [[1.9, None, None], [2.1, None, None]]}, {"in_box": [[3.9, None, None], [4.1, None, None]]}]}}
    m = mesh_of(*two, bridge(near, segments=2))
    assert m.topology.face_count == 32 + 8 and measure(m).shells == 1 and m.topology.is_oriented
    assert evaluate(*two, bridge(near), {"id": "x", "kind": "delete", "pick": made("b", "side")}).results[3].state.picked.elements.size == 4


@pytest.mark.parametrize("steps, told", [
    ([box(), bridge(facing("+y"))], "two regions of faces with one outline each"),
    ([PIPE, bridge({"edges": "all"})], "some of the picked edges have two faces"),
    ([PIPE, bridge({"edges": {"in_box": [[None, 1.9, None], [None, None, None]]}})], "two border loops or two border chains"),
    ([box((2, 2, 2), (2, 1, 2)), bridge({"faces": {"any_of": [{"nearest": [0.5, 2, 0.5]}, {"nearest": [-0.5, 2, -0.5]}]}})], "share a vertex|branch or touch"),
    ([box((3, 1, 1), (3, 1, 1)), bridge({"faces": {"any_of": [{"nearest": [-1, 1, 0]}, {"nearest": [1, 1, 0]}]}}, segments=1)], "an edge joins the two sides already")])
def test_anything_else_says_why_not(steps, told):
    with pytest.raises(StepError, match=told):
        mesh_of(*steps)


def stitch(*rules, **more):
    return {"id": "st", "kind": "stitch", "pick": {"edges": {"any_of": list(rules)}}, **more}


LEFT, RIGHT = {"in_box": [[1.9, None, None], [2.1, None, None]]}, {"in_box": [[2.4, None, None], [2.6, None, None]]}
PAIR = [SHEET, {"id": "d", "kind": "duplicate", "pick": ALL, "translate": [4.5, 0, 0]}]


@pytest.mark.parametrize("rules, where, x", [((LEFT, RIGHT), "middle", 2.25), ((LEFT, RIGHT), "first", 2), ((LEFT, RIGHT), "last", 2.5),
                                             ((RIGHT, LEFT), "first", 2.5)])
def test_stitch_two_chains(rules, where, x):
    m = mesh_of(*PAIR, stitch(*rules, at=where))
    assert_sound(m)
    assert m.topology.vertex_count == 45 and np.isclose(m.points[:, 0], x).sum() == 5 and measure(m).shells == 1


def test_stitch_two_edges_and_a_folded_chain():
    m = mesh_of(*PAIR, stitch({"nearest": [2, 0, 0.5]}, {"nearest": [2.5, 0, 0.5]}))
    assert m.topology.vertex_count == 48 and measure(m).shells == 1
    folded = mesh_of({"id": "p", "kind": "plane", "size": [2, 2], "segments": [2, 2]},
                     {"id": "x", "kind": "delete", "pick": {"faces": {"nearest": [0.5, 0, 0.5]}}},
                     stitch({"nearest": [0, 0, 0.5]}, {"nearest": [0.5, 0, 0]}))
    assert_sound(folded)
    assert folded.topology.vertex_count == 7


def test_stitch_says_why_not():
    with pytest.raises(StepError, match="only chains of equal length"):
        mesh_of(*PAIR, stitch({"nearest": [2, 0, 0.5]}, RIGHT))
    with pytest.raises(StepError, match="joins two chains of edges, not 3"):
        mesh_of(SHEET, stitch({"nearest": [2, 0, 0.5]}, {"nearest": [-2, 0, 0.5]}, {"nearest": [0, 0, 0.5]}))
