"""Steps and targets of snapping, and how soft selection falls off."""

import numpy as np
import pytest
from playwright.sync_api import expect

from tests.api.conftest import BOX
from tests.browser.test_boards import with_board
from tests.browser.test_handles import handle


def switch(editor, *names):
    """Turn kinds of target on or off, as they are not."""
    editor.tray.get_by_label("What to snap to").click()
    for name in names:
        editor.page.get_by_label(name, exact=True).click()
    editor.page.keyboard.press("Escape")


def take(editor, kind, point, key, field):
    editor.key(kind)
    editor.click(*point)
    editor.picked("1 ")
    editor.key(key)
    expect(editor.tray.get_by_label(field)).to_be_visible()


def test_turns_and_scales_go_in_steps(editor):
    editor.make(BOX)
    editor.look("Front")
    editor.key("Shift+M")
    take(editor, "f", (0, 0.1, 0.15), "t", "rotate z")
    centre = np.array(editor.at(0, 0.1, 0.15))
    grip, goal = (centre + 90 * np.array([np.cos(a), -np.sin(a)]) for a in (np.radians(135), np.radians(135 + 41)))
    editor.drag(grip, goal - grip, steps=10)
    assert editor.wait_steps(lambda s: len(s) == 2)[1]["rotate"] == [0, 0, 45]
    editor.key("Control+z")
    editor.wait_steps(lambda s: len(s) == 1)
    editor.key("l")
    expect(editor.tray.get_by_label("scale x")).to_be_visible()
    bar = handle(editor, (0, 0.1, 0.15), (1, 0, 0), 54)
    editor.drag(bar, (20, 0), steps=10)
    scaled = editor.wait_steps(lambda s: len(s) == 2)[1]["scale"]
    assert scaled[0] == pytest.approx(1.4, abs=1e-9) and scaled[1:] == [1, 1]


def test_bars_between_the_axes_scale_two_of_them_and_the_even_bar_all(editor):
    editor.make(BOX)
    editor.look("Front")
    take(editor, "f", (0, 0.1, 0.15), "l", "scale x")
    foot = np.array(editor.at(0, 0.1, 0.15))
    editor.drag(np.add(foot, (34, -34)), (17, -17), steps=8)
    scaled = editor.wait_steps(lambda s: len(s) == 2)[1]["scale"]
    assert scaled[0] == scaled[1] == pytest.approx(1.5, abs=0.08) and scaled[2] == 1
    editor.key("Control+z")
    editor.wait_steps(lambda s: len(s) == 1)
    editor.key("l")
    expect(editor.tray.get_by_label("scale x")).to_be_visible()
    editor.drag(np.add(foot, (-32.2, 32.2)), (-16, 16), steps=8)
    scaled = editor.wait_steps(lambda s: len(s) == 2)[1]["scale"]
    assert scaled[0] == scaled[1] == scaled[2] == pytest.approx(1.5, abs=0.08)


def test_edge_middles_of_other_edges_and_corners_of_boards_are_targets(editor):
    with_board(editor)
    editor.look("Front")
    editor.page.get_by_label("Show everything").click()
    editor.key("Shift+M")
    switch(editor, "edge middles", "vertices")
    take(editor, "v", (0.05, 0.2, 0.15), "m", "translate x")
    start = np.array(editor.at(0.05, 0.2, 0.15))
    goal = np.array(editor.at(-0.05, 0.1, 0.15))  # the middle of the left edge
    editor.drag(start, goal - start + 4, steps=10)
    editor.wait_steps(lambda s: len(s) == 2 and s[1]["translate"] == [-10, -10, 0])
    editor.key("Control+z")
    editor.wait_steps(lambda s: len(s) == 1)
    editor.key("m")
    expect(editor.tray.get_by_label("translate x")).to_be_visible()
    corner = np.array(editor.at(0.1, 0.2, 0))  # the board is 20 cm square and stands on the floor
    editor.drag(start, corner - start - 4, steps=10)
    editor.wait_steps(lambda s: len(s) == 2 and s[1]["translate"] == [5, 0, 0])


def test_soft_selection_along_the_surface_by_a_drawn_curve(editor):
    grid = {"id": "sheet", "kind": "plane", "size": [20, 20], "segments": [10, 10]}
    editor.make(grid)
    editor.look("Top")
    editor.key("Shift+S")
    editor.tray.get_by_label("How soft selection falls off").click()
    page = editor.page
    page.get_by_label("Along the surface").click()
    page.get_by_role("button", name="Draw the curve").click()
    box = page.get_by_label("Weight over distance").bounding_box()
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2  # the point at half the radius, half the weight
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x, box["y"] + 0.1 * box["height"], steps=4)
    page.mouse.up()
    page.get_by_label("Soft radius").fill("7")
    page.get_by_label("Soft radius").press("Enter")
    page.keyboard.press("Escape")
    editor.key("v")
    editor.click(0, 0, 0)
    editor.key("m")
    field = editor.tray.get_by_label("translate y")
    field.fill("2")
    field.press("Enter")
    falloff = editor.wait_steps(lambda s: len(s) == 2 and s[1]["translate"] == [0, 2, 0])[1]["falloff"]
    assert falloff["connected"] is True and falloff["radius"] == 7
    assert [p[0] for p in falloff["curve"]] == [0, 0.25, 0.5, 0.75, 1] and falloff["curve"][2][1] == pytest.approx(0.9, abs=0.02)
