"""Parts as wholes: chosen together, put by hand and by one press, copied by a collar, grouped by dragging, stopped at contact."""

import time

from playwright.sync_api import expect

from tests.api.conftest import part

CUBE = {"id": "cube", "kind": "box", "size": [10, 10, 10]}
ROW = [part(CUBE, name="Post", id="post"), part(CUBE, name="Rail", id="rail", placement={"translate": [14, 3, 0]}),
       part(CUBE, name="Knob", id="knob", placement={"translate": [60, 0, 7]})]
DOOR = [part({"id": "d", "kind": "box", "size": [40, 60, 2]}, name="Door", id="door",
             joint={"kind": "turn", "at": [-20, 0, 0], "axis": [0, -1, 0], "to": 90}),
        part({"id": "w", "kind": "box", "size": [120, 80, 10]}, name="Wall", id="wall", placement={"translate": [0, -10, 35]})]


def places(document):
    return {p["name"]: p.get("placement", {}).get("translate", [0, 0, 0]) for p in document["parts"]}


def form(page):
    page.get_by_role("button", name="Form", exact=True).click()
    return page.get_by_role("region", name="Form")


def row(page, name):
    return page.get_by_role("region", name="Parts").get_by_role("button", name=name, exact=True)


def test_several_are_chosen_stood_lined_up_and_spread(editor, page):
    editor.make(parts=ROW)
    panel = form(page)
    row(page, "Rail").click()
    panel.get_by_label("Put the part").get_by_role("button", name="on the floor").click()
    editor.wait_document(lambda d: places(d)["Rail"][1] == 0)
    row(page, "Post").click()
    row(page, "Knob").click(modifiers=["Shift"])
    expect(panel).to_contain_text("3 chosen together")
    panel.get_by_label("Line up z").get_by_role("button", name="middle").click()
    editor.wait_document(lambda d: [p[2] for p in places(d).values()] == [7, 7, 7])  # the last one stays
    panel.get_by_label("Spread along x").get_by_role("button", name="equal gaps").click()
    editor.wait_document(lambda d: places(d)["Rail"][0] == 30)
    page.get_by_label("Undo").click()
    editor.wait_document(lambda d: places(d)["Rail"][0] == 14)
    # one alone, on top of another that is chosen by name
    row(page, "Knob").click()
    panel.get_by_label("Lined up with").fill("Post")
    page.keyboard.press("Enter")
    panel.get_by_label("Stand against Post").get_by_role("button", name="on top").click()
    editor.wait_document(lambda d: places(d)["Knob"] == [60, 10, 7])


def test_a_part_is_placed_by_its_arrow_and_a_collar_drags_a_copy_out(editor, page):
    editor.make(parts=ROW[:1])
    editor.look("Front")
    editor.key("Shift+T")
    expect(editor.tray).to_contain_text("a collar drags a copy out")
    x, y = editor.at(0, 0, 0)
    editor.drag((x + 60, y), (80, 0))
    moved = editor.wait_document(lambda d: places(d)["Post"][0] > 3)
    at = places(moved)["Post"]
    assert at[1] == at[2] == 0
    x, y = editor.at(at[0] / 100, 0, 0)
    editor.settle()
    editor.drag((x + 102, y), (150, 0))
    copied = editor.wait_document(lambda d: len(d["parts"]) == 2)
    copy = copied["parts"][1]
    assert copy["name"] == "Post 2" and copy["of"] == "post" and copy["placement"]["translate"][0] > at[0] + 5
    assert places(copied)["Post"] == at
    step = copy["placement"]["translate"][0] - at[0]
    editor.key("Shift+R")
    third = editor.wait_document(lambda d: len(d["parts"]) == 3)["parts"][2]
    assert abs(third["placement"]["translate"][0] - at[0] - 2 * step) < 1e-6 and third["name"] == "Post 3"
    page.keyboard.press("Escape")
    expect(editor.tray).not_to_contain_text("a collar drags a copy out")


