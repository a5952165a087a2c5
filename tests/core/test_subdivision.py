import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from rhytonic.core.construct.refining.refine import Refinement, refinement
from rhytonic.core.errors import InvalidDocument, StepError
from rhytonic.core.mesh.measure import measure
from rhytonic.core.mesh.topology import Topology
from rhytonic.core.recipe.built import build
from tests.helpers import assert_sound, box, document, evaluate, extrude, facing, made, mesh_of
from tests.random_recipes import meshes


def soft(levels=1, **more):
    return {"id": "soft", "kind": "subdivision", "levels": levels, **more}


@pytest.mark.parametrize("levels", [1, 2, 3])
def test_every_corner_becomes_a_quad_and_every_level_multiplies_by_four(levels):
    m = mesh_of(box((2, 2, 2)), soft(levels))
    assert_sound(m)
    told = measure(m)
    assert told.faces == told.quads == 24 * 4 ** (levels - 1)
    assert told.closed and told.manifold and told.euler == 2 and m.topology.is_oriented


def test_level_nought_is_the_cage():
    assert mesh_of(box(), soft(0)).topology is mesh_of(box()).topology


def test_ngons_become_as_many_quads_as_corners():
    m = mesh_of({"id": "c", "kind": "cylinder", "radius": 1, "height": 1, "sides": 7}, soft())
    assert_sound(m)
    assert m.topology.face_count == 7 * 4 + 2 * 7


def test_a_border_follows_its_curve_and_corners_round_or_stay():
    plane = {"id": "p", "kind": "plane", "size": [2, 2]}
    round_ = mesh_of(plane, soft(2))
    sharp = mesh_of(plane, soft(2, boundary="edge_and_corner"))
    assert_sound(round_)
    assert np.allclose(round_.points[:, 1], 0) and not round_.topology.is_closed
    assert np.abs(round_.points).max() < 1 and np.abs(sharp.points).max() == 1
    # each level moves a border vertex to 1/8, 6/8, 1/8 of its curve: a corner of (1, 1) goes to (3/4, 3/4)
    once = mesh_of(plane, soft())
    assert np.allclose(np.abs(once.points[:4, [0, 2]]), 0.75)


def test_cage_vertices_keep_their_ids_and_faces_are_followed():
    e = evaluate(box(), extrude(facing("+y"), 1), soft(2), extrude(made("ext", "cap"), 0.1, "more"))
    cage = e.after(2).mesh
    smooth = e.after(3).mesh
    assert (smooth.names.vertex[:cage.topology.vertex_count] == cage.names.vertex).all()
    assert e.results[3].state.picked.elements.size == 16  # the cap's own sixteen quads


def test_halves_of_a_cage_edge_take_its_place():
    e = evaluate(box(), soft(2), {"id": "m", "kind": "transform", "pick": made("body", None, "edges"), "push": 0.1})
    assert e.results[2].state.picked.elements.size == 12 * 4


def test_handover_levels_are_for_files():
    d = document(box(), soft(1, handover=3))
    assert build(d)[0].mesh.topology.face_count == 24 * 16
    assert build(d, stage="cage")[0].mesh.topology.face_count == 6
    assert evaluate(box(), soft(1, handover=3)).surface.mesh.topology.face_count == 24


def test_too_many_faces_are_refused_before_they_are_made():
    with pytest.raises(StepError, match="levels: would make 100 663 296 faces; at most 10 000 000"):
        mesh_of(box(), soft(12))
    with pytest.raises(StepError, match="handover"):
        build(document(box(), soft(1, handover=12)))
    with pytest.raises(InvalidDocument, match="levels"):
        mesh_of(box(), soft(13))


def test_the_same_points_give_the_same_bits_whatever_ran_before():
    m = mesh_of(box((2, 3, 1), (3, 2, 2)))
    chain = refinement(m.topology)
    first = chain.apply(m.points, 2)
    again = chain.apply(m.points, 2)
    chain.apply(m.points * 1.1, 3)
    assert (chain.apply(m.points, 2) == first).all() and (first == again).all()
    assert (Refinement(m.topology, "edge").apply(m.points, 2) == first).all()
    assert refinement(m.topology) is chain
    e = evaluate(box(), extrude(facing("+y"), 1), soft(2))
    f = evaluate(box(), extrude(facing("+y"), 2), soft(2))
    assert e.surface.mesh.topology is f.surface.mesh.topology


@given(meshes())
def test_direct_and_operator_agree_on_any_mesh(mesh):
    for boundary in ("edge", "edge_and_corner"):
        level = Refinement(mesh.topology, boundary).level(0)
        assert np.allclose(level.apply(mesh.points), level.operator @ mesh.points, atol=1e-12)
        assert np.allclose(level.operator.sum(axis=1), 1)


@given(meshes(), st.integers(1, 2))
def test_refined_connectivity_is_what_its_faces_say(mesh, levels):
    """The edge table handed down from level to level is the one the faces give."""
    chain = Refinement(mesh.topology, "edge")
    level = chain.level(levels)
    t = Topology(chain.result(levels).vertex_count, chain.result(levels).offsets, chain.result(levels).corners)
    assert t.faults() == []
    assert {tuple(sorted(e)) for e in level.ends.tolist()} == {tuple(e) for e in t.edges.tolist()}
    assert (np.sort(level.ends[level.corner_edge], axis=1) == t.edges[t.corner_edge]).all()
    assert (t.sides == 4).all()


def test_an_edge_of_three_faces_and_a_loose_vertex_are_lived_with():
    fan = Topology.of_faces(6, [[0, 1, 2], [1, 0, 3], [0, 1, 4]])
    points = np.array([[0, 0, 0], [0, 1, 0], [1, 0, 0], [-1, 0, 0], [0, 0, 1], [9, 9, 9]], float)
    level = Refinement(fan, "edge").level(0)
    out = level.apply(points)
    assert np.isfinite(out).all() and (out[5] == 9).all()
    assert np.allclose(out, level.operator @ points)
