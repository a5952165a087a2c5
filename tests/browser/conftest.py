import json
import time
import urllib.request
import uuid
from contextlib import contextmanager
from pathlib import Path

import pytest
from playwright.sync_api import expect, sync_playwright

from rhytonic.launch import machine
from rhytonic.launch.cluster import free_port
from rhytonic.launch.demo import serve, wait_for
from tests.api.conftest import BOX, part
from tests.conftest import new_database

#: software drawing is slow on two cores: waits are long, and end as soon as what is waited for is there
PATIENCE = 20_000
#: seconds after which a second click at one place is no double click
DOUBLE_CLICK = 0.6
FLAGS = ["--no-sandbox", "--use-angle=swiftshader", "--enable-unsafe-swiftshader", "--disable-background-networking",
         "--no-first-run", "--disable-sync", "--disable-component-update", "--disable-gpu-compositing", "--process-per-site"]


@pytest.fixture(scope="session")
def server(database_url):
    """The whole product on a database of its own."""
    machine.interface()
    port = free_port()
    process = serve(new_database(database_url, "browser"), port, "--workers", "1")  # each test process starts one of these
    address = f"http://127.0.0.1:{port}"
    wait_for(address, process)
    yield address
    process.terminate()
    process.wait(15)


@pytest.fixture(scope="session")
def chromium():
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=str(machine.chromium()), args=FLAGS)
        yield browser
        browser.close()


SIZE = {"width": 1280, "height": 800}
#: drawn without a graphics card a coarse view comes soonest
COARSE = """localStorage.getItem("rhytonic.workbench") ||
    localStorage.setItem("rhytonic.workbench", JSON.stringify({ state: { coarse: true }, version: 1 }))"""
#: as another window of the same browser would tell it: one view of a build comes sooner than four
FORGET = """([build]) => {
    const builds = build === null ? {} : { [build]: { layout: "one" } };
    localStorage.setItem("rhytonic.workbench", JSON.stringify({ state: { coarse: true, builds }, version: 1 }));
    dispatchEvent(new StorageEvent("storage", { key: "rhytonic.workbench" }));
}"""
ONE_VIEW = """([build]) => {
    const kept = JSON.parse(localStorage.getItem("rhytonic.workbench"));
    kept.state.builds = { ...kept.state.builds, [build]: { layout: "one", ...kept.state.builds?.[build] } };
    localStorage.setItem("rhytonic.workbench", JSON.stringify(kept));
    dispatchEvent(new StorageEvent("storage", { key: "rhytonic.workbench" }));
}"""
#: as the browser's own way back and on does it
GO = """([path]) => {
    if (location.pathname !== path) performance.clearMeasures("rhytonic:drawn"); // what is open already may be drawn for good
    history.pushState(null, "", path);
    dispatchEvent(new PopStateEvent("popstate"));
}"""


@pytest.fixture(scope="session")
def windows(chromium, server):
    """Where windows open: one process for many tests, so that the interface is compiled once; a page that stays keeps it."""
    context = chromium.new_context(viewport=SIZE, base_url=server, accept_downloads=True)
    context.add_init_script(COARSE)
    context.add_init_script(path=Path(__file__).with_name("quiet.js"))
    context.new_page().goto(server)
    yield context
    context.close()


#: what the console says of itself while the server is away, which some tests see to
AWAY = ("net::ERR_", "status of 503")


class Window:
    """A page that many tests use one after the other, as a person goes from build to build; what it puts into the console as
    an error fails the test it happens in."""

    def __init__(self, windows):
        self.page = windows.new_page()
        self.faults = []
        self.page.set_default_timeout(PATIENCE)
        expect.set_options(timeout=PATIENCE)
        self.page.on("pageerror", lambda e: self.faults.append(str(e)))
        self.page.on("console", lambda m: self.faults.append(m.text)
                     if m.type == "error" and not any(away in m.text for away in AWAY) else None)

    def is_as_new(self):
        """Whether nothing is left of what a test did to the page itself."""
        page = self.page
        return (not page.is_closed() and page.viewport_size == SIZE
                and page.evaluate("document.documentElement.dataset.theme !== 'night'"))

    def close(self):
        if not self.page.is_closed():
            self.page.evaluate("localStorage.clear()")
            self.page.close()


@contextmanager
def opened(windows):
    """A page of its own."""
    window = Window(windows)
    yield window.page
    window.close()
    assert window.faults == []


@pytest.hookimpl(wrapper=True)
def pytest_runtest_makereport(item, call):
    report = yield
    item.stash.setdefault(PASSED, {})[report.when] = report.passed
    return report


PASSED = pytest.StashKey()


@pytest.fixture(scope="session")
def held():
    """The page that goes on to the next test."""
    held = []
    yield held
    for window in held:
        window.close()


@pytest.fixture
def page(windows, held, server, request):
    window = held.pop() if held else Window(windows)
    page = window.page
    window.faults.clear()
    before = set(windows.pages)
    if page.url.startswith(server):
        page.evaluate(FORGET, [None])
        page.bring_to_front()
        page.mouse.move(1, 1)
    yield page
    for opened_here in set(windows.pages) - before:
        opened_here.close()
    faults = list(window.faults)
    page.unroute_all(behavior="ignoreErrors")
    if request.node.stash.get(PASSED, {}).get("call") and not faults and window.is_as_new():
        held.append(window)
    else:
        window.close()
    assert faults == []


