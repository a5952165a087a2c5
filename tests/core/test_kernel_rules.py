"""Rules of single edits that hold whatever the shape: names through inserted steps, rings, corners, crowded vertices."""

import numpy as np
import pytest

from rhytonic.core.mesh.measure import measure
from rhytonic.core.mesh.names import hex_of
from tests.helpers import assert_sound, box, evaluate, extrude, facing, made, mesh_of


def top_corner(mesh, *place):
    return int(np.flatnonzero(np.all(np.isclose(mesh.points, place), axis=1))[0])


def test_a_vertex_that_a_bevel_moved_on_is_still_the_parent_of_what_was_made_from_it():
    """A pick was told before the bevel was inserted above: what grew out of the corner is found where it went on."""
    before = mesh_of(box(), extrude(facing("+y"), 1))
    corner = top_corner(before, 0.5, 2, 0.5)
    lift = {"id": "lift", "kind": "transform", "translate": [0, 1, 0], "pick": {"vertices": {"ids": hex_of(before.names.vertex[[corner]])}}}
    edge = {"edges": {"nearest": [0.5, 1, 0]}}  # one of the two top edges at that corner
    after = evaluate(box(), {"id": "soft", "kind": "bevel", "width": 0.1, "pick": edge}, extrude(facing("+y"), 1), lift)
    assert [r.missing for r in after.results] == [0, 0, 0, 0]
    lifted = np.flatnonzero(np.isclose(after.surface.mesh.points[:, 1], 3))
    np.testing.assert_allclose(after.surface.mesh.points[lifted], [[0.4, 3, 0.5]], atol=1e-12)


@pytest.mark.parametrize("segments", [2, 3, 5])
def test_rings_of_an_extrusion_stand_at_even_shares(segments):
    mesh = mesh_of(box(), extrude(facing("+y"), 3, segments=segments))
    heights = np.unique(mesh.points[:, 1].round(9))
    np.testing.assert_allclose(heights, [0, *(1 + 3 * k / segments for k in range(segments + 1))])


def test_a_ring_keeps_its_name_when_the_segments_change():
    """1/2 of the way is 2/4 of the way."""
    two, four = (mesh_of(box(), extrude(facing("+y"), 3, segments=n)) for n in (2, 4))
    ring = {m: set(m.names.vertex[np.isclose(m.points[:, 1], 2.5)].tolist()) for m in (two, four)}
    assert len(ring[two]) == 4 and ring[two] == ring[four]
    other = set(four.names.vertex[np.isclose(four.points[:, 1], 1.75)].tolist())
    assert not other & set(two.names.vertex.tolist())


def test_a_flipped_face_keeps_its_first_corner_and_runs_the_other_way():
    plain, flipped = mesh_of(box()), mesh_of(box(), {"id": "f", "kind": "flip", "pick": facing("+y")})
    t, u = plain.topology, flipped.topology
    for face in range(t.face_count):
        was, now = t.corners[t.offsets[face]:t.offsets[face + 1]].tolist(), u.corners[u.offsets[face]:u.offsets[face + 1]].tolist()
        assert now == ([was[0], *was[:0:-1]] if plain.normals[face, 1] > 0.5 else was)


def spoke(turn, height=1.0):
    """Middle of a spoke of the lid of an eight-sided drum of radius 1."""
    return {"nearest": [0.5 * np.cos(turn * np.pi / 4), height, -0.5 * np.sin(turn * np.pi / 4)]}


@pytest.mark.parametrize("turns", [(0, 4), (0, 3), (0, 3, 6), (1, 5, 7)])
def test_a_vertex_with_edges_left_on_several_sides_is_visited_once(turns):
    """Of eight spokes some are bevelled; those between must not bring two corners to the one middle point."""
    drum = {"id": "drum", "kind": "cylinder", "radius": 1, "height": 1, "sides": 8, "cap": "fan"}
    pick = {"edges": {"any_of": [spoke(t) for t in turns]}}
    mesh = mesh_of(drum, {"id": "b", "kind": "bevel", "width": 0.05, "pick": pick})
    assert_sound(mesh)
    told = measure(mesh)
    assert told.closed and told.manifold and told.genus == 0
    assert (mesh.topology.vertex_fan_count == 1).all()
    strips = evaluate(drum, {"id": "b", "kind": "bevel", "width": 0.05, "pick": pick},
                      {"id": "p", "kind": "transform", "translate": [0, 0, 0], "pick": made("b", "strip")})
    assert strips.results[2].state.picked.elements.size == len(turns)


def test_a_crowded_vertex_on_a_border_opens_too():
    """A fan of six quads round the middle of a plane's edge: two picked spokes, plain ones on both sides."""
    plane = {"id": "p", "kind": "plane", "size": [4, 4], "segments": [4, 4]}
    cut = {"id": "c", "kind": "connect", "count": 1, "pick": {"vertices": {"any_of": [{"nearest": [0, 0, 0]}, {"nearest": [1, 0, 1]}]}}}
    mesh = mesh_of(plane, cut, {"id": "b", "kind": "bevel", "width": 0.1, "pick": {"edges": {"any_of": [
        {"nearest": [0.5, 0, 0]}, {"nearest": [-0.5, 0, 0]}]}}})
    assert_sound(mesh)
    assert (mesh.topology.vertex_fan_count <= 1).all()
    assert measure(mesh).manifold
