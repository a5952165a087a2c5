"""The texture square by hand: seams, unwrapping, pieces moved and turned back, patterns made and raised."""

import io
import json
import urllib.request

import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import expect

from tests.browser.conftest import post

BOX = {"id": "b", "kind": "box", "size": [18, 26, 18]}
UNWRAP, PACK = {"id": "u", "kind": "unwrap"}, {"id": "p", "kind": "pack"}


class Square:
    """The texture square, by its places."""

    def __init__(self, editor):
        self.editor, self.page = editor, editor.page

    def at(self, u, v):
        return self.page.evaluate("([u, v]) => window.rhytonic.square(u, v)", [u, v])

    def click(self, u, v, **more):
        self.page.mouse.move(*self.at(u, v))
        self.page.mouse.click(*self.at(u, v), **more)

    def drag(self, start, end, **more):
        (x, y), (z, w) = self.at(*start), self.at(*end)
        self.editor.drag((x, y), (z - x, w - y), **more)


@pytest.fixture
def wrap(editor, page):
    """The station Wrap over a build of these steps."""
    def go(*steps, **more):
        build = editor.make(*steps, **more)
        page.get_by_role("button", name="Wrap", exact=True).click()
        expect(page.get_by_test_id("square")).to_be_visible()
        editor.rest()
        return build
    return go


def panel(page):
    return page.get_by_role("region", name="Wrap")


def uv_of(editor, build):
    with urllib.request.urlopen(f"{editor.server}/api/builds/{build['id']}/parts/{build['document']['parts'][0]['id']}/layout") as answer:
        return json.load(answer)


def test_a_part_is_unwrapped_packed_and_handed_out_as_a_picture(wrap, editor, page):
    build = wrap(BOX)
    expect(page.get_by_text("Nothing lies here yet")).to_be_visible()
    panel(page).get_by_role("button", name="Unwrap").click()
    expect(editor.tray.get_by_text("Cut along 7 edges that are no seams")).to_be_visible()
    page.keyboard.press("Enter")
    editor.wait_steps(lambda s: [x["kind"] for x in s] == ["box", "unwrap"])
    expect(panel(page)).to_contain_text("turned overnone")
    panel(page).get_by_role("button", name="Pack").click()
    expect(editor.tray.get_by_label("density")).to_be_visible()
    page.keyboard.type("20")  # the number people type first
    page.keyboard.press("Enter")
    steps = editor.wait_steps(lambda s: len(s) == 3)
    assert steps[2]["density"] == 20
    expect(panel(page)).to_contain_text("20.00 px/cm")
    with page.expect_download() as got:
        panel(page).get_by_role("link", name="PNG, 16 bits").click()
    picture = np.asarray(Image.open(io.BytesIO(got.value.path().read_bytes())))
    assert picture.shape == (2048, 2048) and picture.dtype == np.uint16 and picture.min() == 0
    assert uv_of(editor, build)["figures"]["islands"] == 1


def test_seams_are_picked_marked_suggested_and_cut(wrap, editor, page):
    wrap(BOX)
    panel(page).get_by_role("button", name="Suggest").click()
    editor.picked("7 edges")
    panel(page).get_by_role("button", name="Mark seam").click()
    steps = editor.wait_steps(lambda s: len(s) == 2)
    assert steps[1]["kind"] == "seam" and len(steps[1]["pick"]["edges"]["ids"]) == 7
    panel(page).get_by_role("button", name="Unwrap").click()
    page.keyboard.press("Enter")
    editor.wait_steps(lambda s: len(s) == 3)
    expect(editor.tray.get_by_text("no seams")).to_have_count(0)
    expect(panel(page)).to_contain_text("pieces1")
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    panel(page).get_by_role("button", name="Mark seam").click()
    expect(page.get_by_text("seams are edges; pick edges first")).to_be_visible()


def test_picks_light_up_on_both_sides(wrap, editor, page):
    wrap(BOX, {"id": "u", "kind": "project", "how": "box"})
    square = Square(editor)
    expect(panel(page)).to_contain_text("pieces6")
    editor.key("f")
    square.click(0.35, 0.35)
    editor.picked("1 face")
    page.keyboard.down("Shift")
    square.click(0.6, 0.35)
    page.keyboard.up("Shift")
    editor.picked("2 faces")
    square.click(0.05, 0.95)  # beside everything
    editor.picked("nothing picked")
    editor.key("e")
    page.mouse.move(*square.at(0.35, 0.35))
    square.drag((0.0, 0.0), (1.0, 1.0))
    editor.picked("12 edges")
    editor.look("Front")
    editor.key("f")
    editor.click(0, 0.13, 0.09)
    editor.picked("1 face")


