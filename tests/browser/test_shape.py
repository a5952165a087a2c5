"""Shape by hand: a lattice's row pulled and its divisions raised, a cover bent with its latch, strokes, a weld."""

import json
import re

import numpy as np
import pytest
from playwright.sync_api import expect

from rhytonic.core.inspect.report import report
from rhytonic.core.recipe.built import build
from rhytonic.core.recipe.document import load
from tests.api.conftest import BOX, part

from .conftest import post

COVER = part({**BOX, "size": [40, 4, 24], "segments": [10, 1, 4]}, id="cover", name="Cover")
LATCH = part({"id": "plate", "kind": "box", "size": [6, 2, 4]}, id="latch", name="Latch", placement={"translate": [14, 4, 0]})


def start(editor, *parts, view="Front"):
    made = post(editor.server, "/api/builds", {"name": "Soft things", "document": {"format": "rhytonic", "version": 1, "unit": "cm", "parts": list(parts)}})
    editor.open(made["id"])
    editor.look(view)
    editor.page.keyboard.press("a")
    editor.settle()
    editor.view.focus()


def told(editor):
    document = load(json.dumps(editor.document()).encode())
    return {p["name"]: p for p in report(document, build(document))["parts"]}


def steps(editor, number=0):
    return editor.document()["parts"][number]["steps"]


def sweep(editor, a, b):
    (x, y), (u, v) = editor.at(*a), editor.at(*b)
    editor.drag((x, y), (u - x, v - y))


def test_a_lattices_front_row_is_pulled_down_and_its_divisions_raised(editor):
    start(editor, COVER)
    page, tray = editor.page, editor.tray
    page.keyboard.press("Shift+J")
    expect(tray.get_by_text("no points picked")).to_be_visible()
    editor.click(0.2, 0.04, 0)  # in a flat view all that stand behind it too
    expect(tray.get_by_text("3 points")).to_be_visible()
    page.keyboard.press("Escape")
    sweep(editor, (0.18, 0.06, 0), (0.22, -0.02, 0))
    expect(tray.get_by_text("9 points")).to_be_visible()
    page.keyboard.press("Escape")  # lets them go first
    expect(tray.get_by_text("no points picked")).to_be_visible()
    sweep(editor, (0.18, 0.06, 0), (0.22, -0.02, 0))
    x, y = editor.at(0.2, 0.02, 0)
    size = editor.at(0.2, 0.12, 0)[1] - y
    editor.drag((x, y - 40), (0, -size * 0.5))  # the arrow upwards, drawn down by half of ten
    document = editor.wait_document(lambda d: d["parts"][0]["steps"][-1]["kind"] == "lattice")
    step = document["parts"][0]["steps"][-1]
    assert "box" not in step  # it follows the part until somebody gives it one
    assert len(step["offsets"]) == 9 and all(o[0] == 0 and o[1] < -3 and o[2] == 0 for o in step["offsets"].values())
    low = told(editor)["Cover"]["min"][1]
    field = tray.get_by_label("point y")  # and typed: where their middle is to be
    field.fill("-4")
    field.press("Enter")
    editor.wait_document(lambda d: all(o[1] == pytest.approx(-6) for o in d["parts"][0]["steps"][-1]["offsets"].values()))
    before = told(editor)["Cover"]
    assert before["min"][1] < low
    editor.view.focus()
    page.keyboard.press("Control+z")
    editor.wait_document(lambda d: all(o[1] != pytest.approx(-6) for o in d["parts"][0]["steps"][-1]["offsets"].values()))
    expect(tray.get_by_text("9 points")).to_be_visible()  # still at work, on the same points
    page.keyboard.press("Control+y")
    editor.wait_document(lambda d: all(o[1] == pytest.approx(-6) for o in d["parts"][0]["steps"][-1]["offsets"].values()))
    expect(tray.get_by_text("9 points")).to_be_visible()
    divisions = tray.get_by_label("divisions x")
    divisions.fill("4")
    divisions.press("Enter")
    editor.wait_document(lambda d: d["parts"][0]["steps"][-1].get("divisions") == [4, 2, 2])
    after = told(editor)["Cover"]
    assert after["volume"] == pytest.approx(before["volume"], rel=1e-9) and after["min"] == pytest.approx(before["min"], abs=1e-9)
    page.keyboard.press("Escape")
    card = editor.step("lattice1")
    fewer = card.get_by_label("divisions x")
    fewer.fill("1")
    fewer.press("Enter")
    editor.wait_document(lambda d: d["parts"][0]["steps"][-1]["divisions"] == [1, 2, 2])
    expect(page.get_by_text("With these divisions the shape differs by")).to_be_visible()
    page.keyboard.press("Control+z")
    editor.wait_document(lambda d: d["parts"][0]["steps"][-1]["divisions"] == [4, 2, 2])
    card.get_by_role("button", name="Move its points").click()
    expect(tray.get_by_text("no points picked")).to_be_visible()
    page.keyboard.press("Control+a")
    expect(tray.get_by_text("45 points")).to_be_visible()
    page.keyboard.press("ArrowUp")  # by the snap step, half a centimetre
    editor.wait_document(lambda d: len(d["parts"][0]["steps"][-1]["offsets"]) == 45)
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    card.get_by_role("button", name="give it a box of its own").click()
    low = card.get_by_label("box from y")
    low.fill("-2")
    low.press("Enter")
    editor.wait_document(lambda d: d["parts"][0]["steps"][-1]["box"] == [[-20, -2, -12], [20, 4, 12]])


