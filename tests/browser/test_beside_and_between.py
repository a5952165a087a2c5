"""What lands beside what, and what follows what: copies and stock in sight, rims of cuts, mirrors of placed parts, a server away."""

from itertools import pairwise

import numpy as np
import pytest
from playwright.sync_api import expect

from rhytonic.core.recipe.built import build
from rhytonic.core.recipe.document import read_document
from tests.api.conftest import part

from .hands import Hands

CUBE = {"id": "body", "kind": "box", "size": [20, 20, 20]}


def meshes(document):
    """Every part as it stands in the build, by the core alone: points in metres, and the volume."""
    return {p.part.id: p.mesh for p in build(read_document(document))}


def volume(mesh):
    t = mesh.topology
    p = mesh.points
    total = 0.0
    for f in range(t.face_count):
        c = t.corners[t.offsets[f]:t.offsets[f + 1]]
        for a, b in pairwise(c[1:]):
            total += np.dot(p[c[0]], np.cross(p[a], p[b])) / 6
    return total


@pytest.mark.parametrize(("view", "spot"), [("Right", (0.1, 0.1, 0)), ("Top", (0, 0.2, 0)), ("Front", (0, 0.1, 0.1))])
def test_a_duplicate_lies_in_sight(editor, view, spot):
    editor.make(CUBE)
    editor.look(view)
    editor.click(*spot)
    editor.picked("1 face")
    hands = Hands(editor)
    hands.find("Duplicate")
    hands.key("Enter")
    step = editor.wait_steps(lambda s: len(s) == 2)[1]
    to = np.array(step["translate"])
    assert np.count_nonzero(to) == 1
    box = editor.view.bounding_box()
    (x, y), (x0, y0) = editor.at(*(np.array(spot) + to / 100)), editor.at(*spot)
    assert np.hypot(x - x0, y - y0) > 20  # not behind itself
    assert box["x"] < x < box["x"] + box["width"] and box["y"] < y < box["y"] + box["height"]


def test_what_is_kept_under_a_name_arrives_under_it_and_moves_with_what_it_stands_on(editor, page):
    pair = [part({"id": "b", "kind": "box", "size": [2, 6, 2]}, name=n, id=n, group="g", placement={"translate": [x, 0, 0]}) for n, x in (("left", -3), ("right", 3))]
    hull = part(CUBE, name="Hull", id="hull", placement={"translate": [0, 0, 50]})
    editor.make(parts=[*pair, hull], groups=[{"id": "g", "name": "Group 1"}])
    page.get_by_role("region", name="Parts").get_by_role("button", name="Group 1", exact=True).click(button="right")
    page.get_by_role("menuitem", name="Keep in stock").click()
    page.keyboard.type("My strut")
    page.keyboard.press("Enter")
    expect(page.get_by_role("dialog", name="Keep in stock")).to_be_hidden()
    editor.look("Top")
    editor.click(0, 0.2, 0.5)
    editor.picked("1 face")
    editor.key("Shift+B")
    dialog = page.get_by_role("dialog", name="Stock")
    expect(dialog.get_by_label("Find in stock")).to_be_focused()
    page.keyboard.type("strut")
    expect(dialog).to_contain_text("moves with Hull")
    dialog.get_by_label("Moves with the part it stands on").click()
    dialog.get_by_role("button", name="Put in my strut").click()
    document = editor.wait_document(lambda d: len(d["parts"]) == 5)
    strut = next(g for g in document["groups"] if g["name"] == "My strut")
    around = next(g for g in document["groups"] if g["id"] == strut["group"])
    assert around["name"] == "Hull" and next(p for p in document["parts"] if p["id"] == "hull")["group"] == around["id"]
    assert strut["placement"]["translate"] == pytest.approx([0, 20, 50], abs=1e-5)
    # once more, where the part is in a group that has been moved and turned meanwhile: it still stands on the picked face
    editor.key("Escape")
    around = {**around, "placement": {"translate": [5, 0, 0], "rotate": [0, 90, 0]}}
    editor.make(parts=document["parts"], groups=[g for g in document["groups"] if g["id"] != around["id"]] + [around])
    editor.look("Top")
    before = meshes(editor.document())
    top = before["hull"].points
    middle = [(top[:, 0].min() + top[:, 0].max()) / 2, top[:, 1].max(), (top[:, 2].min() + top[:, 2].max()) / 2]
    editor.click(middle[0] + 0.06, middle[1], middle[2] + 0.06)
    editor.picked("1 face")
    editor.key("Shift+B")
    expect(dialog.get_by_label("Find in stock")).to_be_focused()
    page.keyboard.type("strut")
    dialog.get_by_label("Moves with the part it stands on").click()
    dialog.get_by_label("Find in stock").press("Enter")
    document = editor.wait_document(lambda d: len(d["parts"]) == 7)
    last = [m for id, m in meshes(document).items() if id not in before]
    points = np.concatenate([m.points for m in last])
    assert np.allclose((points.min(axis=0) + points.max(axis=0))[[0, 2]] / 2, [middle[0], middle[2]], atol=1e-5)
    assert points[:, 1].min() == pytest.approx(middle[1], abs=1e-6)


