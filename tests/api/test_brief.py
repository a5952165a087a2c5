"""The brief over HTTP: pictures traced and straightened, figures live, sizes driven, nudges suggested."""

import io

import numpy as np
import pytest
from PIL import Image, ImageDraw

from tests.api.conftest import part

BOX = {"id": "body", "kind": "box", "size": [20, 30, 10]}
INSET = {"id": "pane", "kind": "inset", "pick": {"faces": {"facing": "+z"}}, "width": 2}


def drawing(box, size=(450, 400), **save):
    """10 pixels to the centimetre, one black box with corners in centimetres from the lower middle."""
    image = Image.new("RGB", size, "white")
    x0, y0, x1, y1 = box
    middle, height = size[0] / 2, size[1]
    ImageDraw.Draw(image).rectangle([middle + 10 * x0, height - 10 * y1, middle + 10 * x1 - 1, height - 10 * y0 - 1], fill="black")
    out = io.BytesIO()
    image.save(out, "PNG", **save)
    return out.getvalue()


def traced_board(api, box, view="front", **more):
    sha = api.picture(drawing(box))["sha256"]
    traced = api.post(f"/api/pictures/{sha}/outline", {})
    rings = [[[x * 45, y * 45] for x, y in ring] for ring in traced["rings"]]
    return {"id": view, "picture": sha, "name": view, "view": view, "width": 45, "outline": {"width": 45, "rings": rings}, **more}


def state(api, build, **more):
    return api.packed(f"/api/builds/{build['id']}/brief", {"revision": build["revision"], **more})


def test_a_picture_is_traced_in_its_own_widths(api):
    sha = api.picture(drawing((-10, 0, 10, 30)))["sha256"]
    traced = api.post(f"/api/pictures/{sha}/outline", {})
    ring = np.array(traced["rings"][0]) * 45
    assert ring.min(axis=0) == pytest.approx([-10, 0], abs=0.06) and ring.max(axis=0) == pytest.approx([10, 30], abs=0.06)
    assert traced["background"] == "#ffffff" and traced["area"] * 45**2 == pytest.approx(600, rel=1e-3)
    painted = api.post(f"/api/pictures/{sha}/outline", {"tracing": {"strokes": [{"paint": "in", "radius": 0.1, "points": [[0.3, 0.5]]}]}})
    assert painted["area"] > traced["area"]
    api.post(f"/api/pictures/{sha}/outline", {"tracing": {"threshold": 4}}, 422)
    api.post("/api/pictures/" + "0" * 64 + "/outline", {}, 404)
    assert "stands out" in api.post(f"/api/pictures/{sha}/outline", {"tracing": {"by": "background", "threshold": 1}}, 422)["message"]


def test_the_fit_is_told_for_every_traced_board_and_overall(api):
    build = api.new(part(BOX), boards=[traced_board(api, (-10, 0, 10, 30)), traced_board(api, (-6, 0, 5, 30), "right")])
    told = state(api, build)
    front, right = told["boards"]
    assert front["iou"] == pytest.approx(1, abs=1e-3) and right["iou"] == pytest.approx(10 / 11, abs=2e-3)
    assert told["overall"] == pytest.approx((front["iou"] + right["iou"]) / 2)
    assert right["worst"] == pytest.approx(1, abs=0.1) and right["mean"] > front["mean"]
    places = np.frombuffer(front["points"], "<f4").reshape(-1, 2)
    assert len(places) == len(np.frombuffer(front["off"], "<f4")) == len(np.frombuffer(front["ring"], "<u4"))
    assert places.max(axis=0) == pytest.approx([0.1, 0.3], abs=1e-4)


def test_the_fit_follows_a_trial_without_storing(api):
    build = api.new(part(BOX), boards=[traced_board(api, (-10, 0, 10, 33))])
    assert state(api, build)["overall"] == pytest.approx(30 / 33, abs=2e-3)
    trial = {"revision": build["revision"], "part": "part1",
             "step": {"kind": "transform", "pick": {"faces": {"facing": "+y"}}, "translate": [0, 3, 0]}}
    assert state(api, build, trial=trial)["overall"] == pytest.approx(1, abs=2e-3)
    assert state(api, build)["overall"] == pytest.approx(30 / 33, abs=2e-3)
    assert api.get(f"/api/builds/{build['id']}")["revision"] == build["revision"]


