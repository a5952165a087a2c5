"""Sizes judged: verdicts, units, what cannot be measured, and measures that follow the recipe."""

import pytest
from pydantic import TypeAdapter

from rhytonic.core.brief.size import Driver, Size
from rhytonic.core.errors import StepError
from rhytonic.core.recipe.document import dump, read_document
from rhytonic.core.recipe.evaluate import Evaluator
from rhytonic.core.size.drive import drive
from rhytonic.core.size.judge import judge, tolerance_of, verdict
from rhytonic.core.size.scene import Scene

BOX = {"id": "b", "kind": "box", "size": [4.0, 6.0, 8.0]}


def scene(*parts, **document):
    read = read_document({"format": "rhytonic", "version": 1, **document, "parts": [
        {"name": f"P{i}", "id": f"p{i}", **p} for i, p in enumerate(parts)]})
    evaluator = Evaluator()
    return Scene(read, lambda part: evaluator.run(part, read.unit, tolerant=True))


def size(measure, *of, **more):
    return Size.model_validate({"id": "s", "name": "Size", "measure": measure, "of": list(of), **more})


def judged(s, *args, **more):
    return judge(s, size(*args, **more))


@pytest.mark.parametrize("off, told", [(0, "pass"), (0.1, "pass"), (-0.1, "pass"), (0.1000001, "near"), (-0.3, "near"), (0.31, "fail"), (-9, "fail")])
def test_within_the_tolerance_passes_and_within_three_is_near(off, told):
    assert verdict(off, 0.1, 10) == told


def test_a_tolerance_is_one_per_cent_unless_given():
    assert tolerance_of(size("height", want=50), 0.01) == 0.5
    assert tolerance_of(size("height", want=50, tolerance=0), 0.01) == 0
    assert tolerance_of(size("height", want=0), 0.01) == pytest.approx(0.05)  # half a millimetre
    angle = size("angle", {"part": "p0", "pick": {"edges": "all"}}, {"part": "p0", "pick": {"edges": {"nearest": [0, 0, 0]}}}, want=90)
    assert tolerance_of(angle, 0.01) == 0.5


def test_the_whole_build_is_what_is_seen_of_it():
    s = scene({"steps": [BOX]}, {"steps": [BOX], "placement": {"translate": [10, 0, 0]}},
              {"steps": [BOX], "placement": {"translate": [0, 100, 0]}, "hidden": True})
    assert judged(s, "width").have == 14 and judged(s, "height").have == 6 and judged(s, "volume").have == 2 * 192
    assert judged(s, "width", {"part": "p0"}, {"part": "p1"}).have == 14
    assert judged(s, "height", {"part": "p2"}).have == 6  # named, it counts


def test_placement_is_applied():
    s = scene({"steps": [BOX], "placement": {"rotate": [0, 90, 0], "scale": [1, 2, 1]}})
    assert [judged(s, m, {"part": "p0"}).have for m in ("width", "height", "depth")] == [8, 12, 4]


@pytest.mark.parametrize("measure, of, told", [
    ("height", [{"part": "gone"}], "no longer there"),
    ("volume", [{"part": "p1"}], "open"),
    ("volume", [{"part": "p0", "pick": {"faces": "all"}}], "whole parts"),
    ("area", [{"part": "p0", "pick": {"edges": "all"}}], "faces or of parts"),
    ("length", [{"part": "p0", "pick": {"vertices": "all"}}], "not of vertices"),
    ("radius", [{"part": "p0", "pick": {"vertices": {"nearest": [0, 0, 0]}}}], "three vertices"),
    ("radius", [{"part": "p1", "pick": {"vertices": {"in_box": [[None, None, 0.9], [None] * 3]}}}], "in line"),
    ("angle", [{"part": "p0", "pick": {"vertices": {"nearest": [0, 0, 0]}}}] * 2, "two faces, two edges"),
    ("angle", [{"part": "p0", "pick": {"edges": "all"}}] * 2, "single edges"),
    ("height", [{"part": "p0", "pick": {"faces": {"sides": [9, None]}}}], "finds no faces"),
    ("height", [{"part": "p2"}], "empty")])