def test_a_hatch_cover_is_bent_by_its_handle_and_its_latch_rides_on_it(editor):
    start(editor, COVER, LATCH)
    page, tray = editor.page, editor.tray
    still = build(load(json.dumps(editor.document()).encode()))[1].mesh.points
    page.get_by_role("button", name="Latch", exact=True).click()
    page.get_by_role("button", name="Cover", exact=True).click(modifiers=["Control"])
    editor.view.focus()
    page.keyboard.press("Shift+U")
    expect(tray.get_by_text("+1 carried whole")).to_be_visible()
    tray.get_by_label("Turn the bend by a quarter").click()  # the wrong one first
    for _ in range(3):
        tray.get_by_label("Turn the bend by a quarter").click()
    expect(tray.get_by_role("button", name="Turn the bend by a quarter")).to_contain_text("+y")
    angle = np.radians(90)
    radius = 0.4 / angle
    end = (-0.2 + radius * np.sin(angle), 0.02 + radius * (1 - np.cos(angle)), 0)
    wanted = np.radians(40)
    to = (-0.2 + 0.4 / wanted * np.sin(wanted), 0.02 + 0.4 / wanted * (1 - np.cos(wanted)), 0)
    expect(tray.get_by_test_id("trial")).to_be_visible()
    editor.settle()
    editor.view.focus()
    page.keyboard.press("a")  # what it is bent to by now stands in sight
    editor.settle()
    sweep(editor, end, to)
    document = editor.wait_document(lambda d: d["parts"][0]["steps"][-1]["kind"] == "bend")
    assert document["parts"][0]["steps"][-1]["angle"] == pytest.approx(40, abs=5)
    assert document["parts"][1]["steps"][-1] == {"id": "follow1", "kind": "follow", "part": "cover", "step": "bend1", "as": "rigid"}
    editor.view.focus()
    page.keyboard.type("90")
    page.keyboard.press("Enter")
    editor.wait_document(lambda d: d["parts"][0]["steps"][-1]["angle"] == 90)
    latch = build(load(json.dumps(editor.document()).encode()))[1].mesh.points
    apart = [np.linalg.norm(p[:, None] - p[None], axis=2) for p in (still, latch)]
    np.testing.assert_allclose(apart[1], apart[0], atol=1e-9)
    assert latch[:, 1].min() > 0.1
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Latch", exact=True).click()
    card = editor.step("follow1")
    card.locator(".title").click()
    card.get_by_label("as", exact=True).click(force=True)
    page.locator(".ant-select-item-option", has_text="deformed").click()
    editor.wait_document(lambda d: d["parts"][1]["steps"][-1].get("as", "deformed") == "deformed")
    soft = build(load(json.dumps(editor.document()).encode()))[1].mesh.points
    assert np.abs(np.linalg.norm(soft[:, None] - soft[None], axis=2) - apart[0]).max() > 1e-4


