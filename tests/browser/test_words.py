"""What the interface says: lines of the recipe, fields of every number that is stored, and what people search for."""


from playwright.sync_api import expect

from tests.api.conftest import BOX

TOP = {"faces": {"facing": "+y"}}
#: in the middle of the shell's rim, in metres
RIM = 0.06
UPRIGHT = {"nearest": [5, 10, 15]}


def told(editor, id):
    return editor.step(id).locator(".told")


def test_lines_of_the_recipe_are_read_as_sentences(editor):
    editor.make(BOX, {"id": "a", "kind": "insert_loop", "through": UPRIGHT, "distance": [4.5, -6, -4.5]},
                {"id": "b", "kind": "insert_loop", "through": {"nearest": [0, 20, 15]}, "count": 2},
                {"id": "c", "kind": "transform", "translate": [0, 1.2, 0], "pick": TOP},
                {"id": "d", "kind": "transform", "scale": [0.7, 0.7, 0.7], "rotate": [0, 45, 0], "pick": TOP},
                {"id": "e", "kind": "slice", "point": [0, 0, 0], "normal": [1, 0, 0], "keep": "above"},
                {"id": "f", "kind": "mirror", "axis": "x"})
    for id, text in (("body", "10 × 20 × 30"), ("a", "3 loops: 4.5, −6, −4.5"), ("b", "2 loops"), ("c", "up 1.2"),
                     ("d", "turned 45° about y, × 0.7"), ("e", "one side of x = 0"), ("f", "across x = 0")):
        expect(told(editor, id)).to_have_text(text)
    expect(editor.step("e")).to_contain_text("Slice")


def test_places_of_loops_are_edited_on_their_card(editor):
    editor.make(BOX, {"id": "a", "kind": "insert_loop", "through": UPRIGHT, "at": [0.3]},
                {"id": "b", "kind": "insert_loop", "through": {"nearest": [0, 20, 15]}, "distance": [2, -3]})
    editor.step("a").get_by_role("button", name="Insert loops").click()
    place = editor.step("a").get_by_label("at", exact=True)
    expect(place).to_have_value("0.3")
    place.fill("0.45")
    place.press("Enter")
    editor.wait_steps(lambda s: s[1]["at"] == [0.45])
    editor.step("b").get_by_role("button", name="Insert loops").click()
    second = editor.step("b").get_by_label("distance 2", exact=True)
    second.fill("-4")
    second.press("Enter")
    editor.wait_steps(lambda s: s[2]["distance"] == [2, -4])


SAID = {"merge": "Weld", "uniform": "Even out", "thickness": "Shell", "copy": "Duplicate", "clone": "Array", "separate": "Separate", "detach": "Split off",
        "round": "Round out", "hollow": "Shell", "array": "Array", "glue": "Stitch", "clean": "Dissolve", "extrood": "Extrude"}


def test_find_knows_what_people_say(editor, page):
    editor.make(BOX)
    page.keyboard.press("Control+k")
    for said, title in SAID.items():
        page.get_by_label("Find a tool, part or step").fill(said)
        expect(page.get_by_role("listbox", name="Found")).to_contain_text(title)


def test_a_coordinate_typed_for_several_heights_moves_them_together(editor, page):
    editor.make(BOX)
    editor.click(0, 0.1, 0.15)  # a wall: from 0 up to 20
    editor.picked("1 face")
    field = page.get_by_label("y of the pick")
    field.fill("3")
    field.press("Enter")
    step = editor.wait_steps(lambda s: len(s) == 2)[1]
    assert (step["kind"], step["by"], step["at"]) == ("flatten", "shift", 3)
    expect(told(editor, step["id"])).to_have_text("lowest y = 3")
    page.get_by_role("button", name="Typed coordinates").click()
    field.fill("5")
    field.press("Enter")
    assert editor.wait_steps(lambda s: len(s) == 3)[2].get("by") is None


def test_a_refusal_is_told_in_words_of_the_tool_and_leaves_nothing_in_the_console(editor, page):
    editor.make(BOX)
    editor.key("e")
    editor.click(0, 0.2, 0.15)
    editor.key("d")
    page.keyboard.press("Tab")
    shift = editor.tray.get_by_label("shift", exact=True)
    shift.fill("2")
    told = editor.tray.get_by_role("alert")
    expect(told).to_contain_text("shift must be at most 1")
    expect(told).not_to_contain_text("trial")
    page.keyboard.press("Escape")


def test_what_cannot_be_picked_says_why(editor, page):
    """The rim of a live shell: nothing is picked, and the way to it is told and works."""
    editor.make(BOX, {"id": "d", "kind": "delete", "pick": TOP}, {"id": "s", "kind": "shell", "thickness": 2})
    editor.look("Top")
    x, y = editor.at(RIM, 0.2, 0)
    page.mouse.click(x, y)
    expect(page.get_by_text("made below “you work here”, by Shell")).to_be_visible()
    page.get_by_role("button", name="Work below it").click()
    editor.wait_document(lambda d: d["parts"][0].get("mark") == "s")
    editor.rest()
    x, y = editor.at(RIM, 0.2, 0)
    page.mouse.click(x, y)
    editor.picked("1 face")


def test_moves_in_a_row_fold_into_one_line(editor, page):
    """Coordinates typed one after the other: one line that opens, the recipe as it was; the one at hand stands by itself."""
    moves = [{"id": f"m{i}", "kind": "transform", "translate": [0, 0.1 * (i + 1), 0], "pick": TOP} for i in range(6)]
    editor.make(BOX, *moves, {"id": "e", "kind": "extrude", "depth": 1, "pick": TOP})
    fold = page.get_by_role("button", name="Moves 2 to 7")
    expect(fold).to_be_visible()
    expect(editor.step("m2")).to_have_count(0)
    expect(editor.step("e")).to_be_visible()
    assert len(editor.steps()) == 8
    fold.click()
    expect(editor.step("m2")).to_contain_text("up 0.3")
    editor.step("m5").get_by_role("button", name="Transform").click()
    expect(page.get_by_role("button", name="Moves 2 to 6")).to_be_visible()
    value = editor.step("m5").get_by_label("translate y", exact=True)
    value.fill("2")
    value.press("Enter")
    editor.wait_steps(lambda s: s[6]["translate"] == [0, 2, 0])