def test_a_part_is_dragged_into_a_group_and_moved_by_keys(editor, page):
    editor.make(parts=ROW, groups=[{"id": "g", "name": "Fence"}])
    source, target = row(page, "Rail"), row(page, "Fence")
    source.drag_to(target)
    editor.wait_document(lambda d: d["parts"][-1].get("group") == "g" and d["parts"][-1]["name"] == "Rail")
    row(page, "Post").focus()
    page.keyboard.press("ArrowDown")
    expect(row(page, "Knob")).to_be_focused()
    page.keyboard.press("Alt+ArrowUp")
    editor.wait_document(lambda d: [p["name"] for p in d["parts"]][:2] == ["Knob", "Post"])
    # the group stands and moves as one
    row(page, "Fence").click()
    panel = form(page)
    panel.get_by_label("place y").fill("20")
    panel.get_by_label("place y").press("Enter")
    editor.wait_document(lambda d: d["groups"][0].get("placement", {}).get("translate") == [0, 20, 0])
    row(page, "Fence").press("F2")
    page.get_by_label("Group name").fill("Quay fence")
    page.keyboard.press("Enter")
    editor.wait_document(lambda d: d["groups"][0]["name"] == "Quay fence")


def test_a_hinge_is_stopped_at_contact(editor, page):
    editor.make(parts=DOOR)
    panel = form(page)
    panel.get_by_role("button", name="clearance").click()
    expect(panel.get_by_role("status")).to_contain_text("Touches at 47")
    panel.get_by_role("button", name="stop at contact").click()
    slider = panel.get_by_role("slider", name="joint")
    slider.focus()
    for _ in range(4):
        page.keyboard.press("PageUp")
        editor.frames()
    page.keyboard.press("End")
    document = editor.wait_document(lambda d: d["parts"][0]["joint"].get("now", 0) > 40)
    assert document["parts"][0]["joint"]["now"] < 48
    # another place of the wall is asked for again by itself
    row(page, "Wall").click()
    expect(panel).to_contain_text("Placement of Wall")
    panel.get_by_label("place z").fill("80")
    panel.get_by_label("place z").press("Enter")
    row(page, "Door").click()
    panel.get_by_role("button", name="clearance").click()
    expect(panel.get_by_role("status")).to_contain_text("Clear: nearest")


def test_an_answer_between_a_keys_press_and_its_release_takes_nothing_back(editor, page):
    editor.make(parts=DOOR)
    slider = form(page).get_by_role("slider", name="joint")
    page.route("**/changes", lambda route: (time.sleep(0.4), route.continue_()))
    editor.rest()
    slider.focus()
    expect(slider).to_be_focused()
    page.keyboard.press("PageUp")
    page.keyboard.down("End")
    editor.wait_document(lambda d: d["parts"][0]["joint"].get("now", 0) > 0)  # the first press is stored while the second is held
    page.unroute("**/changes")
    page.keyboard.up("End")
    editor.wait_document(lambda d: d["parts"][0]["joint"]["now"] == 90)
    expect(slider).to_have_attribute("aria-valuenow", "90")


