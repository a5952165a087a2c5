"""The one set of handles: moving, turning, scaling, making; pivots, frames, snapping, soft selection."""

import time

import numpy as np
import pytest
from playwright.sync_api import expect

from tests.api.conftest import BOX, TOP

TALL = {"id": "up", "kind": "extrude", "depth": 5, "pick": TOP}


def handle(editor, at, along, pixels):
    """A place so many pixels from where handles stand, towards a direction of the build."""
    foot = np.array(editor.at(*at))
    way = np.array(editor.at(*np.add(at, np.multiply(along, 0.01)))) - foot
    return foot + pixels * way / np.linalg.norm(way)


@pytest.fixture
def front(editor):
    """A box seen from the front."""
    editor.make(BOX)
    editor.look("Front")
    return editor


def pick_top(editor):
    editor.key("e")
    editor.click(0, 0.2, 0.15)
    editor.picked("edge")


def move_top(editor):
    pick_top(editor)
    editor.key("m")
    expect(editor.tray.get_by_label("translate x")).to_be_visible()
    editor.rest(2)  # the handles are drawn too


def test_an_axis_moves_along_itself_alone(front):
    move_top(front)
    front.drag(handle(front, (0, 0.2, 0.15), (0, 1, 0), 70), (40, -50))
    moved = front.wait_steps(lambda s: len(s) == 2)[1]["translate"]
    assert moved[0] == moved[2] == 0 and moved[1] > 0.5


def test_a_patch_moves_in_its_plane(front):
    move_top(front)
    front.drag(np.add(front.at(0, 0.2, 0.15), (22, -22)), (60, -30))
    moved = front.wait_steps(lambda s: len(s) == 2)[1]["translate"]
    assert moved[2] == 0 and moved[0] / moved[1] == pytest.approx(2, rel=0.1)


def test_with_an_axis_locked_dragging_anywhere_moves_along_it(front):
    move_top(front)
    front.tray.get_by_label("Lock y").click()
    front.drag(np.add(front.at(0, 0.2, 0.15), (-150, 60)), (35, -40))
    moved = front.wait_steps(lambda s: len(s) == 2)[1]["translate"]
    assert moved[0] == 0 and moved[1] > 0.5


def test_an_arc_turns_about_its_axis_and_digits_set_it_exactly(front):
    pick_top(front)
    front.key("t")
    expect(front.tray.get_by_label("rotate x")).to_be_visible()
    centre = np.array(front.at(0, 0.2, 0.15))
    angle = np.radians(135)
    grip = centre + 90 * np.array([np.cos(angle), -np.sin(angle)])
    goal = centre + 90 * np.array([np.cos(angle + 0.4), -np.sin(angle + 0.4)])
    front.drag(grip, goal - grip)
    turned = front.wait_steps(lambda s: len(s) == 2)[1]["rotate"]
    assert turned[0] == turned[1] == 0 and turned[2] == pytest.approx(np.degrees(0.4), abs=2) and turned[2] == round(turned[2])
    expect(front.tray.get_by_label("rotate z")).to_be_visible()
    field = front.tray.get_by_label("rotate z")
    field.fill("30")
    field.press("Enter")
    front.wait_steps(lambda s: s[1]["rotate"] == [0, 0, 30] and len(s) == 2)


def test_a_bar_scales_along_its_axis_and_zero_flattens(front):
    front.key("f")
    front.click(0, 0.1, 0.15)
    front.key("l")
    expect(front.tray.get_by_label("scale x")).to_be_visible()
    front.drag(handle(front, (0, 0.1, 0.15), (1, 0, 0), 54), (27, 0))
    scaled = front.wait_steps(lambda s: len(s) == 2)[1]["scale"]
    assert scaled[1] == scaled[2] == 1 and scaled[0] == pytest.approx(1.5, abs=0.06)
    front.key("Control+z")
    front.wait_steps(lambda s: len(s) == 1)
    front.key("l")
    field = front.tray.get_by_label("scale y")
    field.fill("0")
    field.press("Enter")
    front.wait_steps(lambda s: len(s) == 2 and s[1]["scale"] == [1, 0, 1])


def test_the_hollow_collar_extrudes_on_the_arrow(editor):
    editor.make(BOX)
    editor.click(0, 0.2, 0)
    editor.picked("1 face")
    editor.key("m")
    expect(editor.tray.get_by_label("translate x")).to_be_visible()
    editor.drag(handle(editor, (0, 0.2, 0), (0, 1, 0), 102), (0, -45), steps=10)
    step = editor.wait_steps(lambda s: len(s) == 2)[1]
    assert step["kind"] == "extrude" and step["along"] == "+y" and step["depth"] > 0.5
    assert "translate" not in step


def test_the_hollow_collar_insets_on_the_bar(front):
    front.key("f")
    front.click(0, 0.1, 0.15)
    front.key("m")
    expect(front.tray.get_by_label("translate x")).to_be_visible()
    front.drag(np.add(front.at(0, 0.1, 0.15), (-46.2, 46.2)), (40, 0), steps=10)
    step = front.wait_steps(lambda s: len(s) == 2)[1]
    assert step["kind"] == "inset" and step["width"] > 0.2


