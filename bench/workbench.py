"""The workbench in a browser that draws by software: what a drag costs the client, and how soon it is seen.

    ./rhytonic demo --fresh --port 8801 --data FOLDER
    .venv/bin/python -m bench.workbench http://127.0.0.1:8801

Acts by mouse and keyboard; the page tells its own figures on the performance timeline (``rhytonic:answer``,
``rhytonic:shown``, ``rhytonic:drawn``).
"""

from __future__ import annotations

import json
import statistics
import sys
import time
import urllib.request
from typing import Any

from playwright.sync_api import Page, sync_playwright

from rhytonic.launch import machine

FLAGS = ["--no-sandbox", "--use-angle=swiftshader", "--enable-unsafe-swiftshader", "--disable-background-networking",
         "--no-first-run", "--disable-sync", "--disable-component-update", "--disable-gpu-compositing"]
OBSERVE = """() => {
  window.told = {};
  new PerformanceObserver((list) => {
    for (const e of list.getEntries()) (window.told[e.name] ??= []).push(e.duration);
  }).observe({ type: "measure", buffered: false });
}"""
PAUSES = """window.pauses = [];
new PerformanceObserver((list) => list.getEntries().forEach((e) => window.pauses.push(e.duration)))
  .observe({ type: "longtask", buffered: true });"""
#: 50 sides of 40 rings: 2,000 faces
CAGE = {"id": "ball", "kind": "sphere", "radius": 10, "sides": 50, "rings": 40}
MOVES = 120


def new_build(address: str, name: str, *steps: dict[str, Any]) -> str:
    document = {"format": "rhytonic", "version": 1, "parts": [{"name": "Buoy", "steps": list(steps)}]}
    request = urllib.request.Request(f"{address}/api/builds", json.dumps({"name": name, "document": document}).encode(),
                                     {"Content-Type": "application/json", "X-Rhytonic": "1"})
    with urllib.request.urlopen(request) as answer:
        return str(json.load(answer)["id"])


def open_build(page: Page, build: str, layout: str) -> float:
    """Seconds until the model is drawn."""
    start = time.perf_counter()
    page.goto(f"/build/{build}")
    page.wait_for_function("() => performance.getEntriesByName('rhytonic:drawn').length > 0", timeout=120_000)
    page.get_by_test_id("triangles").filter(has_text="triangles").wait_for()
    took = time.perf_counter() - start
    page.get_by_label("Layout of the views").get_by_text(layout, exact=True).click()
    time.sleep(1.5)
    return took


def drag(page: Page, view: str) -> dict[str, list[float]]:
    """Pick the upper quarter of the ball with a box in the front view and move it about."""
    page.keyboard.press("v")
    at = {n: page.evaluate("([p, v]) => window.rhytonic.project(p, v)", [p, view])
          for n, p in (("a", [-0.11, 0.21, 0]), ("b", [0.11, 0.1545, 0]), ("m", [0, 0.17, 0]))}
    page.mouse.move(*at["a"])
    page.mouse.down()
    page.mouse.move(*at["b"], steps=4)
    page.mouse.up()
    time.sleep(0.8)
    picked = page.get_by_test_id("picked").inner_text()
    page.keyboard.press("m")
    page.get_by_label("translate x").wait_for()
    place = page.evaluate("([p, v]) => window.rhytonic.project(p, v)", [[0, (0.2 + 0.1545) / 2, 0], view])
    page.evaluate(OBSERVE)
    page.mouse.move(*place)
    time.sleep(0.5)
    page.mouse.down()
    for i in range(MOVES):
        page.mouse.move(place[0] + i / 4, place[1] - i / 6)
        time.sleep(0.016)
    told: dict[str, list[float]] = page.evaluate("window.told")
    page.keyboard.press("Escape")
    page.mouse.up()
    print(f"    {picked.split(' ·')[0]}")
    return told


def row(told: dict[str, list[float]], name: str, goal: float | None) -> None:
    values = told.get(f"rhytonic:{name}", [])
    if not values:
        print(f"    {name}: nothing measured")
        return
    middle, worst = statistics.median(values), statistics.quantiles(values, n=10)[-1] if len(values) > 2 else max(values)
    print(f"    {name:8} median {middle:6.1f} ms, slowest tenth {worst:6.1f} ms, {len(values)} times"
          + (f" (goal {goal:g})" if goal is not None else ""))


def main(address: str) -> None:
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=str(machine.chromium()), args=FLAGS)
        page = browser.new_context(viewport={"width": 1280, "height": 800}, base_url=address).new_page()
        print("500 vertices of a 2,000-face cage, surface at level 2, in the sheet")
        open_build(page, new_build(address, "Bench 2", CAGE, {"id": "soft", "kind": "subdivision", "levels": 2}), "Sheet")
        page.get_by_test_id("view").focus()
        told = drag(page, "front")
        row(told, "answer", 4)
        for name in ("fetched", "drawn", "shown"):
            row(told, name, None)
        print("the same at level 1, in one view")
        open_build(page, new_build(address, "Bench 1", CAGE, {"id": "soft", "kind": "subdivision", "levels": 1}), "One view")
        page.get_by_label("View", exact=True).get_by_text("Front", exact=True).click()
        page.get_by_test_id("view").focus()
        told = drag(page, "front")
        row(told, "answer", 4)
        row(told, "fetched", None)
        row(told, "drawn", None)
        row(told, "shown", 60)
        print("100,000 surface quads")
        large = {"id": "block", "kind": "box", "size": [20, 20, 20], "segments": [32, 32, 33]}
        page.add_init_script(PAUSES)
        build = new_build(address, "Bench large", large, {"id": "soft", "kind": "subdivision", "levels": 2})
        took = open_build(page, build, "One view")
        page.mouse.move(660, 380, steps=3)
        time.sleep(2)
        pauses: list[float] = page.evaluate("window.pauses")
        print(f"    drawn after {took:.1f} s; longest pause {max(pauses, default=0) / 1000:.2f} s (goal 1)")
        browser.close()


if __name__ == "__main__":
    main(sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:8787")
