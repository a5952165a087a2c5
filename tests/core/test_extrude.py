import numpy as np
import pytest

from rhytonic.core.errors import StepError
from rhytonic.core.mesh.measure import measure
from tests.helpers import ALL, assert_sound, box, evaluate, extrude, facing, made, mesh_of

PLANE = {"id": "body", "kind": "plane", "size": [3, 3], "segments": [3, 3]}


def test_one_face_moves_and_walls_rise():
    m = mesh_of(box(), extrude(facing("+y"), 0.5))
    assert_sound(m)
    told = measure(m)
    assert told.faces == 10 and told.vertices == 12 and told.volume == pytest.approx(1.5)
    assert told.closed and told.manifold and m.topology.is_oriented


def test_sinking_takes_volume_away():
    m = mesh_of(box((3, 3, 3), (3, 3, 3)), extrude({"faces": {"nearest": [0, 3, 0]}}, -1))
    assert measure(m).volume == pytest.approx(26) and measure(m).manifold


def test_a_region_moves_as_one_and_keeps_what_is_inside():
    e = evaluate(box((2, 1, 2), (2, 1, 2)), extrude(facing("+y"), 1))
    m = e.surface.mesh
    assert_sound(m)
    assert measure(m).volume == pytest.approx(8)
    middle = e.after(1).mesh.names.vertex[np.flatnonzero(np.isclose(e.after(1).mesh.points, [0, 1, 0]).all(axis=1))]
    at = m.names.find("vertex", middle)
    assert np.allclose(m.points[at], [0, 2, 0])


def test_each_face_on_its_own():
    m = mesh_of(box((2, 1, 2), (2, 1, 2)), extrude(facing("+y"), 1, **{"as": "each"}))
    assert_sound(m)
    told = measure(m)
    assert told.faces == 16 + 16 and told.closed and told.manifold
    assert told.volume == pytest.approx(8)


def test_segments_divide_the_walls_evenly():
    m = mesh_of(box(), extrude(facing("+y"), 3, segments=3))
    assert_sound(m)
    assert m.topology.face_count == 6 + 12
    assert np.unique(m.points[:, 1].round(9)).tolist() == [0, 1, 2, 3, 4]


def test_scale_shrinks_the_cap_across_its_direction():
    told = mesh_of(box((2, 2, 2)), extrude(facing("+y"), 1, scale=0.5))
    cap = told.points[told.points[:, 1] > 2.5]
    assert np.allclose(np.abs(cap[:, [0, 2]]), 0.5)
    assert measure(told).volume == pytest.approx(8 + (4 + 1 + 2) / 3)


def test_margin_narrows_by_an_even_distance():
    m = mesh_of(box((4, 1, 2)), extrude(facing("+y"), 1, margin=0.5))
    cap = m.points[m.points[:, 1] > 1.5]
    assert np.allclose(np.sort(np.abs(cap[:, 0])), 1.5) and np.allclose(np.abs(cap[:, 2]), 0.5)


def test_margin_tells_the_widest_that_works():
    with pytest.raises(StepError, match="widest margin that works is 1 m"):
        mesh_of(box((4, 1, 2)), extrude(facing("+y"), 1, margin=1.5))
    with pytest.raises(StepError, match="either scale or margin"):
        mesh_of(box((4, 1, 2)), extrude(facing("+y"), 1, margin=0.1, scale=0.5))


def test_along_an_axis_and_a_vector():
    m = mesh_of(box(), extrude(facing("+y"), 2, along="+x"))
    assert m.points[:, 0].max() == pytest.approx(2.5) and m.points[:, 1].max() == pytest.approx(1)
    m = mesh_of(box(), extrude(facing("+y"), 5, along=[0, 4, 3]))
    assert m.points[:, 1].max() == pytest.approx(5) and m.points[:, 2].max() == pytest.approx(3.5)


def test_surface_keeps_every_wall_at_the_distance():
    m = mesh_of(box((2, 2, 2)), extrude(ALL, 0.5, along="surface"))
    assert measure(m).maximum == pytest.approx((1.5, 2.5, 1.5))
    m = mesh_of(box((2, 2, 2)), extrude({"faces": {"any_of": [{"facing": "+y"}, {"facing": "+x"}]}}, 0.5, along="surface"))
    assert measure(m).maximum == pytest.approx((1.5, 2.5, 1))
    assert measure(m).closed and measure(m).manifold


def test_average_is_weighted_by_area():
    m = mesh_of(box((3, 1, 1)), extrude({"faces": {"any_of": [{"facing": "+y"}, {"facing": "+x"}]}}, 1))
    assert np.isclose(m.points[:, 1].max(), 1 + 3 / np.hypot(3, 1))


def test_a_closed_shell_has_no_average_direction():
    with pytest.raises(StepError, match="no average direction"):
        mesh_of(box(), extrude(ALL, 1))


def test_an_open_plane_leaves_nothing_behind():
    m = mesh_of(PLANE, extrude(ALL, 1))
    assert_sound(m)
    assert m.topology.face_count == 9 + 12 and measure(m).closed is False


def test_faces_that_touch_at_a_corner_part_there():
    pick = {"faces": {"any_of": [{"nearest": [-1, 0, -1]}, {"nearest": [0, 0, 0]}]}}
    m = mesh_of(PLANE, extrude(pick, 1))
    assert_sound(m)
    assert m.topology.face_count == 9 + 8 and m.topology.edge_face_count.max() == 2
    assert (m.points[:, 1] > 0.5).sum() == 8


def test_a_ring_of_faces_is_one_region_that_touches_itself_nowhere():
    ring = {"faces": {"not": {"nearest": [0, 0, 0]}}}
    m = mesh_of(PLANE, extrude(ring, 1))
    assert_sound(m)
    assert m.topology.face_count == 9 + 16 and m.topology.is_manifold


def test_roles():
    e = evaluate(box(), extrude(facing("+y"), 1, segments=2))
    assert mesh_pick(e, made("ext", "cap")) == 1
    assert mesh_pick(e, made("ext", "side")) == 8
    assert mesh_pick(e, made("ext")) == 9
    assert mesh_pick(e, made("body")) == 6  # the cap took its face's place
    assert mesh_pick(e, made("ext", "cap", "vertices")) == 4
    assert mesh_pick(e, made("ext", "cap", "edges")) == 4
    assert mesh_pick(e, made("ext", "side", "edges")) == 12
    assert mesh_pick(e, made("body", None, "edges")) == 12


def test_unknown_roles_and_steps_are_told():
    with pytest.raises(StepError, match="tags no role 'top'; its roles are cap, side"):
        mesh_of(box(), extrude(facing("+y"), 1), extrude(made("ext", "top"), 1, "again"))
    with pytest.raises(StepError, match="made_by names 'later'"):
        mesh_of(box(), extrude(made("later"), 1))


def test_only_faces_are_extruded():
    with pytest.raises(StepError, match="works on faces, not edges"):
        mesh_of(box(), extrude({"edges": "all"}, 1))


def mesh_pick(evaluation, pick):
    from pydantic import TypeAdapter

    from rhytonic.core.pick.resolve import resolve
    from rhytonic.core.pick.rules import Pick
    state = evaluation.surface
    return resolve(state.mesh, state.history, TypeAdapter(Pick).validate_python(pick)).elements.size


def test_edges_inside_the_cap_are_the_caps():
    e = evaluate(box((2, 1, 2), (2, 1, 2)), extrude(facing("+y"), 1))
    assert mesh_pick(e, made("ext", "cap", "edges")) == 12
    assert mesh_pick(e, made("ext", "side", "edges")) == 8
