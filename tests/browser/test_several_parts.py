"""Parts together: cut by each other, copied, arrayed, split off, hung on a hinge."""

import pytest
from playwright.sync_api import expect

from tests.api.conftest import part

HULL = {"id": "hull", "kind": "box", "size": [40, 20, 30]}
PEG = {"id": "peg", "kind": "cylinder", "radius": 5, "height": 40, "sides": 8}
SIDE_BY_SIDE = [part(HULL, name="Hood"), part(PEG, name="Peg", placement={"translate": [10, -5, 5]})]


def whole_part(editor, page, title):
    editor.view.focus()
    page.keyboard.press("Escape")
    editor.tray.get_by_role("button", name="Whole part").click()
    page.get_by_role("menuitem", name=title).click()


def opened(editor, id):
    """The card of a step, open."""
    title = editor.step(id).locator(".title")
    expect(title).to_be_visible()
    editor.settle()
    if title.get_attribute("aria-expanded") != "true":
        title.click()
    return editor.step(id)


def test_a_part_is_cut_by_another_that_is_clicked(editor, page):
    editor.make(parts=SIDE_BY_SIDE)
    whole_part(editor, page, "Boolean")
    expect(editor.tray).to_contain_text("Click the other part")
    editor.click(0.1, 0.35, 0.05)  # the peg's top
    expect(page.get_by_test_id("trial")).to_contain_text("6 faces")
    expect(editor.tray.locator(".ant-select-selection-item")).to_have_text("Peg")
    page.keyboard.press("Enter")
    document = editor.wait_document(lambda d: len(d["parts"][0]["steps"]) == 2)
    step = document["parts"][0]["steps"][1]
    assert (step["kind"], step["operation"], step["parts"]) == ("boolean", "subtract", ["part2"])
    assert document["parts"][1]["ghosted"] is True
    opened(editor, step["id"]).locator(".title").click()  # folded, a card tells its step in a line
    expect(editor.step(step["id"])).to_contain_text("subtract, Peg")
    # what the peg is, the hole becomes
    page.get_by_role("button", name="Peg", exact=True).click()
    page.get_by_role("button", name="Form", exact=True).click()
    page.get_by_label("place x", exact=True).fill("-10")
    page.get_by_label("place x", exact=True).press("Enter")
    editor.wait_document(lambda d: d["parts"][1]["placement"]["translate"][0] == -10)
    # the card takes another way of cutting
    page.get_by_role("button", name="Hood", exact=True).click()
    page.get_by_role("button", name="Shape", exact=True).click()
    card = opened(editor, step["id"])
    card.get_by_label("operation").click(force=True)
    page.locator(".ant-select-item-option", has_text="intersect").click()
    editor.wait_document(lambda d: d["parts"][0]["steps"][1]["operation"] == "intersect")
    expect(card.get_by_role("alert")).to_be_hidden()


def test_a_part_others_need_is_removed_only_after_a_word(editor, page):
    cut = {"id": "cut", "kind": "boolean", "part": "Peg", "operation": "subtract"}
    editor.make(parts=[part(HULL, cut, name="Hood"), part(PEG, name="Peg")])
    assert editor.document()["parts"][0]["steps"][1]["part"] == "part2"  # named by its id, so that renaming breaks nothing
    for answer, left in (("Keep it", 2), ("Remove anyway", 1)):
        page.get_by_role("button", name="Peg", exact=True).click(button="right")
        page.get_by_role("menuitem", name="Remove part").click()
        dialog = page.get_by_role("dialog")
        expect(dialog).to_contain_text("Hood needs Peg")
        dialog.get_by_role("button", name=answer).click()
        expect(dialog).to_be_hidden()
        editor.wait_document(lambda d, left=left: len(d["parts"]) == left)
    expect(opened(editor, "cut").get_by_role("alert")).to_contain_text("there is no part")


