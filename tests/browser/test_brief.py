"""The brief by mouse and keyboard: pictures to scale, outlines, the fit as it rises, sizes driven, landmarks."""

import io
import json
import re
import time
import urllib.request

import numpy as np
import pytest
from PIL import Image, ImageDraw
from playwright.sync_api import expect

from tests.browser.conftest import post
from tests.browser.test_sheet import colour_at

CHEST = {"id": "body", "kind": "box", "size": [20, 20, 10], "segments": [1, 3, 1]}


def drawing(*boxes, size=(400, 400), polygon=None):
    """10 pixels to the centimetre; boxes and polygon in centimetres from the lower middle."""
    image = Image.new("RGB", size, "white")
    draw = ImageDraw.Draw(image)
    if polygon:
        draw.polygon([(size[0] / 2 + 10 * x, size[1] - 10 * y) for x, y in polygon], fill="#777777")
    for x0, y0, x1, y1 in boxes:
        draw.rectangle([size[0] / 2 + 10 * x0, size[1] - 10 * y1, size[0] / 2 + 10 * x1 - 1, size[1] - 10 * y0 - 1], fill="#777777")
    out = io.BytesIO()
    image.save(out, "PNG")
    return out.getvalue()


def keep(server, data):
    request = urllib.request.Request(f"{server}/api/pictures", data=data, headers={"Content-Type": "image/png", "X-Rhytonic": "1"})
    with urllib.request.urlopen(request, timeout=30) as answer:
        return json.load(answer)["sha256"]


def board(server, *boxes, polygon=None, traced=True, id="front", view="front", **more):
    sha = keep(server, drawing(*boxes, polygon=polygon))
    out = {"id": id, "picture": sha, "name": f"{view} drawing", "view": view, "width": 40, **more}
    if traced:
        rings = post(server, f"/api/pictures/{sha}/outline", {})["rings"]
        out["outline"] = {"width": 40, "rings": [[[x * 40, y * 40] for x, y in ring] for ring in rings]}
    return out


def shared(page):
    return float(page.get_by_test_id("shared").inner_text().split()[0])


def wait_shared(page, check):
    """Until the shared area passes a check."""
    end = time.monotonic() + 8
    while not check(shared(page)):
        assert time.monotonic() < end, f"the shared area stays {shared(page)} %"
        time.sleep(0.05)


def picture_of(editor):
    return np.asarray(Image.open(io.BytesIO(editor.view.screenshot())).convert("RGB"), int)


def boards_of(editor):
    return editor.document()["boards"]


def test_a_board_is_scaled_by_two_clicks_and_a_length(editor):
    """The drawing shows a bar of 10 cm at its present width; it is 25 cm in truth: the board grows by 2.5 about the first."""
    editor.make(boards=[board(editor.server, (-5, 10, 5, 12), traced=False)])
    page = editor.page
    editor.look("Front")
    page.get_by_label("Show everything").click()
    page.get_by_role("button", name="Scale", exact=True).click()
    expect(page.get_by_text("Click one end of a length you know.").first).to_be_visible()
    editor.click(-0.05, 0.11, 0)
    expect(page.get_by_text("Click its other end.").first).to_be_visible()
    editor.click(0.05, 0.11, 0)
    page.get_by_label("Real length").fill("25")
    page.get_by_label("Real length").press("Enter")
    [after] = editor.wait_document(lambda d: d["boards"][0]["width"] != 40)["boards"]
    assert after["width"] == pytest.approx(100, rel=0.02)
    x, y = after["at"]
    assert -5 - x == pytest.approx(2.5 * -5, abs=0.4) and 11 - y == pytest.approx(2.5 * 11, abs=0.4)  # the first point stayed


def test_a_new_picture_goes_straight_on_to_being_scaled(editor, tmp_path):
    editor.make(CHEST)
    file = tmp_path / "elevation.png"
    file.write_bytes(drawing((-5, 0, 5, 20)))
    page = editor.page
    editor.look("Front")
    with page.expect_file_chooser() as chosen:
        page.get_by_role("button", name="+ Picture").click()
    chosen.value.set_files(file)
    page.get_by_role("button", name="Scale it by two points").click()
    expect(page.get_by_text("Click one end of a length you know.").first).to_be_visible()
    [b] = editor.wait_document(lambda d: d["boards"])["boards"]
    assert b["name"] == "elevation" and b["width"] == 30
    editor.key("Escape")
    expect(page.get_by_text("Click one end of a length you know.")).to_have_count(0)


