"""Takes the README's pictures of a freshly started demo.

    ./rhytonic demo --fresh --port 8801 --data /tmp/rhytonic-pictures
    .venv/bin/python docs/take_screenshots.py http://127.0.0.1:8801

With ``--size 1600x1000``, ``--night`` and ``--out``, the same views otherwise, to be looked at for what is cut or collides.
"""

from __future__ import annotations

import argparse
import json
import time
import urllib.request
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

from rhytonic.launch import machine

OUT = Path(__file__).parent / "screenshots"
FLAGS = ["--no-sandbox", "--use-angle=swiftshader", "--enable-unsafe-swiftshader", "--disable-background-networking",
         "--no-first-run", "--disable-sync", "--disable-component-update", "--disable-gpu-compositing"]


#: where the pictures go
where = {"out": OUT}


def shoot(page: Page, name: str) -> None:
    page.mouse.move(640, page.viewport_size["height"] - 5 if page.viewport_size else 795)
    time.sleep(1.2)
    page.wait_for_function("() => [...document.images].every((i) => i.complete)")
    page.screenshot(path=where["out"] / f"{name}.png")


def at(page: Page, x: float, y: float, z: float, name: str | None = None) -> tuple[float, float]:
    """Where a point of the build, in metres, is on the page; in the view at work unless another is named."""
    found: tuple[float, float] = page.evaluate("([p, v]) => window.rhytonic.project(p, v ?? undefined)", [[x, y, z], name])
    return found


def click(page: Page, x: float, y: float, z: float, name: str | None = None) -> None:
    page.mouse.click(*at(page, x, y, z, name))
    time.sleep(0.6)


def layout(page: Page, title: str) -> None:
    page.get_by_label("Layout of the views").get_by_text(title, exact=True).click()
    time.sleep(0.5)


def view(page: Page, title: str) -> None:
    layout(page, "One view")
    page.get_by_label("View", exact=True).get_by_text(title, exact=True).click()
    page.get_by_label("Show everything").click()
    time.sleep(0.5)


def new_build(address: str, name: str, document: object = None) -> str:
    body = {"name": name} if document is None else {"name": name, "document": document}
    request = urllib.request.Request(f"{address}/api/builds", json.dumps(body).encode(),
                                     {"Content-Type": "application/json", "X-Rhytonic": "1"})
    with urllib.request.urlopen(request) as answer:
        return str(json.load(answer)["id"])


def example(address: str, file: str, leave_out: tuple[str, ...] = ()) -> str:
    """A build of an example recipe, some of its steps left out."""
    document = json.loads((OUT.parent.parent / "examples" / f"{file}.rhy.json").read_text())
    name = document.pop("name")
    for part in document["parts"]:
        if leave_out and "steps" in part:
            part["steps"] = [s for s in part["steps"] if s["id"] not in leave_out]
    return new_build(address, name, document)


def open_build(page: Page, build: str) -> None:
    page.goto(f"/build/{build}")
    page.wait_for_function("() => window.rhytonic !== undefined")
    time.sleep(2)


def together(page: Page, address: str) -> None:
    """A hood that several holes are cut out of, the cutter ghosted."""
    document = json.loads((OUT.parent.parent / "examples" / "pierced-hood.rhy.json").read_text())
    name = document.pop("name")
    document["parts"][1] |= {"hidden": False, "ghosted": True}
    open_build(page, new_build(address, name, document))
    page.locator('[data-step="pierced"] .title').click()
    shoot(page, "boolean")


def quay(page: Page) -> None:
    """Parts together: the handcart placed by hand, and the shelf."""
    page.goto("/")
    page.get_by_text("The quay").click()
    page.wait_for_function("() => window.rhytonic !== undefined")
    time.sleep(2.5)
    parts = page.get_by_role("region", name="Parts")
    for group in ("Bench", "Kneeling pad", "Lantern", "Chest", "Hatch"):
        parts.get_by_role("button", name=f"Fold {group}", exact=True).click()
    page.get_by_label("Stations").get_by_text("Form").click()
    parts.get_by_role("button", name="Handcart", exact=True).click()
    layout(page, "Sheet")
    page.get_by_test_id("view").focus()
    page.keyboard.press("Shift+T")
    page.keyboard.press("A")
    time.sleep(1)
    shoot(page, "handcart")
    page.keyboard.press("Escape")
    page.keyboard.press("Shift+B")
    time.sleep(1.5)
    page.keyboard.type("wheel")
    shoot(page, "stock")
    page.keyboard.press("Escape")


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
    page.get_by_label("Stations").get_by_text("Brief").click()


