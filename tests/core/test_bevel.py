"""Bevels and ridges: counts, places and closedness on every kind of corner."""

import numpy as np
import pytest

from rhytonic.core.errors import StepError
from rhytonic.core.mesh.measure import measure
from tests.helpers import assert_sound, box, evaluate, facing, made, mesh_of

CUBE = box((2, 2, 2))
GRID = box((2, 2, 2), (3, 3, 3))
SHEET = {"id": "p", "kind": "plane", "size": [4, 4], "segments": [4, 4]}
CONE = {"id": "c", "kind": "cylinder", "radius": 1, "height": 2, "sides": 5, "radius_top": 0}
DRUM = {"id": "c", "kind": "cylinder", "radius": 1, "height": 4, "sides": 16, "height_segments": 4}
RIM = {"nearest": [1, 2, 0]}
CHAIN = {"any_of": [{"nearest": [1, 2, 0]}, {"nearest": [0, 2, 1]}]}
FORK = {"any_of": [{"nearest": [1, 2, 0]}, {"nearest": [0, 2, 1]}, {"nearest": [1, 1, 1]}]}


def bevel(rule, width=0.1, segments=1, kind="edges", **more):
    return {"id": "b", "kind": "bevel", "pick": {kind: rule}, "width": width, "segments": segments, **more}


def ridge(rule, height, width):
    return {"id": "r", "kind": "ridge", "pick": {"edges": rule}, "height": height, "width": width}


def closed(*steps):
    m = mesh_of(*steps)
    assert_sound(m)
    t = m.topology
    assert t.is_closed and t.is_manifold and t.is_oriented
    return measure(m)


def test_one_edge_of_a_box_that_ends_in_flat_faces():
    m = mesh_of(CUBE, bevel(RIM, 0.3))
    assert (m.topology.vertex_count, m.topology.face_count) == (10, 7)
    assert sorted(m.topology.sides.tolist()) == [4, 4, 4, 4, 4, 5, 5]
    assert np.isclose(m.points, [1, 1.7, 1]).all(axis=1).any() and np.isclose(m.points, [0.7, 2, -1]).all(axis=1).any()
    six = mesh_of(CUBE, bevel(RIM, 0.3, 6))
    assert (six.topology.sides == 4).sum() == 4 + 6  # the two faces at its ends take the profile


@pytest.mark.parametrize("segments", [1, 2, 3, 4, 7, 16])
@pytest.mark.parametrize("steps", [
    [CUBE, RIM], [CUBE, CHAIN], [CUBE, FORK], [CUBE, "all"], [CUBE, {"of_faces": {"facing": "+y"}}], [GRID, "all"],
    [GRID, {"nearest": [0, 2, 1 / 3]}], [GRID, {"path_between": [{"nearest": [0, 2, 1 / 3]}, {"nearest": [1 / 3, 2, 0]}]}],
    [CONE, "all"], [DRUM, {"sharper_than": 45}], [DRUM, {"loop_through": {"nearest": [1, 2, 0]}}],
    [{"id": "s", "kind": "sphere", "radius": 1, "sides": 4, "rings": 4}, "all"]])
def test_closed_and_manifold_on_every_kind_of_corner(steps, segments):
    form, rule = steps
    if segments > 4 and form is GRID and rule == "all":
        segments = 5
    m = closed(form, bevel(rule, 0.03, segments))
    assert m.genus == 0 and m.volume > 0


@pytest.mark.parametrize("segments, tris", [(1, 8), (2, 0), (3, 8), (4, 0), (8, 0)])
def test_corners_are_filled_with_four_sided_faces(segments, tris):
    """Three sides of an odd count have an odd outline: one three-sided face stands in the middle of their quads."""
    m = closed(CUBE, bevel("all", 0.3, segments))
    assert m.ngons == 0 and m.tris == tris