def test_the_fit_rises_as_a_loop_is_moved_to_the_outline(editor):
    """The picture's shoulders stand at 17, the model's at a third below its top: moving their loop up raises the fit while
    the drag goes on."""
    narrowed = {"id": "lid", "kind": "transform", "pick": {"faces": {"facing": "+y"}}, "scale": [0.3, 1, 0.3]}
    shape = [(-10, 0), (10, 0), (10, 17), (3, 20), (-3, 20), (-10, 17)]
    height = {"id": "shoulders", "name": "Shoulders", "measure": "height", "want": 17, "of": [
        {"part": "part1", "pick": {"vertices": {"not": {"of_faces": {"facing": "+y"}}}}}]}
    editor.make(CHEST, narrowed, boards=[board(editor.server, polygon=shape)], sizes=[height])
    page = editor.page
    editor.look("Front")
    page.get_by_label("Show everything").click()
    expect(page.get_by_test_id("shared")).to_contain_text("%")
    before = shared(page)
    assert before < 94
    editor.key("e")
    x, y = editor.at(0, 0.4 / 3, 0.05)
    page.mouse.move(x, y)
    page.mouse.dblclick(x, y)
    editor.picked("4 edges")
    editor.key("m")
    expect(editor.tray.get_by_label("translate y")).to_be_visible()
    pixels = (editor.at(0, 0.2, 0)[1] - editor.at(0, 0.21, 0)[1]) * 2.5
    editor.drag((x, y - 68), (0, -pixels), steps=8, release=False)
    wait_shared(page, lambda v: v > before + 3)
    have = page.locator('[data-size="Shoulders"]').get_by_test_id("have")
    assert float(have.inner_text()) > 15  # the sizes follow the drag too
    expect(page.get_by_text("shared area, of the trial")).to_be_visible()
    page.mouse.up()
    editor.tray.get_by_label("translate y").fill("11/3")
    editor.tray.get_by_label("translate y").press("Enter")
    wait_shared(page, lambda v: v > 99.3)
    page.get_by_test_id("overall").hover()
    expect(page.get_by_text(re.compile(r"Front: 9\d\.\d % shared, mean"))).to_be_visible()
    expect(page.get_by_text("1 of 1 sizes pass")).to_be_visible()
    expect(page.get_by_test_id("overall")).to_contain_text(re.compile(r"✓ Fit 99\.\d %|✓ Fit 100"))
    editor.wait_steps(lambda s: s[-1]["translate"] == pytest.approx([0, 11 / 3, 0], abs=1e-6))


def test_a_size_is_added_and_driven(editor):
    """Make the window 11.4: an inset's width follows."""
    editor.make(CHEST | {"segments": [1, 1, 1]}, {"id": "pane", "kind": "inset", "pick": {"faces": {"facing": "+z"}}, "width": 2})
    page = editor.page
    editor.click(0, 0.1, 0.05)
    editor.picked("1 face")
    page.get_by_role("button", name="+ Size").click()
    page.get_by_label("What is measured").click()
    page.locator(".ant-select-item-option", has_text="width (x)").click()
    expect(page.get_by_test_id("tried")).to_contain_text("now 16.00 cm")
    page.get_by_label("Name of the size").fill("Window width")
    page.get_by_label("Wanted value").fill("12")
    page.get_by_role("button", name="Add size").click()
    row = page.locator('[data-size="Window width"]')
    expect(row.get_by_test_id("have")).to_have_text("16.00")
    expect(row.get_by_test_id("off")).to_have_text("▲ +4.00")
    row.get_by_role("button", name="Window width").click()
    page.get_by_label("What drives Window width").click()
    page.get_by_label("What drives Window width").fill("Inset: Width")
    page.locator(".ant-select-item-option", has_text="Inset: Width").first.click()
    editor.wait_document(lambda d: d["sizes"][0].get("driver"))
    expect(row.locator("td.driven")).to_be_visible()  # the answer is here too
    page.get_by_label("Wanted Window width").fill("11.4")
    page.get_by_label("Wanted Window width").press("Enter")
    editor.wait_steps(lambda s: s[1]["width"] == 4.3)
    expect(row.get_by_test_id("have")).to_have_text("11.40")
    expect(row.get_by_test_id("off")).to_have_text("0")
    page.get_by_label("Wanted Window width").fill("60")
    page.get_by_label("Wanted Window width").press("Enter")
    expect(page.get_by_text(re.compile("no value of width of pane reaches 60"))).to_be_visible()
    assert editor.steps()[1]["width"] == 4.3


