"""Parts, forms, placement, the build list."""

import uuid

import pytest
from playwright.sync_api import expect

from tests.api.conftest import BOX, TOP, part
from tests.browser.conftest import post


def test_a_cylinder_in_inches_and_a_plane_in_millimetres(editor, page):
    editor.make(BOX)
    page.get_by_role("button", name="+ Part").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_text("Cylinder", exact=True).click()
    dialog.get_by_label("Name of the new part").fill("Drum")
    for label, typed in (("radius", "1 1/2 in"), ("height", "1 ft"), ("sides", "12")):
        dialog.get_by_label(label, exact=True).fill(typed)
        dialog.get_by_label(label, exact=True).press("Tab")
    dialog.get_by_role("button", name="Make cylinder").click()
    expect(page.get_by_text("Recipe of Drum")).to_be_visible()
    [drum] = editor.steps(1)
    assert drum["radius"] == pytest.approx(3.81) and drum["height"] == pytest.approx(30.48) and drum["sides"] == 12
    page.get_by_role("button", name="+ Part").click()
    dialog.get_by_text("Plane", exact=True).click()
    dialog.get_by_label("width", exact=True).fill("450 mm")
    dialog.get_by_role("button", name="Make plane").click()  # the press itself leaves the field
    expect(page.get_by_text("Recipe of Plane 1")).to_be_visible()
    assert editor.steps(2)[0]["size"][0] == 45


def test_a_part_is_placed_by_typed_numbers(editor, page):
    editor.make(BOX)
    page.get_by_role("button", name="Form", exact=True).click()
    for label, typed in (("place x", "5"), ("place y", "2 cm"), ("turn y", "45"), ("scale z", "*2")):
        page.get_by_label(label, exact=True).fill(typed)
        page.get_by_label(label, exact=True).press("Enter")
    editor.rest()
    placement = editor.document()["parts"][0]["placement"]
    assert placement["translate"] == [5, 2, 0] and placement["rotate"] == [0, 45, 0] and placement["scale"] == [1, 1, 2]


def test_parts_are_renamed_hidden_and_removed(editor, page):
    editor.make(BOX, parts=[part(BOX), part(BOX, name="Post")])
    page.get_by_role("button", name="Post", exact=True).dblclick()
    page.get_by_label("Part name").fill("Gate post")
    page.get_by_label("Part name").press("Enter")
    expect(page.get_by_role("button", name="Gate post", exact=True)).to_be_visible()
    page.get_by_label("Hide Bollard").click()
    expect(page.get_by_label("Show Bollard")).to_be_visible()
    assert editor.document()["parts"][0]["hidden"] is True
    page.get_by_role("button", name="Gate post", exact=True).click(button="right")
    page.get_by_role("menuitem", name="Remove part").click()
    expect(page.get_by_role("button", name="Gate post", exact=True)).to_be_hidden()
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_role("button", name="Gate post", exact=True)).to_be_visible()


def test_the_working_mark_moves_and_edits_go_in_there(editor, page):
    editor.make(BOX, {"id": "up", "kind": "extrude", "depth": 2, "pick": TOP}, {"id": "soft", "kind": "subdivision", "levels": 1})
    expect(page.get_by_label("Working mark")).to_be_visible()
    editor.step("body").get_by_role("button", name="Box").click()
    editor.step("body").get_by_label("More for Box").click()
    page.get_by_role("menuitem", name="Work here").click()
    editor.rest()
    assert editor.document()["parts"][0]["mark"] == "body"
    editor.click(0, 0.1, 0.13)
    editor.picked("1 face · 200 cm²")
    editor.key("x")
    page.keyboard.type("3")
    page.keyboard.press("Enter")
    steps = editor.wait_steps(lambda s: len(s) == 4)
    assert [s["id"] for s in steps] == ["body", "extrude1", "up", "soft"]
    assert editor.document()["parts"][0]["mark"] == "extrude1"


def test_a_step_is_repeated_on_another_pick_with_the_same_numbers(editor, page):
    editor.make(BOX, {"id": "up", "kind": "extrude", "depth": 2, "pick": TOP, "label": "Lip"})
    editor.click(0, 0.1, 0.15)
    editor.picked("1 face")
    editor.step("up").get_by_role("button", name="Lip").click()
    editor.step("up").get_by_label("More for Lip").click()
    page.get_by_role("menuitem", name="Repeat on the present pick").click()
    steps = editor.wait_steps(lambda s: len(s) == 3)
    assert steps[2]["depth"] == 2 and "ids" in steps[2]["pick"]["faces"]


def test_builds_are_renamed_and_duplicated_from_the_list(page, server):
    name = f"Chest {uuid.uuid4().hex[:6]}"
    post(server, "/api/builds", {"name": name})
    page.goto("/")
    page.get_by_label(f"More for {name}").click()
    page.get_by_role("menuitem", name="Rename").click()
    page.get_by_role("dialog").get_by_label("Name").fill(f"{name} of oak")
    page.get_by_role("dialog").get_by_role("button", name="Rename").click()
    expect(page.locator(".buildlist").get_by_text(f"{name} of oak", exact=True)).to_be_visible()
    page.get_by_label(f"More for {name} of oak").click()
    page.get_by_role("menuitem", name="Duplicate").click()
    expect(page.locator(".buildlist").get_by_text(f"{name} of oak copy", exact=True)).to_be_visible()


def test_a_part_with_a_step_that_cannot_run_says_so_on_its_card(editor, page):
    pick = {"faces": {"in_box": [[None, 15, None], [None, None, None]]}}
    editor.make(BOX, {"id": "up", "kind": "extrude", "depth": 2, "pick": pick})
    editor.step("body").get_by_role("button", name="Box").click()
    field = editor.step("body").get_by_label("size y")
    field.fill("10")
    field.press("Enter")
    expect(editor.step("up")).to_contain_text("▲")
    editor.step("up").get_by_role("button", name="Extrude").click()
    expect(editor.step("up").get_by_role("alert")).to_contain_text("the pick finds no faces; pick again or correct the step above")
