"""Tools: handles, typed values, accepting and taking back."""


import numpy as np
import pytest
from playwright.sync_api import expect

from tests.api.conftest import BOX, TOP


def collar(editor, *face, up=(0, 1, 0)):
    foot = editor.at(*face)
    direction = np.subtract(editor.at(*np.add(face, np.multiply(up, 0.01))), foot)
    return np.add(foot, 34 * direction / np.linalg.norm(direction))


@pytest.fixture
def armed(editor):
    """The top of a box picked and extrude armed on it."""
    editor.make(BOX)
    editor.click(0, 0.2, 0)
    editor.picked("1 face")
    editor.key("x")
    expect(editor.tray.get_by_label("Depth")).to_be_visible()
    return editor


def test_release_stores_one_step(armed):
    armed.drag(collar(armed, 0, 0.2, 0), (0, -50))
    steps = armed.wait_steps(lambda s: len(s) == 2)
    assert steps[1]["kind"] == "extrude" and steps[1]["depth"] > 1
    armed.key("Control+z")
    armed.wait_steps(lambda s: len(s) == 1)


def test_escape_takes_a_drag_back_without_a_trace(armed):
    armed.drag(collar(armed, 0, 0.2, 0), (0, -50), release=False)
    expect(armed.page.get_by_test_id("triangles")).to_have_text("20 triangles")
    armed.page.keyboard.press("Escape")
    armed.page.mouse.up()
    expect(armed.page.get_by_test_id("triangles")).to_have_text("12 triangles")
    armed.rest()
    assert len(armed.steps()) == 1


def test_control_z_during_a_drag_equals_escape(armed):
    armed.drag(collar(armed, 0, 0.2, 0), (0, -50), release=False)
    armed.page.keyboard.press("Control+z")
    armed.page.mouse.up()
    expect(armed.page.get_by_test_id("triangles")).to_have_text("12 triangles")
    armed.rest()
    assert len(armed.steps()) == 1


def test_typed_values_are_expressions(armed):
    armed.page.keyboard.type("2 cm + 5 mm")
    armed.page.keyboard.press("Tab")  # stored, and the tool stays
    armed.view.focus()
    armed.wait_steps(lambda s: s[-1].get("depth") == 2.5)
    armed.page.keyboard.type("*2")
    armed.page.keyboard.press("Tab")  # stored, and the tool stays
    armed.view.focus()
    armed.wait_steps(lambda s: s[-1]["depth"] == 5)
    armed.page.keyboard.type("+-1")
    armed.page.keyboard.press("Tab")  # stored, and the tool stays
    armed.view.focus()
    armed.wait_steps(lambda s: s[-1]["depth"] == 4)
    armed.page.keyboard.type("-0,5")
    armed.page.keyboard.press("Tab")  # stored, and the tool stays
    armed.view.focus()
    armed.wait_steps(lambda s: s[-1]["depth"] == -0.5)
    assert len(armed.steps()) == 2  # corrections of one step
    armed.key("Control+z")
    armed.wait_steps(lambda s: len(s) == 1)  # and one undo entry


def test_escape_in_the_field_takes_the_typing_back(armed):
    armed.page.keyboard.type("7")
    expect(armed.page.get_by_test_id("triangles")).to_have_text("20 triangles")
    armed.page.keyboard.press("Escape")
    expect(armed.page.get_by_test_id("triangles")).to_have_text("12 triangles")
    assert len(armed.steps()) == 1


def test_choosing_another_tool_or_picking_elsewhere_accepts(armed):
    armed.page.keyboard.type("2")
    armed.rest()
    armed.page.get_by_role("button", name="Move M").click()
    armed.wait_steps(lambda s: len(s) == 2 and s[1]["depth"] == 2)
    expect(armed.tray.get_by_label("translate x")).to_be_visible()
    armed.page.keyboard.type("1")
    armed.rest()
    armed.click(0, 0.1, 0.15)
    steps = armed.wait_steps(lambda s: len(s) == 3)
    assert steps[2]["kind"] == "transform" and steps[2]["translate"] == [1, 0, 0]


def test_an_untouched_tool_stores_nothing_and_the_last_values_are_one_press_away(armed):
    armed.page.keyboard.type("2")
    armed.page.keyboard.press("Enter")
    armed.wait_steps(lambda s: len(s) == 2)
    armed.click(0, 0.1, 0.15)
    armed.picked("1 face")
    armed.key("x")
    expect(armed.tray.get_by_label("Depth")).to_have_value("0")
    armed.key("Enter")
    armed.rest()
    assert len(armed.steps()) == 2
    armed.key("x")
    armed.page.get_by_role("button", name="Last: 2").click()
    assert armed.wait_steps(lambda s: len(s) == 3)[2]["depth"] == 2


