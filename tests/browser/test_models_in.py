"""A model file comes in: dropped on the views or chosen, with a guess that may be corrected, and goes out again."""

import base64

from playwright.sync_api import expect

from tests.api.test_models import CRATE

TWO = b"o Post\nv 0 0 0\nv 4 0 0\nv 4 9 0\nf 1 2 3\no Rail\nv 0 0 5\nv 4 0 5\nv 4 9 5\nf 4 5 6\n"


def drop(page, name, data):
    """A file let go over the views."""
    page.evaluate("""([name, text]) => {
        const bytes = Uint8Array.from(atob(text), (c) => c.charCodeAt(0));
        const transfer = new DataTransfer();
        transfer.items.add(new File([bytes], name));
        const view = document.querySelector('[data-testid=view]');
        const box = view.getBoundingClientRect();
        const at = { clientX: box.x + box.width / 2, clientY: box.y + box.height / 2, dataTransfer: transfer, bubbles: true };
        view.dispatchEvent(new DragEvent('dragover', at));
        view.dispatchEvent(new DragEvent('drop', at));
    }""", [name, base64.b64encode(data).decode()])


def test_an_obj_is_dropped_in_with_a_guess_corrected(editor, page):
    editor.make()
    drop(page, "Fish crate.obj", CRATE)
    dialog = page.get_by_role("dialog", name="A model comes in")
    expect(dialog.get_by_test_id("taken-size")).to_have_text("So it is 40 × 30 × 20 cm, width × height × depth.")
    expect(dialog.get_by_label("Name of what comes in")).to_be_focused()
    dialog.get_by_label("Unit of the file").click(force=True)
    page.locator(".ant-select-item-option", has_text="millimetres").click()
    expect(dialog.get_by_test_id("taken-size")).to_contain_text("4 × 3 × 2 cm")
    dialog.get_by_label("Name of what comes in").press("Enter")
    document = editor.wait_document(lambda d: len(d["parts"]) == 2)
    part = document["parts"][1]
    assert part["name"] == "Fish crate" and part["steps"][0]["kind"] == "mesh" and part["steps"][0]["unit"] == "mm"
    expect(dialog).to_be_hidden()
    expect(editor.view).to_be_focused()
    # the card takes another unit
    title = editor.step(part["steps"][0]["id"]).locator(".title")
    expect(title).to_be_visible()
    editor.settle()
    if title.get_attribute("aria-expanded") != "true":
        title.click()
    editor.step(part["steps"][0]["id"]).get_by_label("unit").click(force=True)
    page.locator(".ant-select-item-option:visible", has_text="cm").click()
    editor.wait_document(lambda d: d["parts"][1]["steps"][0]["unit"] == "cm")


def test_objects_come_in_as_parts_of_a_group_and_bad_files_say_why(editor, page):
    editor.make()
    page.get_by_role("button", name="Form", exact=True).click()
    page.get_by_role("region", name="Form").get_by_label("Model file").set_input_files(
        {"name": "broken.obj", "mimeType": "text/plain", "buffer": b"v 0 0 0\nf 1 2 3\n"})
    dialog = page.get_by_role("dialog", name="A model comes in")
    expect(dialog).to_contain_text("broken.obj: line 2: the face names a point that is not there; the file has 1")
    dialog.get_by_role("button", name="Cancel").click()
    page.get_by_role("region", name="Form").get_by_label("Model file").set_input_files(
        {"name": "fence.obj", "mimeType": "text/plain", "buffer": TWO})
    expect(dialog).to_contain_text("2 objects")
    dialog.get_by_role("button", name="Take it in").click()
    document = editor.wait_document(lambda d: len(d["parts"]) == 3)
    assert [g["name"] for g in document["groups"]] == ["fence"]
    assert [(p["name"], p["group"]) for p in document["parts"][1:]] == [("Post", "group1"), ("Rail", "group1")]
    page.get_by_role("button", name="Handover", exact=True).click()
    panel = page.get_by_role("region", name="Handover")
    panel.get_by_label("What is handed over").fill("fen")
    page.keyboard.press("Enter")
    page.keyboard.press("Escape")
    with page.expect_download() as download:
        panel.get_by_role("link", name="USDA").click()
    text = download.value.path().read_text()
    assert 'def Xform "fence"' in text and 'def Xform "Rail"' in text and "Part 1" not in text