def test_a_piece_is_moved_by_hand_typed_and_taken_back(wrap, editor, page):
    wrap(BOX, UNWRAP, PACK)
    square = Square(editor)
    expect(panel(page)).to_contain_text("pieces1")
    square.drag((0.3, 0.4), (0.4, 0.4))
    steps = editor.wait_steps(lambda s: len(s) == 4)
    assert steps[3]["kind"] == "uv_transform" and steps[3]["move"][0] == pytest.approx(0.1, abs=0.005) and steps[3]["move"][1] == pytest.approx(0, abs=0.005)
    assert (steps[3]["move"][0] * 2048) == pytest.approx(round(steps[3]["move"][0] * 2048), abs=1e-4)  # whole pixels
    square.drag((0.4, 0.4), (0.4, 0.45))  # the same tool goes on
    steps = editor.wait_steps(lambda s: s[3]["move"][1] > 0.04)
    assert len(steps) == 4
    page.keyboard.type("90")  # turn comes first
    page.keyboard.press("Enter")
    editor.wait_steps(lambda s: len(s) == 4 and s[3].get("turn") == 90)
    page.keyboard.press("Control+z")
    editor.wait_steps(lambda s: len(s) == 3)


def test_an_island_turned_over_is_turned_back_at_a_press(wrap, editor, page):
    build = wrap(BOX, UNWRAP, {"id": "t", "kind": "uv_transform", "flip": "u"})
    expect(panel(page)).to_contain_text("6 faces turned over on the texture square")
    panel(page).get_by_role("button", name="Turn it back").click()
    editor.wait_steps(lambda s: len(s) == 4)
    expect(panel(page)).to_contain_text("Nothing wrong found")
    assert uv_of(editor, build)["turned"] == []


def test_a_pattern_is_made_and_raised(wrap, editor, page):
    wrap({"id": "s", "kind": "plane", "size": [10, 10]}, {"id": "u", "kind": "unwrap"})
    panel(page).get_by_role("button", name="+ Pattern").click()
    dialog = page.get_by_role("dialog")
    expect(dialog.get_by_label("pattern width")).to_be_focused()
    page.keyboard.type("12")
    page.keyboard.press("Tab")
    editor.wait_document(lambda d: d["patterns"][0]["size"][0] == 12)
    dialog.get_by_label("layer 1 pitch").fill("3")
    page.keyboard.press("Tab")
    editor.wait_document(lambda d: d["patterns"][0]["layers"][0]["pitch"] == 3)
    dialog.get_by_label("shape of a new layer").click()
    page.get_by_title("text", exact=True).click()
    dialog.get_by_role("button", name="Add layer").click()
    document = editor.wait_document(lambda d: len(d["patterns"][0]["layers"]) == 2)
    assert document["patterns"][0]["layers"][1]["shape"] == "text"
    dialog.get_by_label("layer 2 text").fill("QUAY 4")
    page.keyboard.press("Enter")
    editor.wait_document(lambda d: d["patterns"][0]["layers"][1]["text"] == "QUAY 4")
    dialog.get_by_label("Remove layer 2").click()
    editor.wait_document(lambda d: len(d["patterns"][0]["layers"]) == 1)
    dialog.get_by_role("button", name="Done").click()
    expect(dialog).to_have_count(0)
    panel(page).get_by_role("button", name="Raise").click()
    expect(editor.tray.get_by_label("height")).to_be_visible()
    page.keyboard.type("0.4")
    page.keyboard.press("Enter")
    steps = editor.wait_steps(lambda s: len(s) == 3)
    assert steps[2] | {"id": ""} == {"id": "", "kind": "relief", "pattern": document["patterns"][0]["id"], "height": 0.4, "levels": 4}
    expect(page.get_by_test_id("triangles")).to_contain_text("512")
    card = editor.step(steps[2]["id"])
    expect(card.get_by_label("height")).to_have_value("0.4")