def test_what_cannot_be_says_why_and_keeps_the_last_good_mesh(armed):
    armed.page.keyboard.type("4x")
    field = armed.tray.get_by_label("Depth")
    expect(field).to_have_attribute("title", "'4x' cannot be read at 'x'; write a length such as 12.5, 12 cm + 3 mm or 1 1/2 in")
    armed.page.keyboard.press("Escape")
    expect(armed.page.get_by_test_id("triangles")).to_have_text("12 triangles")


def test_move_by_an_arrow_and_by_typed_numbers(editor):
    editor.make(BOX)
    editor.click(0, 0.2, 0)
    editor.key("m")
    expect(editor.tray.get_by_label("translate y")).to_be_visible()
    start = editor.at(0, 0.2, 0)
    along = np.subtract(editor.at(0, 0.21, 0), start)
    tip = np.add(start, 45 * along / np.linalg.norm(along))
    editor.drag(tip, (0, -40))
    moved = editor.wait_steps(lambda s: len(s) == 2)[1]["translate"]
    assert moved[0] == moved[2] == 0 and moved[1] > 0.5
    field = editor.tray.get_by_label("translate y")
    field.fill("3")
    field.press("Enter")
    editor.wait_steps(lambda s: s[1]["translate"] == [0, 3, 0])


def test_vertices_move_freely_in_the_plane_of_a_flat_view(editor):
    editor.make(BOX)
    editor.look("Front")
    editor.page.get_by_label("Show everything").click()
    editor.key("v")
    editor.click(0.05, 0.2, 0.15)
    editor.picked("1 vertex")
    editor.key("m")
    expect(editor.tray.get_by_label("translate x")).to_be_visible()
    editor.drag(editor.at(0.05, 0.2, 0.15), (60, -30))
    moved = editor.wait_steps(lambda s: len(s) == 2)[1]["translate"]
    assert moved[0] > 0 and moved[1] > 0 and moved[2] == 0
    assert moved[0] / moved[1] == pytest.approx(2, rel=0.1)


def test_delete_takes_the_pick_away(editor):
    editor.make(BOX)
    editor.click(0, 0.2, 0)
    editor.picked("1 face")
    editor.key("Delete")
    editor.wait_steps(lambda s: s[-1]["kind"] == "delete")
    expect(editor.page.get_by_test_id("triangles")).to_have_text("10 triangles")
    editor.picked("nothing picked")


def test_a_card_is_corrected_and_what_follows_replays(editor):
    editor.make(BOX, {"id": "up", "kind": "extrude", "depth": 2, "pick": TOP},
                {"id": "rim", "kind": "extrude", "depth": 1, "pick": {"faces": {"made_by": "up", "role": "side"}}, "as": "each"})
    editor.step("up").get_by_role("button", name="Extrude").click()
    depth = editor.step("up").get_by_label("depth")
    depth.fill("+1")
    depth.press("Enter")
    editor.wait_steps(lambda s: s[1]["depth"] == 3)
    expect(editor.step("up")).to_contain_text("faces 6 → 10")
    editor.page.mouse.wheel(0, 200)
    assert editor.steps()[1]["depth"] == 3  # the wheel never changes a field


def test_steps_are_switched_off_moved_duplicated_and_removed(editor):
    editor.make(BOX, {"id": "up", "kind": "extrude", "depth": 2, "pick": TOP})
    page = editor.page
    editor.step("up").get_by_role("button", name="Extrude").click()
    editor.step("up").get_by_label("Step on").click()
    editor.wait_steps(lambda s: s[1].get("enabled") is False)
    expect(page.get_by_test_id("triangles")).to_have_text("12 triangles")
    editor.step("up").get_by_label("Step on").click()
    editor.wait_steps(lambda s: s[1].get("enabled", True))
    editor.step("up").get_by_label("More for Extrude").click()
    page.get_by_role("menuitem", name="Duplicate").click()
    editor.wait_steps(lambda s: len(s) == 3)
    expect(page.get_by_test_id("triangles")).to_have_text("28 triangles")
    editor.step("up").get_by_label("More for Extrude").click()
    page.get_by_role("menuitem", name="Remove").click()
    editor.wait_steps(lambda s: [x["id"] for x in s] == ["body", "extrude1"])


