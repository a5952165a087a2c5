"""Numbers that change later: what was picked by hand is found again, or picked again from its card."""

import math

from playwright.sync_api import expect

from tests.api.conftest import BOX

from .test_shaping import start

DRUM = {"id": "drum", "kind": "cylinder", "radius": 25, "height": 60, "sides": 16}


def at_side(height, turns):
    """A place on the drum's side, so many of its sides round from the one that faces the viewer, in metres."""
    angle = 2 * math.pi * (12 + turns) / 16
    reach = 0.25 * (1 if float(turns).is_integer() else math.cos(math.pi / 16))
    return reach * math.cos(angle), height, -reach * math.sin(angle)


def told(editor):
    """What the server tells of every step of the first part."""
    build = editor.page.url.rsplit("/", 1)[1]
    return editor.page.evaluate("(b) => fetch(`/api/builds/${b}`).then((r) => r.json())", build)["parts"][0]["steps"]


def ribbed(editor):
    """A drum with two ribs made by hand: loops through one edge, then a ridge along both."""
    editor.make(DRUM)
    editor.look("Front")
    editor.key("e")
    editor.click(*at_side(0.3, 0))
    editor.picked("1 edge")
    start(editor, "Insert loops")
    editor.page.keyboard.press("2")
    editor.page.keyboard.press("Enter")
    editor.key("Enter")
    editor.wait_steps(lambda s: len(s) == 2 and s[1]["count"] == 2)
    editor.key("Escape")
    editor.key("e")
    for height, keys in ((0.2, ()), (0.4, ("Shift",))):
        x, y = editor.at(*at_side(height, 0.5))
        for key in keys:
            editor.page.keyboard.down(key)
        editor.page.mouse.dblclick(x, y)
        for key in keys:
            editor.page.keyboard.up(key)
        editor.rest()
    editor.picked("32 edges")
    start(editor, "Ridge")
    editor.key("Enter")
    editor.wait_steps(lambda s: len(s) == 3 and s[2]["kind"] == "ridge")
    editor.key("Escape")


def test_ribs_stand_when_the_drum_gets_other_sides(editor):
    ribbed(editor)
    editor.step("drum").get_by_role("button", name="Cylinder").click()
    sides = editor.step("drum").get_by_label("Sides")
    for count in (24, 16):
        sides.fill(str(count))
        sides.press("Enter")
        editor.wait_steps(lambda s, n=count: s[0].get("sides", 16) == n)
        steps = told(editor)
        assert [s["error"] for s in steps] == [None] * 3 and [s["missing"] for s in steps] == [0] * 3
        # two ribs of a crest and two flanks, and three walls between, for each side; and both caps
        assert steps[2]["faces_after"] == count * (2 * 3 + 3) + 2
        if count == 24:
            assert steps[2]["again"]  # the loops' edge stands at three quarters of a turn either way and keeps its name
            editor.step("ridge1").get_by_role("button", name="Ridge").click()
            expect(editor.step("ridge1")).to_contain_text("found again")
            editor.step("drum").get_by_role("button", name="Cylinder").click()
    assert [s["again"] for s in steps] == [None] * 3


def test_a_lost_pick_is_made_again_from_its_card(editor):
    ribbed(editor)
    page = editor.page
    loops = editor.step("insert_loop1")
    loops.get_by_role("button", name="Insert loops").click()
    loops.get_by_role("button", name="More for Insert loops").click()
    page.get_by_role("menuitem", name="Remove").click()
    editor.wait_steps(lambda s: len(s) == 2)
    ridge = editor.step("ridge1")
    ridge.get_by_role("button", name="Ridge", exact=True).click()
    expect(ridge).to_contain_text("the pick finds no edges; what “Insert loops” made is no longer there")
    page.get_by_role("button", name="Pick again in the view").click()
    expect(ridge.get_by_role("button", name="Take the 0 picked")).to_be_disabled()
    expect(page.get_by_role("button", name="Pick again in the view")).to_have_count(0)
    ridge.get_by_role("button", name="Ridge", exact=True).click()  # closed half way: the working mark is where it was
    editor.wait_document(lambda d: d["parts"][0].get("mark") is None)
    ridge.get_by_role("button", name="Ridge", exact=True).click()
    ridge.get_by_role("button", name="pick again").click()
    expect(ridge.get_by_role("button", name="Take the 0 picked")).to_be_disabled()
    editor.click(*at_side(0.3, 0))
    expect(ridge.get_by_role("button", name="Take the 1 picked")).to_be_enabled()
    editor.key("Enter")
    steps = editor.wait_steps(lambda s: len(s[1]["pick"]["edges"]["ids"]) == 1)
    assert steps[1]["pick"]["edges"]["meant"]["places"]
    editor.wait_document(lambda d: "mark" not in d["parts"][0] or d["parts"][0]["mark"] is None)
    assert [s["error"] for s in told(editor)] == [None, None]
    editor.key("Control+z")  # all of it was one entry
    editor.wait_steps(lambda s: len(s[1]["pick"]["edges"]["ids"]) == 32)


def test_a_field_that_was_left_begins_an_entry_of_its_own(editor):
    editor.make(DRUM)
    editor.step("drum").get_by_role("button", name="Cylinder").click()
    sides = editor.step("drum").get_by_label("Sides")
    for count in (20, 24):
        sides.click()
        sides.fill(str(count))
        sides.press("Enter")
        editor.wait_steps(lambda s, n=count: s[0].get("sides", 16) == n)
        editor.step("drum").get_by_label("height", exact=True).click()
    for count in (20, 16):
        editor.key("Control+z")
        editor.wait_steps(lambda s, n=count: s[0].get("sides", 16) == n)


def test_what_a_broken_step_had_picked_is_shown_where_it_stood(editor):
    editor.make(BOX)
    page = editor.page
    editor.look("Front")
    editor.key("f")
    editor.click(0, 0.1, 0.15)
    editor.key("x")
    page.keyboard.type("2")
    page.keyboard.press("Enter")
    editor.wait_steps(lambda s: len(s) == 2)
    editor.step("body").get_by_role("button", name="Box").click()
    editor.step("body").get_by_role("button", name="More for Box").click()
    page.get_by_role("menuitem", name="Work here").click()
    editor.wait_document(lambda d: d["parts"][0].get("mark") == "body")
    editor.settle()  # the view stands at the mark
    editor.click(0, 0.1, 0.15)
    editor.picked("1 face")
    editor.key("Delete")
    editor.wait_steps(lambda s: len(s) == 3)
    extrude = editor.step("extrude1")
    extrude.get_by_role("button", name="Extrude").click()
    expect(extrude).to_contain_text("the one face made by “Box” that was picked is no longer there")
    page.mouse.move(0, 0)
    extrude.hover()
    editor.wait_lit()
    page.get_by_role("button", name="Pick again in the view").click()
    expect(extrude.get_by_role("group", name="Pick again")).to_be_visible()