def test_what_cannot_be_measured_says_why(measure, of, told):
    s = scene({"steps": [BOX]}, {"steps": [{"id": "sheet", "kind": "plane", "size": [2.0, 2.0], "segments": [2, 1]}]}, {"steps": []})
    found = judged(s, measure, *of)
    assert found.have is None and found.verdict is None and told in (found.problem or "")


def test_a_build_without_parts_has_no_size():
    assert "no part" in (judged(scene(), "height").problem or "")


def test_a_smooth_part_is_measured_by_its_surface_and_its_elements_by_the_cage():
    s = scene({"steps": [BOX, {"id": "soft", "kind": "subdivision", "levels": 2}]})
    assert judged(s, "width", {"part": "p0"}).have < 3.6
    assert judged(s, "width", {"part": "p0", "pick": {"faces": "all"}}).have == 4


def test_where_a_size_is_drawn():
    s = scene({"steps": [BOX]})
    found = judged(s, "depth", {"part": "p0"}).measured
    assert found.drawn == "span" and found.points[1] - found.points[0] == pytest.approx([0, 0, 0.08])
    loop = judged(s, "length", {"part": "p0", "pick": {"faces": {"facing": "+y"}}}).measured
    assert loop.drawn == "note" and len(loop.points) == 1


# drivers that name what is not there ----------------------------------------------------------------------------------

@pytest.mark.parametrize("driver, told", [
    ({"kind": "step", "part": "p0", "step": "none", "parameter": "size"}, "no longer there"),
    ({"kind": "step", "part": "none", "step": "b", "parameter": "size"}, "no longer there"),
    ({"kind": "step", "part": "p0", "step": "b", "parameter": "segments", "index": 0}, "no number that can be driven"),
    ({"kind": "step", "part": "p0", "step": "b", "parameter": "colour"}, "no number that can be driven"),
    ({"kind": "step", "part": "p0", "step": "b", "parameter": "size"}, "no number that can be driven")])
def test_a_driver_that_is_gone_is_told(driver, told):
    s = scene({"steps": [BOX]})
    with pytest.raises(StepError, match=told):
        drive(s.document, size("height", {"part": "p0"}), 9, TypeAdapter(Driver).validate_python(driver), s.run)


def test_a_search_that_takes_too_long_is_given_up():
    s = scene({"steps": [BOX]})
    by = TypeAdapter(Driver).validate_python({"kind": "step", "part": "p0", "step": "b", "parameter": "size", "index": 1})
    with pytest.raises(StepError, match="within 0 s"):
        drive(s.document, size("volume", {"part": "p0"}), 96, by, s.run, seconds=0.0)


def test_one_of_several_numbers_is_driven():
    s = scene({"steps": [BOX]})
    by = TypeAdapter(Driver).validate_python({"kind": "step", "part": "p0", "step": "b", "parameter": "size", "index": 1})
    found = drive(s.document, size("volume", {"part": "p0"}), 96, by, s.run)
    assert found.patch[0]["value"] == [4.0, 3.0, 8.0]


def test_the_working_mark_follows_a_driven_move():
    s = scene({"steps": [BOX, {"id": "soft", "kind": "subdivision", "levels": 1}], "mark": "b"})
    by = TypeAdapter(Driver).validate_python({"kind": "move", "part": "p0", "pick": {"faces": {"facing": "+y"}}, "axis": "y"})
    found = drive(s.document, size("height", {"part": "p0", "pick": {"vertices": "all"}}), 7, by, s.run)
    assert found.patch == [
        {"op": "add", "path": "/parts/0/steps/1", "value": {"id": "move1", "kind": "transform", "frame": "build", "translate": [0.0, 1.0, 0.0],
                                                           "pick": {"faces": {"facing": "+y"}}}},
        {"op": "replace", "path": "/parts/0/mark", "value": "move1"}]


def test_a_document_keeps_its_sizes_as_they_were_written():
    s = scene({"steps": [BOX]}, sizes=[{"id": "a", "name": "A", "measure": "height", "want": 6}])
    assert dump(s.document)["sizes"] == [{"id": "a", "name": "A", "measure": "height", "want": 6.0}]
