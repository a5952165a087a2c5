"""One pass over every dialog: opened as people open it, its first field has the focus, Enter does what its button does, Esc closes it alone and
gives the keys back, nothing is cut. The second table of docs/tools.md is held to what is found."""

import os
import re

import pytest
from playwright.sync_api import expect

from tests.api.conftest import part

from .test_brief import board, drawing
from .test_curves import UNITLESS
from .test_every_tool import FOCUS, TABLE

CUBE = {"id": "body", "kind": "box", "size": [20, 20, 20]}
OBJ = "v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nf 1 2 3 4\n"

CUT = """(dialog) => {
    const out = [];
    for (const e of dialog.querySelectorAll('*')) {
        const scrolls = (() => { for (let p = e.parentElement; p !== null && p !== dialog; p = p.parentElement) if (/auto|scroll/.test(getComputedStyle(p).overflowY)) return true; return false; })();
        const r = e.getBoundingClientRect(), own = [...e.childNodes].some((n) => n.nodeType === 3 && n.textContent.trim());
        if (r.width === 0 || (!own && e.tagName !== 'INPUT') || e.closest('.shelf, .found, .sheetkeys, .keys') || e.type === 'file') continue;
        const s = getComputedStyle(e);
        const clipped = (s.overflowX !== 'visible' || e.tagName === 'INPUT') && e.scrollWidth > e.clientWidth + 1;
        if (s.opacity !== '0' && (clipped || r.right > innerWidth + 1 || (r.bottom > innerHeight + 1 && !scrolls))) out.push(e.textContent || e.value || e.ariaLabel);
    }
    return out;
}"""


def parts_row(editor, name):
    return editor.page.get_by_role("region", name="Parts").get_by_role("button", name=name, exact=True)


def menu(editor, item):
    parts_row(editor, "Body").click(button="right")
    editor.page.get_by_role("menuitem", name=item).click()


def keep_pick(editor):
    editor.look("Front")
    editor.click(0, 0.1, 0.1)
    editor.picked("1 face")
    editor.tray.get_by_role("button", name="Pick ▾").click()
    editor.page.get_by_role("menuitem", name="Keep the pick").click()


def of_board(editor, name):
    editor.page.get_by_role("button", name="Brief", exact=True).click()
    editor.page.locator(".boards").get_by_role("button").first.click()
    editor.page.get_by_role("button", name=name).click()


def file(editor, label, tmp_path, name, text):
    path = tmp_path / name
    path.write_text(text) if isinstance(text, str) else path.write_bytes(text)
    editor.page.get_by_label(label).first.set_input_files(str(path))


def pattern(editor):
    editor.page.get_by_role("button", name="Wrap", exact=True).click()
    editor.page.get_by_role("button", name="+ Pattern").click()


def form(editor):
    editor.page.get_by_role("button", name="Form", exact=True).click()


#: how each is opened, and what Enter in its first field comes to
DIALOGS = {
    "Find": ("Ctrl+K", lambda e, t: e.key("Control+k"), "runs what is lit"),
    "Every key": ("?", lambda e, t: e.key("?"), "–"),
    "New part": ("Insert, + Part", lambda e, t: e.key("Insert"), "makes it"),
    "Stock": ("Shift+B, Stock", lambda e, t: e.key("Shift+B"), "puts it in"),
    "Keep in stock": ("menu of a part", lambda e, t: menu(e, "Keep in stock"), "keeps it"),
    "Keep the pick as a set": ("Pick ▾", lambda e, t: keep_pick(e), "keeps it once it has a name"),
    "New picture": ("+ Picture, or dropped", lambda e, t: file(e, "Picture file", t, "front.png", drawing((-5, 0, 5, 12))), "places it"),
    "Outline": ("a board's Outline …", lambda e, t: of_board(e, "Outline …"), "takes the outline"),
    "Straighten": ("a board's Straighten …", lambda e, t: of_board(e, "Straighten …"), "straightens"),
    "Cut up a drawing": ("a board's Cut up …", lambda e, t: of_board(e, "Cut up …"), "–"),
    "Pattern": ("+ Pattern in Wrap", lambda e, t: pattern(e), "is done"),
    "A model comes in": ("From a file …, or dropped", lambda e, t: (form(e), file(e, "Model file", t, "plate.obj", OBJ)), "takes it in"),
    "A drawing's unit": ("From a file …, or dropped", lambda e, t: (form(e), file(e, "Model file", t, "rack.dxf", UNITLESS)), "takes it in"),
}


#: what has to be typed before Enter means something
TYPED = {"Find": "Wire", "Keep the pick as a set": "rim"}


def again(editor, tmp_path, name):
    DIALOGS[name][1](editor, tmp_path)


def rows():
    lines = [line for line in TABLE.read_text().splitlines() if re.match(r"\| [A-Z]", line)]
    return {line.split("|")[1].strip(): line for line in lines}


@pytest.mark.parametrize("name", DIALOGS)
def test_every_dialog_is_in_the_hand(editor, page, tmp_path, name):
    how, _, enter = DIALOGS[name]
    with_board = name in ("Outline", "Straighten", "Cut up a drawing")
    editor.make(parts=[part(CUBE, name="Body", id="body")], **({"boards": [board(editor.server, (-5, 0, 5, 12), traced=False)]} if with_board else {}))
    again(editor, tmp_path, name)
    dialog = page.locator('[role="dialog"]:visible').last
    expect(dialog).to_be_visible()
    editor.rest()
    first = page.evaluate(FOCUS).replace("BUTTON", "its main button").replace("Close", "its close button")
    assert page.evaluate("() => document.activeElement?.closest('[role=\"dialog\"]') !== null"), f"{name}: {first} has the focus"
    cut = dialog.evaluate(CUT)
    assert cut == [], cut
    page.keyboard.press("Escape")
    editor.rest()
    if dialog.is_visible():
        page.keyboard.press("Escape")  # the first took back what a field held
    expect(dialog).to_be_hidden()
    expect(editor.view).to_be_focused()
    if enter != "–":
        again(editor, tmp_path, name)
        expect(dialog).to_be_visible()
        editor.rest()
        if name in TYPED:
            page.keyboard.type(TYPED[name])
        page.keyboard.press("Enter")
        expect(dialog).to_be_hidden()
    line = f"| {name} | {how} | {first} | {enter} | closes it alone, keys go to the view | nothing cut |"
    if os.environ.get("RHYTONIC_WRITE_TABLE"):
        with (TABLE.parent / "tools.new").open("a") as out:
            out.write(line + "\n")
    else:
        assert rows().get(name) == line
