"""Every tool of box modelling, worked by mouse and keyboard."""


import numpy as np
from playwright.sync_api import expect

BLOCK = {"id": "body", "kind": "box", "size": [20, 20, 20], "segments": [3, 3, 3]}
OPEN = {"id": "open", "kind": "delete", "pick": {"faces": {"facing": "+y"}}}
PLATE = {"id": "body", "kind": "cylinder", "radius": 10, "height": 10, "sides": 8}
SHEET = {"id": "body", "kind": "plane", "size": [20, 20], "segments": [4, 4]}
FRONT = 0.1  # z of the block's front, in metres
THIRD = 1 / 30


def start(editor, title):
    """Take a tool from the tray, or from the menu beside it."""
    more = editor.tray.get_by_role("button", name="More ▾")
    expect(more).to_be_visible()  # the tray shows what fits the pick
    direct = editor.tray.get_by_role("button", name=title)
    if direct.count():
        direct.first.click()
        return
    more.click()
    editor.page.get_by_role("menuitem", name=title).click()


def undo(editor):
    """Take the step back and wait until the view has it too."""
    editor.key("Control+z")
    editor.wait_steps(lambda s: len(s) == 1)
    expect(editor.page.get_by_role("button", name="Redo")).to_be_enabled()
    editor.rest()


def stored(editor, kind, at=-1):
    steps = editor.wait_steps(lambda s: s[at]["kind"] == kind)
    return steps[at]


FACE, EDGE, VERTEX = "f", "e", "v"
CORNER = (0.1, 0.2, FRONT)


def test_fill_a_border(editor):
    editor.make(BLOCK, OPEN)
    editor.key("e")
    editor.click(0.1, 0.2, 0)
    editor.tray.get_by_role("button", name="Pick ▾").click()
    editor.page.get_by_role("menuitem", name="Borders").click()
    editor.picked("12 edges")
    start(editor, "Fill")
    editor.key("Enter")
    stored(editor, "fill")


def test_the_knob_drags_the_number_and_typing_sets_it(editor):
    editor.make(BLOCK)
    editor.key("e")
    editor.click(0, 0.2, FRONT)
    editor.picked("1 edge")
    editor.key("b")
    expect(editor.page.get_by_test_id("trial")).to_be_visible()
    before = float(editor.tray.get_by_label("width").input_value().replace("−", "-"))
    editor.drag(editor.at(0, 0.2, FRONT), (25, 0))
    step = stored(editor, "bevel")
    assert step["width"] > before
    editor.page.keyboard.type("0.8")
    editor.page.keyboard.press("Tab")
    editor.wait_steps(lambda s: s[-1].get("width") == 0.8)
    editor.tray.get_by_label("segments").fill("3")
    editor.tray.get_by_label("segments").press("Enter")
    editor.wait_steps(lambda s: s[-1].get("segments") == 3)
    assert len(editor.steps()) == 2
    editor.key("Control+z")
    editor.wait_steps(lambda s: len(s) == 1)  # one entry however often it was corrected


def test_support_loops_at_a_distance_from_the_ends(editor):
    editor.make(BLOCK)
    editor.key("e")
    editor.click(THIRD, 0.1, FRONT)
    editor.key("d")
    editor.tray.get_by_label("where the loops stand").click()
    editor.page.locator(".ant-select-item-option").get_by_text("from both ends", exact=True).click()
    editor.tray.get_by_label("distance").fill("0.5")
    editor.tray.get_by_label("distance").press("Enter")
    step = editor.wait_steps(lambda s: s[-1].get("distance") == [0.5, -0.5])[-1]
    assert step["kind"] == "insert_loop" and "count" not in step


def test_escape_lays_a_proposal_down_and_stores_nothing(editor):
    editor.make(BLOCK)
    editor.key("e")
    editor.click(0, 0.2, FRONT)
    editor.key("b")
    expect(editor.page.get_by_test_id("triangles")).not_to_have_text("108 triangles")
    editor.key("Escape")
    expect(editor.page.get_by_test_id("triangles")).to_have_text("108 triangles")
    assert len(editor.steps()) == 1


def test_weld_tells_what_will_merge_before_it_does(editor):
    editor.make(BLOCK)
    editor.key("v")
    editor.click(*CORNER)
    editor.click(THIRD, 0.2, FRONT, modifiers=["Shift"])
    editor.picked("2 vertices")
    start(editor, "Weld")
    editor.tray.get_by_label("distance").fill("7")
    expect(editor.page.get_by_test_id("trial")).to_contain_text("1 vertex gives way")
    editor.tray.get_by_label("distance").fill("6")
    expect(editor.page.get_by_test_id("trial")).not_to_contain_text("gives way")
    assert len(editor.steps()) == 1


def test_slice_by_a_line_drawn_in_a_flat_view(editor):
    editor.make(BLOCK)
    editor.look("Front")
    editor.key("y")
    editor.drag(editor.at(-0.15, 0.08, 0), np.subtract(editor.at(0.15, 0.084, 0), editor.at(-0.15, 0.08, 0)))
    step = stored(editor, "slice")
    assert step["normal"] == [0, 1, 0] and abs(step["point"][1] - 8) < 0.3  # turned to the nearest step of 15°
    editor.drag(editor.at(0, step["point"][1] / 100, 0), np.subtract(editor.at(0, 0.12, 0), editor.at(0, 0.08, 0)))
    moved = editor.wait_steps(lambda s: s[-1]["point"][1] > 11)[-1]
    assert moved["normal"] == [0, 1, 0] and len(editor.steps()) == 2
    editor.tray.get_by_label("keep").click()
    editor.page.locator(".ant-select-item-option").get_by_text("below", exact=True).click()
    editor.wait_steps(lambda s: s[-1].get("keep") == "below")