def test_slats_are_arrayed_and_spaced_by_number(editor, page):
    editor.make({"id": "slat", "kind": "box", "size": [40, 1, 4]})
    whole_part(editor, page, "Array")
    expect(page.get_by_test_id("trial")).to_contain_text("18 faces")
    editor.view.focus()
    page.keyboard.press("5")  # how many
    page.keyboard.press("Enter")
    steps = editor.wait_steps(lambda s: len(s) == 2 and s[1]["count"] == 5)
    editor.view.focus()
    page.keyboard.press("Enter")
    card = opened(editor, steps[1]["id"])
    for label, typed in (("step x", "0"), ("step y", "6"), ("turn x", "30")):
        card.get_by_label(label, exact=True).fill(typed)
        card.get_by_label(label, exact=True).press("Enter")
    steps = editor.wait_steps(lambda s: s[1].get("turn") == [30, 0, 0] and s[1]["step"][:2] == [0, 6])
    expect(page.get_by_test_id("triangles")).to_contain_text("60")


def test_spokes_go_round(editor, page):
    editor.make({"id": "spoke", "kind": "box", "size": [20, 2, 2], "anchor": "centre"})
    whole_part(editor, page, "Array")
    editor.tray.get_by_label("how the copies stand").click(force=True)
    page.locator(".ant-select-item-option", has_text="round y").click()
    page.keyboard.press("6")
    page.keyboard.press("Enter")
    steps = editor.wait_steps(lambda s: len(s) == 2)
    assert steps[1]["count"] == 6 and steps[1]["around"] == {} and "step" not in steps[1]
    page.keyboard.press("Enter")
    card = opened(editor, steps[1]["id"])
    card.get_by_label("around angle", exact=True).fill("180")
    card.get_by_label("around angle", exact=True).press("Enter")
    editor.wait_steps(lambda s: s[1]["around"] == {"angle": 180})


def test_faces_are_split_off_into_a_part_of_their_own(editor, page):
    editor.make({"id": "chest", "kind": "box", "size": [40, 20, 30], "segments": [1, 2, 1]}, name="Chest")
    editor.click(0, 0.2, 0)
    editor.picked("1 face")
    editor.tray.get_by_role("button", name="More").click()
    page.get_by_role("menuitem", name="Split off").click()
    expect(page.get_by_test_id("trial")).to_contain_text("9 faces")
    page.keyboard.press("Enter")
    document = editor.wait_document(lambda d: len(d["parts"]) == 2)
    chest, lid = document["parts"]
    assert chest["steps"][1]["kind"] == "split_off" and lid["name"] == chest["steps"][1]["into"] == "Bollard 2"
    assert lid["steps"][0] == {"id": "from_part1", "kind": "from_part", "part": "part1", "step": chest["steps"][1]["id"]}
    page.get_by_role("button", name="Undo").click()  # both in one
    editor.wait_document(lambda d: len(d["parts"]) == 1 and len(d["parts"][0]["steps"]) == 1)


def test_a_leg_is_copied_across(editor, page):
    leg = part({"id": "leg", "kind": "box", "size": [4, 30, 4]}, name="Leg", placement={"translate": [20, 0, 12], "rotate": [0, 0, 5]})
    editor.make(parts=[leg])
    page.get_by_role("button", name="Leg", exact=True).click(button="right")
    page.get_by_role("menuitem", name="Copy").hover()
    page.get_by_role("menuitem", name="mirrored, linked, across x").click()
    document = editor.wait_document(lambda d: len(d["parts"]) == 2)
    other = document["parts"][1]
    assert (other["name"], other["of"], other["mirrored"]) == ("Leg 2", "part1", "x")
    assert other["placement"] == {"translate": [-20, 0, 12], "rotate": [0, 0, -5]}
    expect(page.get_by_label("Leg 2 is a linked copy")).to_be_visible()
    # no recipe of its own, and told so
    expect(page.get_by_label("Recipe of Leg 2")).to_contain_text("linked copy of Leg")
    expect(page.get_by_test_id("triangles")).to_contain_text("24")


