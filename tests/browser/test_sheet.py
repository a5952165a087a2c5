"""The sheet: four linked views, what they show, and how they are moved."""

import time

import numpy as np
import pytest
from playwright.sync_api import expect

from tests.api.conftest import BOX

HALF = (0.05, 0.2, 0.15)  # the box's upper front right corner


@pytest.fixture
def sheet(editor):
    editor.make(BOX, layout="Sheet")
    return editor


def panes(editor):
    return {p["view"]: p for p in editor.page.evaluate("window.rhytonic.panes()")}


def middle(editor, view):
    p = panes(editor)[view]
    return p["x"] + p["width"] / 2, p["y"] + p["height"] / 2


def in_line(editor, point=HALF):
    """How far a point is from standing in line: x of top and front, y of front and right, and on the mitre line."""
    top, front, right = (np.array(editor.at(*point, view=v)) for v in ("top", "front", "right"))
    origin = [np.array(editor.at(0, 0, 0, view=v)) for v in ("top", "right")]
    return top[0] - front[0], front[1] - right[1], (right - origin[1])[0] + (top - origin[0])[1]


def test_a_point_stands_in_line_in_all_flat_views(sheet):
    assert np.abs(in_line(sheet)).max() < 1
    # panning one flat view pans them all, and zooming zooms them all
    x, y = middle(sheet, "front")
    sheet.page.mouse.move(x, y)
    sheet.page.mouse.down(button="middle")
    sheet.page.mouse.move(x + 37, y - 21, steps=3)
    sheet.page.mouse.up(button="middle")
    sheet.page.mouse.wheel(0, -240)
    sheet.rest()
    assert np.abs(in_line(sheet)).max() < 1
    assert np.abs(in_line(sheet, (-0.05, 0, -0.15))).max() < 1


def test_the_wheel_keeps_what_is_under_the_pointer(sheet):
    at = np.array(sheet.at(*HALF, view="front"))
    sheet.page.mouse.move(*at)
    sheet.page.mouse.wheel(0, -300)
    sheet.rest()
    assert np.abs(np.array(sheet.at(*HALF, view="front")) - at).max() < 1
    edge = np.array(sheet.at(-0.05, 0.2, 0.15, view="front"))
    assert at[0] - edge[0] > 0


def test_the_divider_is_dragged_and_the_views_stay_in_line(sheet):
    before = panes(sheet)["front"]
    sheet.drag((before["x"] + before["width"], before["y"] + 100), (60, 0))
    after = panes(sheet)["front"]
    assert after["width"] == pytest.approx(before["width"] + 60, abs=2)
    assert np.abs(in_line(sheet)).max() < 1


def test_a_view_is_swapped_to_its_opposite_side_and_maximized_and_put_back_by_one_key(sheet):
    sheet.page.get_by_label("Right: look from the opposite side").click()
    assert "left" in panes(sheet)
    left, front = sheet.at(*HALF, view="left"), sheet.at(*HALF, view="front")
    assert abs(left[1] - front[1]) < 1
    sheet.page.mouse.move(*middle(sheet, "top"))
    sheet.rest()
    sheet.page.get_by_test_id("view").focus()
    sheet.page.keyboard.press("o")
    sheet.rest()
    assert list(panes(sheet)) == ["top"]
    sheet.page.keyboard.press("o")
    sheet.rest()
    assert set(panes(sheet)) == {"top", "perspective", "front", "left"}


def test_a_right_drag_and_the_rim_turn_the_3d_view_and_a_middle_drag_shifts_it(editor):
    editor.make(BOX)

    def corners():
        return np.array([editor.at(x, y, 0.15) for x in (-0.05, 0.05) for y in (0, 0.2)])

    page, [pane] = editor.page, editor.page.evaluate("window.rhytonic.panes()")
    before = corners()
    x, y = middle(editor, "perspective")
    page.mouse.move(x, y)
    page.mouse.down(button="right")
    page.mouse.move(x + 80, y, steps=4)
    page.mouse.up(button="right")
    turned = corners()
    assert np.ptp(turned[:, 0]) != pytest.approx(np.ptp(before[:, 0]), abs=3)
    editor.drag((pane["x"] + 5, y + 60), (0, -70))
    tilted = corners()
    assert np.ptp(tilted[:, 1]) != pytest.approx(np.ptp(turned[:, 1]), abs=3)
    editor.picked("nothing picked")
    page.keyboard.down(" ")
    editor.drag((x, y), (30, 20))
    page.keyboard.up(" ")
    moved = corners() - tilted  # what is nearer than the middle of the view goes a little further
    assert (np.abs(moved - [30, 20]) < 15).all() and (moved > 10).all()


