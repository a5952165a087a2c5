"""Curves by hand: drawn, rounded, thickened, made into bodies; piping that follows; a wire from a single point."""

import json
import urllib.request

import numpy as np
import pytest
from playwright.sync_api import expect

from rhytonic.core.inspect.report import report
from rhytonic.core.recipe.built import build
from rhytonic.core.recipe.document import load
from tests.api.conftest import BOX, part, png

from .conftest import post


def draw(editor, form, how="Draw it"):
    """A form from the panel, by hand."""
    panel = editor.page.get_by_role("region", name="Form")
    panel.get_by_role("radio", name=form, exact=True).click()
    panel.get_by_role("group", name="Draw by hand").get_by_role("button", name=how).click()


def parts(editor):
    return editor.document()["parts"]


def told(editor):
    """What the core reports of the parts of the build as it is stored."""
    document = load(json.dumps(editor.document()).encode())
    return report(document, build(document))["parts"]


def start(editor):
    made = post(editor.server, "/api/builds", {"name": "Racks", "document": {"format": "rhytonic", "version": 1, "unit": "cm", "parts": [
        part({**BOX, "size": [60, 60, 1]}, id="gauge", name="Gauge")]}})
    editor.open(made["id"])
    editor.look("Front")
    editor.page.keyboard.press("a")
    editor.settle()


def test_a_racks_side_is_drawn_filleted_thickened_extruded_and_stood_on_the_floor(editor):
    start(editor)
    editor.view.focus()
    editor.page.keyboard.press("Shift+N")
    for at in ((0.0, 0.05, 0), (0.0, 0.4, 0), (0.3, 0.4, 0), (0.3, 0.05, 0)):
        editor.click(*at)
        editor.rest()
    editor.wait_document(lambda d: len(d["parts"]) == 2 and len(d["parts"][1]["steps"][0]["points"]) == 4)
    assert [p["at"] for p in parts(editor)[1]["steps"][0]["points"]] == [[0, 5, 0], [0, 40, 0], [30, 40, 0], [30, 5, 0]]
    editor.page.keyboard.press("Escape")
    expect(editor.page.get_by_role("button", name="Draw on")).to_be_visible()
    editor.page.keyboard.press("v")
    x, y = editor.at(-0.05, 0.45, 0)
    u, w = editor.at(0.35, 0.35, 0)
    editor.drag((x, y), (u - x, w - y))
    editor.picked("2 vertices")
    editor.tray.get_by_role("button", name="Round corner").click()
    editor.view.focus()
    editor.page.keyboard.type("8")
    editor.page.keyboard.press("Enter")
    editor.wait_document(lambda d: d["parts"][1]["steps"][-1]["kind"] == "round_corner" and d["parts"][1]["steps"][-1]["radius"] == 8)
    editor.page.keyboard.press("Escape")
    editor.page.keyboard.press("Escape")
    for name, typed, kind in (("Thicken", "3", "thicken"), ("Extrude curve", "4", "extrude_curve")):
        editor.tray.get_by_role("button", name=name).click()
        editor.page.keyboard.type(typed)
        editor.page.keyboard.press("Enter")
        editor.wait_document(lambda d, kind=kind: d["parts"][1]["steps"][-1]["kind"] == kind)
        editor.page.keyboard.press("Escape")
    steps = parts(editor)[1]["steps"]
    assert steps[2]["width"] == 3 and steps[3]["depth"] == 4
    # the feet, onto the floor: all else stays
    editor.page.keyboard.press("v")
    x, y = editor.at(-0.05, 0.08, 0)
    u, w = editor.at(0.35, 0.02, 0)
    editor.settle()
    editor.drag((x, y), (u - x, w - y))
    editor.picked("8 vertices")
    editor.tray.get_by_label("Typed coordinates").click()
    field = editor.tray.get_by_label("y of the pick")
    field.fill("0")
    field.press("Enter")
    editor.wait_document(lambda d: d["parts"][1]["steps"][-1]["kind"] == "flatten")
    rack = told(editor)[1]
    assert rack["min"][1] == pytest.approx(0) and rack["max"][2] - rack["min"][2] == pytest.approx(4) and rack["closed"]


