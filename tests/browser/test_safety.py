"""Nothing is lost: the server away, the build changed elsewhere, undo after a reload."""

import uuid

from playwright.sync_api import expect

from tests.api.conftest import BOX, TOP
from tests.browser.conftest import post


def test_while_the_server_is_away_the_change_is_kept_and_sent_again(editor, page):
    editor.make(BOX)
    page.route("**/changes", lambda route: route.abort())
    editor.click(0, 0.2, 0)
    editor.key("Delete")
    expect(page.get_by_test_id("save")).to_contain_text("Not stored yet")
    assert len(editor.steps()) == 1
    page.unroute("**/changes")
    editor.wait_steps(lambda s: len(s) == 2)
    expect(page.get_by_test_id("save")).to_contain_text("saved")


def test_the_database_being_away_is_said(editor, page):
    editor.make(BOX)
    page.route("**/changes", lambda route: route.fulfill(
        status=503, json={"code": "database_gone", "message": "the database cannot be reached; your change is kept and sent again"}))
    editor.click(0, 0.2, 0)
    editor.key("Delete")
    expect(page.get_by_test_id("save")).to_contain_text("the database cannot be reached")
    page.unroute("**/changes")
    editor.wait_steps(lambda s: len(s) == 2)


def test_a_change_made_elsewhere_is_taken_in_and_ours_goes_on_top(editor, page, server):
    build = editor.make(BOX)
    post(server, f"/api/builds/{build['id']}/changes", {
        "revision": build["revision"], "label": "Elsewhere", "key": uuid.uuid4().hex,
        "patch": [{"op": "add", "path": "/parts/0/steps/1", "value": {"id": "elsewhere", "kind": "extrude", "depth": 4, "pick": TOP}}]})
    editor.click(0, 0.1, 0.15)
    editor.key("Delete")
    steps = editor.wait_steps(lambda s: len(s) == 3)
    assert [s["kind"] for s in steps] == ["box", "extrude", "delete"]
    expect(editor.step("elsewhere")).to_be_visible()


def test_leaving_for_the_list_and_coming_back(editor, page):
    build = editor.make(BOX)
    editor.click(0, 0.2, 0)
    editor.key("x")
    page.keyboard.type("2")
    editor.rest()
    page.get_by_label("All builds").click()
    expect(page.get_by_role("heading", name="Builds")).to_be_visible()
    page.get_by_text(build["name"]).click()
    editor.settle()
    assert editor.steps()[1]["depth"] == 2


def test_deleting_a_build_can_be_taken_back(page, server):
    name = f"Passing {uuid.uuid4().hex[:6]}"
    post(server, "/api/builds", {"name": name})
    page.goto("/")
    page.get_by_label(f"More for {name}").click()
    page.get_by_role("menuitem", name="Delete").click()
    expect(page.locator(".buildlist").get_by_text(name)).to_be_hidden()
    page.get_by_role("button", name="Undo").click()
    expect(page.locator(".buildlist").get_by_text(name)).to_be_visible()


