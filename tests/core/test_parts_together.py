"""Parts together: joins, arrays, split-off parts, linked copies, groups and joints, rings of needs."""

import json

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from rhytonic.core.errors import InvalidDocument, StepError
from rhytonic.core.inspect.report import report
from rhytonic.core.mesh.measure import measure
from rhytonic.core.recipe.built import build
from rhytonic.core.recipe.document import dump, load
from rhytonic.core.recipe.evaluate import Evaluator
from rhytonic.core.recipe.place import placed
from tests.helpers import assert_sound, box, evaluate, facing, mesh_of


def parts(*more, **document):
    return load(json.dumps({"format": "rhytonic", "version": 1, "unit": "m", "parts": list(more), **document}))


def part(name, *steps, **more):
    return {"name": name, "steps": list(steps), **more}


def told(document, name=None):
    """The report's parts by name."""
    out = report(document, build(document, only=name))
    return {p["name"]: p for p in out["parts"]}, out


def standing(document, name):
    """A part's mesh where it stands in the build."""
    held = document.part(name)
    return placed(Evaluator().run(held, document.unit, within=document).surface.mesh, document, held)


# joins ------------------------------------------------------------------------------------------------------------


def test_two_halves_joined_and_welded_are_one_closed_box():
    """Each half is open where they meet: after the weld nothing is left open and no point is doubled."""
    half = [box(), {"id": "open", "kind": "delete", "pick": facing("+x")}]
    other = [box(), {"id": "open", "kind": "delete", "pick": facing("-x")}]
    held = parts(part("Left", *half, {"id": "one", "kind": "join", "parts": ["Right"]}),
                 part("Right", *other, placement={"translate": [1, 0, 0]}, hidden=True))
    mesh = standing(held, "Left")
    assert_sound(mesh)
    assert mesh.topology.is_closed and mesh.topology.vertex_count == 12
    assert measure(mesh).volume == pytest.approx(2)


def test_a_join_keeps_points_apart_that_are_further_than_the_weld():
    held = parts(part("Left", box(), {"id": "one", "kind": "join", "parts": ["Right"], "weld": 0.01}),
                 part("Right", box(), placement={"translate": [1.02, 0, 0]}))
    mesh = standing(held, "Left")
    assert mesh.topology.vertex_count == 16 and int(mesh.topology.shells.max()) == 1


# arrays -----------------------------------------------------------------------------------------------------------


@given(count=st.integers(1, 9), step=st.tuples(*[st.floats(-3, 3)] * 3))
def test_copies_in_a_row_stand_at_multiples_of_the_step(count, step):
    one = mesh_of(box())
    mesh = mesh_of(box(), {"id": "row", "kind": "array", "count": count, "step": list(step)})
    assert mesh.topology.face_count == 6 * count
    for k in range(count):
        np.testing.assert_allclose(mesh.points[8 * k:8 * (k + 1)], one.points + k * np.array(step), atol=1e-12)


def test_a_span_reaches_from_the_first_to_the_last():
    by_span = mesh_of(box(), {"id": "row", "kind": "array", "count": 4, "span": [0, 6, 0]})
    by_step = mesh_of(box(), {"id": "row", "kind": "array", "count": 4, "step": [0, 2, 0]})
    np.testing.assert_allclose(by_span.points, by_step.points)
    np.testing.assert_array_equal(by_span.names.vertex, by_step.names.vertex)  # the same copies, told in another way


@pytest.mark.parametrize(("angle", "at"), [(360, [0, 90, 180, 270]), (90, [0, 30, 60, 90])])
def test_round_copies_spread_over_a_full_turn_and_end_at_less(angle, at):
    """Round +y a positive turn leads from +z to +x (right-handed)."""
    peg = box(anchor="centre")
    mesh = mesh_of(peg, {"id": "out", "kind": "transform", "translate": [0, 0, 5], "pick": {"faces": "all"}},
                   {"id": "ring", "kind": "array", "count": 4, "around": {"axis": "y", "angle": angle}})
    middles = mesh.points.reshape(4, 8, 3).mean(axis=1)
    turn = np.radians(at)
    np.testing.assert_allclose(middles, np.stack([5 * np.sin(turn), 0 * turn, 5 * np.cos(turn)], axis=1), atol=1e-12)


def test_each_copy_is_turned_about_its_own_centre():
    slat = box((4, 0.2, 1))
    mesh = mesh_of(slat, {"id": "louvre", "kind": "array", "count": 3, "step": [0, 2, 0], "turn": [30, 0, 0]})
    copies = mesh.points.reshape(3, 8, 3)
    np.testing.assert_allclose(copies.mean(axis=1)[:, 1] - copies[0].mean(axis=0)[1], [0, 2, 4], atol=1e-12)
    for k, copy in enumerate(copies):
        side = copy[np.isclose(copy[:, 0], 2)]
        reach = np.ptp(side[:, 1])  # a rectangle of 0.2 × 1, turned
        assert reach == pytest.approx(0.2 * np.cos(np.radians(30 * k)) + np.sin(np.radians(30 * k)))


