"""Numbers told beforehand are the ones that come; what is exported is what was asked for, with what it needs."""

import pytest

from tests.api.conftest import BOX, part

SOFT = {"id": "soft", "kind": "subdivision", "levels": 1}


@pytest.mark.parametrize("above", [[], [{"id": "m", "kind": "mirror", "axis": "x", "at": -5}], [{"id": "s", "kind": "shell", "thickness": -1}],
                                   [{"id": "a", "kind": "array", "count": 3, "step": [20, 0, 0], "live": True}]])
@pytest.mark.parametrize("below", [[], [{"id": "n", "kind": "array", "count": 2, "step": [0, 0, 90], "live": True}]])
def test_the_faces_of_a_smooth_surface(api, above, below):
    opened = {"id": "open", "kind": "delete", "pick": {"faces": {"facing": "+y"}}}
    build = api.new(part({**BOX, "segments": [2, 1, 2]}, opened, *above, SOFT, *below))
    told = build["parts"][0]
    for level in (1, 2, 3):
        build = api.change(build, {"op": "replace", "path": f"/parts/0/steps/{2 + len(above)}/levels", "value": level})
        assert build["parts"][0]["faces"] == round(told["smooth_corners"] * 4 ** (level - 1) * told["smooth_times"])
    trial = {"revision": build["revision"], "part": build["document"]["parts"][0]["id"], "step": {**SOFT, "levels": 2}, "replace": "soft"}
    assert api.post(f"/api/builds/{build['id']}/estimate", trial)["faces"] == told["smooth_corners"] * 4


@pytest.mark.parametrize("below,exact", [
    ([{"id": "m", "kind": "mirror", "axis": "x", "at": -9, "clip": False}], True),
    ([{"id": "a", "kind": "array", "count": 4, "step": [0, 0, 90]}, {"id": "m", "kind": "mirror", "axis": "x", "at": -9, "clip": False}], True),
    ([{"id": "m", "kind": "mirror", "axis": "x", "at": 0.7}], False), ([{"id": "s", "kind": "shell", "thickness": -0.5}], False)])
def test_what_is_told_as_exact_is_and_all_else_as_about(api, below, exact):
    opened = {"id": "open", "kind": "delete", "pick": {"faces": {"facing": "+y"}}}
    build = api.new(part({**BOX, "segments": [3, 1, 2]}, opened, SOFT, *below))
    told = build["parts"][0]
    assert told["smooth_exact"] is exact
    came = []
    for level in (1, 2, 3):
        build = api.change(build, {"op": "replace", "path": "/parts/0/steps/2/levels", "value": level})
        came.append(build["parts"][0]["faces"] == round(told["smooth_corners"] * 4 ** (level - 1) * told["smooth_times"]))
    assert all(came) or not exact
    assert not all(came) or below[0]["kind"] != "shell"  # whose walls double where faces are four times as many


def test_an_obj_that_goes_alone_names_no_other_file(api):
    build = api.new(part(BOX))
    text = api.http.get(f"/api/builds/{build['id']}/export?format=obj").get_data(as_text=True)
    assert "mtllib" not in text and "\nf " in text


def test_a_cutter_stays_home_unless_it_is_asked_for(api):
    build = api.new(part(BOX, {"id": "c", "kind": "boolean", "part": "Hole", "operation": "subtract"}, name="Hood"),
                    part({"id": "h", "kind": "box", "size": [2, 90, 2]}, name="Hole"))
    where = f"/api/builds/{build['id']}/export?format=obj"
    assert "Hole" not in api.http.get(where).get_data(as_text=True)
    asked = api.http.get(f"{where}&of={build['document']['parts'][1]['id']}").get_data(as_text=True)
    assert "o Hole" in asked and "Hood" not in asked


def test_a_joint_is_told_both_ways(api):
    drawer = part({"id": "b", "kind": "box", "size": [10, 10, 10]}, name="Drawer", joint={"kind": "slide", "axis": [1, 0, 0], "from": -9, "to": 20, "now": 1})
    build = api.new(drawer, part({"id": "b", "kind": "box", "size": [2, 10, 2]}, name="Post", placement={"translate": [14, 0, 0]}))
    told = api.post(f"/api/builds/{build['id']}/clearance", {"revision": build["revision"], "member": build["document"]["parts"][0]["id"]})
    assert told["touches"] == [None, pytest.approx(8, abs=1e-6)] and told["touches_at"] == pytest.approx(8, abs=1e-6)
    assert told["least"] == 0 and told["rests"] is False


def test_findings_are_those_of_what_is_handed_over(api):
    half = {"id": "half", "kind": "slice", "point": [0, 0, 0], "normal": [1, 0, 0], "keep": "above"}
    build = api.new(part({**BOX, "segments": [2, 1, 1]}, half))
    ask = f"/api/builds/{build['id']}/findings?part=part1&revision="
    assert [f["kind"] for f in api.get(f"{ask}{build['revision']}")["findings"]] == ["open_border"]
    build = api.change(build, {"op": "add", "path": "/parts/0/steps/-", "value": {"id": "m", "kind": "mirror", "axis": "x"}})
    assert api.get(f"{ask}{build['revision']}")["findings"] == []
