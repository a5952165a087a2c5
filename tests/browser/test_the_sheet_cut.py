"""A sheet with three views, a photograph with noise, parts that pictures do not show."""

import random

import numpy as np
import pytest
from playwright.sync_api import expect

from tests.browser.test_brief import CHEST, board, shared, wait_shared

#: on a sheet 40 wide: the front below, what is seen from above over it, the right side beside it
FRONT, TOP, RIGHT = (-16, 3, -2, 13), (-16, 18, -2, 26), (4, 3, 12, 13)


def test_views_are_told_by_where_frames_lie(editor):
    order = RIGHT, TOP, FRONT
    editor.make(boards=[board(editor.server, FRONT, TOP, RIGHT, traced=False)], layout="Sheet")
    page = editor.page
    page.get_by_role("button", name="Cut up …").click()
    stage = page.get_by_label("The drawing to cut up")
    expect(stage.locator("svg")).to_be_visible()
    box = stage.bounding_box()

    def place(x, y):
        return box["x"] + box["width"] * (x / 40 + 0.5), box["y"] + box["height"] * (1 - y / 40)

    for x0, y0, x1, y1 in order:
        start, end = place(x0 - 0.5, y0 - 0.5), place(x1 + 0.5, y1 + 0.5)
        editor.drag(start, (end[0] - start[0], end[1] - start[1]))
    names = {FRONT: "Front", TOP: "Top", RIGHT: "Right"}
    for i, frame in enumerate(order):
        expect(page.locator(".row", has=page.get_by_label(f"View of frame {i + 1}"))).to_contain_text(names[frame])
    page.get_by_text("Known length").click()
    page.mouse.click(*place(-16, 3))
    page.mouse.click(*place(-2, 3))
    length = page.get_by_label("Real length on the drawing")
    expect(length).to_be_focused()
    page.keyboard.type("70")
    page.keyboard.press("Enter")  # does what the button does
    boards = editor.wait_document(lambda d: len(d["boards"]) == 3)["boards"]
    assert all(b["width"] == pytest.approx(200, rel=0.02) for b in boards)
    editor.rest()
    views = page.evaluate("() => { const r = document.querySelector('canvas.overlay').getBoundingClientRect(); return [r.x, r.y, r.right, r.bottom]; }")
    for b in boards:  # all of every board is in sight
        left, lower, right, upper = b["crop"]
        for across, up in ((left, lower), (right, upper)):
            u, v = (across - 0.5) * b["width"] + b["at"][0], up * b["width"] + b["at"][1]
            point = {"front": (u, v, 0), "right": (0, v, -u), "top": (u, 0, -v)}[b.get("view", "front")]
            x, y = editor.at(*(c / 100 for c in point), view=b.get("view", "front"))
            assert views[0] <= x <= views[2] and views[1] <= y <= views[3]
    shown = page.locator(".board svg").first.get_attribute("viewBox").split()
    assert float(shown[2]) < 0.6  # the picture beside it is what the crop leaves


def test_noise_is_left_out_and_offered(editor):
    r = random.Random(5)
    specks = [(x, y, x + 0.8, y + 0.8) for x, y in ((r.uniform(-19, 18), r.uniform(12, 39)) for _ in range(60))]
    editor.make(boards=[board(editor.server, (-10, 1, 10, 10), *specks, traced=False)])
    page = editor.page
    page.get_by_role("button", name="Outline …").click()
    expect(page.get_by_text("one ring", exact=False)).to_be_visible()
    expect(page.get_by_label("Smallest piece kept")).to_have_value("5.0")
    page.get_by_role("button", name="all", exact=True).click()
    expect(page.get_by_text("one ring", exact=False)).to_have_count(0)
    page.get_by_label("Smallest piece kept").fill("50")
    page.keyboard.press("Enter")
    expect(page.get_by_text("one ring", exact=False)).to_be_visible()
    page.get_by_role("button", name="Take this outline").click()
    [kept] = editor.wait_document(lambda d: d["boards"][0].get("outline"))["boards"]
    assert len(kept["outline"]["rings"]) == 1 and kept["outline"]["tracing"]["least"] == 0.5


def test_a_part_that_boards_do_not_show_is_asked_about_once(editor):
    """A wheel far beside the chest: the fit falls until it is left out; and a hidden part is not judged, and it is said."""
    editor.make(CHEST, boards=[board(editor.server, (-10, 0, 10, 20))])
    page = editor.page
    wait_shared(page, lambda v: v > 99)
    page.get_by_role("button", name="+ Part").click()
    dialog = page.get_by_role("dialog", name="New part")
    dialog.get_by_role("radio", name="Cylinder").click()
    dialog.get_by_label("radius", exact=True).fill("30")
    page.keyboard.press("Enter")
    editor.wait_document(lambda d: len(d["parts"]) == 2)
    asked = page.get_by_role("group", name="What the boards show")
    expect(asked).to_contain_text("reaches beyond the outline of Front")
    assert shared(page) < 90
    asked.get_by_role("button", name="Leave it out there").click()
    wait_shared(page, lambda v: v > 99)
    expect(asked).to_have_count(0)
    assert len(editor.document()["boards"][0]["parts"]) == 1
    editor.key("Control+z")
    editor.wait_document(lambda d: not d["boards"][0].get("parts"))
    name = editor.document()["parts"][1]["name"]
    page.get_by_role("button", name=f"Hide {name}").or_(page.get_by_label(f"Hide {name}")).first.click()
    expect(page.get_by_text(f"{name} is hidden and not judged.")).to_be_visible()
    wait_shared(page, lambda v: v > 99)


def test_worst_is_one_figure_and_place_stays_open(editor):
    editor.make(CHEST, boards=[board(editor.server, (-9, 0, 10, 20)), board(editor.server, (-5, 0, 5, 20), id="right", view="right")])
    page = editor.page
    worst = page.get_by_test_id("fit").locator("strong").nth(1)
    expect(worst).to_be_visible()
    expect(page.locator("svg.deviation text")).to_have_text(worst.inner_text())
    page.get_by_role("button", name="Place ▾").click()
    expect(page.get_by_label("Board across")).to_be_visible()
    page.locator(".board").nth(1).click()
    expect(page.get_by_label("Board view")).to_be_visible()
    expect(page.get_by_label("Board across")).to_be_visible()


def test_least_is_a_share_of_the_largest():
    import shapely

    from rhytonic.core.picture.trace import without_noise
    big = shapely.box(0, 0, 10, 10).difference(shapely.box(1, 1, 1.1, 1.1)).difference(shapely.box(3, 3, 7, 7))
    region = shapely.union_all([big, shapely.box(20, 0, 21, 1), shapely.box(20, 5, 25, 10)])
    assert without_noise(region, 0.0).equals(region)
    kept = without_noise(region, 0.1)
    assert kept.area == pytest.approx(100 - 16 + 25) and len(shapely.get_parts(kept)) == 2
    assert np.isclose(without_noise(region, 1.0).area, 100)