def test_a_taper_is_dragged_by_its_end_and_kept_live(editor):
    start(editor, part({**BOX, "size": [8, 30, 8], "segments": [1, 4, 1]}, id="post", name="Post"))
    page = editor.page
    page.keyboard.press("Control+k")
    page.keyboard.type("taper")
    page.keyboard.press("Enter")
    expect(editor.tray.get_by_label("scale", exact=True)).to_have_value("0.6")
    editor.settle()
    sweep(editor, (0.024, 0.3, 0.024), (0.012, 0.3, 0.012))
    document = editor.wait_document(lambda d: d["parts"][0]["steps"][-1]["kind"] == "taper")
    assert document["parts"][0]["steps"][-1]["axis"] == "y" and document["parts"][0]["steps"][-1]["scale"] == pytest.approx(0.3, abs=0.06)
    page.keyboard.press("Escape")
    editor.step("taper1").get_by_label("More for Taper").click()
    page.get_by_text("Keep live: below the working mark").click()
    editor.wait_document(lambda d: d["parts"][0]["steps"][-1].get("live") is True)
    expect(editor.step("taper1")).to_have_class(re.compile("live"))
    found = told(editor)["Post"]
    assert found["max"][1] == pytest.approx(30) and found["volume"] < 8 * 8 * 30


def take_brush(editor):
    """A stroke begins at once: the tool has to be at work by then."""
    editor.page.keyboard.press("Shift+K")
    expect(editor.tray.get_by_label("radius")).to_be_visible()


def stroke(editor, *places):
    page = editor.page
    page.mouse.move(*editor.at(*places[0]))
    editor.frames()
    page.mouse.down()
    for place in places[1:]:
        page.mouse.move(*editor.at(*place), steps=2)
        editor.frames(1)
    page.mouse.up()


def test_a_groove_goes_with_the_face_when_the_box_above_is_resized_and_strokes_gather_in_one_step(editor):
    start(editor, part({**BOX, "size": [30, 6, 20], "segments": [15, 2, 10]}, id="pad", name="Pad"), view="Top")
    page, tray = editor.page, editor.tray
    take_brush(editor)
    tray.get_by_label("brush", exact=True).click(force=True)
    page.locator(".ant-select-item-option", has_text="Groove").click()
    page.keyboard.type("3")
    page.keyboard.press("Enter")
    line = [(x, 0.06, 0.0) for x in (-0.1, -0.05, 0.0, 0.05, 0.1)]
    stroke(editor, *line)
    document = editor.wait_document(lambda d: d["parts"][0]["steps"][-1]["kind"] == "brush")
    step = document["parts"][0]["steps"][-1]
    assert (step["tool"], step["radius"], len(step["strokes"])) == ("groove", 3, 1)
    assert all(o is not None for o in step["strokes"][0]["on"])
    stroke(editor, (0.0, 0.06, -0.06), (0.0, 0.06, 0.06))
    editor.wait_document(lambda d: len(d["parts"][0]["steps"][-1]["strokes"]) == 2)
    assert len(steps(editor)) == 2
    for x in (-0.12, -0.06, 0.06, 0.12):  # faster than they are stored: none is lost
        editor.drag(editor.at(x, 0.06, 0.07), (6, 4), steps=2)
    editor.wait_document(lambda d: len(d["parts"][0]["steps"][-1]["strokes"]) == 6)
    for left in (5, 4, 3, 2, 1):
        page.keyboard.press("Control+z")
        editor.wait_document(lambda d, left=left: len(d["parts"][0]["steps"][-1]["strokes"]) == left)
    # the brush outlives an undo; other settings are another step; the ring's size by a drag with Ctrl
    expect(tray.get_by_label("radius")).to_be_visible()
    editor.settle()
    x, y = editor.at(0, 0.06, 0)
    page.keyboard.down("Control")
    editor.drag((x, y), (40, 2))
    page.keyboard.up("Control")
    radius = tray.get_by_label("radius")
    assert float(radius.input_value()) > 3.3
    page.keyboard.press("Escape")
    deep = build(load(json.dumps(editor.document()).encode()))[0].mesh.points * 100
    assert deep[deep[:, 1] > 5][:, 1].min() < 5.5
    card = editor.step("body")
    card.locator(".title").click()
    card.get_by_label("size y").fill("12")
    card.get_by_label("size y").press("Enter")
    editor.wait_document(lambda d: d["parts"][0]["steps"][0]["size"][1] == 12)
    deep = build(load(json.dumps(editor.document()).encode()))[0].mesh.points * 100
    assert 11 < deep[deep[:, 1] > 10][:, 1].min() < 11.5  # the groove is still there, on the top


