"""Takes the README's pictures of a freshly started demo.

    ./rhytonic demo --fresh --port 8801 --data /tmp/rhytonic-pictures
    .venv/bin/python docs/take_screenshots.py http://127.0.0.1:8801
"""

from __future__ import annotations

import json
import sys
import time
import urllib.request
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

OUT = Path(__file__).parent / "screenshots"
FLAGS = ["--no-sandbox", "--use-angle=swiftshader", "--enable-unsafe-swiftshader", "--disable-background-networking",
         "--no-first-run", "--disable-sync", "--disable-component-update"]


def shoot(page: Page, name: str) -> None:
    page.mouse.move(640, 795)
    time.sleep(1.2)
    page.screenshot(path=OUT / f"{name}.png")


def click(page: Page, x: float, y: float, z: float) -> None:
    """Click a point of the build, in metres."""
    at = page.evaluate("p => window.rhytonic.project(p)", [x, y, z])
    page.mouse.click(*at)
    time.sleep(0.6)


def view(page: Page, title: str) -> None:
    page.get_by_label("View", exact=True).get_by_text(title, exact=True).click()
    page.get_by_label("Show everything").click()
    time.sleep(0.5)


def new_build(address: str, name: str, document: object = None) -> str:
    body = {"name": name} if document is None else {"name": name, "document": document}
    request = urllib.request.Request(f"{address}/api/builds", json.dumps(body).encode(),
                                     {"Content-Type": "application/json"})
    with urllib.request.urlopen(request) as answer:
        return str(json.load(answer)["id"])


def example(address: str, file: str, leave_out: tuple[str, ...] = ()) -> str:
    """A build of an example recipe, some of its steps left out."""
    document = json.loads((OUT.parent.parent / "examples" / f"{file}.rhy.json").read_text())
    name = document.pop("name")
    for part in document["parts"]:
        part["steps"] = [s for s in part["steps"] if s["id"] not in leave_out]
    return new_build(address, name, document)


def open_build(page: Page, build: str) -> None:
    page.goto(f"/build/{build}")
    page.wait_for_function("window.rhytonic !== undefined")
    time.sleep(2)


def shaping(page: Page, address: str) -> None:
    """The tools of box modelling, on the harbour's examples."""
    open_build(page, example(address, "tide-gauge", ("soften", "pane", "sink", "whole", "light")))
    page.get_by_role("radio", name="Edges").click()
    click(page, 0.102, 0.045, 0.0)
    page.keyboard.press("k")
    time.sleep(1)
    page.keyboard.press("b")
    time.sleep(1)
    page.get_by_label("Tool tray").get_by_label("segments").fill("3")
    shoot(page, "bevel")
    page.keyboard.press("Escape")
    open_build(page, example(address, "bilge-pump"))
    page.get_by_label("Stations").get_by_text("Shape").click()
    shoot(page, "findings")
    page.get_by_label("Stations").get_by_text("Form").click()
    view(page, "Front")
    page.get_by_test_id("view").focus()
    page.keyboard.press("y")
    time.sleep(0.6)
    ends = [page.evaluate("p => window.rhytonic.project(p)", p) for p in ([-0.13, 0.06, 0], [0.13, 0.13, 0])]
    page.mouse.move(*ends[0])
    page.mouse.down()
    for k in range(1, 6):
        page.mouse.move(*(a + (b - a) * k / 5 for a, b in zip(*ends, strict=True)))
        time.sleep(0.1)
    page.mouse.up()
    shoot(page, "slice")
    page.get_by_label("Stations").get_by_text("Brief").click()
    open_build(page, example(address, "mooring-buoy"))
    view(page, "3D")
    shoot(page, "buoy")


def main(address: str) -> None:
    OUT.mkdir(exist_ok=True)
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        page = browser.new_page(viewport={"width": 1280, "height": 800}, base_url=address)
        new_build(address, "Sea chest")
        page.goto("/")
        page.get_by_text("Sea chest").click()
        page.wait_for_selector(".start")
        shoot(page, "start")
        page.goto("/")
        page.wait_for_selector(".buildlist img")
        shoot(page, "builds")
        page.get_by_text("Signal lantern").click()
        page.wait_for_function("window.rhytonic !== undefined")
        time.sleep(2.5)
        click(page, 0, 0.15, 0.096)
        page.locator('[data-step="pane"] .title').click()
        shoot(page, "editor")
        page.get_by_test_id("view").focus()
        page.keyboard.press("x")
        time.sleep(0.6)
        page.keyboard.type("1.5")
        shoot(page, "extrude")
        page.keyboard.press("Escape")
        page.keyboard.press("Escape")
        page.get_by_label("Parts").get_by_text("Foot", exact=True).click()
        page.get_by_role("radio", name="Edges").click()
        click(page, 0.1, 0.01, 0.1)
        page.get_by_role("button", name="Insert loops").click()
        page.get_by_label("Tool tray").get_by_label("count").fill("2")
        shoot(page, "loops")
        for _ in range(3):  # the number, the proposal, the tool
            page.get_by_test_id("view").focus()
            page.keyboard.press("Escape")
        page.mouse.move(640, 795)
        time.sleep(1)
        view(page, "Front")
        page.get_by_role("radio", name="Vertices").click()
        click(page, 0.115, 0.29, 0.115)
        page.keyboard.press("m")
        shoot(page, "front")
        page.keyboard.press("Escape")
        page.get_by_text("Lamp", exact=True).click()
        page.get_by_label("Hide Housing").click()
        page.get_by_label("Hide Roof").click()
        page.get_by_label("Stations").get_by_text("Shape").click()
        view(page, "3D")
        shoot(page, "smooth")
        page.get_by_label("Show Housing").click()
        page.get_by_label("Show Roof").click()
        page.get_by_text("Roof", exact=True).click()
        page.get_by_role("radio", name="Faces F").click()
        page.get_by_label("Night colours").click()
        shoot(page, "night")
        page.get_by_label("Night colours").click()
        shaping(page, address)
        browser.close()


if __name__ == "__main__":
    main(sys.argv[1])
