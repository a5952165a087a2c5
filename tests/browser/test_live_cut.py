"""A cutter moved by hand: what it cuts follows while it is dragged, and is stored where the hand lets go."""

from playwright.sync_api import expect

from tests.api.conftest import part

HULL = {"id": "hull", "kind": "box", "size": [40, 20, 30]}
PEG = {"id": "peg", "kind": "cylinder", "radius": 5, "height": 60, "sides": 8}
CUT = {"id": "cut", "kind": "boolean", "part": "peg", "operation": "subtract"}


def test_a_live_boolean_follows_the_hand(editor, page):
    editor.make(parts=[part(HULL, CUT, name="Hood", id="hood"),
                       part(PEG, name="Peg", id="peg", placement={"translate": [5, -5, 0]}, ghosted=True)])
    page.get_by_role("region", name="Parts").get_by_role("button", name="Peg", exact=True).click()
    editor.look("Front")
    editor.key("Shift+T")
    expect(editor.tray).to_contain_text("a collar drags a copy out")
    x, y = editor.at(0.05, -0.05, 0)
    with page.expect_response("**/placed") as followed:
        editor.drag((x + 60, y), (60, 0), release=False)
    assert followed.value.status == 200 and len(followed.value.body()) > 500
    page.mouse.up()
    document = editor.wait_document(lambda d: d["parts"][1]["placement"]["translate"][0] > 6)
    assert document["parts"][1]["placement"]["translate"][1:] == [-5, 0]
    expect(editor.step("cut")).to_have_count(0)  # the peg's own recipe is shown
    page.get_by_role("region", name="Parts").get_by_role("button", name="Hood", exact=True).click()
    expect(editor.step("cut")).to_be_visible()
    expect(editor.step("cut").get_by_role("alert")).to_have_count(0)