def test_a_grab_in_a_flat_view_moves_in_its_plane_and_strokes_keep_to_what_is_picked(editor):
    start(editor, part({**BOX, "size": [30, 6, 20], "segments": [10, 2, 6]}, id="pad", name="Pad"))
    page = editor.page
    take_brush(editor)
    stroke(editor, (0.0, 0.05, 0.1), (0.02, 0.07, 0.1), (0.03, 0.09, 0.1))
    document = editor.wait_document(lambda d: d["parts"][0]["steps"][-1]["kind"] == "brush")
    (held,) = document["parts"][0]["steps"][-1]["strokes"]
    assert document["parts"][0]["steps"][-1]["tool"] == "grab" and len(held["points"]) == 1
    assert held["move"] == pytest.approx([3, 4, 0], abs=0.3) and held["move"][2] == 0
    page.keyboard.press("Escape")
    expect(editor.tray.get_by_label("radius")).to_be_hidden()  # a click is one of the brush until then
    page.keyboard.press("f")
    editor.settle()
    editor.click(0.1, 0.05, 0.1)
    editor.picked("1 face")
    take_brush(editor)
    expect(editor.tray.get_by_text("picked only")).to_be_visible()
    stroke(editor, (0.1, 0.05, 0.1), (0.1, 0.09, 0.1))
    editor.wait_document(lambda d: len(d["parts"][0]["steps"]) == 3 and d["parts"][0]["steps"][-1].get("pick") is not None)


def test_a_weld_is_laid_round_an_edge_loop(editor):
    start(editor, part({**BOX, "size": [20, 4, 12]}, id="plate", name="Plate"), view="Top")
    page = editor.page
    page.keyboard.press("f")
    editor.click(0, 0.04, 0)
    editor.picked("1 face")
    page.keyboard.press("e")
    editor.picked("4 edges")
    page.keyboard.press("Control+k")
    page.keyboard.type("weld bead")
    page.keyboard.press("Enter")
    expect(editor.tray.get_by_label("spacing")).to_be_visible()
    editor.view.focus()
    page.keyboard.type("1.2")
    page.keyboard.press("Enter")
    editor.wait_document(lambda d: d["parts"][0]["steps"][-1]["kind"] == "bead" and d["parts"][0]["steps"][-1]["width"] == 1.2)
    card = editor.step("bead1")
    card.get_by_label("spacing").fill("0.8")
    card.get_by_label("spacing").press("Enter")
    editor.wait_document(lambda d: d["parts"][0]["steps"][-1]["spacing"] == 0.8)
    found = told(editor)["Plate"]
    assert found["shells"] == 1 + round(64 / 0.8) and found["closed"]
    assert not {f["kind"] for f in found["findings"]} & {"self_crossing"}
