"""Boards: moved, dimmed, locked, never in the way; bad ones refused."""

import re
import urllib.request

from playwright.sync_api import expect

from tests.api.conftest import BOX, png


def with_board(editor, **more):
    request = urllib.request.Request(f"{editor.server}/api/pictures", data=png(300, 300), headers={"Content-Type": "image/png", "X-Rhytonic": "1"})
    import json
    sha = json.load(urllib.request.urlopen(request))["sha256"]
    board = {"id": "front", "picture": sha, "name": "Front elevation", "view": "front", "width": 20, **more}
    editor.make(BOX, boards=[board])


def board_of(editor):
    return editor.document()["boards"][0]


def test_a_board_is_never_picked_by_mistake(editor):
    with_board(editor)
    editor.look("Front")
    editor.page.get_by_label("Show everything").click()
    editor.click(0, 0.1, 0.15)
    editor.picked("1 face · 200 cm²")
    editor.drag(editor.at(0.1, 0.15, 0), (40, 0))
    assert board_of(editor).get("at", [0, 0]) == [0, 0]  # locked: its border does not move it


def test_an_unlocked_board_is_moved_by_its_border_and_picks_go_through(editor):
    with_board(editor)
    page = editor.page
    editor.look("Front")
    page.get_by_label("Unlock board").click()
    expect(page.get_by_label("Lock board")).to_be_visible()
    page.get_by_label("Show everything").click()
    editor.settle()
    editor.click(0, 0.1, 0.15)
    editor.picked("1 face")
    before = editor.at(0, 0, 0)
    editor.drag(editor.at(0.1, 0.15, 0), (40, 0))
    page.get_by_role("button", name="Place ▾").click()
    expect(page.get_by_label("Board across")).not_to_have_value("0")
    at = board_of(editor)["at"]
    scale = (editor.at(0.1, 0, 0)[0] - before[0]) / 10  # pixels in a centimetre
    assert abs(at[0] - 40 / scale) < 0.2 and at[1] == 0


def test_width_strength_and_view_are_typed(editor):
    with_board(editor)
    page = editor.page
    page.get_by_label("Board width").fill("300 mm")
    page.get_by_label("Board width").press("Enter")
    editor.wait_document(lambda d: d["boards"][0]["width"] == 30)
    page.get_by_label("Hide board").click()
    expect(page.get_by_label("Show board")).to_be_visible()
    assert board_of(editor)["hidden"] is True


def test_what_is_no_picture_is_refused_with_a_sentence(editor, tmp_path):
    editor.make(BOX)
    fake = tmp_path / "notes.png"
    fake.write_bytes(b"these are notes")
    page = editor.page
    with page.expect_file_chooser() as chosen:
        page.get_by_role("button", name="+ Picture").click()
    chosen.value.set_files(fake)
    page.get_by_role("button", name="Stand it up").click()
    expect(page.get_by_text(re.compile("this is not a picture"))).to_be_visible()
    assert editor.document().get("boards", []) == []


def test_a_tilted_photograph_is_levelled_along_a_line(editor, page):
    with_board(editor)
    page.get_by_role("button", name="Straighten …").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_text("Merely tilted").click()
    expect(dialog.get_by_role("button", name="Make it level")).to_be_disabled()
    stage = dialog.get_by_role("application").bounding_box()
    x, y = stage["x"] + stage["width"] / 4, stage["y"] + stage["height"] / 2
    editor.drag((x, y), (stage["width"] / 2, -stage["width"] / 20))
    expect(dialog).to_contain_text("It is 5.71° off; the board turns clockwise")
    page.keyboard.press("Enter")
    expect(dialog).to_be_hidden()
    assert abs(board_of(editor)["turn"] + 5.711) < 0.2


def test_the_outline_dialog_shows_what_the_board_shows(editor, page):
    with_board(editor, crop=[0.25, 0.5, 0.75, 1])
    page.get_by_role("button", name="Outline …").click()
    stage = page.get_by_role("dialog").get_by_role("application")
    expect(stage.locator("svg")).to_have_attribute("viewBox", "-0.25 -1 0.5 0.5")
    frame, whole = stage.bounding_box(), stage.locator("img").bounding_box()
    assert abs(whole["width"] - 2 * frame["width"]) < 7 and abs(frame["x"] - whole["x"] - frame["width"] / 2) < 7 and abs(frame["y"] - whole["y"]) < 7
    page.keyboard.press("Escape")
