from rhytonic.core.inspect.findings import inspect
from tests.helpers import ALL, box, evaluate, extrude, facing, made


def found(*steps):
    return [(f.kind, f.count, f.step) for f in inspect(evaluate(*steps).results)]


def test_a_clean_part_has_none():
    assert found(box(), extrude(facing("+y"), 1)) == []
    assert inspect([]) == []


def test_each_finding_is_blamed_on_the_step_that_brought_it():
    assert found(box(), extrude(facing("+y"), 0), extrude(facing("+x"), 0, "other")) == [
        ("zero_area_face", 4, "ext"), ("zero_area_face", 4, "other")]


def test_a_later_step_can_mend_or_bring_it():
    lift = {"id": "lift", "kind": "transform", "pick": made("ext", "cap"), "translate": [0, 1, 0]}
    assert found(box(), extrude(facing("+y"), 0), lift) == []
    flat = {"id": "flat", "kind": "transform", "pick": ALL, "scale": [1, 0, 1]}
    assert found(box(), flat) == [("zero_area_face", 4, "flat")]


def test_slivers_are_judged_by_their_own_size():
    assert found(box((1e-5, 1e-5, 1e-5))) == []  # tiny, but square
    assert found({"id": "p", "kind": "plane", "size": [1000, 1e-9]}) == [("zero_area_face", 1, "p")]
