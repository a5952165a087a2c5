"""A step kind that the interface has never heard of: reached, tried, pulled, typed, stored, told and corrected."""

import os
import subprocess
import sys

import pytest
from playwright.sync_api import expect

from rhytonic.launch import machine
from rhytonic.launch.cluster import free_port
from rhytonic.launch.demo import wait_for
from rhytonic.store.database import migrate
from tests.api.conftest import BOX
from tests.browser.conftest import Editor, opened
from tests.conftest import new_database


@pytest.fixture(scope="module")
def lift_server(database_url):
    machine.interface()
    url, port = new_database(database_url, "lift"), free_port()
    migrate(url)
    process = subprocess.Popen(
        [sys.executable, "-m", "gunicorn", "--config", "python:rhytonic.web.process", "--bind", f"127.0.0.1:{port}",
         "tests.browser.with_lift:create_app()"],
        env={**os.environ, "RHYTONIC_DATABASE_URL": url, "PYTHONPATH": f"{machine.ROOT / 'src'}:{machine.ROOT}"}, cwd=machine.ROOT)
    wait_for(f"http://127.0.0.1:{port}", process)
    yield f"http://127.0.0.1:{port}"
    process.terminate()
    process.wait(15)


@pytest.fixture
def editor(windows, lift_server):
    with opened(windows) as page:
        yield Editor(page, lift_server)


def test_a_kind_nobody_wrote_a_tool_for_is_worked_with(editor):
    page = editor.page
    editor.make(BOX)
    editor.click(0, 0.2, 0)
    editor.picked("1 face")
    editor.tray.get_by_role("button", name="More").click()
    page.get_by_role("menuitem", name="Lift").click()
    # a first result in proportion to the face, previewed by the core
    field = editor.tray.get_by_label("by", exact=True)
    expect(field).to_have_value("2")  # a tenth of 30 cm, as a round number
    expect(page.get_by_test_id("trial")).to_contain_text("6 faces")
    # the knob stands at the end of its length, along the normal, and is pulled there
    knob, above = editor.at(0, 0.22, 0), editor.at(0, 0.25, 0)
    page.mouse.move(*knob)
    page.mouse.down()
    for share in (0.3, 0.7, 1.0):
        page.mouse.move(*[a + share * (b - a) for a, b in zip(knob, above, strict=True)])
    page.mouse.up()
    steps = editor.wait_steps(lambda s: len(s) == 2)
    assert steps[1]["kind"] == "lift" and steps[1]["by"] == pytest.approx(5, abs=0.3)
    # digits typed over the view go to the number of the knob
    editor.view.focus()
    page.keyboard.type("4")
    page.keyboard.press("Enter")
    editor.wait_steps(lambda s: s[1]["by"] == 4)
    page.keyboard.press("Enter")
    # its card tells it as a sentence, and has both its numbers
    card = editor.step("lift1")
    card.get_by_role("button", name="Lift", exact=True).click()
    expect(card).to_contain_text("by 4")
    card.get_by_role("button", name="Lift", exact=True).click()
    card.get_by_label("times").fill("2")
    card.get_by_label("times").press("Enter")
    editor.wait_steps(lambda s: s[1].get("times") == 2)
    card.get_by_role("button", name="Lift", exact=True).click()
    expect(card).to_contain_text("by 4, times 2")


def test_it_is_found_by_its_name(editor):
    editor.make(BOX)
    editor.click(0, 0.2, 0)
    editor.key("Control+k")
    editor.page.keyboard.type("lift")
    expect(editor.page.get_by_role("listbox", name="Found").locator("button").first).to_contain_text("Lift")
    editor.page.keyboard.press("Enter")
    expect(editor.tray.get_by_label("by", exact=True)).to_be_visible()
    editor.key("Escape")
    editor.wait_steps(lambda s: len(s) == 1)
