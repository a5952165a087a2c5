"""A steady hand: what is pressed happens, in order, at any speed; what is open closes by itself; a new build begins plain."""

import json
import time
import urllib.request

import pytest
from playwright.sync_api import expect

from tests.api.conftest import BOX, part

from .conftest import GO, post
from .test_brief import board


def points_of(document, part=1):
    return [p["at"] if isinstance(p, dict) else p for p in document["parts"][part]["steps"][0]["points"]]


@pytest.mark.parametrize("pause", [0, 50, 200])
def test_points_typed_at_any_speed_land_in_order(editor, pause):
    editor.make()
    editor.look("Front")
    editor.key("Shift+N")
    editor.click(0, 0.1, 0)
    for keys in ("30", "Tab", "90", "Enter", "25", "Tab", "0", "Enter", "7", "Enter", "10+2", "Tab", "-90", "Enter"):
        for key in [keys] if keys in ("Tab", "Enter") else keys:
            editor.page.keyboard.press(key)
            editor.page.wait_for_timeout(pause)
    editor.wait_document(lambda d: len(d["parts"]) == 2 and len(points_of(d)) == 5)
    found = points_of(editor.document())
    assert found == [[0, 10, 0], [0, 40, 0], [25, 40, 0], [32, 40, 0], [32, 28, 0]]
    # what ends the path comes after what was typed
    for key in ("5", "Enter", "6", "Enter", "Escape", "Escape"):
        editor.page.keyboard.press(key)
    editor.wait_document(lambda d: len(points_of(d)) == 7)
    expect(editor.tray.get_by_label("length to the next point")).to_have_count(0)
    assert points_of(editor.document())[-2:] == [[32, 23, 0], [32, 17, 0]]
    editor.key("Shift+N")
    # what is no number makes no point, and says so; the field of the next point has the keys
    editor.page.keyboard.type("1x")
    editor.page.keyboard.press("Enter")
    expect(editor.page.locator(".ant-message")).to_contain_text("1x")
    editor.rest()
    assert len(points_of(editor.document())) == 7
    expect(editor.tray.get_by_label("length to the next point")).to_be_focused()


def test_a_path_is_drawn_in_the_plane_of_the_view_under_the_pointer_until_something_is_typed(editor):
    build = editor.make(layout="Sheet")
    editor.key("Shift+N")
    label = editor.tray.locator(".ant-select", has=editor.page.get_by_role("combobox", name="plane of the path"))
    for view, title in (("right", "Right"), ("top", "Top"), ("front", "Front")):
        editor.page.mouse.move(*editor.at(0.01, 0.01, 0.01, view=view))
        expect(label).to_contain_text(title)
    editor.page.keyboard.type("5")
    editor.page.mouse.move(*editor.at(0.01, 0.01, 0.01, view="right"))
    editor.rest()
    expect(label).to_contain_text("Front")
    editor.page.keyboard.press("Tab")
    editor.page.keyboard.type("6")
    editor.page.keyboard.press("Enter")
    editor.wait_document(lambda d: len(d["parts"]) == 2)
    assert points_of(editor.document()) == [[5, 6, 0]]
    assert build["id"] in editor.page.url


def test_a_length_clicked_on_a_board_is_typed_at_once(editor, server):
    editor.make(boards=[board(server, (-10, 0, 10, 20), locked=True)])
    page = editor.page
    editor.look("Front")
    page.get_by_role("button", name="Brief", exact=True).click()
    page.get_by_label("Show everything").click()
    page.get_by_role("button", name="Scale", exact=True).click()
    editor.click(0.215, 0.1, 0)  # beside the picture
    expect(page.locator(".ant-message")).to_contain_text("beside the picture")
    editor.click(-0.1, 0.1, 0)
    editor.click(0.1, 0.1, 0)
    expect(page.get_by_label("Real length")).to_be_focused()
    page.keyboard.type("10")
    page.keyboard.press("Enter")
    editor.wait_document(lambda d: d["boards"][0]["width"] == pytest.approx(20, rel=1e-3))
    expect(editor.view).to_be_focused()


