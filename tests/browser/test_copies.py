"""Copies and joints by hand: groups, across faces, by typing, along a curve; halves made one; corners that meet."""

import pytest
from playwright.sync_api import expect

from tests.api.conftest import part
from tests.browser.test_keys import slowly
from tests.browser.test_together import CUBE, ROW, form, places, row

WAY = part({"id": "a", "kind": "arc", "radius": 20, "from": 180, "to": 0}, name="Way", id="way")


def menu(page, name, *items):
    row(page, name).click(button="right")
    for item in items:
        page.get_by_role("menuitem", name=item).last.hover()
        if item == items[-1]:
            page.get_by_role("menuitem", name=item).last.click()


def test_a_group_is_copied_by_its_collar_and_once_more_by_a_key(editor, page):
    editor.make(parts=[{**p, "group": "g"} for p in ROW[:2]], groups=[{"id": "g", "name": "Fence"}])
    editor.look("Front")
    row(page, "Fence").click()
    editor.key("Shift+T")
    x, y = editor.at(0, 0, 0)
    editor.drag((x + 102, y), (150, 0))
    document = editor.wait_document(lambda d: len(d["groups"]) == 2)
    copy = document["groups"][1]
    assert copy["name"] == "Fence 2" and copy["placement"]["translate"][0] > 5
    assert [(p["name"], p["of"], p["group"]) for p in document["parts"][2:]] == [
        ("Post 2", "post", copy["id"]), ("Rail 2", "rail", copy["id"])]
    editor.key("Shift+R")
    third = editor.wait_document(lambda d: len(d["groups"]) == 3)["groups"][2]
    assert abs(third["placement"]["translate"][0] - 2 * copy["placement"]["translate"][0]) < 1e-6
    page.get_by_label("Undo").click()
    editor.wait_document(lambda d: len(d["groups"]) == 2 and len(d["parts"]) == 4)


def test_copies_asked_for_faster_than_they_are_stored_stand_in_a_row(editor, page):
    editor.make(parts=ROW[:1])
    editor.look("Front")
    row(page, "Post").click()
    editor.key("Shift+T")
    page.route("**/changes", slowly)
    x, y = editor.at(0, 0, 0)
    editor.drag((x + 102, y), (150, 0))
    for _ in range(2):
        editor.key("Shift+R")
    expect(row(page, "Post 4")).to_be_visible()
    parts = editor.wait_document(lambda d: len(d["parts"]) == 4)["parts"]
    step = parts[1]["placement"]["translate"][0]
    assert [p["placement"]["translate"][0] for p in parts[2:]] == pytest.approx([2 * step, 3 * step])


def test_a_part_put_into_a_placed_group_stays_where_it_is(editor, page):
    editor.make(parts=ROW[:1], groups=[{"id": "g", "name": "Fence", "placement": {"translate": [30, 0, 0], "rotate": [0, 90, 0]}}])
    menu(page, "Post", "Group", "into Fence")
    document = editor.wait_document(lambda d: d["parts"][0].get("group") == "g")
    assert document["parts"][0]["placement"]["translate"] == pytest.approx([0, 0, -30])
    menu(page, "Fence", "Dissolve group")
    document = editor.wait_document(lambda d: d["groups"] == [])
    assert "placement" not in document["parts"][0] and "group" not in document["parts"][0]


def test_typed_places_make_copies_and_a_minus_sends_one_across(editor, page):
    editor.make(parts=[part(CUBE, name="Leg", id="leg", placement={"translate": [14, 3, 0]})])
    panel = form(page)
    panel.get_by_role("switch", name="Typed places make copies").click()
    field = panel.get_by_label("place x", exact=True)
    field.press("Home")
    field.press_sequentially("-")
    field.press("Enter")
    across = editor.wait_document(lambda d: len(d["parts"]) == 2)["parts"][1]
    assert across["name"] == "Leg 2" and across["mirrored"] == "x" and across["placement"]["translate"] == [-14, 3, 0]
    assert places(editor.document())["Leg"] == [14, 3, 0]
    row(page, "Leg").click()
    panel.get_by_label("place z", exact=True).fill("20")
    panel.get_by_label("place z", exact=True).press("Enter")
    third = editor.wait_document(lambda d: len(d["parts"]) == 3)["parts"][2]
    assert third["name"] == "Leg 3" and third["of"] == "leg" and third["placement"]["translate"] == [14, 3, 20]
    expect(editor.view).to_be_focused()