def test_what_lies_nowhere_cannot_be_raised_and_says_what_helps(wrap, editor, page):
    wrap(BOX, patterns=[{"id": "p1", "name": "Ridges", "size": [10, 10], "resolution": 10, "layers": []}])
    panel(page).get_by_role("button", name="Raise").click()
    expect(page.get_by_text("unwrap the part or project it first")).to_be_visible()


def test_a_relief_is_found_by_its_name_and_says_what_it_needs(wrap, editor, page):
    wrap(BOX, UNWRAP)
    page.keyboard.press("Control+k")
    page.keyboard.type("Relief")
    page.keyboard.press("Enter")
    expect(page.get_by_text("a relief raises a pattern: make one here")).to_be_visible()
    panel(page).get_by_role("button", name="+ Pattern").click()
    page.get_by_role("dialog").get_by_role("button", name="Done").click()
    page.keyboard.press("Control+k")
    page.keyboard.type("Relief")
    page.keyboard.press("Enter")
    page.keyboard.type("0.3")
    page.keyboard.press("Enter")
    assert editor.wait_steps(lambda s: len(s) == 3)[2]["height"] == 0.3


def test_a_wall_pulled_longer_by_hand_shows_more_tiles(wrap, editor, page):
    build = wrap({"id": "b", "kind": "box", "size": [40, 20, 4]}, {"id": "t", "kind": "project", "how": "box", "size": 10})
    before = uv_of(editor, build)["figures"]
    editor.look("Right")
    editor.key("f")
    editor.click(0.2, 0.1, 0)
    editor.picked("1 face")
    editor.key("x")
    page.keyboard.type("20")
    page.keyboard.press("Enter")
    editor.wait_steps(lambda s: len(s) == 3)
    editor.rest()
    after = uv_of(editor, build)["figures"]
    assert after["density"]["max"] == pytest.approx(before["density"]["max"]) and after["stretch"]["worst"] == pytest.approx(1)


def test_two_windows_see_one_layout(wrap, editor, page, windows):
    build = wrap(BOX, UNWRAP)
    other = windows.new_page()
    other.goto(f"{editor.server}/build/{build['id']}")
    other.get_by_role("button", name="Wrap", exact=True).click()
    expect(other.get_by_role("region", name="Wrap")).to_contain_text("pieces1")
    Square(editor).drag((0.3, 0.4), (0.35, 0.4))
    editor.wait_steps(lambda s: len(s) == 3)
    other.wait_for_function("() => document.querySelectorAll('[data-step]').length === 3")
    other.get_by_role("region", name="Wrap").get_by_role("button", name="Pack").click()
    other.keyboard.press("Enter")
    editor.wait_steps(lambda s: [x["kind"] for x in s] == ["box", "unwrap", "uv_transform", "pack"])
    other.close()


def test_two_windows_hold_and_share_a_square_and_lose_nothing(editor, page, windows):
    chest = {"name": "Chest", "id": "chest", "steps": [{**BOX, "size": [30, 12, 18]}, SEAMS, UNWRAP, {**PACK, "density": 10}]}
    post_ = {"name": "Post", "id": "post", "steps": [BOX, SEAMS, UNWRAP, {**PACK, "density": 10}], "placement": {"translate": [40, 0, 0]}}
    build = post(editor.server, "/api/builds", {"name": "Quay", "document": {"format": "rhytonic", "version": 1, "parts": [chest, post_]}})
    editor.open(build["id"])
    other = windows.new_page()
    other.goto(f"{editor.server}/build/{build['id']}")
    for window in (page, other):
        window.get_by_role("button", name="Wrap", exact=True).click()
        window.get_by_role("button", name="Chest", exact=True).first.click()
        expect(panel(window).get_by_label("Pieces stay where they lie")).not_to_be_checked()
    other.locator('[data-step="b"]').click()
    panel(page).get_by_label("Pieces stay where they lie").click()  # in one window
    size = other.locator('[data-step="b"]').get_by_label("size x")
    size.fill("24")
    other.keyboard.press("Enter")  # and at once in the other
    found = editor.wait_document(lambda d: d["parts"][0]["steps"][0]["size"][0] == 24 and d["parts"][0]["steps"][3].get("places"))
    assert len(found["parts"][0]["steps"][3]["places"]) == 6
    expect(panel(other).get_by_label("Pieces stay where they lie")).to_be_checked()
    panel(other).get_by_label("Pieces stay where they lie").click()
    editor.wait_document(lambda d: not d["parts"][0]["steps"][3].get("places"))
    expect(panel(page).get_by_label("Pieces stay where they lie")).not_to_be_checked()
    page.get_by_role("button", name="Post", exact=True).first.click(modifiers=["ControlOrMeta"])
    panel(page).get_by_role("button", name="One square").click()
    size.fill("26")
    other.keyboard.press("Enter")
    found = editor.wait_document(lambda d: d["parts"][0]["steps"][0]["size"][0] == 26 and all(p["steps"][-1].get("area") for p in d["parts"]))
    assert len({p["steps"][-1]["density"] for p in found["parts"]}) == 1 and [len(p["steps"]) for p in found["parts"]] == [4, 4]
    other.close()


