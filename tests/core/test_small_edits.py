"""Flip, flatten, duplicate."""

import numpy as np
import pytest

from rhytonic.core.errors import InvalidDocument
from rhytonic.core.mesh.measure import measure
from tests.core.test_attributes import after
from tests.core.test_extrude import mesh_pick
from tests.helpers import ALL, assert_sound, box, evaluate, extrude, facing, made, mesh_of


def edit(kind, pick, **more):
    return {"id": "e", "kind": kind, "pick": pick, **more}


def test_flipping_all_turns_a_part_inside_out_and_twice_brings_it_back():
    once = mesh_of(box((1, 2, 3)), edit("flip", ALL))
    assert_sound(once)
    assert measure(once).volume == pytest.approx(-6) and once.topology.is_oriented
    twice = mesh_of(box((1, 2, 3)), edit("flip", ALL), {"id": "f", "kind": "flip", "pick": ALL})
    assert twice.topology is mesh_of(box((1, 2, 3))).topology


def test_one_flipped_face_is_at_odds_with_its_neighbours():
    m = mesh_of(box(), edit("flip", facing("+y")))
    assert not m.topology.is_oriented and m.topology.is_closed
    assert (m.names.face == mesh_of(box()).names.face).all()


def test_corner_values_turn_with_their_face():
    before, mesh = after({"id": "f", "kind": "flip", "pick": ALL}, (1, 1, 1))
    assert np.allclose(mesh.attributes["uv"].values, mesh.points[mesh.topology.corners][:, [0, 2]])
    assert before.topology is not mesh.topology


def test_flatten_to_an_axis():
    tilt = {"id": "t", "kind": "transform", "pick": facing("+y"), "rotate": [0, 0, 20]}
    top = {"vertices": {"in_box": [[None, 0.5, None], [None, None, None]]}}
    m = mesh_of(box(), tilt, edit("flatten", top, to="y"))
    assert np.allclose(m.points[m.points[:, 1] > 0.5, 1], 1)
    m = mesh_of(box(), tilt, edit("flatten", top, to="y", at=3))
    assert np.allclose(np.sort(m.points[:, 1])[4:], 3)
    m = mesh_of(box(), tilt, edit("flatten", top, to="y", at=3, by="shift"))
    assert np.isclose(np.sort(m.points[:, 1])[4], 3) and np.ptp(np.sort(m.points[:, 1])[4:]) > 0.1


def test_flatten_to_the_best_plane_keeps_the_mean_and_moves_least():
    push = {"id": "t", "kind": "transform", "pick": {"vertices": {"nearest": [1, 0, 1]}}, "translate": [0, 1, 0]}
    plane = {"id": "p", "kind": "plane", "size": [2, 2]}
    m, before = mesh_of(plane, push, edit("flatten", ALL)), mesh_of(plane, push)
    flat = m.points - m.points.mean(axis=0)
    assert np.linalg.svd(flat)[1][-1] < 1e-12 and np.allclose(m.points.mean(axis=0), before.points.mean(axis=0))
    with pytest.raises(InvalidDocument, match="need an axis"):
        mesh_of(plane, edit("flatten", ALL, by="shift"))


def test_one_and_two_vertices_are_flat_already():
    for pick in ({"vertices": {"nearest": [0.5, 1, 0.5]}}, {"edges": {"nearest": [0.5, 1, 0]}}):
        assert np.allclose(mesh_of(box(), edit("flatten", pick)).points, mesh_of(box()).points)


def test_copies_hang_together_and_share_nothing():
    e = evaluate(box((2, 2, 2), (2, 1, 2)), edit("duplicate", facing("+y"), translate=[0, 3, 0], rotate=[0, 90, 0]))
    m = e.surface.mesh
    assert_sound(m)
    told = measure(m)
    assert told.shells == 2 and told.faces == 16 + 4 and told.vertices == mesh_of(box((2, 2, 2), (2, 1, 2))).topology.vertex_count + 9
    assert told.maximum[1] == 5
    assert mesh_pick(e, made("e")) == 4 and mesh_pick(e, made("body")) == 16


def test_a_copy_can_be_worked_on_by_what_made_it():
    m = mesh_of(box(), edit("duplicate", facing("+y"), translate=[0, 1, 0]), extrude(made("e"), 1, "up"))
    assert_sound(m)
    assert m.topology.face_count == 6 + 5 and m.points[:, 1].max() == 3