def test_an_outline_is_taken_and_corrected_by_painting(editor):
    editor.make(boards=[board(editor.server, (-10, 0, 10, 30), traced=False)])
    page = editor.page
    page.get_by_role("button", name="Outline …").click()
    expect(page.get_by_text("one ring", exact=False)).to_be_visible()
    stage = page.get_by_label("The picture with its outline")
    box = stage.bounding_box()
    page.get_by_text("paint out", exact=True).click()
    editor.drag((box["x"] + box["width"] * 0.3, box["y"] + box["height"] * 0.3), (box["width"] * 0.4, 0))
    editor.rest()
    page.get_by_text("Trusted part").click()
    page.get_by_role("combobox", name="Trusted part").click()
    page.locator(".ant-select-item-option", has_text="left half").click()
    page.get_by_role("button", name="Take this outline").click()
    [kept] = editor.wait_document(lambda d: d["boards"][0].get("outline"))["boards"]
    assert kept["outline"]["tracing"]["strokes"][0]["paint"] == "out" and kept["trust"] == {"start": "left"}
    assert len(kept["outline"]["rings"]) == 2  # the stroke cut it in two
    xs = [x for ring in kept["outline"]["rings"] for x, _ in ring]
    assert min(xs) == pytest.approx(-10, abs=0.1) and max(xs) == pytest.approx(10, abs=0.1)
    expect(page.get_by_text("trusted part of the picture alone", exact=False)).to_be_visible()


def test_handles_of_an_unlocked_board_scale_turn_and_crop(editor):
    editor.make(boards=[board(editor.server, (-5, 0, 5, 30), traced=False, locked=False, width=20)])
    page = editor.page
    editor.look("Front")
    page.get_by_label("Show everything").click()
    editor.settle()
    scale = (editor.at(0.1, 0, 0)[0] - editor.at(0, 0, 0)[0]) / 10  # pixels in a centimetre
    # the lower right corner away from the upper left: a quarter larger
    editor.drag(editor.at(0.1, 0, 0), (5 * scale, 5 * scale))
    [b] = editor.wait_document(lambda d: d["boards"][0]["width"] != 20)["boards"]
    assert b["width"] == pytest.approx(25, rel=0.02) and b["at"] == pytest.approx([2.5, -5], abs=0.3)
    page.keyboard.press("Control+z")
    expect(page.get_by_label("Board width")).to_have_value("20")
    editor.settle()
    # the bar of the right side crops
    editor.drag(editor.at(0.1, 0.1, 0), (-4 * scale, 0))
    [b] = editor.wait_document(lambda d: d["boards"][0].get("crop"))["boards"]
    assert b["crop"] == pytest.approx([0, 0, 0.8, 1], abs=0.02)
    page.keyboard.press("Control+z")
    editor.wait_document(lambda d: not d["boards"][0].get("crop"))
    editor.settle()
    # the knob over the upper edge turns, about the middle
    top = editor.at(0, 0.2, 0)
    middle = editor.at(0, 0.1, 0)
    reach = middle[1] - top[1] + 22
    editor.drag((top[0], top[1] - 22), (reach, reach))
    [b] = editor.wait_document(lambda d: d["boards"][0].get("turn"))["boards"]
    assert b["turn"] == pytest.approx(-90, abs=2) and b["at"] == pytest.approx([-10, 10], abs=0.5)


def test_a_board_is_lined_up_with_the_model_and_matched_to_it(editor):
    editor.make(CHEST, boards=[board(editor.server, (-8, 0, 2, 10))])
    page = editor.page
    editor.look("Front")
    page.get_by_label("Show everything").click()
    page.get_by_role("button", name="Line up").click()
    editor.click(-0.08, 0.1, 0)
    expect(page.get_by_text("Click where that point belongs", exact=False).first).to_be_visible()
    x, y = editor.at(-0.1, 0.2, 0.05)
    page.mouse.move(x + 4, y + 3)  # near a vertex: it is taken
    page.mouse.click(x + 4, y + 3)
    [b] = editor.wait_document(lambda d: d["boards"][0].get("at"))["boards"]
    assert b["at"] == pytest.approx([-2, 10], abs=0.25)
    page.get_by_role("button", name="Match").click()
    [b] = editor.wait_document(lambda d: d["boards"][0]["width"] != 40)["boards"]
    assert b["width"] == pytest.approx(80, rel=0.01)  # a box of 10 becomes 20
    expect(page.get_by_test_id("shared")).to_have_text(re.compile(r"9\d\.\d %|100"))