def test_what_is_opened_next_is_framed_by_itself(wrap, editor, page):
    seen = []
    for size in ([10, 20, 30], [100, 200, 300], [10, 20, 30]):
        wrap({**BOX, "size": size})  # the station before leaves half the room to the views, which the next build has whole
        editor.make({**BOX, "size": size})
        editor.look("Front")
        editor.rest()
        (left, low), (right, high) = (editor.at(x * size[0] / 200, y * size[1] / 100, 0) for x, y in ((-1, 0), (1, 1)))
        seen.append((right - left, low - high))
        pane = page.evaluate("window.rhytonic.panes()")[0]
        assert pane["x"] < left and pane["y"] < high and low < pane["y"] + pane["height"] and low - high > pane["height"] / 7
    assert seen[0] == pytest.approx(seen[2], rel=1e-6)


def test_at_1024_by_768_nothing_is_cut(wrap, editor, page):
    page.set_viewport_size({"width": 1024, "height": 768})
    wrap(BOX, UNWRAP)
    expect(panel(page)).to_contain_text("pieces1")
    assert page.evaluate("() => document.documentElement.scrollWidth <= innerWidth")
    for name in ("Unwrap", "Project", "Pack", "Straighten band", "Turn, move", "PNG", "SVG", "+ Pattern"):
        button = panel(page).get_by_role("link" if name in ("PNG", "SVG") else "button", name=name, exact=True)
        button.scroll_into_view_if_needed()
        box = button.bounding_box()
        assert box["x"] >= 0 and box["x"] + box["width"] <= 1024


def test_a_painted_picture_is_raised_and_taken_in_anew(wrap, editor, page, tmp_path):
    wrap({"id": "s", "kind": "plane", "size": [10, 10]}, {"id": "u", "kind": "unwrap"})
    for name, shade in (("one.png", 255), ("two.png", 100)):
        Image.fromarray(np.full((32, 32), shade, np.uint8)).save(tmp_path / name)
    panel(page).get_by_label("Painted picture").set_input_files(str(tmp_path / "one.png"))
    expect(editor.tray.get_by_label("height")).to_be_visible()
    page.keyboard.type("0.5")
    page.keyboard.press("Enter")
    first = editor.wait_steps(lambda s: len(s) == 3)[2]
    assert first["kind"] == "relief" and len(first["picture"]) == 64
    panel(page).get_by_label("Painted picture").set_input_files(str(tmp_path / "two.png"))
    again = editor.wait_steps(lambda s: s[2]["picture"] != first["picture"])
    assert len(again) == 3 and again[2] | {"picture": ""} == first | {"picture": ""}


def test_squares_are_drawn_on_the_model_at_once_and_gone_with_the_station(wrap, editor, page):
    wrap(BOX, UNWRAP)
    drawn = page.evaluate("() => window.rhytonic.frames()")
    plain = editor.page.locator(".sheet").first.screenshot()
    panel(page).get_by_label("Squares on the model").click()
    page.wait_for_function("(n) => window.rhytonic.frames() > n", arg=drawn)
    editor.rest()
    squared = editor.page.locator(".sheet").first.screenshot()
    one, two = (np.asarray(Image.open(io.BytesIO(p)).convert("L"), int) for p in (plain, squared))
    assert (np.abs(one - two) > 20).mean() > 0.01
    page.get_by_role("button", name="Shape", exact=True).click()
    editor.rest()
    page.get_by_role("button", name="Wrap", exact=True).click()
    expect(panel(page).get_by_label("Squares on the model")).to_be_checked()


