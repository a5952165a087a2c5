"""Connect, cut and slice."""

import numpy as np
import pytest

from rhytonic.core.errors import InvalidDocument, StepError
from rhytonic.core.mesh.measure import measure
from tests.helpers import ALL, assert_sound, box, evaluate, extrude, facing, made, mesh_of

CUBE = box((2, 2, 2))
PLATE = {"id": "c", "kind": "cylinder", "radius": 1, "height": 2, "sides": 6}


def connect(kind, rule, **more):
    return {"id": "k", "kind": "connect", "pick": {kind: rule}, **more}


def cut(*path):
    return {"id": "k", "kind": "cut", "path": list(path)}


def slice_(point, normal, **more):
    return {"id": "s", "kind": "slice", "point": list(point), "normal": list(normal), **more}


def at(x, y, z):
    return {"nearest": [x, y, z]}


def test_a_six_sided_face_becomes_quads():
    m = mesh_of(PLATE, connect("vertices", {"any_of": [at(1, 2, 0), at(-1, 2, 0)]}))
    assert_sound(m)
    assert sorted(m.topology.sides.tolist()) == [4] * 8 + [6]


def test_connect_runs_across_the_faces_that_picked_edges_share():
    ring = {"ring_through": at(0, 2, 1)}
    for count in (1, 2, 3):
        m = mesh_of(CUBE, connect("edges", ring, count=count))
        assert_sound(m)
        assert m.topology.face_count == 6 + 4 * count and measure(m).volume == pytest.approx(8) and m.topology.is_closed
    spread = mesh_of(CUBE, connect("edges", ring, count=2, spread=0.5, shift=0.5))
    assert sorted(set(spread.points[:, 0].round(6))) == pytest.approx([-1, 0.25, 0.583333, 1])
    with pytest.raises(StepError, match="must lie within their edges"):
        mesh_of(CUBE, connect("edges", ring, count=2, spread=0.5, shift=1))


def test_connect_uses_the_lower_end_of_every_edge():
    m = mesh_of(CUBE, connect("edges", {"any_of": [at(1, 1, 1), at(1, 1, -1)]}, shift=-0.5))
    assert np.isclose(m.points[8:, 1], 0.5).all()


def test_connect_says_why_not():
    with pytest.raises(StepError, match="no two of them lie on one face"):
        mesh_of(CUBE, connect("vertices", {"any_of": [at(1, 2, 1), at(-1, 0, -1)]}))
    with pytest.raises(StepError, match="no more than two"):
        mesh_of(CUBE, connect("edges", "all", count=2))
    three = mesh_of(CUBE, connect("edges", {"of_faces": {"facing": "+y"}}))
    assert_sound(three)  # four points of one face: joined one to the next


def test_cut_across_several_faces_and_through_a_vertex():
    m = mesh_of(CUBE, cut({"edge": at(0, 2, 1), "at": 0.3}, {"edge": at(0, 2, -1), "at": 0.7}, {"vertex": at(1, 0, -1)}))
    assert_sound(m)
    assert m.topology.is_closed and m.topology.face_count == 8 and measure(m).volume == pytest.approx(8)
    assert np.isclose(m.points, [-0.4, 2, 1]).all(axis=1).any() and np.isclose(m.points, [0.4, 2, -1]).all(axis=1).any()


def test_cut_ends_of_edges_are_vertices_and_paths_may_close():
    m = mesh_of(CUBE, cut({"edge": at(0, 2, 1), "at": 0}, {"edge": at(0, 2, -1), "at": 1}))
    assert m.topology.vertex_count == 8 and sorted(m.topology.sides.tolist()) == [3, 3, 4, 4, 4, 4, 4]
    belt = [{"edge": at(x, 1, z)} for x, z in ((1, 1), (1, -1), (-1, -1), (-1, 1), (1, 1))]
    round_ = mesh_of(CUBE, cut(*belt))
    assert round_.topology.face_count == 10 and round_.topology.is_closed
    assert (round_.topology.sides == 4).all()