def test_slice_only_through_what_is_picked(editor):
    editor.make(BLOCK)
    editor.look("Front")
    editor.click(0, 0.1, FRONT)
    editor.picked("1 face")
    start(editor, "Slice")
    editor.drag(editor.at(-0.15, 0.1, 0), np.subtract(editor.at(0.15, 0.1, 0), editor.at(-0.15, 0.1, 0)))
    step = stored(editor, "slice")
    assert len(step["pick"]["faces"]["ids"]) == 1
    expect(editor.page.get_by_test_id("triangles")).to_have_text("112 triangles")


def test_cut_by_clicks_on_edges_and_vertices(editor):
    editor.make(BLOCK)
    editor.look("Front")
    editor.key("w")
    for spot in ((-THIRD, 0.1, FRONT), (THIRD, 0.1, FRONT), (0.1, 0.1 + THIRD, FRONT)):
        editor.click(*spot)
        editor.rest()
    expect(editor.tray).to_contain_text("3 points")
    editor.key("Enter")
    step = stored(editor, "cut")
    assert ["edge" in p for p in step["path"]] == [True, True, False] and step["path"][0].get("at", 0.5) == 0.5


def whole(editor, title):
    editor.tray.get_by_role("button", name="Whole part ▾").click()
    editor.page.get_by_role("menuitem", name=title).click()


def test_tools_for_the_whole_part(editor):
    editor.make(BLOCK)
    for title, kind in (("Mirror", "mirror"), ("Shell", "shell"), ("To ball", "to_ball"), ("Shade", "shade")):
        whole(editor, title)
        expect(editor.page.get_by_test_id("trial")).to_be_visible()
        editor.key("Enter")
        stored(editor, kind)
        undo(editor)


def test_clicking_the_mirrored_side_picks_what_it_came_from(editor):
    half = {"id": "half", "kind": "slice", "point": [0, 0, 0], "normal": [1, 0, 0], "keep": "above"}
    editor.make(BLOCK, half, {"id": "m", "kind": "mirror", "axis": "x"})
    editor.look("Front")
    for key, spot in (("f", (2 * THIRD, 0.1, FRONT)), ("e", (2 * THIRD, 0.1 + THIRD, FRONT)), ("v", (THIRD, 0.1 + THIRD, FRONT))):
        ids = []
        for side in (1, -1):
            editor.key(key)
            editor.click(side * spot[0], spot[1], spot[2])
            editor.picked("1 ")
            editor.key("Delete")
            step = editor.wait_steps(lambda s: len(s) == 4)[2]
            ids.append(next(iter(step["pick"].values()))["ids"])
            editor.key("Control+z")
            editor.wait_steps(lambda s: len(s) == 3)
        assert sorted(ids[0][0].split("-")) == sorted(ids[1][0].split("-")), key


def test_picks_go_on_from_picks(editor):
    editor.make(BLOCK)
    editor.key("e")
    editor.click(0, 0.1 + THIRD, FRONT)
    editor.picked("1 edge")
    x, y = editor.at(0, 0.1 + THIRD, FRONT)
    editor.page.mouse.dblclick(x, y)
    editor.picked("12 edges")
    for key, told in (("n", "72 edges"), ("Shift+Q", "12 edges")):
        editor.key(key)
        editor.picked(told)
    for title, told in (("Faces it touches", "24 faces"), ("Grow", "44 faces"), ("Last pick again", "24 faces"), ("Outline", "24 edges")):
        editor.tray.get_by_role("button", name="Pick ▾").click()
        editor.page.get_by_role("menuitem", name=title).click()
        editor.picked(told)


def test_picks_of_faces(editor):
    editor.make(BLOCK)
    editor.look("Front")
    editor.click(0, 0.1, FRONT)
    editor.picked("1 face")
    for key, told in (("g", "9 faces"), ("s", "1 face"), ("Control+i", "53 faces"), ("Shift+Q", "1 face"), ("h", "54 faces")):
        editor.key(key)
        editor.picked(told)
    for title, told in (("Last pick again", "1 face"), ("Flat region round it", "9 faces"), ("Last pick again", "1 face"), ("Same facing", "9 faces")):
        editor.tray.get_by_role("button", name="Pick ▾").click()
        editor.page.get_by_role("menuitem", name=title).click()
        editor.picked(told)
    editor.click(-2 * THIRD, 0.1 - 2 * THIRD, FRONT)
    editor.picked("1 face")
    editor.click(2 * THIRD, 0.1 - 2 * THIRD, FRONT, modifiers=["Control"])
    editor.picked("3 faces")  # the way between them
    x, y = editor.at(0.005, 0.1 + THIRD - 0.004, FRONT)
    editor.page.mouse.dblclick(x, y)
    editor.picked("12 faces")  # the band across the edge nearest the pointer


def test_a_menu_of_the_whole_part_leaves_the_cage_alone(editor):
    editor.make(BLOCK)
    whole(editor, "Mirror")
    editor.key("Enter")
    stored(editor, "mirror")
    expect(editor.page.get_by_label("Working mark")).to_be_visible()
    assert editor.page.locator(".step.live").count() == 1