SEAMS = {"id": "s", "kind": "seam", "pick": {"edges": {"sharper_than": 45}}}


def test_the_square_stands_alone_and_what_is_seen_in_the_views_stays(editor, page):
    editor.make(BOX, SEAMS, UNWRAP, PACK)
    view = editor.view.bounding_box()

    def spread():
        box = editor.view.bounding_box()
        now = np.array([editor.at(0.09 * x, 0.13 + 0.13 * y, 0.09) for x in (-1, 1) for y in (-1, 1)])
        return (now - [box["x"] + box["width"] / 2, box["y"] + box["height"] / 2]) / box["width"]

    page.mouse.move(view["x"] + view["width"] / 2, view["y"] + view["height"] / 2)
    page.mouse.wheel(0, -240)  # nearer to what is looked at
    editor.rest()
    before, seen = spread(), [editor.at(0.09, 0.26, 0.09)]
    page.get_by_role("button", name="Wrap", exact=True).click()
    expect(page.get_by_test_id("square")).to_be_visible()
    editor.rest()
    np.testing.assert_allclose(spread(), before, atol=0.06)  # half the room, and the same from side to side, but for depth
    wide = page.get_by_test_id("square").bounding_box()["width"]
    page.get_by_role("button", name="The square alone").click()
    editor.rest()
    assert page.get_by_test_id("square").bounding_box()["width"] > 1.9 * wide
    page.keyboard.press("f")  # keys are heard still
    square = Square(editor)
    square.drag((0.999, 0.001), (0.001, 0.999))
    editor.picked("6 faces")
    page.mouse.move(*square.at(0.5, 0.5))
    page.keyboard.press("o")
    editor.rest()
    assert page.get_by_test_id("square").bounding_box()["width"] < 1.1 * wide
    page.get_by_role("button", name="Form", exact=True).click()
    editor.rest()
    assert np.allclose(editor.at(0.09, 0.26, 0.09), seen[0], atol=1.5)


def test_pieces_are_set_in_line_and_given_one_density(wrap, editor, page):
    build = wrap(BOX, SEAMS, UNWRAP, {"id": "e", "kind": "uv_transform", "scale": [0.5, 0.5], "pick": {"faces": {"facing": "+y"}}})
    panel(page).get_by_role("button", name="One density").click()
    expect(page.get_by_text("two or more pieces first")).to_be_visible()
    page.keyboard.press("f")
    Square(editor).drag((1.02, 1.02), (-0.01, -0.01))
    editor.picked("6 faces")
    panel(page).get_by_role("button", name="One density").click()
    expect(editor.tray.get_by_label("density")).not_to_have_value("")
    page.keyboard.press("Enter")
    steps = editor.wait_steps(lambda s: len(s) == 5)
    figures = uv_of(editor, build)["figures"]
    assert steps[4]["density"] == pytest.approx(figures["density"]["min"], rel=1e-3)
    assert figures["density"]["max"] == pytest.approx(figures["density"]["min"])
    panel(page).get_by_role("button", name="In line").click()
    page.get_by_role("menuitem", name="By their left sides").click()
    expect(editor.tray.get_by_label("align")).to_be_visible()
    editor.view.press("Enter")
    steps = editor.wait_steps(lambda s: len(s) == 6)
    assert steps[5]["align"] == "left" and "density" not in steps[5]


PLATE = [{"id": "s", "kind": "plane", "size": [10, 10]}, {"id": "u", "kind": "unwrap"}]
MARK = {"id": "mark", "name": "Mark", "size": [10, 10], "resolution": 10, "layers": [{"shape": "text", "text": "No. 7", "at": [1, 4], "size": [8, 3]}]}
RAISED = {"id": "r", "kind": "relief", "pattern": "mark", "height": 0.2, "levels": 4}