def test_a_copy_is_mirrored_through_a_face_and_both_halves_become_one(editor, page):
    editor.make(parts=[part({**CUBE, "size": [10, 8, 6]}, name="Half", id="half", placement={"translate": [20, 0, 0]})])
    editor.look("Right")
    editor.click(0.25, 0.04, 0)
    editor.picked("1 face")
    menu(page, "Half", "Copy", "mirrored, linked, through the picked face")
    copy = editor.wait_document(lambda d: len(d["parts"]) == 2)["parts"][1]
    assert copy["of"] == "half" and copy["mirrored"] == "x" and copy["placement"]["translate"] == pytest.approx([30, 0, 0])
    menu(page, "Half", "One part with its mirrored half")
    whole = editor.wait_document(lambda d: len(d["parts"]) == 1)["parts"][0]["steps"][-1]
    assert whole["kind"] == "mirror" and "axis" not in whole and whole["at"] == 5 and whole["keep"] == "-"
    expect(page.get_by_test_id("triangles")).to_contain_text("20 triangles")  # the wall between them is gone
    weld = editor.step(whole["id"]).get_by_label("weld")
    weld.fill("0.2")
    weld.press("Enter")
    editor.wait_steps(lambda s: s[-1].get("weld") == 0.2)


def test_an_axis_goes_through_two_points_and_can_be_typed(editor, page):
    editor.make(parts=ROW[:1])
    panel = form(page)
    editor.look("Front")
    editor.key("v")
    editor.click(0.05, 0.1, 0.05)
    editor.click(0.05, 0, 0.05, modifiers=["Shift"])
    editor.picked("2 vertices")
    expect(panel).to_contain_text("What is picked becomes its axis")
    panel.get_by_role("button", name="hinge").click()
    joint = editor.wait_document(lambda d: d["parts"][0].get("joint"))["parts"][0]["joint"]
    assert joint["at"] == pytest.approx([5, 5, 5]) and joint["axis"] == pytest.approx([0, 1, 0])
    panel.get_by_label("joint at x").fill("-5")
    panel.get_by_label("joint at x").press("Enter")
    editor.wait_document(lambda d: d["parts"][0]["joint"]["at"][0] == -5)
    panel.get_by_label("joint axis y").fill("0")
    panel.get_by_label("joint axis y").press("Enter")
    expect(page.get_by_text("An axis needs a direction")).to_be_visible()
    panel.get_by_label("joint axis x").fill("1")
    panel.get_by_label("joint axis x").press("Enter")
    editor.wait_document(lambda d: d["parts"][0]["joint"]["axis"] == [1, 1, 0])


def test_a_corner_of_what_is_dragged_meets_a_corner_that_stands(editor, page):
    editor.make(parts=[ROW[0], part({**CUBE, "size": [6, 6, 6]}, name="Peg", id="peg", placement={"translate": [20, 0, 0]})])
    editor.look("Front")
    row(page, "Peg").click()
    editor.key("Shift+T")
    if page.get_by_role("button", name="Snap off").count():
        page.get_by_role("button", name="Snap off").click()
    x, y = editor.at(0.2, 0, 0)
    left, _ = editor.at(0.05, 0, 0)
    edge, _ = editor.at(0.17, 0, 0)
    editor.drag((x + 60, y), (left - edge + 4, 0), steps=12)  # four pixels short of touching
    moved = editor.wait_document(lambda d: places(d)["Peg"][0] != 20)
    assert places(moved)["Peg"] == pytest.approx([8, 0, 0])


def test_copies_go_along_a_curve_that_is_chosen_in_the_tray(editor, page):
    editor.make(parts=[WAY, part({"id": "peg", "kind": "box", "size": [2, 4, 2], "anchor": "centre"}, name="Peg", id="peg",
                                 placement={"translate": [-20, 0, 0]})])
    expect(row(page, "Way").locator("xpath=ancestor::li")).to_contain_text("curve")
    row(page, "Peg").click()
    editor.view.focus()
    page.keyboard.press("Escape")
    editor.tray.get_by_role("button", name="Whole part").click()
    page.get_by_role("menuitem", name="Array").click()
    editor.tray.get_by_label("how the copies stand").click(force=True)
    page.locator(".ant-select-item-option:visible", has_text="along a curve").click()
    editor.tray.get_by_label("count").fill("5")
    editor.tray.get_by_label("count").press("Enter")
    step = editor.wait_document(lambda d: len(d["parts"][1]["steps"]) == 2)["parts"][1]["steps"][1]
    assert step["along"]["part"] == "way" and step["count"] == 5 and "step" not in step
    expect(page.get_by_test_id("triangles")).to_contain_text("60 triangles")
    # the curve's own number changes the row
    row(page, "Way").click()
    editor.step("a").locator(".title").click()
    editor.step("a").get_by_label("radius").fill("30")
    editor.step("a").get_by_label("radius").press("Enter")
    editor.wait_document(lambda d: d["parts"][0]["steps"][0]["radius"] == 30)
    expect(page.get_by_role("alert")).to_have_count(0)