def test_cut_says_which_point_is_wrong():
    with pytest.raises(StepError, match="points 1 and 2 of the path share no face"):
        mesh_of(CUBE, cut({"edge": at(0, 2, 1)}, {"edge": at(0, 0, -1)}))
    with pytest.raises(StepError, match="point 2 of the path must find one edge, not 12"):
        mesh_of(CUBE, cut({"edge": at(0, 2, 1)}, {"edge": "all"}))
    with pytest.raises(StepError, match="nothing to cut"):
        mesh_of(CUBE, cut({"vertex": at(1, 2, 1)}, {"vertex": at(1, 2, -1)}))


def test_slice_keeps_what_is_asked_for():
    both = mesh_of(CUBE, slice_((0, 1, 0), (0, 1, 0)))
    assert both.topology.face_count == 10 and both.topology.is_closed
    above = mesh_of(CUBE, slice_((0, 0.5, 0), (0, 1, 0), keep="above"))
    assert above.points[:, 1].min() == 0.5 and above.topology.border_edges.sum() == 4
    below = measure(mesh_of(CUBE, slice_((0, 0.5, 0), (0, 1, 0), keep="below", cap=True)))
    assert below.closed and below.volume == pytest.approx(2)


def test_slice_through_vertices_and_along_edges_leaves_no_sliver():
    m = mesh_of(CUBE, slice_((0, 1, 0), (0, 1, 1), keep="above", cap=True))
    assert m.topology.vertex_count == 6 and measure(m).volume == pytest.approx(4)
    near = mesh_of(CUBE, slice_((0, 1 + 5e-7, 0), (0, 1, 1)))
    assert near.topology.vertex_count == 8  # within a micron of them


def test_slice_of_concave_faces_and_several_loops():
    comb = [box((3, 1, 1), (3, 1, 1)), extrude({"faces": {"any_of": [at(-1, 1, 0), at(1, 1, 0)]}}, 1)]
    m = mesh_of(*comb, slice_((0, 1.5, 0), (0, 1, 0), keep="above", cap=True))
    assert measure(m).shells == 2 and m.topology.is_closed and measure(m).volume == pytest.approx(1)
    # one concave face met four times
    front = mesh_of(*comb, {"id": "d", "kind": "dissolve", "pick": facing("+z"), "keep_points": True}, slice_((0, 1.5, 0), (0, 1, 0)))
    assert_sound(front)
    assert front.topology.is_closed and measure(front).volume == pytest.approx(5)
    ring = mesh_of({"id": "t", "kind": "tube", "radius": 2, "inner_radius": 1, "height": 2},
                   slice_((0, 0.5, 0), (0, 1, 0), keep="above", cap=True))
    assert measure(ring).genus == 1 and (ring.topology.sides == 4).all()


def test_slice_apart():
    m = measure(mesh_of(CUBE, slice_((0, 0.5, 0), (0.2, 1, 0.3), cap=True)))
    assert m.shells == 2 and m.closed and m.manifold and m.volume == pytest.approx(8)


def test_a_face_that_lies_in_the_plane_goes_with_its_neighbours():
    whole = mesh_of(CUBE, slice_((0, 2, 0), (0, 1, 0), keep="below", cap=True))
    assert whole.topology.is_closed and whole.topology.face_count == 6
    assert measure(mesh_of(CUBE, slice_((0, 0, 0), (0, 1, 0), keep="both", cap=True))).closed
    with pytest.raises(StepError, match="nothing lies above"):
        mesh_of(CUBE, slice_((0, 2, 0), (0, 1, 0), keep="above"))


def test_slice_only_through_picked_faces():
    m = mesh_of(box((2, 2, 2)), slice_((0, 1, 0), (0, 1, 0), pick=facing("+x")))
    assert_sound(m)
    assert m.topology.face_count == 7 and sorted(m.topology.sides.tolist()) == [4, 4, 4, 4, 4, 5, 5]


