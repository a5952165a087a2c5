"""Picking several at once: boxes, lassos, brushes; inside and touching, through and seen; automatic kinds, face dots, sets."""


import numpy as np
import pytest
from playwright.sync_api import expect

from tests.api.conftest import BOX

BLOCK = {"id": "block", "kind": "box", "size": [12, 12, 12], "segments": [3, 3, 3]}
THIRD, FRONT = 0.02, 0.06


@pytest.fixture
def block(editor):
    editor.make(BLOCK)
    editor.look("Front")
    return editor


def box(editor, a, b, **keys):
    """Drag a box from one point of the build to another."""
    start = np.array(editor.at(*a))
    editor.drag(start, np.array(editor.at(*b)) - start, **keys)


def test_a_box_takes_what_lies_inside_or_all_it_touches(block):
    # from beside the block to past its first column, through all of it
    a, b = (-0.08, 0.135, FRONT), (-0.01, -0.01, FRONT)
    block.key("v")
    box(block, a, b)
    block.picked("28 vertices")  # 4 × 4 on the side, and the 12 round the ring beside it
    block.key("e")
    box(block, a, b)
    inside = int(block.page.get_by_test_id("picked").inner_text().split()[0])
    choose(block, "all it touches")
    box(block, a, b)
    expect(block.page.get_by_test_id("picked")).not_to_contain_text(f"{inside} edges")
    assert int(block.page.get_by_test_id("picked").inner_text().split()[0]) > inside
    block.key("f")
    box(block, a, b)
    touching = int(block.page.get_by_test_id("picked").inner_text().split()[0])
    choose(block, "only what lies wholly inside")
    box(block, a, b)
    expect(block.page.get_by_test_id("picked")).not_to_contain_text(f"{touching} faces")
    # 3 front, 3 back, 9 on the left side, 3 on the top and 3 below
    block.picked("21 faces")
    assert touching == 33  # and another column of front, back, top and bottom


def test_only_what_is_seen_and_how_many_are_unseen(block):
    a, b = (-0.08, 0.135, FRONT), (0.08, -0.015, FRONT)
    block.key("f")
    box(block, a, b)
    block.picked("54 faces, 45 unseen")
    block.tray.get_by_role("radio", name="through").or_(block.tray.get_by_role("radio", name="seen")).and_(block.page.locator("[aria-checked=false]")).click()
    box(block, a, b)
    block.picked("9 faces ·")


def test_shift_adds_alt_takes_away_and_the_key_turns_inside_about_in_mid_drag(block):
    block.key("f")
    block.tray.get_by_role("radio", name="through").or_(block.tray.get_by_role("radio", name="seen")).and_(block.page.locator("[aria-checked=false]")).click()
    box(block, (-0.07, 0.13, FRONT), (-0.015, 0.075, FRONT))
    block.picked("1 face")
    block.page.keyboard.down("Shift")
    box(block, (0.07, 0.13, FRONT), (0.015, 0.075, FRONT))
    block.page.keyboard.up("Shift")
    block.picked("2 faces")
    block.page.keyboard.down("Alt")
    box(block, (-0.07, 0.13, FRONT), (-0.015, 0.075, FRONT))
    block.page.keyboard.up("Alt")
    block.picked("1 face")
    box(block, (-0.07, 0.13, FRONT), (-0.015, 0.075, FRONT), release=False)
    block.page.keyboard.press("z")
    block.page.mouse.up()
    block.picked("4 faces")  # all it touches
    # Esc in mid-drag leaves the pick as it was
    box(block, (0.07, 0.13, FRONT), (0.015, 0.02, FRONT), release=False)
    block.page.keyboard.press("Escape")
    block.page.mouse.up()
    block.rest()
    block.picked("4 faces")


def choose(editor, name):
    editor.tray.get_by_label("A drag picks by").click()
    editor.page.get_by_role("menuitem", name=name).click()


def test_a_lasso_takes_what_it_runs_round(block):
    choose(block, "Lasso")
    block.key("v")
    block.tray.get_by_role("radio", name="through").or_(block.tray.get_by_role("radio", name="seen")).and_(block.page.locator("[aria-checked=false]")).click()
    ring = [block.at(0.045 * np.cos(a), 0.06 + 0.045 * np.sin(a), FRONT) for a in np.linspace(0, 2 * np.pi, 24)]
    block.page.mouse.move(*ring[0])
    block.page.mouse.down()
    for p in ring[1:]:
        block.page.mouse.move(*p)
    block.page.mouse.up()
    block.picked("4 vertices")