def test_a_lid_is_hung_on_an_edge_and_swung(editor, page):
    lid = part({"id": "lid", "kind": "box", "size": [40, 2, 30]}, name="Lid", placement={"translate": [0, 20, 0]})
    editor.make(parts=[lid])
    editor.key("e")
    editor.click(0, 0.22, 0.15)
    editor.picked("1 edge")
    page.get_by_role("button", name="Form", exact=True).click()
    page.get_by_role("group", name="Give a joint").get_by_role("button", name="hinge").click()
    joint = editor.wait_document(lambda d: "joint" in d["parts"][0])["parts"][0]["joint"]
    assert joint["axis"] == [1, 0, 0] and joint["at"] == pytest.approx([0, 2, 15]) and joint["to"] == 90
    before = editor.at(0, 0.22, 0.15)
    handle = page.get_by_role("slider", name="joint")
    box = handle.bounding_box()
    editor.drag((box["x"] + box["width"] / 2, box["y"] + box["height"] / 2), (60, 0))
    now = editor.wait_document(lambda d: d["parts"][0]["joint"].get("now", 0) > 5)["parts"][0]["joint"]["now"]
    assert 5 < now < 90 and editor.at(0, 0.22, 0.15) == before
    field = page.get_by_label("joint now", exact=True)
    field.fill("120")  # stops at the limit
    field.press("Enter")
    editor.wait_document(lambda d: d["parts"][0]["joint"]["now"] == 90)


def test_parts_are_grouped_by_menu_and_by_dragging(editor, page):
    editor.make(parts=[part(HULL, name="Hood"), part(PEG, name="Peg", placement={"translate": [40, 0, 0]})])
    page.get_by_role("button", name="Hood", exact=True).click(button="right")
    page.get_by_role("menuitem", name="Group").hover()
    page.get_by_role("menuitem", name="into a new group").click()
    heading = page.get_by_role("button", name="Group 1", exact=True)
    expect(heading).to_be_visible()
    page.get_by_role("button", name="Peg", exact=True).drag_to(heading)
    document = editor.wait_document(lambda d: all(p.get("group") == "group1" for p in d["parts"]))
    row = page.locator("li.group")
    expect(row).to_contain_text("40")  # triangles of both
    heading.dblclick()
    page.get_by_label("Group name").fill("Lamp")
    page.get_by_label("Group name").press("Enter")
    expect(page.get_by_role("button", name="Lamp", exact=True)).to_be_visible()
    page.get_by_label("Hide Lamp").click()
    editor.wait_document(lambda d: d["groups"][0].get("hidden") is True)
    editor.settle()
    editor.click(0, 0.2, 0)
    editor.picked("nothing picked")  # what is hidden with its group is not picked
    page.get_by_label("Fold Lamp").click()
    expect(page.get_by_role("button", name="Peg", exact=True)).to_be_hidden()
    page.get_by_label("Unfold Lamp").click()
    page.get_by_role("button", name="Lamp", exact=True).click(button="right")
    page.get_by_role("menuitem", name="Dissolve group").click()
    document = editor.wait_document(lambda d: d["groups"] == [])
    assert all("group" not in p for p in document["parts"])


def test_what_there_is_nothing_for_is_told(editor, page):
    editor.make(HULL)
    whole_part(editor, page, "Boolean")
    expect(page.get_by_text("Boolean takes another part; make one first")).to_be_visible()
    whole_part(editor, page, "Separate")
    expect(page.get_by_text("nothing to separate")).to_be_visible()
    assert len(editor.steps()) == 1


def test_a_cutter_is_moved_by_hand_and_what_it_cuts_follows(editor, page):
    cut = {"id": "cut", "kind": "boolean", "part": "Peg", "operation": "subtract"}
    editor.make(parts=[part(HULL, cut, name="Hood"), part({**PEG, "radius": 3}, name="Peg", placement={"translate": [0, -5, 0]})])
    page.get_by_role("button", name="Peg", exact=True).click()
    editor.click(0, 0.35, 0)  # its top
    editor.picked("1 face")
    editor.key("m")
    corners = "Array.from({ length: 20 }, (_, i) => window.rhytonic.element('part1', 'vertices', i)).join()"
    before = page.evaluate(corners)
    editor.view.focus()
    page.keyboard.type("2")  # a trial: nothing is stored
    page.wait_for_function(f"before => {corners} !== before", arg=before)
    page.keyboard.press("Escape")
    page.wait_for_function(f"before => {corners} === before", arg=before)
    assert len(editor.steps(1)) == 1
