"""The main job from end to end, by mouse and keyboard alone."""

import base64
import re

import numpy as np
import trimesh
from playwright.sync_api import expect

from tests.api.conftest import png


def drop_picture(page, data):
    """What the browser does when a file is let go over the view."""
    page.evaluate("""([text, selector]) => {
        const bytes = Uint8Array.from(atob(text), c => c.charCodeAt(0));
        const transfer = new DataTransfer();
        transfer.items.add(new File([bytes], 'front elevation.png', { type: 'image/png' }));
        for (const kind of ['dragover', 'drop']) {
            document.querySelector(selector).dispatchEvent(
                new DragEvent(kind, { bubbles: true, cancelable: true, dataTransfer: transfer }));
        }
    }""", [base64.b64encode(data).decode(), ".sheet"])


def test_a_prop_is_built_corrected_and_handed_over(page, editor, server, tmp_path):
    # a new build
    page.goto("/")
    page.get_by_role("button", name="New build").click()
    page.get_by_label("Name").fill("Mooring bollard")
    page.get_by_role("button", name="Make build").click()
    page.wait_for_url(re.compile("/build/"))
    page.get_by_label("Layout of the views").get_by_text("One view", exact=True).click()

    # a box with typed sizes, in whatever units come to mind
    form = page.locator(".start")
    for label, typed in (("width", "12 cm + 3 mm"), ("height", "100mm"), ("depth", "4 in")):
        form.get_by_label(label, exact=True).fill(typed)
        form.get_by_label(label, exact=True).press("Tab")
    form.get_by_role("button", name="Make box").click()
    expect(page.get_by_text("Recipe of Box 1")).to_be_visible()
    size = editor.wait_steps(lambda s: len(s) == 1)[0]["size"]
    assert np.allclose(size, [12.3, 10, 10.16])
    editor.settle()

    # a picture dropped on the front view, at its true width
    editor.look("Front")
    drop_picture(page, png(300, 400))
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Picture width").fill("20 cm")
    dialog.get_by_label("Picture width").press("Tab")
    dialog.get_by_role("button", name="Stand it up").click()
    expect(dialog).to_be_hidden()
    [board] = editor.document()["boards"]
    assert board["width"] == 20 and board.get("view", "front") == "front" and board["name"] == "front elevation"

    # the top face, clicked in 3D; the board is never in the way
    editor.look("3D")
    page.get_by_label("Show everything").click()
    editor.settle()
    editor.click(0, 0.1, 0)
    editor.picked("1 face")

    # extruded by its stalk, live, and then set exactly by typing while the button is still down
    editor.key("x")
    expect(page.get_by_label("Depth")).to_be_visible()
    foot = editor.at(0, 0.1, 0)
    direction = np.subtract(editor.at(0, 0.11, 0), foot)
    collar = np.add(foot, 34 * direction / np.linalg.norm(direction))
    editor.drag(collar, (0, -60), release=False)
    expect(page.get_by_test_id("triangles")).to_have_text("20 triangles")  # the preview is the core's own
    assert len(editor.steps()) == 1, "a preview stores nothing"
    page.keyboard.type("3.5")
    page.keyboard.press("Enter")
    assert editor.wait_steps(lambda s: len(s) == 2)[1]["depth"] == 3.5
    page.mouse.up()  # the hand lets go later: what was typed stays
    editor.rest()
    assert editor.steps()[1]["depth"] == 3.5
    expect(editor.step("extrude1")).to_contain_text("faces 6 → 10")

    # the smooth surface, its faces told beforehand
    page.get_by_role("button", name="Shape", exact=True).click()
    level = page.get_by_role("radio", name="level 2")
    expect(level).to_contain_text("160 faces")
    level.click()
    editor.wait_steps(lambda s: s[-1]["kind"] == "subdivision" and s[-1]["levels"] == 2)
    expect(page.get_by_test_id("triangles")).to_have_text("320 triangles")

    # an early number corrected; what follows replays
    editor.step("box1").get_by_role("button", name="Box").click()
    width = editor.step("box1").get_by_label("size x")
    width.fill("20")
    width.press("Enter")
    editor.wait_steps(lambda s: s[0]["size"][0] == 20)
    expect(page.get_by_test_id("triangles")).to_have_text("320 triangles")

    # undo twice: the number, then the surface
    page.get_by_role("button", name="Undo").click()
    editor.wait_steps(lambda s: s[0]["size"][0] == 12.3)
    editor.key("Control+z")
    editor.wait_steps(lambda s: len(s) == 2)
    expect(page.get_by_test_id("triangles")).to_have_text("20 triangles")

    # reload: all is there, and can still be redone
    page.reload()
    editor.settle()
    assert len(editor.steps()) == 2
    page.get_by_role("button", name="Redo").click()
    editor.wait_steps(lambda s: len(s) == 3)
    page.get_by_role("button", name="Undo").click()
    editor.wait_steps(lambda s: len(s) == 2)

    # handed over, and measured with somebody else's ruler
    page.get_by_role("button", name="Export").click()
    with page.expect_download() as got:
        page.get_by_role("menuitem", name="OBJ").click()
    got.value.save_as(tmp_path / "bollard.obj")
    text = (tmp_path / "bollard.obj").read_text()
    assert "metre" in text and all(len(line.split()) == 5 for line in text.splitlines() if line.startswith("f "))
    model = trimesh.load(tmp_path / "bollard.obj")
    assert np.allclose(model.extents, [0.123, 0.135, 0.1016]) and model.is_watertight
    assert np.isclose(model.volume, 0.123 * 0.135 * 0.1016)