def test_an_end_bar_of_an_unedited_form_writes_its_true_size(front):
    front.tray.get_by_role("button", name="Size of the form").click()
    front.drag(front.at(0.05, 0.1, 0), (50, 0))
    [box] = front.wait_steps(lambda s: s[0]["size"][0] > 12)
    assert box["size"][1:] == [20, 30] and box["kind"] == "box"
    front.key("Escape")
    # the scale bar of the common set does the same when the whole form is picked
    front.key("f")
    front.key("Control+a")
    front.picked("6 faces")
    front.key("l")
    expect(front.tray.get_by_label("scale x")).to_be_visible()
    front.drag(handle(front, (0, 0.1, 0), (0, 1, 0), 54), (0, -30), steps=10)
    [box] = front.wait_steps(lambda s: s[0]["size"][1] > 21)
    assert box["size"][2] == 30


def test_axis_snap_and_the_fixed_grid_step(front):
    front.key("v")
    front.click(0.05, 0.2, 0.15)
    front.picked("1 vertex")
    front.key("m")
    expect(front.tray.get_by_label("translate x")).to_be_visible()
    front.key("Shift+M")
    front.drag(handle(front, (0.05, 0.2, 0.15), (1, 0, 0), 70), (63, 11))
    moved = front.wait_steps(lambda s: len(s) == 2)[1]["translate"]
    assert moved[1] == moved[2] == 0 and moved[0] > 0
    assert moved[0] / 0.5 == pytest.approx(round(moved[0] / 0.5), abs=1e-9)  # multiples of 5 mm
    # Ctrl turns the master about for one drag
    front.key("Control+z")
    front.wait_steps(lambda s: len(s) == 1)
    front.key("m")
    expect(front.tray.get_by_label("translate x")).to_be_visible()
    front.page.keyboard.down("Control")
    front.drag(handle(front, (0.05, 0.2, 0.15), (1, 0, 0), 70), (61, 0))
    front.page.keyboard.up("Control")
    free = front.wait_steps(lambda s: len(s) == 2)[1]["translate"]
    assert free[0] > 0


def test_a_vertex_snaps_onto_another_and_with_an_axis_only_that_coordinate(editor):
    editor.make(BOX, TALL)
    editor.look("Front")
    editor.key("v")
    editor.click(0.05, 0.25, 0.15)
    editor.picked("1 vertex")
    editor.key("m")
    expect(editor.tray.get_by_label("translate x")).to_be_visible()
    editor.key("Shift+M")
    start, goal = np.array(editor.at(0.05, 0.25, 0.15)), np.array(editor.at(-0.05, 0.2, 0.15))
    editor.drag(start, goal - start + 3, steps=10)
    editor.wait_steps(lambda s: len(s) == 3 and s[2]["translate"] == [-10, -5, 0])
    editor.key("Control+z")
    editor.wait_steps(lambda s: len(s) == 2)
    editor.key("m")
    expect(editor.tray.get_by_label("translate x")).to_be_visible()
    grip = handle(editor, (0.05, 0.25, 0.15), (0, 1, 0), 70)
    editor.drag(grip, goal - grip + 3, steps=10)
    editor.wait_steps(lambda s: len(s) == 3 and s[2]["translate"] == [0, -5, 0])


def wait_pivot(editor, check):
    """Until the stored pivot passes a check."""
    end = time.monotonic() + 20
    while time.monotonic() < end:
        pivot = editor.document()["parts"][0].get("pivot", [0, 0, 0])
        if check(pivot):
            return pivot
        time.sleep(0.1)
    raise AssertionError(f"the pivot is still {pivot}")


def test_the_pivot_is_moved_snapped_and_turned_about(editor):
    editor.make(BOX)
    editor.look("Front")
    editor.key("Shift+P")
    editor.key("Shift+M")
    start, goal = np.array(editor.at(0, 0, 0)), np.array(editor.at(0.05, 0.2, 0.15))
    editor.drag(start, goal - start, steps=10)
    assert wait_pivot(editor, lambda p: p != [0, 0, 0])[:2] == [5, 20]
    editor.key("Escape")
    editor.page.get_by_label("Stations").get_by_text("Form").click()
    editor.page.get_by_role("button", name="part's base").click()
    wait_pivot(editor, lambda p: p == [0, 0, 0])
    editor.page.get_by_role("button", name="part's middle").click()
    wait_pivot(editor, lambda p: p == [0, 10, 0])
    editor.tray.get_by_label("What turns and scales go about").click()
    editor.page.get_by_title("part's pivot").click()
    editor.key("f")
    editor.click(0, 0.1, 0.15)
    editor.picked("1 face")
    editor.key("t")
    editor.page.keyboard.type("90")
    editor.page.keyboard.press("Enter")
    assert editor.wait_steps(lambda s: len(s) == 2)[1]["about"] == [0, 10, 0]