def test_one_enter_stores_one_step_and_brings_the_whole_tray_back(editor):
    editor.make()
    for i, (key, label) in enumerate((("i", "width"), ("x", "Depth"))):
        editor.click(0, 0.2, 0)
        editor.picked("1 face")
        editor.key(key)
        editor.page.keyboard.type("1")
        expect(editor.tray.get_by_label(label, exact=True)).to_be_focused()
        editor.page.keyboard.press("Enter")
        editor.wait_steps(lambda s, i=i: len(s) == 2 + i)
        expect(editor.tray.get_by_role("button", name="More")).to_be_visible()
        expect(editor.view).to_be_focused()
    # the same key begins anew, pressed at once
    editor.page.keyboard.type("x2")
    editor.page.keyboard.press("Enter")
    editor.page.keyboard.type("x3")
    editor.page.keyboard.press("Enter")
    steps = editor.wait_steps(lambda s: len(s) == 5)
    assert [s.get("depth") for s in steps[2:]] == [1, 2, 3]


def test_escape_closes_a_menu_and_nothing_else(editor):
    editor.make()
    editor.click(0, 0.2, 0)
    editor.picked("1 face")
    for name in ("Pick ▾", "More ▾"):
        editor.tray.get_by_role("button", name=name, exact=True).click()
        expect(editor.page.get_by_role("menu").first).to_be_visible()
        editor.page.keyboard.press("Escape")
        expect(editor.page.locator(".ant-dropdown:not(.ant-dropdown-hidden)")).to_have_count(0)
        editor.picked("1 face")
    editor.page.keyboard.press("Escape")
    expect(editor.page.get_by_test_id("picked")).not_to_contain_text("1 face")


def test_a_unit_beside_a_field_is_of_that_field(editor):
    editor.make()
    editor.step("body").get_by_role("button", name="Box").click()
    field = editor.step("body").get_by_label("Size y")
    box = field.bounding_box()
    editor.page.mouse.click(box["x"] + box["width"] + 3, box["y"] + box["height"] / 2)
    expect(field).to_be_focused()


def test_a_new_build_begins_plain_and_each_keeps_its_own(editor):
    first = editor.make()
    page = editor.page
    editor.key("v")
    editor.key("Shift+G")
    editor.key("Shift+Z")
    editor.look("Bottom")
    page.get_by_role("button", name="Handover", exact=True).click()
    editor.rest()
    editor.make()
    expect(page.get_by_role("radio", name="Faces")).to_be_checked()
    expect(page.get_by_role("button", name="Brief", exact=True)).to_have_attribute("aria-pressed", "true")
    kept = page.evaluate("JSON.parse(localStorage.getItem('rhytonic.workbench')).state.builds")
    assert set(kept[first["id"]]) >= {"looks", "through"}
    second = next(k for k in kept if k != first["id"])
    assert "looks" not in kept[second] and "through" not in kept[second]


def test_what_was_done_to_one_build_is_stored_there_though_another_is_open(editor):
    """The server is away while a size is typed; by the time it is back the person works on another build."""
    first = editor.make()
    held = []
    editor.page.route("**/changes", lambda route: held.append(route), times=1)
    editor.step("body").get_by_role("button", name="Box").click()
    size = editor.step("body").get_by_label("Size y")
    size.fill("26")
    size.press("Enter")
    end = time.monotonic() + 20
    while not held and time.monotonic() < end:
        editor.page.wait_for_timeout(50)
    editor.page.evaluate("history.pushState(null, '', '/'); dispatchEvent(new PopStateEvent('popstate'))")
    expect(editor.page.get_by_role("heading", name="Builds")).to_be_visible()
    second = post(editor.server, "/api/builds", {"name": "Other", "document": {"format": "rhytonic", "version": 1, "parts": [part({**BOX, "size": [5, 5, 5]})]}})
    editor.page.evaluate(GO, [f"/build/{second['id']}"])
    expect(editor.step("body")).to_contain_text("5 × 5 × 5")
    held[0].continue_()
    end = time.monotonic() + 20
    while json.load(urllib.request.urlopen(f"{editor.server}/api/builds/{first['id']}"))["document"]["parts"][0]["steps"][0]["size"][1] != 26:
        assert time.monotonic() < end
        time.sleep(0.1)
    editor.rest()
    assert editor.steps()[0]["size"] == [5, 5, 5]  # the one that is open has nothing of it
    expect(editor.step("body")).to_contain_text("5 × 5 × 5")
    assert second["id"] in editor.page.url