def test_a_drawing_is_cut_into_boards_of_one_scale(editor):
    editor.make(boards=[board(editor.server, (-15, 5, -5, 25), (5, 5, 15, 25), traced=False)])
    page = editor.page
    page.get_by_role("button", name="Cut up …").click()
    stage = page.get_by_label("The drawing to cut up")
    expect(stage.locator("svg")).to_be_visible()
    box = stage.bounding_box()

    def frame(x0, y0, x1, y1):
        start = (box["x"] + box["width"] * (x0 / 40 + 0.5), box["y"] + box["height"] * (1 - y0 / 40))
        editor.drag(start, (box["width"] * (x1 - x0) / 40, -box["height"] * (y1 - y0) / 40))
    frame(-16, 5, -4, 26)
    frame(4, 5, 16, 26)
    page.get_by_role("button", name="Make 2 boards").click()
    first, second = editor.wait_document(lambda d: len(d["boards"]) == 2)["boards"]
    assert (first.get("view", "front"), second["view"]) == ("front", "right")
    assert first["width"] == second["width"] == 40 and first["picture"] == second["picture"]
    assert first["at"] == pytest.approx([10, -5], abs=0.3) and second["at"] == pytest.approx([-10, -5], abs=0.3)
    assert first["crop"] == pytest.approx([0.1, 0.125, 0.4, 0.65], abs=0.02)


def test_a_picture_is_straightened_and_its_original_kept(editor):
    editor.make(boards=[board(editor.server, (-12, 8, 12, 32), traced=False)])
    page = editor.page
    original = boards_of(editor)[0]["picture"]
    page.get_by_role("button", name="Straighten …").click()
    page.get_by_role("button", name="Place its corners").click()
    page.get_by_label("Width of the rectangle").fill("24")
    page.get_by_label("Height of the rectangle").fill("24")
    page.get_by_role("button", name="Straighten", exact=True).click()
    [b] = editor.wait_document(lambda d: d["boards"][0].get("source"))["boards"]
    assert b["source"]["picture"] == original != b["picture"] and b["source"]["size"] == [24, 24]
    assert b["width"] == pytest.approx(40, rel=0.02)  # the corners stood at ±0.3 of the width: 24 of 40
    page.get_by_role("button", name="Straighten …").click()
    page.get_by_role("button", name="Back to the original picture").click()
    [b] = editor.wait_document(lambda d: not d["boards"][0].get("source"))["boards"]
    assert b["picture"] == original


def test_guides_are_placed_named_and_snapped_to(editor):
    editor.make(CHEST)
    page = editor.page
    editor.look("Front")
    page.get_by_role("button", name="+ Guide").click()
    page.get_by_text("Level across y: a height").click()
    page.keyboard.down("Control")
    page.mouse.click(*editor.at(0.2, 0.137, 0))
    page.keyboard.up("Control")
    [level] = editor.wait_document(lambda d: d.get("guides"))["guides"]
    assert level["kind"] == "level" and level["at"][1] == pytest.approx(13.7, abs=0.2)
    page.get_by_label("Level 1 y").fill("13")
    page.get_by_label("Level 1 y").press("Enter")
    page.get_by_label("Name of guide Level 1").fill("Hinges")
    page.get_by_label("Name of guide Level 1").press("Enter")
    [level] = editor.wait_document(lambda d: d["guides"][0]["name"] == "Hinges" and d["guides"][0]["at"][1] == 13)["guides"]
    # a point guide in the same view snaps to the level
    page.get_by_role("button", name="+ Guide").click()
    page.get_by_text("Point", exact=True).click()
    x, y = editor.at(0.18, 0.13, 0)
    page.mouse.move(x, y + 6)
    page.mouse.click(x, y + 6)
    guides = editor.wait_document(lambda d: len(d["guides"]) == 2)["guides"]
    assert guides[1]["at"][1] == 13 and guides[1]["at"][0] == pytest.approx(18, abs=0.3)


