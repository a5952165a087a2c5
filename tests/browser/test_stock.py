"""The shelf of stock: a wheel put onto an axle's end at a typed size, a part kept and found again."""

import numpy as np
import pytest
from playwright.sync_api import expect

from tests.api.conftest import part

AXLE = {"id": "axle", "kind": "cylinder", "radius": 4, "height": 60, "sides": 12, "anchor": "centre"}


def test_a_wheel_is_put_onto_an_axle_at_a_typed_size_and_once_more_linked(editor, page):
    editor.make(parts=[part(AXLE, name="Axle", id="axle", placement={"translate": [0, 20, 0], "rotate": [0, 0, -90]})])
    editor.look("Right")
    editor.click(0.3, 0.2, 0)
    editor.picked("1 face")
    editor.key("Shift+B")
    dialog = page.get_by_role("dialog", name="Stock")
    expect(dialog.get_by_label("Find in stock")).to_be_focused()
    page.keyboard.type("cart wood")
    expect(dialog.get_by_role("option")).to_have_count(1)
    size = dialog.get_by_label("Size it is put in at")
    expect(size).to_have_value("50")
    size.fill("30")
    size.press("Tab")
    dialog.get_by_role("button", name="Put in spoked wheel").click()
    document = editor.wait_document(lambda d: len(d["parts"]) == 4)
    expect(dialog).to_be_hidden()
    wheel = document["groups"][0]
    place = wheel["placement"]
    assert wheel["name"] == "Spoked wheel" and place["scale"] == [0.6, 0.6, 0.6]
    assert place["translate"] == pytest.approx([30, 20, 0], abs=1e-5)
    assert np.allclose(np.abs(place["rotate"]), [0, 0, 90], atol=1e-4)
    expect(editor.view).to_be_focused()
    # the other end: linked to the first
    editor.look("Left")
    editor.click(-0.3, 0.2, 0)
    editor.picked("1 face")
    editor.key("Shift+B")
    page.keyboard.type("spoked")
    dialog.get_by_label("Linked to the one that is here").click()
    dialog.get_by_label("Find in stock").press("Enter")
    document = editor.wait_document(lambda d: len(d["parts"]) == 7)
    assert [p.get("of") for p in document["parts"][4:]] == ["part1", "part2", "part3"]
    assert document["groups"][1]["placement"]["translate"] == pytest.approx([-30, 20, 0], abs=1e-5)


def test_a_part_is_kept_in_stock_and_found_by_its_tag(editor, page):
    editor.make(parts=[part({"id": "b", "kind": "box", "size": [6, 3, 2]}, name="Wedge", id="wedge")])
    page.get_by_role("region", name="Parts").get_by_role("button", name="Wedge", exact=True).click(button="right")
    page.get_by_role("menuitem", name="Keep in stock").click()
    dialog = page.get_by_role("dialog", name="Keep in stock")
    expect(dialog.get_by_label("Name on the shelf")).to_be_focused()
    page.keyboard.type("Boat wedge")
    dialog.get_by_label("Tags on the shelf").fill("mooring,")
    dialog.get_by_role("button", name="Keep", exact=True).click()
    expect(dialog).to_be_hidden()
    page.get_by_role("button", name="Stock", exact=True).click()
    page.keyboard.type("moor")
    shelf = page.get_by_role("dialog", name="Stock")
    expect(shelf.get_by_role("option", name="Boat wedge")).to_be_visible()
    expect(shelf).to_contain_text("6 × 3 × 2 cm")
    page.keyboard.press("Enter")
    document = editor.wait_document(lambda d: len(d["parts"]) == 2)
    assert document["parts"][1]["name"] == "Boat wedge"
    page.get_by_role("button", name="Stock", exact=True).click()
    shelf.get_by_role("option", name="Boat wedge").click()
    shelf.get_by_role("button", name="off the shelf").click()
    expect(shelf.get_by_role("option", name="Boat wedge")).to_have_count(0)
