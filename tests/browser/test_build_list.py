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