def test_a_profile_drawn_over_a_board_is_swept_along_an_arc_and_turned(editor):
    sha = upload(editor)
    arch = part({"id": "arc", "kind": "arc", "radius": 40, "from": 0, "to": 180}, id="arch", name="Arch")
    made = post(editor.server, "/api/builds", {"name": "Pilot house", "document": {"format": "rhytonic", "version": 1, "unit": "cm", "parts": [arch],
        "boards": [{"id": "b", "picture": sha, "name": "Moulding", "view": "front", "width": 20, "at": [0, 0]}]}})
    editor.open(made["id"])
    editor.look("Front")
    editor.page.keyboard.press("a")
    editor.settle()
    editor.page.get_by_role("button", name="Form", exact=True).click()
    draw(editor, "Path")
    for at in ((0, 0, 0), (0.06, 0, 0), (0.06, 0.04, 0), (0, 0.08, 0), (0, 0, 0)):
        editor.click(*at)
        editor.rest()
    document = editor.wait_document(lambda d: len(d["parts"]) == 2 and d["parts"][1]["steps"][0].get("closed"))
    assert len(document["parts"][1]["steps"][0]["points"]) == 4
    editor.page.get_by_role("button", name="Arch", exact=True).click()
    editor.tray.get_by_role("button", name="Sweep").click()
    editor.tray.get_by_label("profile", exact=True).click(force=True)
    editor.page.locator(".ant-select-item-option", has_text="Path 1").click()
    editor.tray.get_by_label("Turn the profile by 90 degrees").click()
    editor.wait_document(lambda d: d["parts"][0]["steps"][-1].get("turn") == 90 and d["parts"][0]["steps"][-1].get("profile") == d["parts"][1]["id"])
    editor.tray.get_by_label("Mirror the profile").click()
    editor.wait_document(lambda d: d["parts"][0]["steps"][-1].get("mirrored") is True)
    editor.tray.get_by_label("Move the origin of the profile on").click()  # held by its middle
    editor.wait_document(lambda d: d["parts"][0]["steps"][-1].get("offset") == [4, 3])
    card = editor.page.locator('[data-step="sweep1"]')
    card.get_by_label("offset x").fill("3")
    card.get_by_label("offset x").press("Enter")
    editor.wait_document(lambda d: d["parts"][0]["steps"][-1].get("offset") == [3, 3])
    expect(card.get_by_role("alert")).to_be_hidden()


def upload(editor):
    request = urllib.request.Request(f"{editor.server}/api/pictures", data=png(300, 300), headers={"Content-Type": "image/png", "X-Rhytonic": "1"})
    return json.load(urllib.request.urlopen(request))["sha256"]


def test_piping_follows_the_loop_of_a_cushion(editor):
    editor.make({**BOX, "size": [40, 10, 40]})
    editor.look("Top")
    editor.page.keyboard.press("a")
    editor.settle()
    editor.page.keyboard.press("f")
    editor.click(0, 0.1, 0)
    editor.picked("1 face")
    editor.page.keyboard.press("e")  # the edges of what was picked
    editor.picked("4 edges")
    editor.page.keyboard.press("Control+k")
    editor.page.keyboard.type("piping")
    editor.page.keyboard.press("Enter")
    document = editor.wait_document(lambda d: len(d["parts"]) == 2)
    piping = document["parts"][1]
    assert [s["kind"] for s in piping["steps"]] == ["edge_curve", "sweep"]
    before = told(editor)[1]
    editor.page.get_by_role("button", name=document["parts"][0]["name"], exact=True).click()
    editor.step("body").locator(".title").click()
    field = editor.step("body").get_by_label("size x")
    field.fill("60")
    field.press("Enter")
    editor.wait_document(lambda d: d["parts"][0]["steps"][0]["size"][0] == 60)
    after = told(editor)[1]
    assert before["closed"] and after["closed"]
    assert after["max"][0] - before["max"][0] == pytest.approx(10)


