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


def test_something_stands_there_before_any_script_or_style_has_come(page, server):
    page.goto(server)
    held, holds = [], [True]
    page.route("**/assets/main-*", lambda request: held.append(request) if holds else request.continue_())
    page.reload(wait_until="commit")
    expect(page.get_by_text("Fetching Rhytonic …")).to_be_visible()
    expect(page.get_by_role("heading", name="Builds")).to_have_count(0)
    holds.clear()
    for request in held:
        request.continue_()
    expect(page.get_by_role("heading", name="Builds")).to_be_visible()
    expect(page.get_by_text("Fetching Rhytonic …")).to_have_count(0)


def test_the_first_screen_is_light_on_the_wire(page, server):
    """As the browser counts what came through: packed scripts and styles."""
    sizes = {}
    network = page.context.new_cdp_session(page)
    network.send("Network.enable")
    network.send("Network.setCacheDisabled", {"cacheDisabled": True})
    urls = {}
    network.on("Network.responseReceived", lambda e: urls.__setitem__(e["requestId"], e["response"]["url"]))
    network.on("Network.loadingFinished", lambda e: sizes.__setitem__(urls.get(e["requestId"], ""), e["encodedDataLength"]))
    page.goto(server)
    expect(page.get_by_role("heading", name="Builds")).to_be_visible()
    page.wait_for_load_state("networkidle")
    network.detach()
    first = {url: size for url, size in sizes.items() if "/assets/" in url and "EditorPage" not in url}
    assert len(first) >= 3 and sum(first.values()) <= 450_000, first
    assert any("EditorPage" in url for url in sizes)  # comes while the list is looked at


def test_a_workbench_that_cannot_be_fetched_says_so(page, server):
    build = post(server, "/api/builds", {"name": "Far away", "document": {"format": "rhytonic", "version": 1, "parts": [part(BOX)]}})
    page.route("**/assets/EditorPage-*", lambda request: request.abort())
    page.goto(f"{server}/build/{build['id']}")
    expect(page.get_by_role("alert")).to_contain_text("could not be fetched")
    page.unroute_all(behavior="ignoreErrors")
    page.get_by_role("button", name="Try again").click()
    expect(page.get_by_test_id("triangles")).to_contain_text("12 triangles")