def test_many_parts_are_listed_and_chosen_at_once(editor, page):
    small = {"id": "s", "kind": "box", "size": [1, 1, 1]}
    editor.make(parts=[part(small, name=f"Peg {i}", id=f"peg{i}", placement={"translate": [3 * (i % 20), 0, 3 * (i // 20)]}) for i in range(150)])

    def frames_of_choosing(last, count):
        editor.rest()
        before = page.evaluate("window.rhytonic.frames()")
        row(page, "Peg 3").click()
        row(page, last).click(modifiers=["Shift"])
        expect(page.locator("li.part.here")).to_have_count(count)
        editor.rest()
        return page.evaluate("window.rhytonic.frames()") - before

    few = frames_of_choosing("Peg 5", 3)
    assert frames_of_choosing("Peg 140", 138) < 3 * few + 10  # not drawn once more for each of them


def test_what_is_split_off_is_closed_on_both_sides_by_one_press(editor, page):
    lift = {"id": "lift", "kind": "split_off", "into": "Lid", "pick": {"faces": {"facing": "+y"}}}
    editor.make(parts=[part({**CUBE, "size": [20, 12, 14]}, lift, name="Chest", id="chest")])
    title = editor.step("lift").locator(".title")
    if title.get_attribute("aria-expanded") != "true":
        title.click()
    close = editor.step("lift").get_by_role("group", name="Close both")
    close.get_by_role("button", name="thickness").click()
    document = editor.wait_document(lambda d: [p["steps"][-1]["kind"] for p in d["parts"]] == ["shell", "shell"])
    assert {p["steps"][-1]["thickness"] for p in document["parts"]} == {-0.5}
    page.get_by_label("Undo").click()
    editor.wait_document(lambda d: [p["steps"][-1]["kind"] for p in d["parts"]] == ["split_off", "from_part"])
    close.get_by_role("button", name="fill").click()
    editor.wait_document(lambda d: [p["steps"][-1]["kind"] for p in d["parts"]] == ["fill", "from_part"]
                         or [p["steps"][-1]["kind"] for p in d["parts"]] == ["fill", "fill"])


def test_a_face_is_brought_onto_another_and_a_form_lies_down_where_it_belongs(editor, page):
    editor.make(parts=[ROW[0], part({**CUBE, "size": [4, 8, 6]}, name="Latch", id="latch", placement={"translate": [30, 0, 0]})])
    panel = form(page)
    editor.look("Front")
    editor.click(0.3, 0.04, 0.03)
    editor.picked("1 face")
    editor.click(0, 0.05, 0.05)
    editor.picked("1 face")
    panel.get_by_role("button", name="last face onto this one").click()
    document = editor.wait_document(lambda d: places(d)["Latch"] != [30, 0, 0])
    latch = document["parts"][1]["placement"]
    assert abs(latch["translate"][2] - 8) < 1e-6 and abs(latch["rotate"][1]) in (180, 0) and abs(latch["translate"][0]) < 1e-6
    # a new wheel lies along x, by its centre, where it is typed to be
    panel.get_by_role("radio", name="Cylinder").click()
    panel.get_by_label("How the new part lies").click(force=True)
    page.locator(".ant-select-item-option:visible", has_text="along x").click()
    panel.get_by_label("What of the new part is placed").click(force=True)
    page.locator(".ant-select-item-option:visible", has_text="by its centre").click()
    panel.get_by_label("y of the new part").fill("25")
    panel.get_by_role("button", name="Make cylinder").click()
    wheel = editor.wait_document(lambda d: len(d["parts"]) == 3)["parts"][2]
    assert wheel["placement"] == {"translate": [0, 25, 0], "rotate": [0, 0, -90]} and wheel["steps"][0]["anchor"] == "centre"


def test_the_last_copy_of_an_array_is_dragged_to_where_it_belongs(editor, page):
    editor.make(parts=[part({"id": "slat", "kind": "box", "size": [6, 4, 10]}, name="Slat", id="slat")])
    editor.look("Front")
    editor.view.focus()
    page.keyboard.press("Escape")
    editor.tray.get_by_role("button", name="Whole part").click()
    page.get_by_role("menuitem", name="Array").click()
    expect(page.get_by_test_id("trial")).to_contain_text("18 faces")  # three, so far from each other as it is large
    expect(editor.tray.get_by_label("step x")).to_have_value("10")
    editor.drag(editor.at(0.2, 0.02, 0), (90, 0))
    step = editor.wait_steps(lambda s: len(s) == 2)[1]
    assert step["count"] == 3 and step["step"][0] > 11 and step["step"][2] == 0


def test_gap_and_overlap_with_a_neighbour_are_told(editor, page):
    editor.make(parts=ROW)
    panel = form(page)
    row(page, "Rail").click()
    panel.get_by_label("Lined up with").fill("Post")
    page.keyboard.press("Enter")
    panel.get_by_role("button", name="gap or overlap").click()
    expect(panel.get_by_label("Gap or overlap")).to_contain_text("4 cm lie between them")
    panel.get_by_label("place x", exact=True).fill("8")
    panel.get_by_label("place x", exact=True).press("Enter")
    expect(panel.get_by_label("Gap or overlap")).to_be_hidden()
    panel.get_by_role("button", name="gap or overlap").click()
    expect(panel.get_by_label("Gap or overlap")).to_contain_text("They overlap over 2 × 7 × 10 cm, 140 cm³")


def test_a_budget_of_triangles_is_typed_and_told_when_it_is_exceeded(editor, page):
    editor.make(parts=ROW[:2], groups=[{"id": "g", "name": "Fence"}])
    panel = form(page)
    row(page, "Rail").click()
    panel.get_by_label("triangle budget").fill("8")
    panel.get_by_label("triangle budget").press("Enter")
    editor.wait_document(lambda d: d["parts"][1].get("budget") == 8)
    expect(page.get_by_title("4 triangles over its budget of 8")).to_be_visible()
    panel.get_by_label("triangle budget").fill("0")
    panel.get_by_label("triangle budget").press("Enter")
    editor.wait_document(lambda d: d["parts"][1].get("budget") is None)
    expect(page.get_by_title("4 triangles over its budget of 8")).to_be_hidden()