def test_a_wire_is_drawn_on_from_a_single_point_by_typed_lengths(editor):
    start(editor)
    editor.view.focus()
    editor.page.keyboard.press("Shift+N")
    editor.click(0, 0.1, 0)
    editor.wait_document(lambda d: len(d["parts"]) == 2)
    editor.page.keyboard.press("Escape")
    editor.page.keyboard.press("Shift+N")  # goes on with the one at hand
    editor.page.mouse.move(*editor.at(0.05, 0.15, 0))
    editor.rest()
    editor.page.keyboard.type("20")
    editor.page.keyboard.press("Enter")
    editor.wait_document(lambda d: [p["at"] for p in d["parts"][1]["steps"][0]["points"]] == [[0, 10, 0], [20, 10, 0]])
    editor.tray.get_by_label("angle to the next point").fill("90")
    editor.tray.get_by_label("angle to the next point").press("Enter")
    editor.wait_document(lambda d: [p["at"] for p in d["parts"][1]["steps"][0]["points"]][-1] == [20, 30, 0])
    # a point between, put in by a click on the line, then made a fillet and moved by typing
    editor.click(0.1, 0.1, 0)
    editor.wait_document(lambda d: len(d["parts"][1]["steps"][0]["points"]) == 4)
    editor.tray.get_by_label("y of the point").fill("5")
    editor.tray.get_by_label("y of the point").press("Enter")
    editor.wait_document(lambda d: d["parts"][1]["steps"][0]["points"][1]["at"] == [10, 5, 0])
    editor.tray.get_by_label("corner of the point").click(force=True)
    editor.page.locator(".ant-select-item-option", has_text="fillet").click()
    editor.wait_document(lambda d: d["parts"][1]["steps"][0]["points"][1].get("corner") == "fillet")
    editor.view.focus()
    editor.page.keyboard.press("Delete")
    editor.wait_document(lambda d: len(d["parts"][1]["steps"][0]["points"]) == 3)
    editor.page.keyboard.press("Control+z")
    editor.wait_document(lambda d: len(d["parts"][1]["steps"][0]["points"]) == 4)
    # a soft point, dragged out
    editor.drag(editor.at(-0.1, 0.3, 0), (0, -40))
    document = editor.wait_document(lambda d: len(d["parts"][1]["steps"][0]["points"]) == 5)
    soft = document["parts"][1]["steps"][0]["points"][-1]
    assert soft["corner"] == "soft" and soft["out"][1] > 0 and soft["in"][1] == -soft["out"][1]
    # on from the other end: its point is clicked, then the next
    editor.page.keyboard.press("Escape")
    editor.page.keyboard.press("Shift+N")
    editor.click(0, 0.1, 0)
    editor.click(-0.2, 0.1, 0)
    document = editor.wait_document(lambda d: len(d["parts"][1]["steps"][0]["points"]) == 6)
    assert document["parts"][1]["steps"][0]["points"][0]["at"] == [-20, 10, 0]
    # on its card all corners are made sharp by one press
    editor.page.keyboard.press("Escape")
    editor.page.locator('[data-step="path1"] .title').click()
    editor.page.get_by_role("button", name="Make corners sharp").click()
    document = editor.wait_document(lambda d: all(p.get("corner", "sharp") == "sharp" for p in d["parts"][1]["steps"][0]["points"]))
    assert len(document["parts"][1]["steps"][0]["points"]) == 6
    field = editor.page.get_by_label("y of point 1", exact=True)
    field.fill("12")
    field.press("Enter")
    editor.wait_document(lambda d: d["parts"][1]["steps"][0]["points"][0]["at"] == [-20, 12, 0])


def test_a_drawing_is_chosen_and_its_outlines_are_curves_that_leave_again(editor, tmp_path):
    file = tmp_path / "plate.svg"
    file.write_text('<svg xmlns="http://www.w3.org/2000/svg" width="90mm" height="40mm" viewBox="0 0 90 40"><path id="plate" d="M0 0h90v40h-90z"/></svg>')
    editor.make(BOX)
    editor.page.get_by_role("button", name="Form", exact=True).click()
    editor.page.get_by_label("Model file").set_input_files(str(file))
    document = editor.wait_document(lambda d: len(d["parts"]) == 2)
    assert document["parts"][1]["name"] == "Plate" and document["parts"][1]["steps"][0]["closed"]
    editor.page.get_by_role("button", name="Handover", exact=True).click()
    with editor.page.expect_download() as leaving:
        editor.page.get_by_role("link", name="SVG").click()
    assert leaving.value.path().read_bytes().startswith(b"<?xml")


