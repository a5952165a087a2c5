import json

import numpy as np
import pytest

from rhytonic.core.errors import Cancelled, PickFoundNothing, StepError
from rhytonic.core.inspect.report import report
from rhytonic.core.mesh.names import hex_of
from rhytonic.core.recipe.built import build
from rhytonic.core.recipe.evaluate import Evaluator
from rhytonic.core.waiting import waited_for
from tests.helpers import ALL, box, document, evaluate, extrude, facing, made, mesh_of

SOFT = {"id": "soft", "kind": "subdivision", "levels": 1}


def face_id(evaluation, after, point):
    mesh = evaluation.after(after).mesh
    at = np.flatnonzero(np.isclose(mesh.face_centres, point).all(axis=1))
    assert at.size == 1
    return hex_of(mesh.names.face[at])


def test_only_what_changed_runs_again():
    evaluator = Evaluator()
    steps = [box(), extrude(facing("+y"), 1), extrude(made("ext", "cap"), 1, "more")]
    one = evaluate(*steps, evaluator=evaluator)
    two = evaluate(*steps[:2], extrude(made("ext", "cap"), 2, "more"), evaluator=evaluator)
    assert two.after(2) is one.after(2) and two.after(3) is not one.after(3)
    assert two.after(3).plan is one.after(3).plan  # the depth moves points only


def test_an_early_number_keeps_the_plans_below():
    evaluator = Evaluator()
    one = evaluate(box(), extrude(facing("+y"), 1), SOFT, evaluator=evaluator)
    two = evaluate(box((2, 3, 4)), extrude(facing("+y"), 1), SOFT, evaluator=evaluator)
    assert [r.state.plan for r in one.results] == [r.state.plan for r in two.results]
    assert two.surface.mesh.topology is one.surface.mesh.topology


def test_an_early_number_is_replayed_by_all_below():
    def built(width):
        return mesh_of(box((width, 1, 1)), extrude(facing("+x"), 0.5), extrude(made("ext", "side"), 0.1, "rib", **{"as": "each"}))
    narrow, wide = built(1), built(4)
    assert np.allclose(wide.points[:, 0].max() - narrow.points[:, 0].max(), 1.5)
    assert (narrow.names.face == wide.names.face).all()


def test_a_picked_face_is_found_after_a_step_is_inserted_above():
    plain = evaluate(box(), extrude(facing("+y"), 1), extrude(facing("+x"), 1, "late"))
    pick = {"faces": {"ids": face_id(plain, 2, [0, 2, 0])}}
    below = evaluate(box(), extrude(facing("+y"), 1), extrude(pick, 0.5, "late"))
    assert below.surface.mesh.points[:, 1].max() == 2.5
    inserted = evaluate(box(), extrude(facing("+y"), 3, "new"), extrude(facing("+y"), 1), extrude(pick, 0.5, "late"))
    assert inserted.results[3].missing == 0
    assert inserted.surface.mesh.points[:, 1].max() == pytest.approx(5.5)


def test_a_side_wall_is_found_although_its_parents_changed():
    plain = evaluate(box(), extrude(facing("+y"), 1))
    wall = {"faces": {"ids": face_id(plain, 2, [0.5, 1.5, 0])}}
    after = evaluate(box(), extrude(facing("+y"), 2, "new"), extrude(facing("+y"), 1), extrude(wall, 1, "late"))
    assert after.surface.mesh.points[:, 0].max() == pytest.approx(1.5)
    grown = after.surface.mesh.points[after.surface.mesh.points[:, 0] > 1]
    assert np.unique(grown[:, 1].round(9)).tolist() == [3, 4]


def test_an_edge_is_found_through_the_cap_that_moved_it():
    plain = evaluate(box((2, 1, 2), (2, 1, 1)))
    t, names = plain.surface.mesh.topology, plain.surface.mesh.names
    middle = np.flatnonzero(np.isclose(plain.surface.mesh.edge_centres, [0, 1, 0]).all(axis=1))
    pick = {"edges": {"ids": [hex_of(names.vertex[t.edges[middle[0]]])]}}
    lift = {"id": "lift", "kind": "transform", "pick": pick, "translate": [0, 1, 0]}
    after = evaluate(box((2, 1, 2), (2, 1, 1)), extrude(facing("+y"), 1), lift)
    assert after.results[2].missing == 0 and after.surface.mesh.points[:, 1].max() == 3


