"""Colours and room: what the design fixes, read back from the screen."""

import io

import pytest
from PIL import Image
from playwright.sync_api import expect

from tests.api.conftest import BOX


def pixels(page, x, y, size=5):
    image = Image.open(io.BytesIO(page.screenshot())).convert("RGB")
    found = [image.getpixel((int(x) + dx, int(y) + dy)) for dx in range(size) for dy in range(size)]
    return tuple(sum(c[k] for c in found) / len(found) for k in range(3))


def near(colour, wanted, slack):
    parts = [int(wanted[i:i + 2], 16) for i in (1, 3, 5)]
    return all(abs(a - b) <= slack for a, b in zip(colour, parts, strict=True))


@pytest.mark.parametrize("night, paper, model", [(False, "#F5F2EA", "#CDD0CB"), (True, "#171C22", "#545D66")])
def test_paper_and_model_have_their_colours(editor, page, night, paper, model):
    """Our own shaders convert to the screen's colour space: without that both come out far too dark."""
    editor.make(BOX)
    if night:
        page.get_by_label("Night colours").click()
    editor.look("Front")
    page.get_by_label("Show everything").click()
    editor.rest()
    page.mouse.move(640, 790)
    editor.rest()
    box = editor.view.bounding_box()
    assert near(pixels(page, box["x"] + box["width"] - 40, box["y"] + 60), paper, 1)
    assert near(pixels(page, *editor.at(0.02, 0.12, 0.15)), model, 14)
    if night:
        page.get_by_label("Night colours").click()


def test_nothing_clips_and_the_views_keep_half_the_width(editor, page):
    editor.make(BOX)
    editor.click(0, 0.2, 0)
    editor.key("m")
    expect(editor.tray.get_by_label("translate z")).to_be_visible()
    box = editor.view.bounding_box()
    assert box["width"] >= 640 and box["y"] + box["height"] <= 730
    for name in ("Accept", "Esc", "through"):
        at = editor.tray.get_by_role("button", name=name).or_(editor.tray.get_by_role("radio", name=name)).bounding_box()
        assert at["y"] + at["height"] <= 800 and at["x"] + at["width"] <= box["x"] + box["width"] + 12
    scroll = page.evaluate("[document.documentElement.scrollWidth, document.documentElement.scrollHeight]")
    assert scroll == [1280, 800]


def test_the_help_sheet_lists_every_key(editor, page):
    editor.make(BOX)
    editor.key("?")
    expect(page.get_by_role("dialog")).to_contain_text("Extrude")
    expect(page.get_by_role("dialog")).to_contain_text("Shift is fine")


def test_the_page_is_reachable_by_keyboard(editor, page):
    editor.make(BOX)
    seen = set()
    page.locator("body").press("Tab")
    for _ in range(40):
        seen.add(page.evaluate("document.activeElement.getAttribute('aria-label') ?? document.activeElement.textContent"))
        page.keyboard.press("Tab")
    assert {"All builds", "Build name", "Export", "Help"} <= seen and any("Shape" in s for s in seen)


def test_fonts_and_scripts_come_from_the_server_itself(page, server):
    asked = []
    page.on("request", lambda r: asked.append(r.url))
    page.goto("/")
    page.wait_for_load_state("networkidle")
    assert asked and all(url.startswith((server, "data:", "blob:")) for url in asked)
    page.wait_for_function("() => document.fonts.check('13px \"Archivo Variable\"')")