def test_a_board_is_judged_where_it_is_trusted_and_for_the_parts_it_shows(api):
    wide = traced_board(api, (-10, 0, 14, 30))
    build = api.new(part(BOX), part({**BOX, "size": [44, 38, 10]}, name="Wall"), boards=[
        {**wide, "trust": {"start": "left"}, "parts": ["part1"]}])
    assert state(api, build)["overall"] == pytest.approx(1, abs=2e-3)
    build = api.change(build, {"op": "replace", "path": "/boards/0/trust", "value": {"start": "all"}})
    assert state(api, build)["overall"] == pytest.approx(20 / 24, abs=2e-3)
    build = api.change(build, {"op": "replace", "path": "/boards/0/parts", "value": []})
    assert state(api, build)["overall"] < 0.5
    build = api.change(build, {"op": "add", "path": "/parts/1/hidden", "value": True})
    assert state(api, build)["overall"] == pytest.approx(20 / 24, abs=2e-3)


def test_sizes_are_told_with_verdicts_and_what_is_wrong(api):
    sizes = [{"id": "h", "name": "Height", "measure": "height", "want": 30},
             {"id": "n", "name": "Near", "measure": "width", "want": 20.5, "tolerance": 0.2},
             {"id": "f", "name": "Fail", "measure": "depth", "want": 12},
             {"id": "m", "name": "Only told", "measure": "volume"},
             {"id": "g", "name": "Gone", "measure": "height", "of": [{"part": "ghost"}]}]
    build = api.new(part(BOX), sizes=sizes)
    told = state(api, build, more=[{"id": "try", "name": "Tried", "measure": "area"}])["sizes"]
    assert [s["verdict"] for s in told] == ["pass", "near", "fail", None, None, None]
    assert [s["have"] for s in told] == [30, 20, 10, 6000, None, 2200]
    assert told[1]["off"] == -0.5 and "measure again" in told[4]["problem"]
    assert told[0]["drawn"] == "span" and np.ptp(np.array(told[0]["points"])[:, 1]) == pytest.approx(0.3)


def test_measures_stay_with_their_elements(api):
    """The inner face of an inset, by id: steps put in above do not loosen it."""
    build = api.new(part(BOX, INSET))
    packet = api.mesh(build)["cage"]
    inner = api.post(f"/api/builds/{build['id']}/pick", {"part": "part1", "pick": {"faces": {"made_by": "pane", "role": "inner"}}})["elements"]
    ids = [f"{int(v):016x}" for v in np.frombuffer(packet["face_ids"], "<u8")[inner]]
    size = {"id": "w", "name": "Window", "measure": "width", "of": [{"part": "part1", "pick": {"faces": {"ids": ids}}}]}
    build = api.change(build, {"op": "add", "path": "/sizes", "value": [size]})
    assert state(api, build)["sizes"][0]["have"] == pytest.approx(16)
    build = api.change(build, {"op": "add", "path": "/parts/0/steps/1", "value": {
        "id": "up", "kind": "extrude", "pick": {"faces": {"facing": "+y"}}, "depth": 5}})
    build = api.change(build, {"op": "replace", "path": "/parts/0/steps/2/width", "value": 3})
    assert state(api, build)["sizes"][0]["have"] == pytest.approx(14)


