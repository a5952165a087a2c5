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


def test_a_vertex_in_the_middle_of_a_border_is_visited_once():
    """Half a lid: its middle lies on the border, with plain edges on both sides of the one that is bevelled."""
    drum = {"id": "drum", "kind": "cylinder", "radius": 1, "height": 1, "sides": 8, "cap": "fan"}
    half = {"id": "half", "kind": "delete", "pick": {"faces": {"not": {"all_of": [{"facing": "+y"}, {"of_vertices": {
        "in_box": [[None, 0.5, -1.1], [None, None, 0.01]]}, "touching": "all"}]}}}}
    before = mesh_of(drum, half)
    assert before.topology.face_count == 4
    mesh = mesh_of(drum, half, {"id": "b", "kind": "bevel", "width": 0.05, "pick": {"edges": spoke(2)}})
    assert_sound(mesh)
    assert (mesh.topology.vertex_fan_count <= 1).all() and measure(mesh).manifold
    assert not (np.linalg.norm(mesh.points - [0, 1, 0], axis=1) < 1e-9).any()


def test_a_pick_is_found_after_two_steps_were_inserted_above_at_once():
    before = mesh_of(box(), extrude(facing("+y"), 1))
    corner = top_corner(before, 0.5, 2, 0.5)
    lift = {"id": "lift", "kind": "transform", "translate": [0, 1, 0], "pick": {"vertices": {"ids": hex_of(before.names.vertex[[corner]])}}}
    after = evaluate(box(), extrude(facing("+y"), 0.2, "one"), extrude(made("one", "cap"), 0.2, "two"),
                     extrude(facing("+y"), 1), lift)
    assert after.results[-1].missing == 0
    assert np.isclose(after.surface.mesh.points[:, 1], 3.4).sum() == 1


def test_a_push_goes_by_the_angles_of_the_faces_however_they_are_divided():
    """A cut across one face of a cube must not turn the normal of its corners (Thürmer, Wüthrich 1998)."""
    cut = {"id": "c", "kind": "connect", "pick": {"vertices": {"any_of": [{"nearest": [0.5, 1, 0.5]}, {"nearest": [-0.5, 1, -0.5]}]}}}
    push = {"id": "p", "kind": "transform", "push": 0.3, "pick": {"vertices": {"nearest": [0.5, 1, 0.5]}}}
    mesh = mesh_of(box(), cut, push)
    far = mesh.points[np.argmax(mesh.points @ [1, 1, 1])]
    np.testing.assert_allclose(far, np.array([0.5, 1, 0.5]) + 0.3 / np.sqrt(3), atol=1e-12)


def test_rounding_out_keeps_the_height_over_the_plane():
    ring = {"vertices": {"in_box": [[None, 0.9, None], [None, None, None]]}}
    drum = {"id": "drum", "kind": "cylinder", "radius": 1, "height": 1, "sides": 8}
    wave = [{"id": f"w{k}", "kind": "transform", "translate": [0.1 * (k % 3), 0.05 * (-1) ** k, 0],
             "pick": {"vertices": {"nearest": [np.cos(k * np.pi / 4), 1, -np.sin(k * np.pi / 4)]}}} for k in range(8)]
    before = mesh_of(drum, *wave)
    after = mesh_of(drum, *wave, {"id": "r", "kind": "round_out", "radius": 1.5, "pick": ring})
    top = np.flatnonzero(before.points[:, 1] > 0.9)
    here = before.points[top]
    normal = np.linalg.svd(here - here.mean(axis=0))[2][-1]
    np.testing.assert_allclose((after.points[top] - here.mean(axis=0)) @ normal, (here - here.mean(axis=0)) @ normal, atol=1e-9)
    flat = (after.points[top] - here.mean(axis=0)) - np.outer((here - here.mean(axis=0)) @ normal, normal)
    np.testing.assert_allclose(np.linalg.norm(flat, axis=1), 1.5, atol=1e-9)


def test_only_points_nearer_than_half_the_weld_snap_onto_the_mirror():
    def seam(x):
        half = {"id": "h", "kind": "plane", "size": [1, 1]}
        move = {"id": "t", "kind": "transform", "translate": [0.5 + x, 0, 0], "pick": {"faces": "all"}}
        return mesh_of(half, move, {"id": "m", "kind": "mirror", "axis": "x", "weld": 0.01}).topology.vertex_count
    assert (seam(0.004), seam(0.006)) == (6, 8)


def test_a_plane_along_an_edge_of_a_concave_face_divides_it_once_for_each_prong():
    """A face like a U, sliced along the floor of its notch: two prongs and a foot."""
    sheet = {"id": "s", "kind": "plane", "size": [3, 2], "segments": [3, 2]}
    notch = {"id": "n", "kind": "delete", "pick": {"faces": {"nearest": [0, 0, 0.5]}}}
    whole = {"id": "w", "kind": "dissolve", "keep_points": True, "pick": {"faces": "all"}}
    assert mesh_of(sheet, notch, whole).topology.face_count == 1
    mesh = mesh_of(sheet, notch, whole, {"id": "k", "kind": "slice", "point": [0, 0, 0], "normal": [0, 0, 1]})
    assert_sound(mesh)
    areas = sorted(np.linalg.norm(mesh.area_vectors, axis=1).round(9).tolist())
    assert areas == [1, 1, 3]


def test_a_plane_along_a_stair_is_outside_until_the_next_prong():
    """The outline steps along the plane from below to above: beyond that edge the plane's line has left the face."""
    sheet = {"id": "s", "kind": "plane", "size": [4, 3], "segments": [4, 3]}
    away = {"any_of": [{"nearest": [-0.5, 0, 1]}, {"nearest": [0.5, 0, 1]}, {"nearest": [0.5, 0, 0]}]}
    whole = {"id": "w", "kind": "dissolve", "keep_points": True, "pick": {"faces": "all"}}
    mesh = mesh_of(sheet, {"id": "n", "kind": "delete", "pick": {"faces": away}}, whole,
                   {"id": "k", "kind": "slice", "point": [0, 0, 0.5], "normal": [0, 0, 1]})
    assert_sound(mesh)
    assert sorted(np.linalg.norm(mesh.area_vectors, axis=1).round(9).tolist()) == [1, 1, 7]