def test_a_rectangle_is_dragged_in_a_view_and_a_shape_drawn_freehand(editor):
    start(editor)
    editor.page.get_by_role("button", name="Form", exact=True).click()
    draw(editor, "Rectangle")
    x, y = editor.at(-0.2, 0.1, 0)
    u, w = editor.at(0.1, 0.3, 0)
    editor.drag((x, y), (u - x, w - y))
    document = editor.wait_document(lambda d: len(d["parts"]) == 2)
    made = document["parts"][1]
    assert made["steps"][0]["size"] == [30, 20] and made["steps"][0].get("plane", "xy") == "xy" and made["placement"]["translate"] == [-5, 20, 0]
    editor.page.keyboard.press("Escape")
    draw(editor, "Path", "Freehand")
    around = [editor.at(0.15 + 0.1 * np.cos(t), 0.2 + 0.06 * np.sin(t), 0) for t in np.linspace(0, 2 * np.pi, 20)]
    editor.page.mouse.move(*around[0])
    editor.page.mouse.down()
    for place in around[1:]:
        editor.page.mouse.move(*place)
    editor.page.mouse.up()
    document = editor.wait_document(lambda d: len(d["parts"]) == 3)
    assert [s["kind"] for s in document["parts"][2]["steps"]] == ["path", "respace", "extrude_curve"]
    shape = told(editor)[2]
    assert shape["closed"] and shape["size"][0] == pytest.approx(20, abs=1.5) and shape["size"][1] == pytest.approx(12, abs=1.5)
    depth = editor.page.locator('[data-step="extrude_curve1"]').get_by_label("depth")
    depth.fill("3")
    depth.press("Enter")
    editor.wait_document(lambda d: d["parts"][2]["steps"][2]["depth"] == 3)


def test_two_outlines_are_united_and_a_path_gives_way_to_other_tools(editor):
    square = part({"id": "r", "kind": "rectangle", "size": [20, 20]}, id="one", name="One")
    other = part({"id": "c", "kind": "circle", "radius": 8, "sides": 16}, id="two", name="Two", placement={"translate": [10, 0, 0]})
    editor.make(parts=[square, other])
    editor.look("Front")
    editor.page.keyboard.press("a")
    editor.settle()
    editor.view.focus()
    editor.page.keyboard.press("Escape")
    editor.tray.get_by_role("button", name="Whole part").click()
    editor.page.get_by_role("menuitem", name="Combine").click()
    editor.click(0.18, 0, 0)  # on the line of the other
    expect(editor.tray.locator(".ant-select-selection-item").first).to_have_text("Two")
    editor.view.focus()
    editor.page.keyboard.press("Enter")
    editor.wait_document(lambda d: d["parts"][0]["steps"][-1]["kind"] == "combine" and d["parts"][0]["steps"][-1]["parts"] == ["two"])
    one = told(editor)[0]["curve"]
    assert one["area"] > 400 and one["closed"]
    editor.click(0.02, 0, 0)  # a curve is chosen by its line
    expect(editor.page.get_by_role("region", name="Recipe of Two")).to_be_visible()
    editor.click(0.18, 0, 0)  # and a point of it by a click, though faces were picked before
    editor.picked("1 vertex")
    editor.page.keyboard.press("Escape")
    editor.tray.get_by_role("button", name="Lathe").click()
    editor.page.keyboard.type("12")  # goes to what people type first
    expect(editor.tray.get_by_label("sides")).to_have_value("12")
    editor.page.keyboard.press("Escape")
    editor.page.keyboard.press("Escape")
    expect(editor.tray.get_by_label("sides")).to_have_count(0)
    editor.settle()
    # typed places of a new path; a form to be drawn lays the path down, so does another part that is chosen
    editor.page.get_by_role("button", name="Form", exact=True).click()
    draw(editor, "Path")
    editor.page.mouse.move(*editor.at(0, -0.2, 0))
    editor.tray.get_by_label("x of the first point").fill("-5")
    editor.tray.get_by_label("y of the first point").fill("-15")
    editor.tray.get_by_label("y of the first point").press("Enter")
    editor.wait_document(lambda d: len(d["parts"]) == 3 and d["parts"][2]["steps"][0]["points"][0]["at"] == [-5, -15, 0])
    editor.tray.get_by_label("x of the next point").fill("12")
    editor.tray.get_by_label("x of the next point").press("Enter")
    editor.wait_document(lambda d: d["parts"][2]["steps"][0]["points"][-1]["at"] == [12, -15, 0])
    draw(editor, "Box")
    expect(editor.tray.get_by_label("x of the next point")).to_have_count(0)
    editor.view.focus()
    editor.page.keyboard.press("Escape")
    editor.page.keyboard.press("Shift+N")
    expect(editor.tray.get_by_label("x of the next point")).to_be_visible()
    editor.page.get_by_role("button", name="One", exact=True).click()
    expect(editor.tray.get_by_label("x of the next point")).to_have_count(0)
    # undone to before its first point, the path begins anew
    draw(editor, "Path")
    editor.click(0, -0.15, 0)
    editor.wait_document(lambda d: len(d["parts"]) == 4)
    editor.page.keyboard.press("Control+z")
    editor.wait_document(lambda d: len(d["parts"]) == 3)
    editor.click(0.05, -0.15, 0)
    editor.wait_document(lambda d: len(d["parts"]) == 4 and d["parts"][3]["steps"][0]["points"][0]["at"] == [5, -15, 0])