def test_a_size_is_driven_by_the_change_that_is_told(api):
    size = {"id": "w", "name": "Window", "measure": "width", "of": [{"part": "part1", "pick": {"faces": {"made_by": "pane", "role": "inner"}}}]}
    build = api.new(part(BOX, INSET), sizes=[size])
    driver = {"kind": "step", "part": "part1", "step": "pane", "parameter": "width"}
    ask = {"revision": build["revision"], "size": size, "driver": driver}
    found = api.post(f"/api/builds/{build['id']}/drive", {**ask, "want": 11.4})
    assert found["value"] == 4.3 and found["label"] == "Window: 11.4"
    build = api.change(build, *found["patch"])
    assert state(api, build)["sizes"][0]["have"] == pytest.approx(11.4)
    ask["revision"] = build["revision"]
    assert "no value of width" in api.post(f"/api/builds/{build['id']}/drive", {**ask, "want": 25}, 422)["message"]
    gone = {**driver, "step": "none"}
    assert "no longer there" in api.post(f"/api/builds/{build['id']}/drive", {**ask, "driver": gone, "want": 11}, 422)["message"]
    api.post(f"/api/builds/{build['id']}/drive", {**ask, "revision": 1, "want": 11.4}, 409)


def test_a_nudge_is_suggested_in_the_parts_own_axes(api):
    """The part is turned a quarter about y: what is across in the front view is along its own z."""
    build = api.new(part({**BOX, "size": [20, 30, 20]}, placement={"rotate": [0, 90, 0]}), boards=[traced_board(api, (-10, 0, 10, 33))])
    ask = {"revision": build["revision"], "part": "part1", "board": "front", "pick": {"faces": {"facing": "+y"}}}
    found = api.post(f"/api/builds/{build['id']}/nudge", ask)
    assert found["translate"] == pytest.approx([0, 3, 0], abs=0.05)
    assert found["after"] < 0.1 * found["before"] and found["iou_after"] > found["iou_before"]
    ask["pick"] = {"faces": {"facing": "-y"}}
    assert "no move" in api.post(f"/api/builds/{build['id']}/nudge", ask, 422)["message"]
    api.post(f"/api/builds/{build['id']}/nudge", {**ask, "board": "none"}, 404)


def test_a_picture_is_straightened_beside_its_original(api):
    sha = api.picture(drawing((-10, 10, 10, 30)))["sha256"]
    corners = [[-10 / 45, 10 / 45], [10 / 45, 10 / 45], [10 / 45, 30 / 45], [-10 / 45, 30 / 45]]
    made = api.post(f"/api/pictures/{sha}/straighten", {"corners": corners, "size": [40, 40]})
    assert made["picture"]["sha256"] != sha
    assert made["real"][0] == pytest.approx(90, rel=0.02)  # all of the picture, at the rectangle's scale
    assert api.http.get(f"/api/pictures/{made['picture']['sha256']}").status_code == 200
    assert api.http.get(f"/api/pictures/{sha}").status_code == 200
    looked = api.http.get(f"/api/pictures/{sha}/straightened?distortion=0.1&side=200")
    assert Image.open(io.BytesIO(looked.data)).size == (200, round(200 * 400 / 450))
    assert "sides" in api.post(f"/api/pictures/{sha}/straighten", {"corners": corners}, 422)["message"]
    api.post(f"/api/pictures/{sha}/straighten", {"distortion": 7}, 422)


def test_a_turned_picture_tells_its_size_as_seen(api):
    exif = Image.Exif()
    exif[0x0112] = 6
    told = api.picture(drawing((-10, 0, 10, 30), exif=exif))
    assert (told["width"], told["height"]) == (400, 450)
    assert api.get(f"/api/pictures/{told['sha256']}/about")["height"] == 450


def test_an_animated_picture_is_refused_with_a_reason(api):
    out = io.BytesIO()
    frames = [Image.new("RGB", (20, 20), c) for c in ("red", "blue")]
    frames[0].save(out, "PNG", save_all=True, append_images=frames[1:])
    assert "animated (2 frames)" in api.picture(out.getvalue(), 422)["message"]


def test_the_shown_unit_changes_nothing_that_is_stored(api):
    build = api.new(part(BOX))
    before = api.mesh(build)["cage"]["positions"]
    after = api.change(build, {"op": "add", "path": "/display", "value": {"unit": "in", "digits": 2}})
    assert after["document"]["unit"] == "cm" and after["document"]["parts"] == build["document"]["parts"]
    assert api.mesh(after)["cage"]["positions"] == before
