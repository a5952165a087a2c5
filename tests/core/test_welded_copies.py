"""Copies and parts that are welded where they touch become one body: nothing of what was between them stays."""

import pytest

from rhytonic.core.mesh.measure import measure
from rhytonic.core.recipe.built import build
from tests.helpers import assert_sound, box, evaluate, mesh_of, together

BLOCK = box((0.02, 0.02, 0.02))


def test_three_boxes_in_a_row_are_one_bar_of_fourteen_faces():
    evaluation = evaluate(BLOCK, {"id": "a", "kind": "array", "count": 3, "step": [0.02, 0, 0], "weld": 1e-5})
    mesh = evaluation.surface.mesh
    assert_sound(mesh)
    told = measure(mesh)
    assert (told.faces, told.vertices, told.closed, told.manifold, told.shells) == (14, 16, True, True, 1)
    assert told.volume == pytest.approx(3 * 8e-6)
    assert evaluation.results[-1].notes == ("4 faces that covered each other face to face are gone",)


@pytest.mark.parametrize("segments", [(1, 1, 1), (2, 3, 2), (1, 4, 3)])
@pytest.mark.parametrize("count", [2, 4])
def test_vertices_inside_go_too(segments, count):
    form = {**BLOCK, "segments": list(segments)}
    mesh = mesh_of(form, {"id": "a", "kind": "array", "count": count, "step": [0.02, 0, 0], "weld": 1e-5})
    assert_sound(mesh)
    told = measure(mesh)
    whole = measure(mesh_of(box((0.02 * count, 0.02, 0.02), (segments[0] * count, *segments[1:]))))
    assert (told.faces, told.vertices, told.euler) == (whole.faces, whole.vertices, 2) and told.volume == pytest.approx(whole.volume)


def test_a_ring_of_blocks_closes_on_itself():
    """Eight wedges round an axis, each against the next."""
    wedge = {"id": "w", "kind": "cylinder", "radius": 1, "height": 1, "sides": 8, "cap": "fan"}
    cut = {"id": "d", "kind": "slice", "point": [0, 0, 0], "normal": [0, 0, -1], "keep": "above", "cap": True}
    half = mesh_of(wedge, cut)
    mesh = mesh_of(wedge, cut, {"id": "a", "kind": "array", "count": 2, "around": {"axis": "y"}, "weld": 1e-5})
    assert measure(mesh).volume == pytest.approx(2 * measure(half).volume) and measure(mesh).closed
    assert (mesh.topology.edge_face_count == 2).all()


def test_joined_and_mirrored_parts_too():
    d = together({"name": "A", "steps": [{"id": "b", "kind": "box", "size": [2, 2, 2]}, {"id": "j", "kind": "join", "parts": ["B", "C"]}]},
                 {"name": "B", "steps": [{"id": "b", "kind": "box", "size": [2, 2, 2]}], "placement": {"translate": [2, 0, 0]}},
                 {"name": "C", "steps": [{"id": "b", "kind": "box", "size": [2, 2, 2]}], "placement": {"translate": [0, 2, 0]}})
    part = build(d, only="A")[0]
    told = measure(part.evaluation.surface.mesh)
    assert (told.faces, told.closed, told.manifold) == (14, True, True) and told.volume == pytest.approx(24e-6)
    half = {"id": "t", "kind": "transform", "pick": {"vertices": "all"}, "translate": [0.01, 0, 0]}
    mirrored = measure(mesh_of(BLOCK, half, {"id": "m", "kind": "mirror", "axis": "x"}))
    assert (mirrored.faces, mirrored.closed) == (10, True) and mirrored.volume == pytest.approx(16e-6)


def test_what_does_not_cover_stays():
    """Boxes of other sizes share an edge or a part of a face: that is for a boolean."""
    mesh = mesh_of(BLOCK, {"id": "a", "kind": "array", "count": 2, "step": [0.02, 0.01, 0], "weld": 1e-5})
    assert measure(mesh).faces == 12
    assert evaluate(BLOCK, {"id": "a", "kind": "array", "count": 2, "step": [0.03, 0, 0], "weld": 1e-5}).results[-1].notes == ()


def test_copies_are_still_called_copies():
    picked = evaluate(BLOCK, {"id": "a", "kind": "array", "count": 3, "step": [0.02, 0, 0], "weld": 1e-5},
                      {"id": "t", "kind": "transform", "pick": {"faces": {"made_by": "a", "role": "copy"}}, "translate": [0, 0, 0]}).results[-1].state.picked
    assert picked.elements.size == 9  # of ten, less the one between the copies