def test_jitter_moves_all_but_the_first_and_depends_on_its_seed_alone():
    def row(seed, count=5):
        return mesh_of(box(), {"id": "row", "kind": "array", "count": count, "step": [0, 2, 0],
                               "jitter": {"move": 0.1, "turn": 3, "seed": seed}}).points.reshape(-1, 8, 3)
    plain = mesh_of(box(), {"id": "row", "kind": "array", "count": 5, "step": [0, 2, 0]}).points.reshape(-1, 8, 3)
    one = row(1)
    np.testing.assert_array_equal(one[0], plain[0])
    assert all(np.abs(one[k] - plain[k]).max() > 1e-3 for k in range(1, 5))
    assert np.abs(one - plain).max() < 0.1 + np.radians(3) * np.sqrt(3) * 3
    np.testing.assert_array_equal(row(1, 3), one[:3])  # more of them leave the others where they were
    assert np.abs(row(2) - one).max() > 1e-3


def test_an_array_that_touches_itself_is_welded():
    mesh = mesh_of(box(), {"id": "open", "kind": "delete", "pick": {"faces": {"any_of": [{"facing": "+x"}, {"facing": "-x"}]}}},
                   {"id": "row", "kind": "array", "count": 3, "step": [1, 0, 0], "weld": 0.001})
    assert_sound(mesh)
    assert mesh.topology.vertex_count == 16 and int(mesh.topology.shells.max()) == 0


def test_copies_keep_their_ids_when_the_count_grows():
    three, five = (mesh_of(box(), {"id": "row", "kind": "array", "count": n, "step": [2, 0, 0]}) for n in (3, 5))
    np.testing.assert_array_equal(five.names.face[:18], three.names.face)
    np.testing.assert_array_equal(five.names.vertex[:24], three.names.vertex)


# split off, separate ----------------------------------------------------------------------------------------------

CHEST = [box((4, 2, 3), (1, 2, 1)), {"id": "lift", "kind": "split_off", "into": "Lid", "pick": {"faces": {"nearest": [0, 2, 0]}}}]


def test_faces_are_duplicated_into_a_part_of_their_own():
    step = {"id": "again", "kind": "duplicate", "into": "Lid", "pick": {"faces": {"nearest": [0, 2, 0]}}}
    held = parts(part("Chest", CHEST[0], step, placement={"translate": [0, 1, 0]}))
    chest, lid = standing(held, "Chest"), standing(held, "Lid")
    assert (chest.topology.face_count, lid.topology.face_count) == (10, 1)  # nothing is taken away
    assert set(lid.names.face.tolist()) < set(chest.names.face.tolist())
    np.testing.assert_allclose(lid.points[:, 1], 3)
    with pytest.raises(Exception, match="leave out translate and rotate"):
        parts(part("Chest", CHEST[0], {**step, "translate": [1, 0, 0]}))


def test_faces_that_are_split_off_stand_in_a_part_of_their_own():
    held = parts(part("Chest", *CHEST, placement={"translate": [0, 1, 0]}, pivot=[0, 2, 0]))
    assert [p.name for p in held.parts] == ["Chest", "Lid"]  # made as it was not there
    assert held.parts[1].placement == held.parts[0].placement and held.parts[1].pivot == held.parts[0].pivot
    chest, lid = standing(held, "Chest"), standing(held, "Lid")
    whole = standing(parts(part("Chest", CHEST[0])), "Chest")
    assert (chest.topology.face_count, lid.topology.face_count) == (9, 1)
    assert set(lid.names.face.tolist()) | set(chest.names.face.tolist()) == set(whole.names.face.tolist())
    np.testing.assert_allclose(lid.points[:, 1], 3)


def test_a_change_upstream_reaches_both():
    def both(height):
        steps = [{**CHEST[0], "size": [4, height, 3]}, {**CHEST[1], "pick": facing("+y")}]
        held = parts(part("Chest", *steps))
        return standing(held, "Chest").points[:, 1].max(), standing(held, "Lid").points[:, 1].max()
    assert both(2) == pytest.approx((2, 2)) and both(3) == pytest.approx((3, 3))


def test_a_part_that_was_renamed_is_not_made_again():
    held = dump(parts(part("Chest", *CHEST)))
    held["parts"][1]["name"] = "Cover"
    assert [p.name for p in load(json.dumps(held)).parts] == ["Chest", "Cover"]


def test_shells_go_apart_by_the_rank_of_their_lowest_face():
    pegs = [box(), {"id": "row", "kind": "array", "count": 3, "step": [2, 0, 0]}, {"id": "apart", "kind": "separate", "into": "Peg"}]
    found, _ = told(parts(part("Pegs", *pegs)))
    assert {n: p["faces"] for n, p in found.items()} == {"Pegs": 6, "Peg 1": 6, "Peg 2": 6}
    assert sum(p["volume"] for p in found.values()) == pytest.approx(3)


# linked copies, groups, joints -------------------------------------------------------------------------------------