def test_a_brush_takes_what_it_runs_over(block):
    choose(block, "Paint")
    block.key("f")
    start = np.array(block.at(-0.05, 0.1, FRONT))
    block.drag(start, np.array(block.at(0.05, 0.1, FRONT)) - start, steps=8)
    block.picked("3 faces")


def test_whichever_is_nearest(block):
    block.key("Shift+V")
    block.click(0.02, 0.08, FRONT)
    block.picked("1 vertex")
    block.click(0, 0.08, FRONT)
    block.picked("1 edge")
    block.click(0, 0.06, FRONT)
    block.picked("1 face")


def test_dots_in_the_middle_of_faces_are_targets(block):
    block.key("f")
    block.tray.get_by_label("A drag picks by").click()
    block.page.get_by_role("menuitem", name="Dots in the middle of faces").click()
    block.look("Right")
    block.click(FRONT, 0.06, 0)
    block.picked("1 face")
    expect(block.tray).to_contain_text("here; click again for the next behind")  # others lie behind it


def test_boxes_reach_through_the_mirrored_side(editor):
    mirror = {"id": "mirror", "kind": "mirror", "axis": "x"}
    half = {"id": "half", "kind": "slice", "point": [0, 0, 0], "normal": [1, 0, 0], "keep": "above"}
    editor.make(BOX, half, mirror)
    editor.look("Front")
    editor.key("v")
    box(editor, (-0.07, 0.21, 0.15), (-0.03, 0.19, 0.15))  # round the images of the upper corners
    editor.picked("2 vertices")


def test_pick_sets_are_kept_and_survive_edits(block):
    block.key("f")
    block.click(0, 0.06, FRONT)
    block.picked("1 face")
    block.tray.get_by_role("button", name="Pick ▾").click()
    block.page.get_by_role("menuitem", name="Keep the pick as a set").click()
    block.page.get_by_label("Name of the set").fill("Porthole")
    block.page.get_by_role("button", name="Keep", exact=True).click()
    block.key("x")
    block.page.keyboard.type("2")
    block.page.keyboard.press("Enter")
    block.wait_steps(lambda s: len(s) == 2)
    block.key("Escape")
    block.key("Escape")
    block.picked("nothing picked")
    block.tray.get_by_role("button", name="Pick ▾").click()
    block.page.get_by_role("menuitem", name="Porthole").hover()
    block.page.get_by_role("menuitem", name="Pick it").click()
    block.picked("1 face")
    assert block.document()["parts"][0]["sets"][0]["name"] == "Porthole"


def test_angles_and_what_lies_behind_are_told(editor):
    editor.make(BOX)
    editor.key("f")
    editor.click(0, 0.2, 0)
    editor.click(0, 0.1, 0.15, modifiers=["Shift"])
    editor.picked("2 faces")
    editor.picked("90°")
    editor.look("Front")
    editor.click(0, 0.1, 0.15)
    editor.click_again(0, 0.1, 0.15)
    expect(editor.tray).to_contain_text("2 of 2 here")


def test_a_box_over_the_image_picks_its_source_and_over_both_the_real_half(editor):
    """A whole body with a live mirror: what the mirror leaves out is never picked in place of what is seen."""
    editor.make(BLOCK, {"id": "m", "kind": "mirror", "axis": "x"})
    editor.look("Front")
    editor.key("v")

    def swept(low, high):
        (ax, ay), (bx, by) = editor.at(low[0], low[1], 0.06), editor.at(high[0], high[1], 0.06)
        editor.drag((ax, ay), (bx - ax, by - ay))
        editor.rest()
        editor.key("Delete")
        step = editor.wait_steps(lambda s: len(s) == 3)[1]
        editor.key("Control+z")
        editor.wait_steps(lambda s: len(s) == 2)
        return sorted(step["pick"]["vertices"]["ids"])

    real = swept((0.01, 0.28), (0.3, -0.05))
    image = swept((-0.01, 0.28), (-0.3, -0.05))
    both = swept((-0.3, 0.28), (0.3, -0.05))
    assert real == image and set(real) <= set(both)
