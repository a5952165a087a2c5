"""Keys mean the same wherever the focus is, and what is pressed while something is stored waits its turn."""

import time

from playwright.sync_api import expect

from tests.api.conftest import BOX, png


def extrudes(steps):
    return [s["depth"] for s in steps if s["kind"] == "extrude"]


def slowly(route):
    """The server takes its time."""
    time.sleep(0.8)
    route.continue_()


def pick_top(editor):
    editor.click(0, 0.2, 0)
    editor.picked("1 face")


def test_after_enter_the_same_key_begins_a_new_step(editor, page):
    editor.make()
    pick_top(editor)
    for typed in ("x16", "x3"):
        page.keyboard.press(typed[0])
        page.keyboard.type(typed[1:])
        page.keyboard.press("Enter")
        editor.wait_steps(lambda s, n=typed[1:]: extrudes(s)[-1:] == [int(n)])
    assert extrudes(editor.steps()) == [16, 3]


def test_keys_pressed_while_a_step_is_stored_are_kept(editor, page):
    """Enter on an extrusion, and V at once while the server takes its time."""
    editor.make()
    pick_top(editor)
    page.keyboard.press("x")
    page.keyboard.type("5")

    page.route("**/changes", slowly)
    page.keyboard.press("Enter")
    page.keyboard.press("v")
    expect(page.get_by_role("radio", name="Vertices V")).to_be_checked()
    editor.rest()
    assert extrudes(editor.steps()) == [5]
    assert page.evaluate("() => document.activeElement.dataset.testid") == "view"


def test_undo_and_tools_work_from_a_card_and_after_a_button(editor, page):
    editor.make()
    pick_top(editor)
    page.keyboard.press("x")
    page.keyboard.type("5")
    page.keyboard.press("Enter")
    editor.wait_steps(lambda s: extrudes(s) == [5])
    page.keyboard.press("Escape")
    # Enter in a card's field gives the keys back
    depth = editor.step("extrude1").get_by_label("depth", exact=True)
    depth.fill("7")
    depth.press("Enter")
    editor.wait_steps(lambda s: extrudes(s) == [7])
    expect(editor.view).to_be_focused()
    # undo from within a field in which nothing was typed
    depth.click()
    page.keyboard.press("Control+z")
    editor.wait_steps(lambda s: extrudes(s) == [5])
    page.keyboard.press("Control+Shift+z")
    editor.wait_steps(lambda s: extrudes(s) == [7])
    page.keyboard.press("Escape")
    expect(editor.view).to_be_focused()
    # after a button pressed by mouse
    page.get_by_role("button", name="Undo").first.click()
    editor.wait_steps(lambda s: extrudes(s) == [5])
    expect(editor.view).to_be_focused()
    page.keyboard.press("Control+z")
    editor.wait_steps(lambda s: extrudes(s) == [])


def test_letters_reach_the_view_from_a_focused_button_and_enter_stays_its_own(editor, page):
    editor.make()
    pick_top(editor)
    brief = page.get_by_role("button", name="Form", exact=True)
    brief.focus()
    page.keyboard.press("x")
    expect(editor.tray.get_by_label("Depth")).to_be_visible()
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    brief.focus()
    page.keyboard.press("Enter")
    expect(page.get_by_role("region", name="Form")).to_be_visible()


def test_after_a_new_part_is_made_the_keys_are_the_views(editor, page):
    editor.make(BOX)
    page.get_by_role("button", name="+ Part").click()
    dialog = page.get_by_role("dialog", name="New part")
    expect(dialog).to_be_visible()
    expect(dialog.get_by_label("width", exact=True)).to_be_focused()
    page.keyboard.type("7")
    page.keyboard.press("Enter")
    editor.wait_document(lambda d: len(d["parts"]) == 2)
    expect(dialog).to_be_hidden()
    assert editor.steps(1)[0]["size"][0] == 7
    page.keyboard.press("v")
    page.keyboard.press("Control+z")
    editor.wait_document(lambda d: len(d["parts"]) == 1)


def test_a_new_build_is_named_and_begun_by_typing_at_once(editor, page):
    page.goto("/")
    page.get_by_role("button", name="New build").click()
    page.keyboard.type("Galley pot shelf")
    page.keyboard.press("Enter")
    expect(page.get_by_label("Build name")).to_have_value("Galley pot shelf")
    width = page.locator(".start").get_by_label("width", exact=True)
    expect(width).to_be_focused()
    page.locator(".start").get_by_role("radio", name="Torus").click()
    page.keyboard.type("8")  # the sizes of the form just chosen have the keys
    expect(page.locator(".start").get_by_label("radius", exact=True)).to_have_value("8")
    page.locator(".start").get_by_role("radio", name="Box").click()
    expect(width).to_be_focused()
    width.click()  # the first press takes the number whole though the field has the focus already
    page.keyboard.type("30")
    page.keyboard.press("Tab")
    page.keyboard.type("12 mm")
    page.keyboard.press("Enter")
    expect(editor.view).to_be_focused()
    expect(page.locator('[data-step="box1"]')).to_contain_text("30 × 1.2 × 20")
    # undone, the form is offered again; the keys stay the view's
    page.keyboard.press("Control+z")
    expect(page.locator(".start")).to_be_visible()
    expect(editor.view).to_be_focused()
    page.keyboard.press("Control+Shift+z")
    expect(page.locator('[data-step="box1"]')).to_be_visible()