def test_hold_to_the_middle_plane(front):
    half = {"id": "half", "kind": "slice", "point": [0, 0, 0], "normal": [1, 0, 0], "keep": "above"}
    front.make(BOX, half)
    front.look("Front")
    front.tray.get_by_label("Hold points to the middle plane").click()
    front.page.get_by_title("x = 0").click()
    front.key("e")
    front.click(0.025, 0.2, 0.15)
    front.picked("1 edge")
    front.key("m")
    front.page.keyboard.type("3")
    front.page.keyboard.press("Enter")
    step = front.wait_steps(lambda s: len(s) == 3)[2]
    assert step["hold_plane"] == "x" and step["translate"] == [3, 0, 0]
    x = front.page.evaluate("Array.from({length: 8}, (_, i) => window.rhytonic.element('part1', 'vertices', i)[0])")
    assert np.isclose(np.array(x), front.at(0, 0.2, 0.15)[0], atol=1).sum() == 4  # the middle stayed


def test_soft_selection_weights_follow_the_formula(editor):
    grid = {"id": "sheet", "kind": "plane", "size": [20, 20], "segments": [10, 10]}
    editor.make(grid)
    editor.look("Top")
    editor.key("v")
    editor.click(0, 0, 0)
    editor.picked("1 vertex")
    editor.key("Shift+S")
    editor.key("m")
    expect(editor.tray.get_by_label("translate y")).to_be_visible()
    # the rim is dragged to 6 cm
    centre = np.array(editor.at(0, 0, 0))
    radius = np.array(editor.at(0.05, 0, 0))[0] - centre[0]
    grip = centre + radius * np.array([np.cos(0.4), np.sin(0.4)])
    editor.drag(grip, (grip - centre) * 0.2)
    field = editor.tray.get_by_label("translate y")
    field.fill("2")
    field.press("Enter")
    step = editor.wait_steps(lambda s: len(s) == 2 and s[1]["translate"] == [0, 2, 0])[1]
    falloff = step["falloff"]
    assert falloff["radius"] == pytest.approx(6, abs=0.3)
    import urllib.request

    import msgpack
    build = editor.page.url.rsplit("/", 1)[1]
    packed = msgpack.unpackb(urllib.request.urlopen(f"{editor.server}/api/builds/{build}/parts/part1/mesh").read())
    p = np.frombuffer(packed["cage"]["positions"], "<f4").reshape(-1, 3).astype(float)
    t = np.clip(np.hypot(p[:, 0], p[:, 2]) / (falloff["radius"] / 100), 0, 1)
    power = 4 ** (2 * falloff.get("fullness", 0.5) - 1)
    assert np.allclose(p[:, 1], 0.02 * (1 - (3 * t**2 - 2 * t**3) ** power), atol=1e-7)


def test_a_typed_coordinate_moves_the_lowest_there(front):
    pick_top(front)
    field = front.page.get_by_label("Coordinates of the pick").get_by_label("y of the pick")
    expect(field).to_have_value("20")
    field.fill("12 cm")
    field.press("Enter")
    step = front.wait_steps(lambda s: len(s) == 2)[1]
    assert (step["kind"], step["to"], step["at"]) == ("flatten", "y", 12) and step.get("by", "set") == "set"
    front.key("f")
    front.click(0, 0.05, 0.15)
    field.fill("1")
    field.press("Enter")
    step = front.wait_steps(lambda s: len(s) == 3)[2]
    assert step["by"] == "shift" and step["at"] == 1


def test_arrow_keys_nudge_by_the_snap_step(front):
    front.key("v")
    front.click(0.05, 0.2, 0.15)
    front.picked("1 vertex")
    front.key("ArrowRight")
    front.wait_steps(lambda s: len(s) == 2 and s[1]["translate"] == [0.5, 0, 0])
    front.key("ArrowUp")
    front.key("ArrowUp")
    front.wait_steps(lambda s: len(s) == 2 and s[1]["translate"] == [0.5, 1, 0])


def test_moving_along_edges_only(front):
    front.key("e")
    front.click(0, 0.2, 0.15)
    front.picked("edge")
    front.key("Shift+E")
    front.key("m")
    expect(front.tray.get_by_label("amount")).to_be_visible()
    front.page.keyboard.type("0.4")
    front.page.keyboard.press("Enter")
    step = front.wait_steps(lambda s: len(s) == 2)[1]
    assert (step["kind"], step["amount"]) == ("slide", 0.4)


def test_frames_of_part_build_and_normal(editor):
    editor.make(BOX)
    editor.tray.get_by_label("Axes of the handles").click()
    editor.page.get_by_title("normal", exact=True).click()
    editor.click(0, 0.2, 0)
    editor.picked("1 face")
    editor.key("m")
    field = editor.tray.get_by_label("translate z")
    field.fill("4")
    field.press("Enter")
    step = editor.wait_steps(lambda s: len(s) == 2)[1]
    assert step["frame"] == "normal" and step["translate"] == [0, 0, 4]
    top = editor.page.evaluate("Math.min(...Array.from({length: 8}, (_, i) => window.rhytonic.element('part1', 'vertices', i)[1]))")
    assert top == pytest.approx(min(editor.at(x, 0.24, z)[1] for x in (-0.05, 0.05) for z in (-0.15, 0.15)), abs=1.5)