def test_a_curve_is_begun_by_typing_and_swept(editor, page):
    editor.make(parts=ROW[:1])
    panel = form(page)
    panel.get_by_role("radio", name="Arc").click()
    panel.get_by_label("radius", exact=True).fill("12")
    panel.get_by_role("button", name="Make arc").click()
    arc = editor.wait_document(lambda d: len(d["parts"]) == 2)["parts"][1]
    assert arc["steps"] == [{"id": "arc1", "kind": "arc", "radius": 12, "from": 0, "to": 180}]
    editor.view.focus()
    expect(editor.tray.get_by_role("button", name="Insert loops")).to_have_count(0)
    editor.tray.get_by_role("button", name="Sweep").click()
    editor.tray.get_by_label("profile radius").fill("1.5")
    editor.tray.get_by_label("profile radius").press("Enter")
    steps = editor.wait_document(lambda d: len(d["parts"][1]["steps"]) == 2)["parts"][1]["steps"]
    assert steps[1]["kind"] == "sweep" and steps[1]["profile"] == {"circle": 1.5}
    card = editor.step(steps[1]["id"])
    editor.settle()
    page.keyboard.press("Escape")
    expect(editor.tray.get_by_label("profile radius")).to_have_count(0)
    if card.locator(".title").get_attribute("aria-expanded") != "true":
        card.locator(".title").click()
    card.get_by_label("profile sides").fill("6")
    card.get_by_label("profile sides").press("Enter")
    editor.wait_document(lambda d: d["parts"][1]["steps"][1]["profile"] == {"circle": 1.5, "sides": 6})


def test_a_part_has_a_colour_of_its_own(editor, page):
    editor.make(parts=ROW[:1])
    menu(page, "Post", "Colour", "verdigris")
    editor.wait_document(lambda d: d["parts"][0].get("colour") == "#4d9078")
    expect(row(page, "Post").locator("xpath=ancestor::li").locator(".swatch")).to_be_visible()
    menu(page, "Post", "Colour", "as all others")
    editor.wait_document(lambda d: d["parts"][0].get("colour") is None)


def test_a_second_window_lines_up_what_the_first_has_moved(editor, page):
    build = editor.make(parts=ROW)
    other = page.context.new_page()
    other.goto(f"{editor.server}/build/{build['id']}")
    expect(other.get_by_test_id("save")).to_contain_text("saved")
    panel = form(page)
    row(page, "Rail").click()
    panel.get_by_label("place x", exact=True).fill("33")
    panel.get_by_label("place x", exact=True).press("Enter")
    editor.wait_document(lambda d: places(d)["Rail"][0] == 33)
    # the other window still has the build before that
    beside = form(other)
    row(other, "Rail").click()
    beside.get_by_label("Put the part").get_by_role("button", name="on the floor").click()
    editor.wait_document(lambda d: places(d)["Rail"] == [33, 0, 0])
    row(page, "Knob").click()
    panel.get_by_label("place y", exact=True).fill("9")
    panel.get_by_label("place y", exact=True).press("Enter")
    editor.wait_document(lambda d: places(d)["Knob"][1] == 9 and places(d)["Rail"] == [33, 0, 0])


def test_slats_stray_by_numbers_that_their_card_gives(editor, page):
    editor.make({"id": "slat", "kind": "box", "size": [6, 1, 2]}, {"id": "row", "kind": "array", "count": 4, "step": [0, 0, 4]})
    card = editor.step("row")
    card.locator(".title").click()
    card.get_by_role("button", name="with jitter").click()
    editor.wait_steps(lambda s: s[1].get("jitter") is not None)
    for label, value in (("jitter move", "0.4"), ("jitter turn", "3"), ("jitter seed", "7")):
        card.get_by_label(label, exact=True).fill(value)
        card.get_by_label(label, exact=True).press("Enter")
    editor.wait_steps(lambda s: s[1]["jitter"] == {"move": 0.4, "turn": 3, "seed": 7})
    card.get_by_role("button", name="without jitter").click()
    editor.wait_steps(lambda s: s[1].get("jitter") is None)