def test_a_picture_is_stood_up_by_typing_its_width(editor, page):
    editor.make(BOX)
    with page.expect_file_chooser() as chosen:
        page.get_by_role("button", name="+ Picture").click()
    chosen.value.set_files({"name": "Sheet.png", "mimeType": "image/png", "buffer": png(60, 40)})
    expect(page.get_by_label("Picture width")).to_be_focused()
    page.keyboard.type("40")
    page.keyboard.press("Enter")
    board = editor.wait_document(lambda d: len(d.get("boards", [])) == 1)["boards"][0]
    assert board["width"] == 40
    expect(page.get_by_role("dialog")).to_have_count(0)
    expect(editor.view).to_be_focused()


def test_a_build_that_has_a_board_starts_with_the_board(editor, page):
    page.goto("/")
    picture = page.evaluate("""async (bytes) => (await (await fetch("/api/pictures", { method: "POST", body: new Uint8Array(bytes),
        headers: { "Content-Type": "image/png", "X-Rhytonic": "1" } })).json()).sha256""", list(png(60, 40)))
    editor.make(parts=[], boards=[{"id": "b", "picture": picture, "name": "Front", "width": 60}])
    expect(page.locator(".start")).to_have_count(0)
    page.get_by_role("button", name="a first part").click()
    expect(page.get_by_role("dialog", name="New part").get_by_label("width", exact=True)).to_be_focused()


def test_hands_faster_than_the_server_lose_nothing(editor, page):
    """Every change takes its time to be stored; two extrusions and two loops are told in one go."""
    editor.make(BOX)
    editor.look("Front")
    page.route("**/changes", slowly)
    editor.key("f")
    editor.click(0, 0.1, 0.15)
    editor.picked("1 face")
    for depth in ("2", "1.5"):
        page.keyboard.press("x")
        page.keyboard.type(depth)
        page.keyboard.press("Enter")
    editor.rest(20)  # the routes are served meanwhile
    assert extrudes(editor.steps()) == [2, 1.5]
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    page.keyboard.press("d")
    for height in (0.05, 0.1):
        editor.click(0.05, height, 0.15)
    editor.rest(20)
    steps = editor.steps()
    assert [s["kind"] for s in steps[3:]] == ["insert_loop"] * 2


def test_the_builds_name_is_typed_and_left_with_the_keys_back_in_the_view(editor, page):
    build = editor.make(BOX)
    name = page.get_by_label("Build name")
    name.click()
    page.keyboard.type("nonsense")
    page.keyboard.press("Escape")
    expect(name).to_have_value(build["name"])
    expect(editor.view).to_be_focused()
    name.fill("Harbour master's ink stand, second of three")
    page.keyboard.press("Enter")
    expect(editor.view).to_be_focused()
    expect(page.get_by_test_id("save")).to_contain_text("saved")
    page.keyboard.press("Control+z")
    expect(name).to_have_value(build["name"])


def test_what_cannot_be_read_in_a_number_is_told_and_typed_over(editor, page):
    editor.make({"id": "drum", "kind": "cylinder", "radius": 10, "height": 20, "sides": 16})
    editor.step("drum").get_by_role("button").first.click()
    sides = editor.step("drum").get_by_label("sides", exact=True)
    sides.click()
    page.keyboard.type("12 cm")
    page.keyboard.press("Enter")
    told = page.get_by_text("a plain number is asked for")
    expect(told).to_have_count(1)
    expect(sides).to_be_focused()
    page.keyboard.type("3*8")  # over what could not be read
    page.keyboard.press("Enter")
    editor.wait_steps(lambda s: s[0].get("sides") == 24)
    expect(editor.view).to_be_focused()
    angle = editor.step("drum").get_by_label("start angle", exact=True)
    angle.click()
    page.keyboard.type("360/16°")
    page.keyboard.press("Enter")
    editor.wait_steps(lambda s: s[0].get("start_angle") == 22.5)
    # left by a click elsewhere, it is told as well, and the number stays
    sides.click()
    page.keyboard.type("many")
    editor.step("drum").get_by_label("height", exact=True).click()
    expect(page.get_by_text("'many' cannot be read")).to_have_count(1)
    expect(sides).to_have_value("24")
