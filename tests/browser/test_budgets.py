"""Triangle budgets: of the build, its groups and parts; told wherever one looks, with what would give most back."""

from playwright.sync_api import expect

from tests.api.conftest import part

CUBE = {"id": "body", "kind": "box", "size": [10, 10, 10], "segments": [4, 4, 4]}


def test_a_build_over_its_budget_says_so_and_what_would_give_most_back(editor, page):
    smooth = {"id": "smooth", "kind": "subdivision", "levels": 2}
    fine = {"id": "fine", "kind": "bevel", "pick": {"edges": {"sharper_than": 30}}, "width": 0.5, "segments": 4}
    editor.make(parts=[part(CUBE, smooth, name="Buoy", id="buoy"), part(CUBE, fine, name="Crate", id="crate", placement={"translate": [20, 0, 0]}),
                       part(CUBE, smooth, name="Spare", id="spare", hidden=True)])
    page.get_by_role("button", name="Handover", exact=True).click()
    panel = page.get_by_role("region", name="Handover")
    field = panel.get_by_label("triangle budget of the build")
    expect(field).to_have_attribute("placeholder", "no bound")
    chip = page.get_by_test_id("triangles")
    expect(chip).not_to_contain_text("of")
    field.fill("2000")
    field.press("Enter")
    editor.wait_document(lambda d: d.get("budget") == 2000)
    expect(chip).to_contain_text("of 2 000 triangles")
    expect(chip).to_contain_text("▲")
    over = panel.get_by_role("list", name="Over budget")
    buttons = over.get_by_role("button")
    expect(buttons.first).to_contain_text("one level less of Buoy: about −2 304")  # three quarters of 96 · 16 · 2
    expect(buttons.nth(1)).to_contain_text("Bevel of Crate")
    expect(page.get_by_role("button", name="▲ 1 finding")).to_be_visible()
    page.get_by_role("button", name="Shape", exact=True).click()
    found = page.get_by_role("list", name="Over budget")
    expect(found).to_contain_text("over the budget of the build")
    expect(page.get_by_text("Nothing wrong found.")).to_have_count(0)
    found.get_by_role("button").first.click()
    expect(page.get_by_text("Recipe of Buoy")).to_be_visible()
    levels = editor.step("smooth").get_by_label("levels", exact=True)
    levels.fill("1")
    levels.press("Enter")
    expect(found).to_have_count(0)
    expect(chip).not_to_contain_text("▲")
    page.get_by_role("button", name="Handover", exact=True).click()
    field.fill("")
    field.press("Enter")
    editor.wait_document(lambda d: "budget" not in d)
    expect(chip).not_to_contain_text("of")