def test_views_beside_the_dragged_one_stay_drawn(sheet):
    sheet.click(0, 0.1, 0.15, view="front")
    sheet.picked("1 face")
    sheet.key("m")
    expect(sheet.tray.get_by_label("translate x")).to_be_visible()
    x, y = sheet.at(0, 0.1, 0.15, view="front")
    sheet.page.mouse.move(x, y)
    sheet.page.mouse.down()
    for i in range(12):
        sheet.page.mouse.move(x + i, y)
        sheet.frames(1)
    for view in ("top", "right", "perspective"):
        p = panes(sheet)[view]
        assert colour_at(sheet, p["x"] + p["width"] - 30, p["y"] + 60).min() > 150  # paper, not an empty canvas
    sheet.page.keyboard.press("Escape")
    sheet.page.mouse.up()


def test_an_idle_editor_draws_no_frame(sheet):
    sheet.click(0, 0.1, 0.15, view="front")
    sheet.picked("1 face")
    sheet.rest()
    before = sheet.page.evaluate("window.rhytonic.frames()")
    time.sleep(1.5)
    assert sheet.page.evaluate("window.rhytonic.frames()") == before


def test_the_pick_is_framed_and_looked_straight_at(sheet):
    sheet.click(0.05, 0.1, 0, view="right")
    sheet.picked("1 face")
    sheet.key("Shift+F")
    sheet.rest()
    # seen straight on, the face's corners make an upright rectangle
    a, b, c = (np.array(sheet.at(0.05, y, z, view="perspective")) for y, z in ((0, 0.15), (0.2, 0.15), (0.2, -0.15)))
    assert abs(a[0] - b[0]) < 1.5 and abs(b[1] - c[1]) < 1.5
    wide = abs(np.subtract(sheet.at(*HALF, view="front"), sheet.at(-0.05, 0, 0.15, view="front"))).max()
    sheet.key("v")
    sheet.click(*HALF, view="front")
    sheet.picked("1 vertex")
    sheet.key("Shift+A")
    sheet.rest()
    assert abs(np.subtract(sheet.at(*HALF, view="front"), sheet.at(-0.05, 0, 0.15, view="front"))).max() > 3 * wide


def test_a_trackpad_pans_with_two_fingers_and_zooms_with_a_pinch(sheet):
    page = sheet.page
    page.get_by_label("View settings").click()
    page.get_by_text("Trackpad", exact=True).click()
    page.keyboard.press("Escape")
    before = np.array(sheet.at(*HALF, view="front"))
    page.mouse.move(*middle(sheet, "front"))
    page.mouse.wheel(40, 25)
    sheet.rest()
    assert np.allclose(np.array(sheet.at(*HALF, view="front")) - before, [-40, -25], atol=1.5)
    size = np.ptp([sheet.at(x, 0, 0, view="front")[0] for x in (-0.05, 0.05)])
    page.keyboard.down("Control")
    page.mouse.wheel(0, -60)
    page.keyboard.up("Control")
    sheet.rest()
    assert np.ptp([sheet.at(x, 0, 0, view="front")[0] for x in (-0.05, 0.05)]) > 1.2 * size


def colour_at(editor, x, y):
    """The colour the page shows at a place, as three numbers."""
    import io

    from PIL import Image
    shot = editor.page.screenshot(clip={"x": x - 1, "y": y - 1, "width": 3, "height": 3})
    return np.array(Image.open(io.BytesIO(shot)).convert("RGB"), float)[1, 1]


def test_a_section_cuts_the_views_open_and_is_dragged_through_the_model(sheet):
    page = sheet.page
    whole = colour_at(sheet, *sheet.at(0, 0.15, 0, view="right"))
    sheet.key("Shift+C")
    sheet.rest()
    expect(page.get_by_test_id("view")).to_be_visible()
    x, y = sheet.at(0, 0.15, 0.1, view="right")
    cut = colour_at(sheet, x, y)
    assert np.abs(cut - whole).max() > 12  # paper where the model was cut away
    # nothing that is cut away is picked
    sheet.page.mouse.click(x, y)
    sheet.picked("nothing picked")
    x, y = sheet.at(0, 0.15, -0.1, view="right")
    sheet.page.mouse.click(x, y)
    sheet.picked("1 face")
    # the plane follows its grip, by its trace in the right view
    start = sheet.at(0, 0.25, 0, view="right")
    goal = sheet.at(0, 0.25, 0.1, view="right")
    sheet.drag((start[0], sheet.at(0, 0.02, 0, view="right")[1]), (goal[0] - start[0], 0))
    sheet.rest()
    shown = colour_at(sheet, *sheet.at(0, 0.16, 0.06, view="right"))
    assert np.abs(shown - whole).max() < np.abs(shown - cut).max()
    page.get_by_label("View settings").click()
    field = page.get_by_label("Section at")
    assert float(field.input_value()) == pytest.approx(10, abs=0.5)
    page.get_by_role("button", name="close", exact=True).click()