def test_corners_and_pictures_are_layers_by_hand(wrap, editor, page):
    wrap(*PLATE, patterns=[MARK])
    panel(page).get_by_role("button", name="Edit Mark").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("shape of a new layer").click()
    page.get_by_title("polygon", exact=True).click()
    dialog.get_by_role("button", name="Add layer").click()
    corners = dialog.get_by_label("layer 2 corners")
    expect(corners).to_have_value("2 2, 8 2, 5 8")
    corners.fill("2 2, 8 2")
    page.keyboard.press("Enter")
    expect(dialog.get_by_role("alert")).to_contain_text("three or more pairs")
    corners.fill("1 1; 9 1; 5 9.5")
    page.keyboard.press("Enter")
    document = editor.wait_document(lambda d: d["patterns"][0]["layers"][-1].get("points") == [[1, 1], [9, 1], [5, 9.5]])
    assert document["patterns"][0]["layers"][1]["shape"] == "polygon"
    made = io.BytesIO()
    Image.fromarray(np.full((20, 20), 200, np.uint8)).save(made, "PNG")
    dialog.get_by_label("A picture as a layer").set_input_files({"name": "rope.png", "mimeType": "image/png", "buffer": made.getvalue()})
    document = editor.wait_document(lambda d: len(d["patterns"][0]["layers"]) == 3)
    assert document["patterns"][0]["layers"][2]["shape"] == "picture" and document["patterns"][0]["layers"][2]["size"] == [10, 10]
    dialog.get_by_role("button", name="Done").click()


def test_what_reads_right_on_an_image_is_chosen_by_hand(editor, page):
    twin = {"name": "Twin", "id": "twin", "of": "part1", "mirrored": "x", "placement": {"translate": [30, 0, 0]}}
    mirror = {"id": "m", "kind": "mirror", "at": 6, "keep": "-"}
    document = {"format": "rhytonic", "version": 1, "patterns": [MARK], "parts": [{"name": "Plate", "id": "part1", "steps": [*PLATE, RAISED, mirror]}, twin]}
    build = post(editor.server, "/api/builds", {"name": "Marks", "document": document})
    editor.open(build["id"])
    page.get_by_role("button", name="Twin", exact=True).first.click()
    recipe = page.get_by_role("region", name="Recipe of Twin")
    recipe.get_by_label("readable").click()
    page.get_by_title("Mark", exact=True).click()
    editor.wait_document(lambda d: d["parts"][1].get("readable") == ["mark"])
    page.keyboard.press("Escape")
    page.keyboard.press("Control+z")
    editor.wait_document(lambda d: not d["parts"][1].get("readable"))
    recipe.get_by_role("button", name="Work on Plate").click()
    editor.step("m").click()
    editor.step("m").get_by_label("readable").click()
    page.get_by_title("Mark", exact=True).last.click()
    editor.wait_document(lambda d: d["parts"][0]["steps"][-1].get("readable") == ["mark"])


def test_a_layout_that_was_handed_out_stays_where_it_is(wrap, editor, page):
    wrap(BOX, SEAMS, UNWRAP, {**PACK, "density": 20})
    stays = panel(page).get_by_label("Pieces stay where they lie")
    expect(stays).not_to_be_checked()
    with page.expect_download():
        panel(page).get_by_role("link", name="SVG").click()
    expect(page.get_by_text("held where they lie from now on")).to_be_visible()
    steps = editor.wait_steps(lambda s: len(s[3].get("places", [])) == 6)
    assert steps[3]["density"] == 20
    expect(stays).to_be_checked()

    def lows():
        uv = np.array(page.evaluate("() => [...window.rhytonic.places()]")).reshape(-1, 4, 2)
        return uv.min(axis=1)

    before = lows()
    editor.step("b").click()
    size = editor.step("b").get_by_label("size x")
    size.fill("14")
    page.keyboard.press("Enter")
    editor.wait_steps(lambda s: s[0]["size"][0] == 14)
    editor.rest()
    np.testing.assert_allclose(lows(), before, atol=1e-5)
    # and each is moved by the numbers on its card, or let go
    editor.step("b").click()
    editor.step("p").click()
    held = editor.step("p").get_by_role("group", name="Places of the pieces")
    expect(held).to_contain_text("6 pieces stay where they lie")
    place = editor.steps()[3]["places"][1]
    held.get_by_label("places 2 u").fill("0.7")
    page.keyboard.press("Enter")
    editor.wait_steps(lambda s: s[3]["places"][1] == {**place, "at": [0.7, place["at"][1]]})
    held.get_by_label("places 2 quarter").fill("5")
    page.keyboard.press("Enter")
    editor.wait_steps(lambda s: s[3]["places"][1]["quarter"] == 1)
    held.get_by_role("button", name="let piece 2 go").click()
    editor.wait_steps(lambda s: len(s[3]["places"]) == 5 and place["face"] not in [p["face"] for p in s[3]["places"]])
    for _ in range(3):
        page.keyboard.press("Control+z")
    editor.wait_steps(lambda s: s[3]["places"][1] == place)
    stays.click()
    editor.wait_steps(lambda s: not s[3].get("places"))
    editor.rest()
    assert not np.allclose(lows(), before, atol=1e-3)
    page.keyboard.press("Control+z")
    editor.wait_steps(lambda s: len(s[3].get("places", [])) == 6)