def test_a_mirrored_copy_of_a_group_has_recipes_of_its_own(editor, page):
    lean = {"id": "lean", "kind": "transform", "pick": {"faces": {"facing": "+y"}}, "translate": [3, 0, 1]}
    smooth = {"id": "smooth", "kind": "subdivision", "levels": 1}
    half = {"id": "half", "kind": "mirror", "axis": "x", "at": -10, "clip": False}
    stays = [part(CUBE, lean, smooth, name="Stay", id="stay", group="g", placement={"translate": [30, 0, 4], "rotate": [0, 20, 10]}),
             part({**CUBE, "id": "b"}, {**lean, "translate": [0, 2, 5]}, half, name="Block", id="block", group="g", placement={"translate": [60, 0, 0]}),
             part(CUBE, {"id": "cut", "kind": "boolean", "operation": "subtract", "part": "stay"}, name="Cut", id="cut", group="g", placement={"translate": [25, 5, 0]})]
    editor.make(parts=stays, groups=[{"id": "g", "name": "Rig", "placement": {"translate": [0, 0, 7], "rotate": [0, 15, 0]}}])
    page.get_by_role("region", name="Parts").get_by_role("button", name="Rig", exact=True).click(button="right")
    page.get_by_role("menuitem", name="Copy").hover()
    page.get_by_role("menuitem", name="mirrored across x, a recipe of its own").click()
    document = editor.wait_document(lambda d: len(d["parts"]) == 6)
    expect(page.locator(".ant-message")).to_contain_text("follows its original")
    made = document["parts"][3:]
    assert [("of" in p) for p in made] == [False, False, True] and made[0]["steps"][-1]["kind"] == "subdivision"
    shown = meshes(document)
    for was, is_ in zip(stays, made, strict=True):
        a, b = shown[was["id"]], shown[is_["id"]]
        image = a.points * [-1, 1, 1]
        order = lambda p: p[np.lexsort(np.round(p, 7).T)]  # noqa: E731
        assert np.allclose(order(image), order(b.points), atol=1e-9), was["name"]
        assert volume(b) == pytest.approx(volume(a), rel=1e-9) and volume(b) > 0


def test_the_rim_of_a_cut_is_taken_by_a_double_click_and_by_name(editor, page):
    post = part({"id": "p", "kind": "cylinder", "radius": 5, "height": 60, "sides": 12, "anchor": "centre"}, name="Post", id="post", hidden=True)
    body = part(CUBE, {"id": "hole", "kind": "boolean", "operation": "subtract", "part": "post"},
                {"id": "edge", "kind": "bevel", "pick": {"edges": {"nearest": [10, 20, 0]}}, "width": 1}, name="Body", id="body")
    editor.make(parts=[body, post])
    page.get_by_role("region", name="Parts").get_by_role("button", name="Body", exact=True).click()
    editor.look("Top")
    editor.key("e")
    angle = np.pi / 12
    rim = 0.05 * np.cos(angle)
    x, y = editor.at(rim * np.cos(angle), 0.2, rim * np.sin(angle))
    page.mouse.dblclick(x, y)
    editor.picked("12 edges")
    page.get_by_role("button", name="Pick ▾").click()
    page.get_by_role("menuitem", name="Edges of the cut").click()
    editor.picked("24 edges")
    editor.key("f")
    editor.step("edge").locator(".line").click()
    page.get_by_role("button", name="Pick ▾").click()
    page.get_by_role("menuitem", name="What the open step made").click()
    editor.picked("3 faces")


def test_a_mirror_of_a_placed_part_tells_whose_axis_and_goes_to_the_builds_middle(editor):
    editor.make(parts=[part(CUBE, name="Bracket", id="a", placement={"translate": [15, 0, 0]})])
    hands = Hands(editor)
    hands.find("Mirror")
    expect(editor.tray).to_contain_text("across Bracket’s own x")
    editor.tray.get_by_role("button", name="the build’s middle").click()
    hands.key("Enter")
    document = editor.wait_document(lambda d: len(d["parts"][0]["steps"]) == 2)
    assert document["parts"][0]["steps"][1]["at"] == -15
    expect(editor.step("mirror1")).to_contain_text("across Bracket’s own x")
    points = meshes(document)["a"].points
    assert points[:, 0].min() == pytest.approx(-points[:, 0].max())


def test_numbers_typed_while_the_server_is_away_are_stored_once_it_is_back(editor, page):
    editor.make(CUBE)
    editor.look("Front")
    editor.click(0, 0.1, 0.1)
    editor.picked("1 face")
    hands = Hands(editor)
    hands.key("x")
    page.route("**/api/**", lambda route: route.abort())
    page.keyboard.type("4")
    page.keyboard.press("Enter")
    expect(page.get_by_test_id("save")).to_contain_text("Not stored yet")
    page.unroute("**/api/**")
    editor.wait_steps(lambda s: len(s) == 2 and s[1]["depth"] == 4)
    expect(page.get_by_test_id("save")).to_contain_text("saved")
    # a sum, which the core reads
    page.route("**/api/**", lambda route: route.abort())
    field = editor.step("extrude1").get_by_label("depth")
    field.fill("4 + 3 mm")
    field.press("Enter")
    expect(page.get_by_test_id("save")).to_contain_text("Not stored yet")
    page.unroute("**/api/**")
    editor.wait_steps(lambda s: s[1]["depth"] == pytest.approx(4.3))
    expect(page.get_by_test_id("save")).to_contain_text("saved")


def test_what_a_drag_changed_is_told_in_the_status_line(editor):
    editor.make(CUBE)
    editor.look("Front")
    editor.click(0, 0.1, 0.1)
    editor.picked("1 face")
    hands = Hands(editor)
    hands.key("l")
    x, y = editor.at(0, 0.1, 0.1)
    line = editor.page.locator(".status .hint")
    editor.drag((x + 54, y), (-20, 0))
    editor.wait_steps(lambda s: len(s) == 2)
    expect(line).to_contain_text("stored; Ctrl+Z takes it back")
    editor.page.keyboard.press("Escape")
    expect(line).not_to_contain_text("takes it back.")