def test_concave_edges_too():
    hollow = [CUBE, {"id": "in", "kind": "inset", "pick": facing("+y"), "width": 0.5},
              {"id": "sink", "kind": "extrude", "pick": made("in", "inner"), "depth": -1}]
    before = closed(*hollow).volume
    for segments in (1, 2, 3):
        m = closed(*hollow, bevel({"sharper_than": 30}, 0.1, segments))
        assert m.volume != before
    only = {"all_of": [{"sharper_than": 30}, {"in_box": [[-0.6, 0.9, -0.6], [0.6, 1.1, 0.6]]}]}
    assert closed(*hollow, bevel(only, 0.1)).volume > before  # a fillet at the floor fills


def test_beside_an_unpicked_edge_the_vertex_slides_along_it():
    """Two edges of the top meet at a corner whose third edge is not picked: the point on it lies the width below."""
    m = mesh_of(CUBE, bevel(CHAIN, 0.25))
    assert np.isclose(m.points, [1, 1.75, 1]).all(axis=1).any()  # on the edge down
    assert np.isclose(m.points, [0.75, 2, 0.75]).all(axis=1).any()  # the inset point between the two


def test_the_larger_demand_wins():
    """An edge that leans: one of the picked edges asks for a longer slide than the other."""
    lean = {"id": "t", "kind": "transform", "pick": {"vertices": {"in_box": [[None, 1.9, None], [None, None, None]]}},
            "translate": [1, 0, 0]}
    m = mesh_of(CUBE, lean, bevel({"any_of": [{"nearest": [2, 2, 0]}, {"nearest": [1, 2, 1]}]}, 0.1))
    slant = np.linalg.norm(m.points - [2, 2, 1], axis=1)
    down = slant[(np.abs((m.points - [1, 0, 1]) @ [2, -1, 0]) < 1e-9) & (np.abs(m.points[:, 2] - 1) < 1e-9) & (m.points[:, 1] > 1)]
    assert np.isclose(down, 0.1 / np.sin(np.arctan2(2, 1))).any()


def test_next_to_a_border_and_at_its_end():
    for segments in (1, 2, 3):
        m = mesh_of(SHEET, bevel({"not": {"border": True}}, 0.1, segments))
        assert_sound(m)
        assert m.topology.is_manifold and measure(m).area == pytest.approx(16)
        m = mesh_of(SHEET, bevel({"nearest": [0, 0, -1.5]}, 0.1, segments))
        assert m.topology.is_manifold and measure(m).area == pytest.approx(16)
    e = evaluate(SHEET, bevel("all", 0.1))
    assert e.results[1].notes == ("16 edges on a border left as they are",)
    with pytest.raises(StepError, match="on a border"):
        mesh_of(SHEET, bevel({"border": True}, 0.1))


def test_vertices():
    m = closed(CUBE, bevel("all", 0.3, kind="vertices"))
    assert (m.vertices, m.faces, m.tris) == (24, 14, 8) and m.volume == pytest.approx(8 - 8 * 0.3**3 / 6)
    for segments in (2, 3, 4):
        round_ = closed(CUBE, bevel("all", 0.3, segments, kind="vertices"))
        assert m.volume < round_.volume < 8
    apex = closed(CONE, bevel({"nearest": [0, 2, 0]}, 0.3, kind="vertices"))
    assert apex.ngons == 2 and apex.vertices == 10


def test_width_stops_where_an_edge_is_used_up_and_says_where():
    e = evaluate(CUBE, bevel("all", 3, 2))
    assert e.results[1].notes[0].startswith("width limited to 1 m, where the edge at (")
    assert np.abs(e.surface.mesh.points - [0, 1, 0]).max() <= 1 + 1e-9
    wild = mesh_of(CUBE, bevel("all", 3, 2, limit=False))
    assert np.abs(wild.points - [0, 1, 0]).max() > 1.5


def test_roundness_goes_from_the_chord_to_the_arc():
    volumes = [closed(CUBE, bevel("all", 0.4, 4, roundness=r)).volume for r in (0, 0.25, 0.5, 1)]
    assert volumes == sorted(volumes)
    chord = closed(CUBE, bevel(RIM, 0.4, 4, roundness=0)).volume
    assert chord == pytest.approx(8 - 0.4**2 / 2 * 2)