def test_chosen_parts_are_packed_onto_one_square(editor, page):
    wide = {"name": "Chest", "id": "chest", "steps": [{**BOX, "size": [30, 12, 18]}, SEAMS, UNWRAP]}
    tall = {"name": "Post", "id": "post", "steps": [BOX, SEAMS, UNWRAP, {**PACK, "resolution": 1024}], "placement": {"translate": [40, 0, 0]}}
    build = post(editor.server, "/api/builds", {"name": "Quay", "document": {"format": "rhytonic", "version": 1, "parts": [wide, tall]}})
    editor.open(build["id"])
    page.get_by_role("button", name="Wrap", exact=True).click()
    page.get_by_role("button", name="Chest", exact=True).first.click()
    panel(page).get_by_role("button", name="One square").click()
    expect(page.get_by_text("choose two or more parts")).to_be_visible()
    page.get_by_role("button", name="Post", exact=True).first.click(modifiers=["ControlOrMeta"])
    panel(page).get_by_role("button", name="One square").click()
    parts = editor.wait_document(lambda d: all(p["steps"][-1].get("area") for p in d["parts"]))["parts"]
    one, two = (p["steps"][-1] for p in parts)
    assert one["density"] == two["density"] and one["resolution"] == two["resolution"] == 1024 and len(parts[1]["steps"]) == 4
    editor.rest()
    with page.expect_download() as got:
        panel(page).get_by_role("link", name="SVG").click()
    told = got.value.path().read_text()
    assert "Chest" in told and "Post" in told
    editor.wait_document(lambda d: all(len(p["steps"][-1].get("places", [])) == 6 for p in d["parts"]))  # both may be painted on
    page.keyboard.press("Control+z")
    editor.wait_document(lambda d: not any(p["steps"][-1].get("places") for p in d["parts"]))
    page.keyboard.press("Control+z")
    editor.wait_document(lambda d: len(d["parts"][0]["steps"]) == 3 and "area" not in d["parts"][1]["steps"][3])


def test_pieces_are_unwrapped_again_round_what_is_picked(wrap, editor, page):
    build = wrap({"id": "b", "kind": "cylinder", "radius": 6, "radius_top": 4, "height": 20, "sides": 12}, UNWRAP, {"id": "m", "kind": "uv_transform", "move": [0.05, 0.02]})
    panel(page).get_by_role("button", name="Unwrap round it").click()
    expect(page.get_by_text("pick what is to stay")).to_be_visible()

    def places():
        return np.array(page.evaluate("() => [...window.rhytonic.places()]")).reshape(-1, 2)

    before = places()
    page.keyboard.press("f")
    Square(editor).click(*before[:4].mean(axis=0))
    editor.picked("1 face")
    panel(page).get_by_role("button", name="Unwrap round it").click()
    expect(editor.tray.get_by_label("method")).to_be_visible()
    page.keyboard.press("Enter")
    steps = editor.wait_steps(lambda s: len(s) == 4)
    assert len(steps[3]["pins"]["faces"]["ids"]) == 1
    editor.rest()
    np.testing.assert_allclose(places()[:4], before[:4], atol=1e-6)
    card = editor.step(steps[3]["id"])
    card.click()
    expect(card).to_contain_text("round 1 face, which stays")
    card.get_by_role("button", name="let it go").click()
    editor.wait_steps(lambda s: "pins" not in s[3])
    page.keyboard.press("Control+z")
    editor.wait_steps(lambda s: s[3].get("pins"))
    assert uv_of(editor, build)["figures"]["turned"] == 0