def test_what_is_gone_is_reported_never_guessed():
    e = evaluate(box(segments=(2, 1, 1)))
    ids = hex_of(e.surface.mesh.names.face[2:4])
    steps = [box(segments=(1, 1, 1)), extrude({"faces": {"ids": ids}}, 1)]
    after = evaluate(*steps)
    told = report(document(*steps), build(document(*steps)))["parts"][0]
    assert after.results[1].missing == told["unresolved"][0]["missing"] > 0
    assert told["unresolved"][0]["step"] == "ext"
    with pytest.raises(PickFoundNothing, match="no longer there"):
        evaluate(box(), extrude({"faces": {"ids": ["00000000000000ff"]}}, 1))


def test_tolerant_evaluation_goes_on_past_a_step_that_cannot_run():
    e = evaluate(box(), extrude(facing([1, 1, 1]), 1), extrude(facing("+y"), 1, "fine"), tolerant=True)
    assert isinstance(e.results[1].error, PickFoundNothing) and e.results[2].error is None
    assert e.results[1].error.step == "ext" and e.results[1].error.part == "Part"
    assert e.surface.mesh.topology.face_count == 10


def test_a_step_that_is_off_is_passed_over():
    e = evaluate(box(), extrude(facing("+y"), 1, enabled=False))
    assert e.results[1].skipped and e.surface.mesh.topology.face_count == 6


def test_cage_and_mark():
    e = evaluate(box(), extrude(facing("+y"), 1), SOFT)
    assert e.cage.mesh.topology.face_count == 10 and e.surface.mesh.topology.face_count == 40
    marked = evaluate(box(), extrude(facing("+y"), 1), SOFT, mark="body")
    assert marked.cage.mesh.topology.face_count == 6
    live = {**extrude(facing("+y"), 1), "live": True}
    assert evaluate(box(), live, SOFT).cage.mesh.topology.face_count == 6
    assert evaluate(box(), SOFT, extrude({"faces": {"nearest": [0, 1, 0]}}, 1)).cage.mesh.topology.face_count == 28


def test_faces_of_the_surface_know_their_cage_face():
    e = evaluate(box(), extrude(facing("+y"), 1), {**SOFT, "levels": 2})
    source = e.cage_face_of_surface
    assert np.bincount(source).tolist() == [16] * 10
    centres = e.surface.mesh.face_centres
    cap = int(np.flatnonzero(np.isclose(e.cage.mesh.face_centres, [0, 2, 0]).all(axis=1))[0])
    assert centres[source == cap, 1].min() > centres[source != cap, 1].mean()


def test_cancelling():
    part = document(box(), SOFT).parts[0]
    with pytest.raises(Cancelled), waited_for(lambda: True):
        Evaluator().run(part, "m")
    asked = []
    with waited_for(lambda: bool(asked.append(1))):
        Evaluator().run(document(box(segments=(20, 20, 20)), SOFT).parts[0], "m")
    assert len(asked) > 20  # between the pieces of a step, not only between steps


def test_messages_tell_lengths_in_the_unit_of_the_file():
    with pytest.raises(StepError, match="widest margin that works is 2 cm"):
        evaluate(box((4, 4, 4)), extrude(facing("+y"), 1, margin=3), unit="cm")


def test_units_change_nothing_but_the_numbers():
    cm = mesh_of(box((100, 200, 300)), extrude({"faces": {"nearest": [0, 200, 0]}}, 50), unit="cm")
    m = mesh_of(box((1, 2, 3)), extrude({"faces": {"nearest": [0, 2, 0]}}, 0.5))
    assert np.allclose(cm.points, m.points, atol=1e-15) and (cm.names.face == m.names.face).all()


def test_placement_is_applied_to_report_and_files_alone():
    placed = {"placement": {"translate": [10, 0, 0], "rotate": [90, 0, 90], "scale": [1, 2, 1]}}
    d = document(box((2, 1, 1)), **placed)
    told = report(d, build(d))["parts"][0]
    # scaled to 2 × 2 × 1, turned about x (y to z), then about z (x to y)
    assert told["size"] == pytest.approx([1, 2, 2]) and told["volume"] == pytest.approx(4)
    assert told["min"] == pytest.approx([9.5, -1, 0])


def test_a_left_behind_extrude_is_found_and_blamed():
    d = document(box(), extrude(facing("+y"), 0), {"id": "more", "kind": "transform", "pick": ALL, "translate": [1, 0, 0]})
    told = report(d, build(d))["parts"][0]
    assert [(f["kind"], f["count"], f["step"]) for f in told["findings"]] == [
        ("zero_area_face", 4, "ext"), ("doubled_vertex", 8, "ext")]
    assert [len(f["ids"]) for f in told["findings"]] == [4, 8]
    json.dumps(told, allow_nan=False)