def test_roles():
    base = [CUBE, bevel("all", 0.3, 4)]
    assert measure(mesh_of(*base, {"id": "d", "kind": "delete", "pick": made("b", "corner")})).faces == 6 + 12 * 4
    assert measure(mesh_of(*base, {"id": "d", "kind": "delete", "pick": made("b", "strip")})).faces == 6 + 8 * 12
    rails = evaluate(*base, {"id": "c", "kind": "crease", "pick": made("b", "rail", "edges"), "sharpness": 1})
    assert rails.results[2].state.picked.elements.size == 12 * 3
    none = mesh_of(CUBE, bevel("all", 0.3, 1))
    assert none.topology.face_count == 26


def test_ribs_round_a_body_and_grooves():
    rings = {"any_of": [{"loop_through": {"nearest": [1, 1, 0]}}, {"loop_through": {"nearest": [1, 3, 0]}}]}
    plain, ribs, grooves = (closed(DRUM, *s) for s in ([], [ridge(rings, 0.2, 0.3)], [ridge(rings, -0.2, 0.3)]))
    assert (ribs.faces, ribs.quads) == (plain.faces + 2 * 16 * 3, plain.quads + 2 * 16 * 3)
    apothem = np.cos(np.pi / 16)
    ring = 16 / 2 * np.sin(2 * np.pi / 16) * 0.3  # a prism's volume for radius 1
    assert ribs.volume - plain.volume == pytest.approx(2 * ring * ((1 + 0.2 / apothem) ** 2 - 1))
    assert plain.volume - grooves.volume == pytest.approx(2 * ring * (1 - (1 - 0.2 / apothem) ** 2))
    assert evaluate(DRUM, ridge(rings, 0.2, 0.3), {"id": "d", "kind": "delete", "pick": made("r", "crest")}).results[2] \
        .state.picked.elements.size == 32


def test_ridges_on_open_chains_branches_and_borders():
    for rule in ({"nearest": [0, 2, 1 / 3]}, {"path_between": [{"nearest": [0, 2, 1 / 3]}, {"nearest": [1 / 3, 2, 0]}]}, "all"):
        assert closed(GRID, ridge(rule, 0.1, 0.1)).genus == 0
    flat = mesh_of(SHEET, ridge({"nearest": [0, 0, -1.5]}, 0.1, 0.1))
    assert_sound(flat)
    assert flat.points[:, 1].max() == pytest.approx(0.1) and flat.topology.is_manifold
    with pytest.raises(StepError, match=r"widest that works is 0\.66"):
        mesh_of(GRID, ridge("all", 0.1, 0.7))


def test_numbers_leave_names_alone():
    one, two = (mesh_of(CUBE, bevel("all", w, 3, roundness=r)) for w, r in ((0.1, 1), (0.3, 0.2)))
    assert one.topology is two.topology and (one.names.face == two.names.face).all()
    assert (one.names.vertex == two.names.vertex).all()


@pytest.mark.parametrize(("sides", "segments"), [(3, 4), (4, 2), (4, 5), (7, 3)])
def test_the_profile_is_the_arc_tangent_to_both_sides(sides, segments):
    """An edge of a prism with angle φ between its sides, its faces left `width` behind: an arc of radius width · tan(φ/2)."""
    prism = {"id": "c", "kind": "cylinder", "radius": 1, "height": 2, "sides": sides}
    before, m = mesh_of(prism), mesh_of(prism, bevel({"nearest": [1, 1, 0]}, 0.1, segments))
    corner = before.points[np.argmax(before.points[:, 0])]
    new = m.points[(np.abs(m.points - corner).max(axis=1) < 0.5) & (m.points[:, 1] < 1)]
    angle = np.pi - 2 * np.pi / sides
    radius = 0.1 * np.tan(angle / 2)
    centre = corner - [0.1 / np.cos(angle / 2), 0, 0]
    assert len(new) == segments + 1
    assert np.hypot(*(new - centre)[:, [0, 2]].T) == pytest.approx(radius)