@pytest.mark.parametrize("axis", "xyz")
def test_a_mirrored_copy_is_right_side_out(axis):
    wedge = [box((4, 2, 3)), {"id": "t", "kind": "transform", "translate": [1, 0, 0.5], "pick": facing("+y")}]
    found, _ = told(parts(part("Leg", *wedge), {"name": "Leg 2", "of": "Leg", "mirrored": axis}))
    assert found["Leg 2"]["volume"] == pytest.approx(found["Leg"]["volume"]) and found["Leg 2"]["volume"] > 0
    assert found["Leg 2"]["of"] == "Leg"
    k = "xyz".index(axis)
    assert found["Leg 2"]["min"][k] == pytest.approx(-found["Leg"]["max"][k])


def test_groups_place_their_members_from_the_inmost_out():
    """A quarter turn about +y takes +x to −z: the member at x = 1 in a group at x = 2 stands at z = −3 of the outer one."""
    held = parts(part("Wheel", box(anchor="centre"), group="axle", placement={"translate": [1, 0, 0]}),
                 groups=[{"id": "axle", "name": "Axle", "group": "cart", "placement": {"translate": [2, 0, 0]}},
                         {"id": "cart", "name": "Cart", "placement": {"rotate": [0, 90, 0], "translate": [0, 5, 0]}}])
    np.testing.assert_allclose(standing(held, "Wheel").points.mean(axis=0), [0, 5, -3], atol=1e-12)
    _, out = told(held)
    assert {g["name"]: g["triangles"] for g in out["groups"]} == {"Axle": 12, "Cart": 12}


def test_groups_in_a_ring_are_refused():
    with pytest.raises(InvalidDocument, match="a in b"):
        parts(groups=[{"id": "a", "name": "A", "group": "b"}, {"id": "b", "name": "B", "group": "a"}])


def test_a_joint_moves_the_part_before_its_placement():
    """A door a metre wide, hung at its left edge and opened by 90° about +y, then set down at z = 4."""
    held = parts(part("Door", box((1, 2, 0.1)), placement={"translate": [0, 0, 4]},
                      joint={"kind": "turn", "at": [-0.5, 0, 0], "axis": [0, 1, 0], "to": 120, "now": 90}))
    points = standing(held, "Door").points
    np.testing.assert_allclose(points.min(axis=0), [-0.55, 0, 3], atol=1e-12)
    np.testing.assert_allclose(points.max(axis=0), [-0.45, 2, 4], atol=1e-12)


def test_a_slide_goes_along_its_axis_by_a_length():
    held = parts(part("Drawer", box(), joint={"kind": "slide", "axis": [0, 0, 2], "to": 50, "now": 30}), unit="cm")
    assert standing(held, "Drawer").points[:, 2].min() == pytest.approx(0.3 - 0.005)


def test_over_a_budget_is_a_finding():
    found, out = told(parts(part("Nut", box(), budget=10, group="g"), part("Bolt", box(), budget=12, group="g"),
                            groups=[{"id": "g", "name": "Fixings", "budget": 20}]))
    over = [(f["kind"], f["count"]) for f in found["Nut"]["findings"]]
    assert over == [("over_budget", 2)] and found["Bolt"]["findings"] == []
    assert [(f["kind"], f["count"]) for f in out["groups"][0]["findings"]] == [("over_budget", 4)]


# needs ------------------------------------------------------------------------------------------------------------


def test_parts_that_need_each_other_are_refused_by_name():
    cut = {"id": "cut", "kind": "boolean", "operation": "subtract"}
    held = parts(part("Case", box(), {**cut, "part": "Lid"}), part("Lid", box(), {**cut, "part": "Case"}))
    with pytest.raises(StepError, match="Case → Lid → Case"):
        build(held)


def test_a_part_that_cannot_run_stops_who_needs_it_with_its_own_words():
    broken = part("Peg", box(), {"id": "b", "kind": "bevel", "width": 0.1, "pick": {"edges": {"facing": "+y"}}})
    held = parts(part("Hood", box(), {"id": "cut", "kind": "boolean", "part": "Peg", "operation": "subtract"}), broken)
    with pytest.raises(StepError, match="Peg"):
        build(held, only="Hood")


def test_needs_are_kept_by_id_so_that_renaming_breaks_nothing():
    held = parts(part("Hood", box(), {"id": "cut", "kind": "boolean", "part": "Peg"}), part("Peg", box(), id="p7"),
                 {"name": "Peg 2", "of": "Peg"})
    assert held.parts[0].steps[1].part == "p7" and held.parts[2].of == "p7"


def test_moving_the_cutter_runs_the_cut_again_and_nothing_above_it():
    def at(x):
        return parts(part("Hood", box((2, 2, 2), anchor="centre"), {"id": "cut", "kind": "boolean", "part": "Peg", "operation": "subtract"}),
                     part("Peg", box(anchor="centre"), placement={"translate": [x, 0, 0]}))
    evaluator = Evaluator()
    first, second = at(1.0), at(1.2)
    before = evaluator.run(first.parts[0], "m", within=first)
    after = evaluator.run(second.parts[0], "m", within=second)
    assert after.after(1).mesh is before.after(1).mesh and after.surface.key != before.surface.key
    assert evaluator.run(first.parts[0], "m", within=first).surface.mesh is before.surface.mesh
    assert evaluate(box()).error is None