def shape(page: Page, address: str) -> None:
    """A pad in its lattice, a cover bent with its latch, folds brushed into a tarpaulin."""
    open_build(page, example(address, "kneeling-pad", ("corners",)))
    layout(page, "Sheet")
    page.locator('[data-step="belly"] .title').click()
    page.get_by_role("button", name="Move its points").click()
    time.sleep(1)
    page.get_by_test_id("view").focus()
    page.keyboard.press("A")
    time.sleep(0.8)
    (x, y), (u, v) = at(page, -0.03, 0.16, 0, "front"), at(page, 0.03, 0.12, 0, "front")
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(u, v, steps=5)
    page.mouse.up()
    shoot(page, "lattice")
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    open_build(page, example(address, "hatch-cover"))
    layout(page, "Sheet")
    page.locator('[data-step="bow"] .title').click()
    page.get_by_role("button", name="Drag its ends").click()
    time.sleep(1)
    shoot(page, "bend")
    page.keyboard.press("Escape")
    open_build(page, example(address, "tarpaulin"))
    view(page, "3D")
    page.locator('[data-step="fold"] .title').click()
    page.get_by_role("button", name="Brush on").click()
    time.sleep(0.5)
    page.mouse.move(*at(page, 0.35, 0.95, 0.22))
    time.sleep(2)
    page.screenshot(path=where["out"] / "brush.png")
    page.get_by_test_id("view").focus()
    page.keyboard.press("Escape")


def curves(page: Page) -> None:
    """A moulding's section drawn over its board, and swept round the window of the pilot house."""
    page.goto("/")
    page.get_by_text("Pilot house window").click()
    page.wait_for_function("() => window.rhytonic !== undefined")
    time.sleep(2.5)
    parts = page.get_by_role("region", name="Parts")
    parts.get_by_role("button", name="Casing", exact=True).click()
    layout(page, "Sheet")
    page.get_by_label("Stations").get_by_text("Form").click()
    page.locator('[data-step="moulding"] .title').click()
    page.get_by_label("Show everything").click()
    parts.get_by_role("button", name="Moulding profile", exact=True).click()
    view(page, "Front")
    page.get_by_test_id("view").focus()
    page.keyboard.press("Shift+I")
    page.keyboard.press("a")
    time.sleep(1)
    page.locator('[data-step="line"] .title').click()
    page.get_by_test_id("view").focus()
    page.keyboard.press("Shift+N")
    time.sleep(0.5)
    click(page, 0.015, 0.035, 0)
    shoot(page, "path")
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    page.keyboard.press("Shift+I")


def workbench(page: Page) -> None:
    """The sheet and the ways to see and to move, on the demo lantern."""
    layout(page, "Sheet")
    page.get_by_label("Show everything").click()
    page.get_by_role("radio", name="Faces F").click()
    page.get_by_label("Parts").get_by_text("Housing", exact=True).click()
    page.get_by_label("Stations").get_by_text("Brief").click()
    click(page, 0, 0.15, 0.096, "front")
    page.locator('[data-step="pane"] .title').click()
    shoot(page, "editor")
    page.get_by_test_id("view").focus()
    page.keyboard.press("m")
    shoot(page, "handles")
    page.keyboard.press("Escape")
    page.get_by_test_id("view").focus()
    page.keyboard.press("Escape")
    page.keyboard.press("Shift+C")
    shoot(page, "section")
    page.get_by_label("View settings").click()
    page.get_by_role("button", name="close", exact=True).click()
    page.keyboard.press("Escape")
    for key in ("Escape", "Escape", "Escape"):
        page.keyboard.press(key)
        time.sleep(0.3)
    page.get_by_label("Stations").get_by_text("Brief").click()