def test_a_part_clicked_in_the_list_answers_a_tool_that_asks_for_one(editor):
    editor.make(parts=[part(BOX), {**part({**BOX, "size": [10, 40, 10]}), "id": "peg", "name": "Peg"}])
    editor.page.get_by_role("button", name="Whole part").click()
    editor.page.get_by_role("menuitem", name="Boolean").click()
    editor.page.get_by_role("button", name="Peg", exact=True).click()
    expect(editor.tray).to_contain_text("Peg")
    editor.tray.get_by_role("button", name="Accept").click()
    editor.wait_steps(lambda s: s[-1]["kind"] == "boolean" and "peg" in str(s[-1]))


@pytest.mark.parametrize("width, height", [(1024, 768), (853, 533)])  # a small screen, and a laptop enlarged by half
def test_nothing_is_out_of_reach_where_there_is_less_room(editor, width, height):
    editor.make(layout="Sheet")
    editor.click(0, 0.2, 0)
    editor.picked("1 face")
    editor.page.set_viewport_size({"width": width, "height": height})
    editor.rest()
    out = editor.page.evaluate("""() => {
        const seen = (b) => b.offsetParent !== null;
        const cut = [...document.querySelectorAll('header button, header .ant-btn, .tray button, .tray input')].filter(seen)
            .filter((b) => b.getBoundingClientRect().right > innerWidth + 1 || b.getBoundingClientRect().left < 0);
        const rows = [...document.querySelectorAll('.tray .trayrow')].map((r) => r.getBoundingClientRect());
        const over = rows.filter((r, i) => i > 0 && r.top < rows[i - 1].bottom - 1).length;
        return [document.documentElement.scrollWidth <= innerWidth, cut.map((b) => b.textContent || b.ariaLabel), over];
    }""")
    assert out == [True, [], 0]
    editor.tray.get_by_role("button", name="Along edges").scroll_into_view_if_needed()
    editor.page.get_by_role("button", name="Export").click()
    editor.page.get_by_role("button", name="Help").click()
    expect(editor.page.get_by_role("dialog")).to_be_visible()


def test_numbers_side_by_side_are_two_numbers(editor):
    editor.make()
    editor.step("body").get_by_role("button", name="Box").click()
    field = editor.step("body").get_by_label("Size y")
    field.fill("16 45 15")
    field.press("Enter")
    expect(editor.page.locator(".ant-message")).to_contain_text("side by side")
    editor.rest()
    assert editor.steps()[0]["size"][1] == 20


def test_what_is_called_by_other_names_is_found(editor):
    editor.make()
    for words, found in (("mirror a part", "Mirror the part"), ("new part", "A new part"), ("budget", "Station Handover"), ("spring", "Sweep"),
                         ("break", "Slice"), ("handover", "Station Handover"), ("keep in stock", "Keep the part"), ("copy", "Copy the part")):
        editor.key("Control+k")
        editor.page.keyboard.type(words)
        expect(editor.page.get_by_role("listbox", name="Found")).to_contain_text(found)
        editor.page.keyboard.press("Escape")
    editor.key("PageDown")
    expect(editor.page.get_by_role("button", name="Form", exact=True)).to_have_attribute("aria-pressed", "true")
    editor.key("Insert")
    expect(editor.page.get_by_role("dialog", name="New part")).to_be_visible()


