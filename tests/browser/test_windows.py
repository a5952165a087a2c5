"""Two windows on one build: neither loses a step, each undoes its own, and both show what is there."""

import time

import pytest
from playwright.sync_api import expect

from tests.api.conftest import BOX

from .conftest import Editor, opened


@pytest.fixture
def other(windows, page, server):
    """A second window of the same browser."""
    with opened(windows) as second:
        yield Editor(second, server)


def pair(editor, other):
    build = editor.make()
    other.open(build["id"])


def extrude(editor, *at):
    editor.page.bring_to_front()
    editor.settle()
    editor.click(*at)
    editor.picked("1 face")
    editor.key("x")
    editor.page.keyboard.press("4")
    editor.page.keyboard.press("Enter")


def depths(steps):
    return [(s["id"], s["depth"]) for s in steps if s["kind"] == "extrude"]


def test_each_sees_what_the_other_does_and_undoes_its_own(editor, other):
    pair(editor, other)
    extrude(editor, 0, 0.2, 0)
    editor.wait_steps(lambda s: len(s) == 2)
    expect(other.step("extrude1")).to_be_visible(timeout=3000)
    extrude(other, 0, 0.24, 0)
    other.wait_steps(lambda s: len(s) == 3)
    expect(editor.step("extrude2")).to_be_visible(timeout=3000)
    editor.page.bring_to_front()
    editor.key("Escape")
    editor.key("Control+z")
    assert depths(editor.wait_steps(lambda s: len(s) == 2)) == [("extrude2", 4)]
    expect(other.step("extrude1")).to_have_count(0)
    other.page.bring_to_front()
    other.key("Escape")
    other.key("Control+z")
    other.wait_steps(lambda s: len(s) == 1)
    editor.page.bring_to_front()
    editor.key("Control+Shift+z")
    assert depths(editor.wait_steps(lambda s: len(s) == 2)) == [("extrude1", 4)]


def test_a_step_made_on_an_old_revision_is_stored_under_a_free_name(editor, other):
    """The second window is deaf for a while: its step comes in beside the other's."""
    pair(editor, other)
    other.page.route("**/api/builds/*/revision", lambda route: route.abort())
    other.page.evaluate("() => { BroadcastChannel.prototype.postMessage = () => undefined }")
    held = []
    other.page.route("**/changes", lambda route: held.append(route), times=1)
    extrude(other, 0, 0.2, 0)
    end = time.monotonic() + 20
    while not held and time.monotonic() < end:
        other.page.wait_for_timeout(50)
    extrude(editor, 0, 0.2, 0)
    editor.wait_steps(lambda s: len(s) == 2)
    held[0].continue_()
    expect(other.step("extrude2")).to_be_visible()
    steps = editor.wait_steps(lambda s: len(s) == 3)
    assert sorted(depths(steps)) == [("extrude1", 4), ("extrude2", 4)]
    other.page.bring_to_front()
    other.key("Control+z")
    assert depths(editor.wait_steps(lambda s: len(s) == 2)) == [("extrude1", 4)]


def test_what_is_being_tried_goes_on_when_the_other_changes_something(editor, other):
    pair(editor, other)
    other.page.bring_to_front()
    other.click(0, 0.2, 0)
    other.picked("1 face")
    other.key("x")
    other.page.keyboard.type("7")
    editor.page.bring_to_front()
    editor.step("body").get_by_role("button", name="Box").click()
    size = editor.step("body").get_by_label("Size y")
    size.fill("26")
    size.press("Enter")
    editor.wait_steps(lambda s: s[0]["size"][1] == 26)
    expect(other.step("body")).to_contain_text("26", timeout=3000)
    other.page.bring_to_front()
    other.page.keyboard.press("Enter")
    assert depths(other.wait_steps(lambda s: len(s) == 2)) == [("extrude1", 7)]


