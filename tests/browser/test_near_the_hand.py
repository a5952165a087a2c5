"""What is under the hand: fields whose numbers are whole, clicks that say beforehand what they take, hints out of the way."""

import time

from playwright.sync_api import expect

from tests.api.conftest import BOX
from tests.browser.conftest import post

TUBE = {"id": "tube", "kind": "tube", "radius": 10, "inner_radius": 9, "height": 10, "sides": 16}


def whole(field):
    """Whether all of a field's text is to be seen."""
    return field.evaluate("(e) => e.scrollWidth <= e.clientWidth")


def test_a_number_is_never_cut(editor, page):
    editor.make(BOX, {"id": "t", "kind": "transform", "translate": [-1155.1055, 30.8333, -1.25], "pick": {"faces": {"facing": "+y"}}})
    editor.step("t").get_by_role("button").first.click()
    card = editor.step("t")
    for axis in "xyz":
        assert whole(card.get_by_label(f"translate {axis}", exact=True))
    editor.key("e")
    editor.click(0, 0.1, 0.15)
    field = page.get_by_label("y of the pick")
    for typed in ("55.105", "30.8333", "1234.5678", "-1/8 in"):
        field.fill(typed)
        assert whole(field)
    edge = card.bounding_box()
    for axis in "xyz":
        box = card.get_by_label(f"translate {axis}", exact=True).bounding_box()
        assert box["x"] >= edge["x"] and box["x"] + box["width"] <= edge["x"] + edge["width"]
    page.keyboard.press("Escape")


def test_weld_begins_with_what_joins_something(editor, page):
    editor.make({**BOX, "size": [3, 3, 3]}, {"id": "d", "kind": "transform", "pick": {"vertices": {"nearest": [1.5, 3, 1.5]}}, "translate": [0, 0, -2.2]})
    editor.key("v")
    editor.key("Control+a")
    editor.picked("8 vertices")
    page.keyboard.press("Control+k")
    page.get_by_label("Find a tool, part or step").fill("merge")
    page.keyboard.press("Enter")
    expect(editor.tray.get_by_label("distance", exact=True)).to_have_value("0.81")
    page.keyboard.press("Enter")
    assert editor.wait_steps(lambda s: len(s) == 3)[2]["distance"] == 0.81
    expect(page.get_by_test_id("triangles")).to_contain_text("10 triangles")


def test_weld_onto_the_one_clicked_last(editor, page):
    editor.make(BOX)
    editor.look("Front")
    editor.key("v")
    editor.click(-0.05, 0.2, 0.15)
    editor.click(0.05, 0.2, 0.15, modifiers=["Shift"])
    editor.picked("2 vertices")
    page.keyboard.press("Control+k")
    page.get_by_label("Find a tool, part or step").fill("merge")
    page.keyboard.press("Enter")
    page.get_by_label("what is welded").click()
    page.get_by_title("onto the last picked").click()
    page.keyboard.press("Enter")
    step = editor.wait_steps(lambda s: len(s) == 2)[1]
    assert "distance" not in step and len(step["to"]["ids"]) == 1
    editor.click(0.05, 0.2, 0.15)
    expect(page.get_by_label("x of the pick")).to_have_value("5")


def test_clicks_at_one_place_go_on_to_what_stands_behind(editor, page):
    """In the 3D view, seen only: the front corner, then the one behind it."""
    editor.make(BOX)
    editor.look("Front")
    editor.key("v")
    editor.click(0.05, 0.2, 0.15)
    z = page.get_by_label("z of the pick")
    expect(z).to_have_value("15")
    editor.click_again(0.05, 0.2, 0.15)
    expect(z).to_have_value("−15")


def test_a_thin_rim_is_taken_along_and_shown_before(editor, page):
    editor.make(TUBE)
    editor.look("Top")
    editor.key("f")
    x, y = editor.at(0.0914, 0.1, -0.0182)  # the middle of a rim face
    page.mouse.move(x, y)
    editor.rest()
    page.mouse.dblclick(x, y)
    editor.picked("16 faces")
    expect(page.get_by_label("y of the pick")).to_have_value("10")


def test_a_hint_waits_and_stands_clear_of_the_tools(editor, page):
    editor.make(BOX)
    editor.key("e")
    editor.click(0, 0.1, 0.15)
    snap = editor.tray.get_by_role("button", name="Snap").first
    snap.hover()
    hint = page.get_by_role("tooltip")
    time.sleep(0.3)
    expect(hint).to_have_count(0)
    expect(hint).to_be_visible()
    box, tray = hint.bounding_box(), editor.tray.bounding_box()
    assert box["y"] + box["height"] <= tray["y"] + 1
    assert hint.evaluate("(e) => getComputedStyle(e).pointerEvents") == "none"
    redo = page.get_by_label("Redo")
    redo.hover(force=True)  # what cannot be pressed says why
    expect(hint).to_have_text("Nothing to redo")
    assert redo.get_attribute("aria-describedby") == hint.get_attribute("id")
    page.mouse.move(640, 300)
    expect(hint).to_have_count(0)
    assert redo.get_attribute("aria-describedby") is None


def test_nothing_said_covers_the_fit(editor, page):
    editor.make(BOX)
    editor.key("v")
    editor.key("Escape")
    page.keyboard.press("Control+k")
    page.get_by_label("Find a tool, part or step").fill("bridge")
    page.keyboard.press("Enter")
    told = page.get_by_text("pick some first")
    expect(told).to_be_visible()
    assert told.bounding_box()["y"] > 400


def test_a_ghost_says_why_it_is_not_picked(editor, page):
    ghost = {"name": "Post", "id": "post", "ghosted": True, "steps": [BOX]}
    made = post(editor.server, "/api/builds", {"name": "Ghosts", "document": {"format": "rhytonic", "version": 1, "parts": [ghost]}})
    editor.open(made["id"])
    editor.look("Front")
    editor.click(0, 0.1, 0.15)
    expect(page.get_by_text("Post is ghosted: drawn see-through, and not picked.")).to_be_visible()
    page.get_by_role("button", name="Draw it solid", exact=True).click()
    editor.wait_document(lambda d: not d["parts"][0].get("ghosted"))
    editor.key("f")
    editor.click(0, 0.1, 0.15)
    editor.picked("1 face")