def test_a_number_that_is_seen_no_more_is_refused_no_more(editor):
    editor.make()
    editor.key("e")
    editor.click(0.05, 0.1, 0.15)
    editor.picked("1 edge")
    editor.key("d")
    editor.tray.get_by_label("spread", exact=True).fill("4")
    expect(editor.page.get_by_role("alert").first).to_contain_text("spread")
    editor.tray.get_by_label("where the loops stand").click(force=True)
    editor.page.locator(".ant-select-item-option", has_text="from both ends").click()
    expect(editor.page.get_by_role("alert")).to_have_count(0)
    editor.tray.get_by_role("button", name="Accept").click()
    steps = editor.wait_steps(lambda s: len(s) == 2)
    assert len(steps[1]["distance"]) == 2 and steps[1].get("spread", 1) == 1


def test_modes_are_one_stop_of_tab_and_arrows_choose_among_them(editor):
    editor.make()
    editor.page.get_by_role("radio", name="Faces").focus()
    editor.page.keyboard.press("ArrowLeft")
    expect(editor.page.get_by_role("radio", name="Edges")).to_be_checked()
    expect(editor.page.get_by_role("radio", name="Edges")).to_be_focused()
    editor.page.keyboard.press("Tab")
    expect(editor.tray.get_by_role("button", name="Pick ▾")).to_be_focused()


def test_thirty_parts_leave_the_recipe_in_sight_and_are_found_by_name(editor):
    editor.make(parts=[{**part(BOX), "id": f"p{i}", "name": f"Rung {i}"} for i in range(30)])
    recipe = editor.page.locator(".recipe").bounding_box()
    assert recipe["y"] < 500 and recipe["height"] > 200
    editor.page.get_by_label("Find a part").fill("rung 27")
    expect(editor.page.get_by_label("Parts and groups").get_by_role("listitem")).to_have_count(1)
    editor.page.get_by_role("button", name="Rung 27", exact=True).click()
    expect(editor.page.get_by_text("Recipe of Rung 27")).to_be_visible()


def test_a_repair_goes_to_the_part_it_is_about_which_is_opened(editor):
    lid = {"id": "gone", "kind": "delete", "pick": {"faces": {"facing": "+y"}}}
    editor.make(parts=[part(BOX), {**part(BOX, lid), "id": "tray", "name": "Tray", "placement": {"translate": [40, 0, 0]}}])
    editor.page.get_by_role("button", name="Shape", exact=True).click()
    editor.page.get_by_role("button", name="Fill", exact=False).first.click()
    editor.wait_document(lambda d: d["parts"][1]["steps"][-1]["kind"] == "fill")
    expect(editor.page.get_by_text("Recipe of Tray")).to_be_visible()
    assert len(editor.document()["parts"][0]["steps"]) == 1


def test_a_copy_lands_beside_its_original_and_never_on_it_without_a_word(editor):
    editor.make(parts=[{**part(BOX), "placement": {"translate": [5, 0, 0]}}])
    page = editor.page

    def copied(as_):
        page.get_by_role("button", name="Bollard", exact=True).click(button="right")
        page.get_by_role("menuitem", name="Copy").hover()
        page.get_by_role("menuitem", name=as_).click()

    copied("with a recipe of its own")
    parts = editor.wait_document(lambda d: len(d["parts"]) == 2)["parts"]
    assert parts[1]["placement"]["translate"] == [16, 0, 0]  # as wide as 10, and a tenth
    copied("mirrored, linked, across y")
    parts = editor.wait_document(lambda d: len(d["parts"]) == 3)["parts"]
    assert parts[2]["placement"]["translate"] == [5, 0, 0]
    expect(page.locator(".ant-message")).to_contain_text("stands where")
