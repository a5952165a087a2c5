"""What a half, an open tray and a typed line come to, by hand: walls beside a mirror, the way out below a shell, findings with repairs."""

import numpy as np
import pytest
from playwright.sync_api import expect

from tests.api.conftest import BOX, part

from .conftest import post

BLOCK = {**BOX, "size": [20, 20, 20], "segments": [2, 2, 2]}
HALF = part(BLOCK, {"id": "mirror1", "kind": "mirror", "axis": "x"}, id="half", name="Half")
TRAY = part({**BOX, "id": "b", "size": [30, 10, 20]}, {"id": "open", "kind": "delete", "pick": {"faces": {"facing": "+y"}}},
            {"id": "thick", "kind": "shell", "thickness": 1}, id="tray", name="Tray")
PEG = part({"id": "c", "kind": "cylinder", "radius": 3, "height": 40}, id="peg", name="Peg", placement={"translate": [0, -20, 0]})


def start(editor, *parts, view="Front"):
    editor.open(post(editor.server, "/api/builds", {"name": "Quay halves", "document": {"format": "rhytonic", "version": 1, "unit": "cm",
                                                                                    "parts": list(parts)}})["id"])
    if view:
        editor.look(view)
    editor.key("a")
    editor.settle()


def test_what_is_extruded_beside_a_mirror_holds_its_plane(editor):
    start(editor, HALF, view="Top")
    editor.click(0.05, 0.2, 0.05)
    editor.picked("1 face")
    keep = editor.tray.get_by_text("x = 0", exact=True)
    expect(keep).to_be_visible()  # the tray says what will be held
    editor.key("x")
    editor.page.keyboard.type("3")
    editor.page.keyboard.press("Enter")
    step = editor.wait_steps(lambda s: len(s) == 3)[1]
    assert step["kind"] == "extrude" and step["hold_plane"] == "x"
    editor.page.keyboard.press("Escape")
    expect(editor.step(step["id"]).get_by_label("hold plane")).to_be_visible()  # the card of what was made last is open
    editor.page.get_by_role("button", name="Shape", exact=True).click()
    expect(editor.page.get_by_text("Nothing wrong found")).to_be_visible()


def test_another_plane_is_kept_by_the_tool_at_work(editor):
    """And by no mirror's word where none is wanted."""
    start(editor, HALF, view="Top")
    editor.click(0.05, 0.2, 0.05)
    editor.key("x")
    editor.tray.get_by_text("x = 0", exact=True).click()
    editor.page.get_by_title("no plane", exact=True).click()
    editor.page.keyboard.type("3")
    editor.page.keyboard.press("Enter")
    assert editor.wait_steps(lambda s: len(s) == 3)[1].get("hold_plane", "none") == "none"
    editor.tray.get_by_text("no plane", exact=True).click()
    editor.page.get_by_title("z = 0", exact=True).click()
    editor.key("x")
    editor.page.keyboard.type("1")
    editor.page.keyboard.press("Enter")
    assert editor.wait_steps(lambda s: len(s) == 4)[2]["hold_plane"] == "z"


def test_points_off_a_mirrors_plane_are_found_and_put_back(editor):
    off = {"id": "off", "kind": "transform", "translate": [2, 0, 0], "pick": {"vertices": {"in_box": [[-0.1, 19, -11], [0.1, 21, 11]]}}}
    start(editor, part(BLOCK, {"id": "cut", "kind": "slice", "point": [0, 0, 0], "normal": [1, 0, 0], "keep": "above"}, off,
                       {"id": "mirror1", "kind": "mirror", "axis": "x"}, id="half", name="Half"))
    editor.page.get_by_role("button", name="Shape", exact=True).click()
    expect(editor.page.get_by_text("points off the mirror’s plane").or_(editor.page.get_by_text("points off the mirror's plane"))).to_be_visible()
    editor.page.get_by_role("button", name="Put them on the plane").click()
    steps = editor.wait_steps(lambda s: any(step["kind"] == "flatten" for step in s))
    assert [s["kind"] for s in steps][-2:] == ["flatten", "mirror"]
    expect(editor.page.get_by_role("button", name="Put them on the plane")).to_be_hidden()


def test_a_boolean_on_an_open_cage_is_done_below_its_shell_by_one_press(editor):
    start(editor, TRAY, PEG)
    editor.page.get_by_role("button", name="Tray", exact=True).click()
    editor.key("Control+k")
    editor.page.keyboard.type("boolean")
    editor.page.keyboard.press("Enter")
    editor.click(0, -0.15, 0.03)  # the peg, below the tray
    expect(editor.page.get_by_role("alert").first).to_contain_text("open")
    tray = editor.tray.bounding_box()
    there = editor.page.get_by_role("radio", name="through").or_(editor.tray.get_by_text("through", exact=True)).last.bounding_box()
    assert there["x"] + there["width"] <= tray["x"] + tray["width"]  # nothing is pushed out
    editor.page.get_by_role("button", name="Do it below the shell").click()
    expect(editor.page.get_by_role("button", name="Do it below the shell")).to_be_hidden()
    editor.page.keyboard.press("Enter")
    steps = editor.wait_steps(lambda s: len(s) == 4)
    assert [s["kind"] for s in steps][2:] == ["shell", "boolean"] and steps[3]["live"] is True


def test_a_slices_line_stands_where_its_number_was_typed(editor):
    start(editor, part({**BLOCK, "segments": [3, 3, 3]}))
    editor.key("y")
    editor.drag(editor.at(-0.15, 0.08, 0), np.subtract(editor.at(0.15, 0.084, 0), editor.at(-0.15, 0.08, 0)))
    editor.wait_steps(lambda s: len(s) == 2)
    field = editor.tray.get_by_label("point y")
    field.fill("15")
    field.press("Tab")  # stored, and the tool stays; Enter would end it
    editor.wait_steps(lambda s: s[-1]["point"][1] == 15)
    editor.drag(editor.at(0.02, 0.15, 0), np.subtract(editor.at(0, 0.17, 0), editor.at(0, 0.15, 0)))  # taken where it stands now
    moved = editor.wait_steps(lambda s: s[-1]["point"][1] > 16)
    assert len(moved) == 2 and moved[-1]["point"][1] == pytest.approx(17, abs=0.6)


def test_undo_after_a_refusal_takes_back_only_what_was_stored(editor):
    start(editor, part(BLOCK), view="Top")
    editor.click(0.05, 0.2, -0.05)
    editor.key("x")
    editor.page.keyboard.type("2")
    editor.page.keyboard.press("Enter")
    editor.wait_steps(lambda s: len(s) == 2)
    editor.page.keyboard.press("Escape")
    editor.click(0.05, 0.2, 0.05)
    editor.picked("1 face")
    editor.key("i")
    editor.page.keyboard.type("2")
    editor.page.route("**/changes", lambda route: route.fulfill(status=200, headers={"X-Refused": "422", "Content-Type": "application/json"},
                                                              body='{"code": "step", "message": "Inset: something in it went wrong"}'), times=1)
    editor.page.keyboard.press("Enter")
    expect(editor.page.get_by_text("something in it went wrong").first).to_be_visible()
    editor.key("Control+z")
    expect(editor.page.get_by_text("“Inset” was not stored")).to_be_visible()
    assert len(editor.steps()) == 2
    editor.key("Control+z")
    editor.wait_steps(lambda s: len(s) == 1)