def test_a_value_set_in_both_at_once_is_asked_about(editor, other):
    pair(editor, other)
    held = []
    other.page.route("**/changes", lambda route: held.append(route), times=1)
    for window, value in ((other, "31"), (editor, "32")):
        window.page.bring_to_front()
        window.step("body").get_by_role("button", name="Box").click()
        field = window.step("body").get_by_label("Size x")
        field.fill(value)
        field.press("Enter")
        end = time.monotonic() + 20
        while window is other and not held and time.monotonic() < end:
            other.page.wait_for_timeout(50)
    editor.wait_steps(lambda s: s[0]["size"][0] == 32)
    other.page.bring_to_front()
    held[0].continue_()
    asked = other.page.get_by_role("dialog", name="Changed in two windows")
    expect(asked).to_be_visible()
    asked.get_by_role("button", name="Take mine").click()
    other.wait_steps(lambda s: s[0]["size"][0] == 31)


def test_two_hands_on_one_lattice_and_with_one_brush_keep_both(editor, other):
    """One tool at work in both windows, each changing what the other does not: nothing of either is overwritten."""
    build = editor.make({**BOX, "segments": [6, 3, 6]})
    other.open(build["id"])
    for one in (editor, other):
        one.page.bring_to_front()
        one.look("Front")
        one.key("a")
        one.settle()

    def moved(one, axis, to, check):
        one.page.bring_to_front()
        field = one.tray.get_by_label(f"point {axis}")
        field.fill(to)
        field.press("Enter")
        one.wait_steps(check)

    editor.page.bring_to_front()
    editor.key("Shift+J")
    expect(editor.tray.get_by_text("no points picked")).to_be_visible()
    editor.key("Control+a")
    moved(editor, "y", "20", lambda s: s[-1]["kind"] == "lattice")
    first = editor.steps()[-1]["offsets"]["0,0,0"]
    other.page.bring_to_front()
    expect(other.step("lattice1")).to_be_visible()
    other.step("lattice1").locator(".title").click()
    other.step("lattice1").get_by_role("button", name="Move its points").click()
    expect(other.tray.get_by_text("no points picked")).to_be_visible()
    other.key("Control+a")
    moved(other, "x", "3", lambda s: s[-1]["offsets"]["0,0,0"][0] == 3)
    moved(editor, "z", "2", lambda s: s[-1]["offsets"]["0,0,0"][2] == 2)
    assert editor.steps()[-1]["offsets"]["0,0,0"] == [3, first[1], 2]
    for one in (editor, other):
        one.page.bring_to_front()
        one.key("Escape")
        one.key("Escape")
        one.key("Shift+K")
        expect(one.tray.get_by_label("radius")).to_be_visible()
    for n, one in enumerate((editor, other, editor)):
        one.page.bring_to_front()
        one.settle()
        one.drag(one.at(0.03, 0.2, 0.13), (10, -6))
        one.wait_steps(lambda s, n=n: s[-1]["kind"] == "brush" and len(s[-1]["strokes"]) == n + 1)


def test_what_is_typed_in_one_holds_while_the_other_renames_budgets_and_takes_away(editor, other):
    pair(editor, other)
    editor.page.bring_to_front()
    editor.look("Top")
    editor.click(0.01, 0.2, 0.01)
    editor.picked("1 face")
    editor.key("Control+k")
    editor.page.keyboard.type("Round out")
    editor.page.keyboard.press("Enter")
    editor.page.keyboard.type("7")
    # the other gives the build a budget meanwhile: the number stands, and is stored
    other.page.bring_to_front()
    other.page.get_by_role("button", name="Handover", exact=True).click()
    field = other.page.get_by_label("triangle budget of the build")
    field.fill("10")
    field.press("Enter")
    other.wait_document(lambda d: d.get("budget") == 10)
    editor.page.bring_to_front()
    expect(editor.page.get_by_test_id("triangles")).to_contain_text("of 10")
    field = editor.tray.get_by_label("radius")
    expect(field).to_have_value("7")
    field.press("Enter")
    step = editor.wait_steps(lambda s: len(s) == 2)[1]
    assert step["radius"] == 7 and editor.document()["budget"] == 10
    # the other takes the step away while its card is typed into here: nothing is stored, and that is said
    card = editor.step(step["id"]).get_by_label("radius")
    card.fill("8")
    other.page.bring_to_front()
    other.step(step["id"]).locator(".line").click()
    other.page.get_by_label("More for Round out").click()
    other.page.get_by_role("menuitem", name="Remove").click()
    other.wait_steps(lambda s: len(s) == 1)
    editor.page.bring_to_front()
    expect(editor.step(step["id"])).to_have_count(0)
    assert len(editor.steps()) == 1 and editor.document()["budget"] == 10