def post(server, path, body):
    request = urllib.request.Request(server + path, data=json.dumps(body).encode(), headers={"Content-Type": "application/json", "X-Rhytonic": "1"})
    with urllib.request.urlopen(request, timeout=30) as answer:
        return json.load(answer)


class Editor:
    """A person at the editor: finds things as they are labelled, acts by mouse and keyboard."""

    def __init__(self, page, server):
        self.page, self.server = page, server
        self.view = page.get_by_test_id("view")
        self.tray = page.get_by_label("Tool tray")

    def make(self, *steps, layout="One view", **more):
        """A build made beforehand through the API, opened in the browser."""
        build = post(self.server, "/api/builds", {"name": f"Build {uuid.uuid4().hex[:6]}", "document": {
            "format": "rhytonic", "version": 1, "parts": [part(*(steps or [BOX]))], **more}})
        self.open(build["id"], layout)
        return build

    def open(self, build_id, layout="One view"):
        if not self.page.url.startswith(self.server):
            self.page.goto(self.server)
        self.page.evaluate(ONE_VIEW, [build_id])
        self.page.evaluate(GO, [f"/build/{build_id}"])
        self.page.wait_for_function("(id) => window.rhytonic?.build() === id", arg=build_id)
        expect(self.page.get_by_test_id("triangles")).to_contain_text("triangles")
        if layout == "Sheet":
            self.page.get_by_label("Layout of the views").get_by_text(layout, exact=True).click()
        self.settle()

    def settle(self):
        """Until the meshes are there and drawn."""
        expect(self.page.get_by_test_id("save")).to_contain_text("saved")
        self.page.wait_for_function("() => performance.getEntriesByName('rhytonic:drawn').length > 0")
        self.rest()

    def rest(self, frames=5):
        """Until the page has come to rest: so many frames on end nothing is asked of the server, drawn, moved or changed."""
        if why := self.page.evaluate("([frames, patience]) => window.rest(frames, patience)", [frames, 3 * PATIENCE]):
            raise AssertionError(f"the page does not come to rest: {why}")

    def frames(self, count=2):
        """Until so many frames have passed, as between the movements of a hand."""
        self.page.evaluate("""async (count) => {
            for (let i = 0; i < count; i += 1) await new Promise((passed) => requestAnimationFrame(() => setTimeout(passed)));
        }""", count)

    def click_again(self, *point, **more):
        """A click where the last one was that is one of its own, not the second of a double one: there is nothing to be seen
        by which the time for that has passed."""
        time.sleep(DOUBLE_CLICK)
        self.click(*point, **more)

    def at(self, *point, view=None):
        """Where a point of the build, in metres, is on the page; in the view at work unless another is named."""
        return self.page.evaluate("([p, v]) => window.rhytonic.project(p, v ?? undefined)", [list(point), view])

    def look(self, title):
        self.page.get_by_label("View", exact=True).get_by_text(title, exact=True).click()
        self.rest()

    def click(self, *point, modifiers=(), view=None):
        x, y = self.at(*point, view=view)
        for key in modifiers:
            self.page.keyboard.down(key)
        self.page.mouse.move(x, y)
        self.page.mouse.click(x, y)
        for key in modifiers:
            self.page.keyboard.up(key)

    def drag(self, start, by, steps=6, release=True):
        """From a place on the page by some pixels."""
        self.page.mouse.move(*start)
        self.page.mouse.down()
        for i in range(1, steps + 1):
            self.page.mouse.move(start[0] + by[0] * i / steps, start[1] + by[1] * i / steps)
            time.sleep(0.03)
        if release:
            self.page.mouse.up()

    def key(self, name):
        self.view.focus()
        self.page.keyboard.press(name)

    def picked(self, text):
        expect(self.page.get_by_test_id("picked")).to_contain_text(text)

    def step(self, id):
        return self.page.locator(f'[data-step="{id}"]')

    def wait_lit(self):
        """Until amber dashes stand over the model: where something was."""
        count = """() => { const c = document.querySelector('canvas.overlay'), d = c.getContext('2d').getImageData(0, 0, c.width, c.height).data;
            let n = 0; for (let i = 0; i < d.length; i += 4) if (d[i + 3] > 200 && d[i] > 120 && d[i] < 150 && d[i + 1] > 75 && d[i + 1] < 100 && d[i + 2] < 40) n++;
            return n > 20; }"""
        self.page.wait_for_function(count)

    def document(self):
        build = self.page.url.rsplit("/", 1)[1]
        with urllib.request.urlopen(f"{self.server}/api/builds/{build}") as answer:
            return json.load(answer)["document"]

    def steps(self, part=0):
        return self.document()["parts"][part]["steps"]

    def wait_document(self, check):
        """Until the stored document passes a check, and the page has heard of it: a press before that would be the last thing's."""
        end = time.monotonic() + PATIENCE / 1000
        while not check(found := self.document()):
            if time.monotonic() > end:
                raise AssertionError(f"the document is still {found}")
            time.sleep(0.03)
        self.rest(2)
        return found

    def wait_steps(self, check):
        """Until the stored recipe passes a check."""
        return self.wait_document(lambda d: check(d["parts"][0]["steps"]))["parts"][0]["steps"]


@pytest.fixture
def editor(page, server):
    return Editor(page, server)