def test_slice_roles_and_errors():
    e = evaluate(CUBE, slice_((0, 1, 0), (0, 1, 0), keep="above", cap=True), extrude(made("s", "cap"), 1))
    assert e.surface.mesh.points[:, 1].min() == 0
    e = evaluate(CUBE, slice_((0, 1, 0), (0, 1, 0)), {"id": "c", "kind": "crease", "pick": made("s", "cut_edge", "edges"), "sharpness": 3})
    assert e.results[2].state.picked.elements.size == 4
    with pytest.raises(StepError, match="passes through none"):
        mesh_of(CUBE, slice_((0, 5, 0), (0, 1, 0)))
    with pytest.raises(StepError, match="nothing lies above"):
        mesh_of(CUBE, slice_((0, 5, 0), (0, 1, 0), keep="above"))
    with pytest.raises(InvalidDocument, match="cannot be"):
        mesh_of(CUBE, slice_((0, 0, 0), (0, 0, 0)))


def test_pieces_take_the_place_of_what_was_cut():
    e = evaluate(CUBE, slice_((0, 1, 0), (0, 1, 0)), extrude(made("body"), 0.1, **{"as": "each"}))
    assert e.results[2].state.picked.elements.size == 10
    e = evaluate(CUBE, connect("edges", {"any_of": [at(0, 2, 1), at(0, 2, -1)]}), extrude(made("k"), 0.1))
    assert e.results[2].state.picked.elements.size == 2
    assert measure(mesh_of(CUBE, slice_((0, 1, 0), (0, 1, 0)), extrude(ALL, 0.1, along="surface"))).closed


def test_shifted_points_of_a_connection_are_told_from_the_lower_ends_of_all_edges():
    """However edges run in the mesh: two standing edges of one face, as made and stood on their heads, cut at the same heights."""
    for axis, turn in (("+z", 0), ("-x", 0), ("-z", 180), ("+x", 180)):
        turned = {"id": "t", "kind": "transform", "pick": {"vertices": "all"}, "rotate": [turn, 0, 0]}
        m = mesh_of(box((2, 4, 2)), turned, {"id": "c", "kind": "connect", "count": 2, "spread": 0.5, "shift": 0.6,
                                     "pick": {"edges": {"all_of": [{"of_faces": facing(axis)["faces"]}, {"not": {"of_faces": {"any_of": [facing("+y")["faces"], facing("-y")["faces"]]}}}]}}})
        heights = np.unique(m.points[:, 1].round(9))
        # ½ + ½(k/3 − ½) + 0.3(1 − ½·⅓), k = 1, 2, of a height of 4
        assert heights == pytest.approx([0, *(4 * (0.5 + 0.5 * (k / 3 - 0.5) + 0.3 * (1 - 0.5 / 3)) for k in (1, 2)), 4])


def test_points_of_a_connection_stand_in_the_order_of_their_edge_whichever_end_is_lower():
    """Of a sheet's two picked edges one runs up in the mesh, the other down: nothing crosses, so the area stays."""
    stand = {"id": "t", "kind": "transform", "pick": {"vertices": "all"}, "rotate": [90, 0, 0]}
    tip = {"id": "u", "kind": "transform", "pick": {"vertices": {"nearest": [-1, -1, 0]}}, "translate": [0, 3, 0]}
    sheet = [{"id": "p", "kind": "plane", "size": [2, 2], "segments": [1, 1]}, stand, tip]
    before = mesh_of(*sheet)
    sides = {"edges": {"any_of": [{"nearest": [-1, 1.5, 0]}, {"nearest": [1, 0, 0]}]}}
    m = mesh_of(*sheet, {"id": "c", "kind": "connect", "count": 2, "spread": 0.5, "shift": 0.6, "pick": sides})
    assert m.topology.face_count == 3
    assert measure(m).area == pytest.approx(measure(before).area)
    assert (np.linalg.norm(m.area_vectors, axis=1) > 1e-3).all()