def test_points_that_are_moved_or_put_in_keep_how_deep_they_lie(editor):
    wire = part({"id": "path1", "kind": "path", "points": [[0, 0, 0], [20, 0, 10], [20, 20, 30]]}, id="wire", name="Wire")
    editor.make(parts=[wire])
    editor.look("Front")
    editor.page.keyboard.press("a")
    editor.settle()
    editor.view.focus()
    editor.page.keyboard.press("Shift+N")
    x, y = editor.at(0.2, 0, 0.1)
    u, w = editor.at(0.25, 0.05, 0.1)
    editor.drag((x, y), (u - x, w - y))
    editor.wait_document(lambda d: d["parts"][0]["steps"][0]["points"][1]["at"] == [25, 5, 10])
    editor.page.keyboard.press("Escape")
    editor.click(0.125, 0.025, 0.05)
    document = editor.wait_document(lambda d: len(d["parts"][0]["steps"][0]["points"]) == 4)
    assert document["parts"][0]["steps"][0]["points"][1]["at"][2] == pytest.approx(5, abs=0.2)


UNITLESS = "\n".join(["0", "SECTION", "2", "ENTITIES", "0", "CIRCLE", "8", "0", "10", "0", "20", "0", "30", "0", "40", "60", "0", "ENDSEC", "0", "EOF", ""])


def test_a_drawing_that_tells_no_unit_asks_for_it(editor, tmp_path):
    editor.make(BOX)
    editor.page.get_by_role("button", name="Form", exact=True).click()
    file = tmp_path / "deck plate.dxf"
    file.write_text(UNITLESS)
    editor.page.get_by_label("Model file").set_input_files(str(file))
    dialog = editor.page.get_by_role("dialog")
    expect(dialog).to_contain_text("What is 100 long in deck plate.dxf is 10 cm here")
    expect(dialog.get_by_label("Unit of the drawing")).to_be_focused()
    editor.page.keyboard.press("ArrowDown")  # unfolds the choices
    editor.page.locator(".ant-select-item-option").get_by_text("inches", exact=True).click()
    expect(dialog).to_contain_text("is 254 cm here")
    editor.page.keyboard.press("Enter")
    expect(dialog).to_be_hidden()
    document = editor.wait_document(lambda d: len(d["parts"]) == 2)
    step = document["parts"][1]["steps"][0]
    assert step["radius"] == pytest.approx(60 * 2.54)
    expect(editor.page.get_by_text("inches were taken")).to_be_visible()