def test_a_nudge_is_suggested_and_taken_or_left(editor):
    editor.make(CHEST, boards=[board(editor.server, (-10, 0, 10, 23))])
    page = editor.page
    editor.look("Top")
    editor.click(0, 0.2, 0)
    editor.picked("1 face")
    editor.look("Front")
    page.get_by_role("button", name="Suggest a nudge").click()
    expect(page.get_by_text("This move fits best", exact=False)).to_be_visible()
    wait_shared(page, lambda v: v > 99)
    assert len(editor.steps()) == 1  # nothing moves by itself
    editor.key("Escape")
    wait_shared(page, lambda v: v < 90)
    editor.key("Escape")
    page.get_by_role("button", name="Suggest a nudge").click()
    wait_shared(page, lambda v: v > 99)
    editor.key("Enter")
    step = editor.wait_steps(lambda s: len(s) == 2)[1]
    assert step["translate"][1] == pytest.approx(3, abs=0.06)


def test_lengths_are_shown_in_another_unit_and_stored_as_they_were(editor):
    editor.make(CHEST)
    page = editor.page
    before = editor.steps()
    page.get_by_label("Unit shown").click()
    page.locator(".ant-select-item-option", has_text=re.compile("^in$")).click()
    page.get_by_label("Decimals shown").fill("2")
    page.get_by_label("Decimals shown").press("Enter")
    expect(editor.step("body")).to_contain_text("7.87 × 7.87 × 3.94")
    assert editor.steps() == before and editor.document()["unit"] == "cm"
    editor.step("body").get_by_role("button", name="Box").click()
    field = page.get_by_label("Size x").first
    field.fill("10")
    field.press("Enter")
    assert editor.wait_steps(lambda s: s[0]["size"][0] != 20)[0]["size"] == [25.4, 20, 10]


def test_what_is_measured_stays_with_its_elements(editor):
    editor.make(CHEST)
    page = editor.page
    editor.key("e")
    editor.look("Front")
    page.get_by_label("Show everything").click()
    editor.click(0.1, 0.17, 0.05)
    editor.picked("edge")
    page.keyboard.press("Control+k")
    page.keyboard.type("Measure length")
    page.keyboard.press("Enter")
    row = page.locator('[data-size="Length of edges"]')
    expect(row.get_by_test_id("have")).to_have_text("6.667")
    editor.step("body").get_by_role("button", name="Box").click()
    field = page.get_by_label("Size y").first
    field.fill("30")
    field.press("Enter")
    expect(row.get_by_test_id("have")).to_have_text("10.00")



def test_a_board_stands_free_is_tilted_and_moved_in_its_own_plane(editor):
    editor.make(CHEST, boards=[board(editor.server, (-5, 0, 5, 30), traced=False, width=16, locked=False)])
    page = editor.page
    page.get_by_role("button", name="Place ▾").click()
    page.get_by_label("Board view").click()
    page.locator(".ant-select-item-option", has_text="Free").click()
    for name, value in (("Board rotate y", "30"), ("Board translate x", "-14"), ("Board translate z", "4")):
        page.get_by_label(name).fill(value)
        page.get_by_label(name).press("Enter")
        editor.rest()
    [b] = editor.wait_document(lambda d: d["boards"][0].get("place", {}).get("translate") == [-14, 0, 4])["boards"]
    assert b["view"] == "free" and b["place"]["rotate"] == [0, 30, 0]
    editor.settle()
    # its right border, at half its height: 8 across at 30 degrees
    x, z = -0.14 + 0.08 * 0.8660254, 0.04 - 0.08 * 0.5
    editor.drag(editor.at(x, 0.05, z), np.subtract(editor.at(x + 0.05 * 0.8660254, 0.05 + 0.03, z - 0.05 * 0.5), editor.at(x, 0.05, z)))
    [b] = editor.wait_document(lambda d: d["boards"][0].get("at"))["boards"]
    assert b["at"] == pytest.approx([5, 3], abs=0.4)


