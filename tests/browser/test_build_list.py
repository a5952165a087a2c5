"""The list of builds: what they look like, found by name, in order."""

import uuid

from playwright.sync_api import expect

from tests.api.conftest import BOX, part
from tests.browser.conftest import post


def test_builds_are_known_by_their_model_found_and_ordered(page, server):
    mark = uuid.uuid4().hex[:6]
    names = [f"{word} {mark}" for word in ("Bollard", "Crane", "Anchor", "Dinghy", "Ewer", "Fender")]
    for i, name in enumerate(names):
        post(server, "/api/builds", {"name": name, "document": {"format": "rhytonic", "version": 1, "parts": [
            part(BOX, name=f"Part {k}") for k in range(3 if i == 1 else 1)]}})
    page.goto(server)
    page.get_by_label("Find a build").fill(mark)
    rows = page.locator(".buildlist li")
    expect(rows).to_have_count(6)
    first = rows.filter(has_text=f"Fender {mark}")
    expect(first).to_contain_text("10 × 20 × 30 cm")
    assert first.locator("img").get_attribute("src").startswith("data:image/png")
    expect(rows.first).to_contain_text("Fender")  # the last changed
    page.get_by_text("A to Z", exact=True).click()
    expect(rows.first).to_contain_text("Anchor")
    page.get_by_text("Most parts").click()
    expect(rows.first).to_contain_text("Crane")
    page.get_by_label("Find a build").fill(f"crane {mark}")
    expect(rows).to_have_count(1)
    page.get_by_label("Find a build").fill("no such thing at all")
    expect(page.get_by_text("No build is called “no such thing at all”.")).to_be_visible()


def test_a_build_that_is_still_being_fetched_says_so_and_never_that_it_is_empty(editor):
    build, page, held = editor.make(), editor.page, []
    page.route(f"**/api/builds/{build['id']}", lambda request: held.append(request))  # a bound method of a list is no handler to it
    page.reload()
    parts = page.get_by_label("Parts", exact=True)
    expect(parts.get_by_role("status")).to_have_text("Fetching the build …")
    expect(page.get_by_text("No part yet")).to_have_count(0)
    expect(page.get_by_text("Drop a PNG")).to_have_count(0)
    page.get_by_label("All builds").hover()  # the way out is there meanwhile
    for request in held:
        request.continue_()
    expect(parts.get_by_role("status")).to_have_count(0)
    expect(parts.locator("li[data-key]")).to_have_count(1)
    expect(page.get_by_text("No part yet")).to_have_count(0)