def test_ghost_shows_the_board_behind_and_wire_shows_no_faces(editor):
    editor.make(BOX)
    editor.look("Front")
    at = editor.at(0.025, 0.05, 0.15)
    solid = colour_at(editor, *at)
    paper = np.array([0xF5, 0xF2, 0xEA], float)
    seen = {}
    for name in ("Ghost", "Wire", "Flat tone"):
        editor.page.get_by_label("Shading of Front").click()
        editor.page.get_by_role("menuitem", name=name).click()
        editor.rest()
        seen[name] = colour_at(editor, *at)
    assert np.abs(seen["Wire"] - paper).max() < 30  # paper, or a line of the grid
    ghost = seen["Ghost"]
    assert np.abs(ghost - solid).max() > 5 and np.abs(ghost - paper).max() > 3
    assert np.abs(seen["Flat tone"] - np.array([0xCD, 0xD0, 0xCB])).max() < 3


def test_hard_edges_are_respected_and_faces_turned_inside_out_have_another_tone(editor):
    smooth = {"id": "shade", "kind": "shade", "angle": 80, "weighted": True}
    drum = {"id": "drum", "kind": "cylinder", "radius": 10, "height": 20, "sides": 8}
    editor.make(drum, smooth)
    a = colour_at(editor, *editor.at(0.0924, 0.05, 0.0383))  # beside the edge at 0° … both faces shade as one
    b = colour_at(editor, *editor.at(0.0854, 0.05, 0.0554))
    assert np.abs(a - b).max() < 14
    flipped = {"id": "flip", "kind": "flip", "pick": {"faces": "all"}}
    editor.make(BOX, flipped)
    inside = colour_at(editor, *editor.at(0.02, 0.15, 0.15))
    editor.make(BOX)
    assert np.abs(colour_at(editor, *editor.at(0.02, 0.15, 0.15)) - inside).max() > 10


def test_what_is_picked_lights_up_on_the_mirrored_side_too(editor):
    half = {"id": "half", "kind": "slice", "point": [0, 0, 0], "normal": [1, 0, 0], "keep": "above"}
    editor.make(BOX, half, {"id": "mirror", "kind": "mirror", "axis": "x"})
    editor.look("Front")
    editor.key("f")
    x, y = editor.at(-0.025, 0.1, 0.15)  # the image of the front face

    def reddish():
        import io

        from PIL import Image
        shot = editor.page.screenshot(clip={"x": x - 20, "y": y - 20, "width": 40, "height": 40})
        rgb = np.array(Image.open(io.BytesIO(shot)).convert("RGB"), float)
        return float((rgb[..., 0] - rgb[..., 1]).mean())

    before = reddish()
    editor.click(-0.025, 0.1, 0.15)
    editor.picked("1 face")
    editor.page.mouse.move(x + 250, y)
    editor.rest()
    assert reddish() > before + 5


def test_parts_are_isolated_ghosted_and_hidden(editor):
    other = {"name": "Lid", "placement": {"translate": [0, 20, 0]}, "steps": [{"id": "lid", "kind": "box", "size": [12, 2, 32]}]}
    build = editor.make(BOX)
    assert build["document"]["parts"]
    import json
    import urllib.request
    made = json.load(urllib.request.urlopen(f"{editor.server}/api/builds/{build['id']}"))
    body = {"revision": made["revision"], "label": "Lid", "key": "k" * 12, "patch": [{"op": "add", "path": "/parts/-", "value": other}]}
    urllib.request.urlopen(urllib.request.Request(f"{editor.server}/api/builds/{build['id']}/changes", json.dumps(body).encode(),
                                                  {"Content-Type": "application/json", "X-Rhytonic": "1"}))
    editor.open(build["id"])
    page = editor.page
    expect(page.get_by_role("button", name="Lid", exact=True)).to_be_visible()  # the page stood open: it hears of it
    editor.look("Front")
    editor.rest()
    editor.click(0, 0.212, 0.16)
    expect(page.get_by_text("Recipe of Lid")).to_be_visible()
    page.get_by_role("button", name="Bollard", exact=True).click(button="right")
    page.get_by_role("menuitem", name="Show alone").click()
    editor.click(0.01, 0.212, 0.16)
    expect(page.get_by_text("Recipe of Lid")).to_be_visible()  # nothing there to take the click
    editor.click(0, 0.1, 0.15)
    expect(page.get_by_text("Recipe of Bollard")).to_be_visible()
    page.get_by_role("button", name="Show all").click()
    page.get_by_role("button", name="Lid", exact=True).click(button="right")
    page.get_by_role("menuitem", name="Ghost").click()
    expect(page.get_by_label("Draw Lid solid")).to_be_visible()
    assert editor.document()["parts"][1]["ghosted"] is True
    editor.look("Top")
    editor.click(0, 0.22, 0)  # through the ghost
    expect(page.get_by_text("Recipe of Bollard")).to_be_visible()