def brief(page: Page) -> None:
    """The outline against its board while the chimney is tried elsewhere, and how an outline is taken."""
    page.get_by_label("Stations").get_by_text("Brief").click()
    page.get_by_label("Parts").get_by_text("Roof", exact=True).click()
    view(page, "Front")
    page.get_by_role("radio", name="Vertices").click()
    a, b = at(page, -0.05, 0.425, 0), at(page, 0.05, 0.395, 0)
    page.mouse.move(*a)
    page.mouse.down()
    page.mouse.move(*b, steps=5)
    page.mouse.up()
    time.sleep(0.5)
    page.keyboard.press("m")
    time.sleep(0.8)
    page.get_by_label("Tool tray").get_by_label("translate x").fill("1.2")
    time.sleep(1.5)
    page.locator(".right").evaluate("e => e.scrollTo(0, 250)")
    shoot(page, "brief")
    for _ in range(3):
        page.get_by_test_id("view").focus()
        page.keyboard.press("Escape")
        time.sleep(0.3)
    page.get_by_role("button", name="Outline …").click()
    time.sleep(2)
    shoot(page, "outline")
    page.get_by_role("button", name="Cancel").click()
    time.sleep(0.5)
    page.get_by_label("Parts").get_by_text("Housing", exact=True).click()


def wrap(page) -> None:
    """The pads of the dinghy on the texture square, and their pattern."""
    page.goto("/")
    page.get_by_text("Fender pads of the dinghy").click()
    page.wait_for_function("() => window.rhytonic !== undefined")
    page.get_by_role("button", name="Wrap", exact=True).click()
    page.wait_for_function("() => window.rhytonic.square !== undefined")
    page.get_by_label("Layout of the views").get_by_text("One view", exact=True).click()
    view(page, "3D")
    time.sleep(2)
    page.get_by_label("Show everything").click()
    x, y = page.evaluate("() => window.rhytonic.square(0.25, 0.8)")
    page.mouse.dblclick(x, y)
    time.sleep(1.5)
    shoot(page, "wrap")
    page.get_by_label("Edit Ridges and mark").click()
    time.sleep(2)
    shoot(page, "pattern")
    page.get_by_role("button", name="Done").click()


def main(address: str, size: tuple[int, int], night: bool, out: Path) -> None:
    out.mkdir(exist_ok=True, parents=True)
    where["out"] = out
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=str(machine.chromium()), args=FLAGS)
        page = browser.new_page(viewport={"width": size[0], "height": size[1]}, base_url=address)
        if night:
            page.add_init_script("localStorage.setItem('rhytonic.theme', 'night')")
        new_build(address, "Sea chest")
        page.goto("/")
        page.get_by_text("Sea chest").click()
        page.wait_for_selector(".start")
        shoot(page, "start")
        page.goto("/")
        page.wait_for_selector(".buildlist img")
        shoot(page, "builds")
        page.get_by_text("Signal lantern").click()
        page.wait_for_function("() => window.rhytonic !== undefined")
        time.sleep(2.5)
        workbench(page)
        brief(page)
        view(page, "3D")
        page.get_by_text("Roof", exact=True).click()
        page.get_by_role("radio", name="Faces F").click()
        page.get_by_label("Night colours").click()
        shoot(page, "night")
        page.get_by_label("Night colours").click()
        shaping(page, address)
        shape(page, address)
        curves(page)
        quay(page)
        together(page, address)
        wrap(page)
        browser.close()


if __name__ == "__main__":
    parser = argparse.ArgumentParser()
    parser.add_argument("address")
    parser.add_argument("--size", default="1280x800")
    parser.add_argument("--night", action="store_true")
    parser.add_argument("--out", type=Path, default=OUT)
    told = parser.parse_args()
    wide, high = (int(v) for v in told.size.split("x"))
    main(told.address, (wide, high), told.night, told.out)