def test_pointing_at_a_step_lights_up_what_it_picked(editor):
    editor.make(BOX, {"id": "up", "kind": "extrude", "depth": 2, "pick": TOP})
    editor.step("up").hover()
    editor.rest()
    berry = """() => { const c = document.querySelector('canvas.overlay'), d = c.getContext('2d').getImageData(0, 0, c.width, c.height).data;
        let n = 0; for (let i = 0; i < d.length; i += 4) if (d[i + 3] > 60 && d[i] > 140 && d[i + 1] < 60) n++; return n; }"""
    assert editor.page.evaluate(berry) > 50
    editor.page.mouse.move(640, 790)
    editor.rest()
    assert editor.page.evaluate(berry) == 0


def test_find_runs_what_is_named(editor):
    editor.make(BOX)
    editor.click(0, 0.2, 0)
    editor.picked("1 face")
    editor.page.keyboard.press("Control+k")
    editor.page.get_by_label("Find a tool, part or step").fill("extr")
    editor.page.keyboard.press("Enter")
    expect(editor.tray.get_by_label("Depth")).to_be_visible()
    editor.page.keyboard.type("2")
    editor.page.keyboard.press("Enter")
    editor.wait_steps(lambda s: len(s) == 2)


def test_an_extrude_at_nought_is_flagged_and_taken_out_at_a_press(editor):
    editor.make(BOX, {"id": "up", "kind": "extrude", "depth": 0, "pick": TOP})
    editor.page.get_by_role("button", name="2 findings").click()
    expect(editor.page.get_by_label("Shape")).to_contain_text("4 faces without area in Bollard")
    editor.page.get_by_label("Shape").get_by_role("button", name="Show").first.click()
    editor.picked("4 faces · 0 cm²")
    editor.page.get_by_label("Shape").get_by_role("button", name="Take it out").click()
    editor.wait_steps(lambda s: len(s) == 1)


def test_levels_past_three_ask(editor):
    editor.make(BOX)
    editor.page.get_by_role("button", name="Shape", exact=True).click()
    editor.page.get_by_role("radio", name="level 4").click()
    assert len(editor.steps()) == 1
    expect(editor.page.get_by_text("Level 4 draws 1 536 faces.")).to_be_visible()
    editor.page.get_by_role("button", name="Draw level 4").click()
    editor.wait_steps(lambda s: len(s) == 2 and s[1]["levels"] == 4)


def test_inset_and_loops_are_tried_and_become_cards(editor):
    page = editor.page
    editor.make(BOX)
    editor.click(0, 0.2, 0)
    editor.picked("1 face")
    editor.tray.get_by_role("button", name="Inset").click()
    expect(editor.page.get_by_test_id("trial")).to_contain_text("10 faces")
    editor.key("Enter")
    steps = editor.wait_steps(lambda s: len(s) == 2)
    assert steps[1]["kind"] == "inset" and steps[1]["width"] == 2  # in proportion to the face
    expect(editor.step("inset1")).to_contain_text("faces 6 → 10")
    width = editor.step("inset1").get_by_label("width")
    width.fill("30 mm")
    width.press("Enter")
    editor.wait_steps(lambda s: s[1]["width"] == 3)
    width.fill("9")
    width.press("Enter")
    expect(page.get_by_text("the faces would turn over; the widest width that works is 5 cm")).to_be_visible()
    assert editor.steps()[1]["width"] == 3
    editor.key("e")
    editor.click(0.05, 0.1, 0.15)
    editor.picked("1 edge · 20 cm")
    editor.tray.get_by_role("button", name="Insert loops").click()
    expect(editor.page.get_by_test_id("trial")).to_be_visible()
    editor.key("Enter")
    editor.wait_steps(lambda s: len(s) == 3 and s[2]["kind"] == "insert_loop")
    count = editor.step("insert_loop1").get_by_label("count")
    count.fill("3")
    count.press("Enter")
    editor.wait_steps(lambda s: s[2].get("count") == 3)
    expect(editor.step("insert_loop1")).to_contain_text("faces 10 → 22")


def test_further_edits_open_from_the_tray(editor):
    editor.make(BOX)
    editor.click(0, 0.2, 0)
    editor.picked("1 face")
    editor.tray.get_by_role("button", name="More ▾").click()
    editor.page.get_by_role("menuitem", name="Duplicate").click()
    expect(editor.page.get_by_test_id("trial")).to_contain_text("7 faces")
    editor.key("Enter")
    editor.wait_steps(lambda s: s[-1]["kind"] == "duplicate")
    expect(editor.step("duplicate1")).to_contain_text("faces 6 → 7")