def test_a_board_is_mirrored_tinted_ordered_and_seen_from_its_side_alone(editor):
    left = board(editor.server, (-18, 12, -2, 28), traced=False, id="a", opacity=1.0)
    other = board(editor.server, (-18, 12, -2, 28), traced=False, id="b", opacity=1.0, hidden=True)
    editor.make(CHEST | {"size": [4, 4, 4]}, boards=[left, other])
    page = editor.page
    editor.look("Front")
    page.get_by_label("Show everything").click()
    page.mouse.move(*editor.at(0.0, 0.03, 0))
    for _ in range(9):
        page.mouse.wheel(0, 200)
        editor.frames(1)
    editor.rest()
    assert colour_at(editor, *editor.at(-0.1, 0.2, 0)).max() < 140 < colour_at(editor, *editor.at(0.1, 0.2, 0)).min()
    page.get_by_role("button", name="Place ▾").click()
    page.get_by_text("mirrored").click()
    editor.wait_document(lambda d: d["boards"][0].get("mirrored"))
    editor.rest()
    assert colour_at(editor, *editor.at(0.1, 0.2, 0)).max() < 140 < colour_at(editor, *editor.at(-0.1, 0.2, 0)).min()
    page.get_by_label("Further in front").click()
    editor.wait_document(lambda d: [b["id"] for b in d["boards"]] == ["b", "a"])
    page.get_by_label("Tint of the board").fill("#ff8080")
    editor.wait_document(lambda d: d["boards"][1].get("tint") == "#ff8080")
    editor.rest()
    red, green, _ = colour_at(editor, *editor.at(-0.1, 0.2, 0))
    assert red - green > 80
    page.get_by_text("only from its side").click()
    editor.wait_document(lambda d: d["boards"][1].get("one_sided"))
    editor.look("3D")
    box = editor.view.bounding_box()
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    for _ in range(6):
        page.mouse.wheel(0, 200)
        editor.frames(1)
    editor.rest()
    spot = editor.at(-0.1, 0.15, -0.05)

    seen = colour_at(editor, *spot)
    page.get_by_label("Board view").click()
    page.locator(".ant-select-item-option", has_text="Back").click()
    editor.wait_document(lambda d: d["boards"][1].get("view") == "back")
    spot = editor.at(-0.1, 0.15, 0.05)
    editor.rest()
    assert seen[0] - seen[1] > 60 and np.ptp(colour_at(editor, *spot)) < 40  # from in front its back is turned


def test_a_large_picture_is_seen_at_full_resolution_when_zoomed_in(editor):
    """A line of two pixels in 5 000: a grey shade in the first look at the whole, black when looked at closely."""
    image = Image.new("L", (5000, 250), 255)
    image.paste(0, (2499, 0, 2501, 250))
    out = io.BytesIO()
    image.save(out, "PNG")
    sha = keep(editor.server, out.getvalue())
    editor.make(CHEST | {"size": [1, 1, 1]}, boards=[{"id": "long", "picture": sha, "name": "Long", "width": 50, "opacity": 1.0, "stand": "over"}])
    editor.look("Front")
    editor.key("f")
    editor.click(0, 0.005, 0.005)
    editor.key("Shift+a")
    editor.rest()
    editor.key("Escape")
    x, y = editor.at(0, 0.005, 0)
    line = min(colour_at(editor, x + dx, y).max() for dx in (-2, -1, 0, 1, 2))
    assert line < 40


def test_guides_stay_when_pictures_are_hidden_and_tell_their_distances(editor):
    guides = [{"id": "low", "name": "Sill", "kind": "level", "at": [0, 5, 0]}, {"id": "high", "name": "Lintel", "kind": "level", "at": [0, 17, 0]}]
    editor.make(CHEST, boards=[board(editor.server, (-5, 0, 5, 30), traced=False, hidden=True)], guides=guides)
    page = editor.page
    editor.look("Front")
    page.get_by_label("Show everything").click()
    editor.rest()
    before = picture_of(editor)
    y = round(editor.at(0, 0.17, 0)[1] - editor.view.bounding_box()["y"])
    teal = np.abs(before[y - 2:y + 3, :200] - [30, 111, 120]).max(axis=2) < 90
    assert teal.any(axis=0).sum() > 60  # the dashes of the level, beside the model
    page.get_by_label("Name of guide Sill").hover()
    editor.rest()
    after = picture_of(editor)
    assert (np.abs(after - before).max(axis=2) > 60).sum() > 150  # the distance is written
