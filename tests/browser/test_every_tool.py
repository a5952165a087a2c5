"""One pass over every tool, as a new user would: found by its name, its number typed at once, ended by Enter, taken back by Esc, nothing
cut. What the pass finds is the table in docs/tools.md, line by line; with RHYTONIC_WRITE_TABLE set, it is written anew."""

import os
from pathlib import Path

import pytest
from playwright.sync_api import expect

from rhytonic.core.recipe.registry import KINDS
from tests.api.conftest import part

TABLE = Path(__file__).parents[2] / "docs" / "tools.md"

BLOCK = {"id": "body", "kind": "box", "size": [20, 20, 20], "segments": [3, 3, 3]}
OPEN = {"id": "open", "kind": "delete", "pick": {"faces": {"facing": "+y"}}}
PLATE = {"id": "body", "kind": "cylinder", "radius": 10, "height": 10, "sides": 8}
LAID = {"id": "laid", "kind": "unwrap"}
SHEET = {"id": "body", "kind": "plane", "size": [20, 20], "segments": [4, 4]}
OUTLINE = {"id": "o", "kind": "rectangle", "size": [20, 20], "plane": "xy"}
LINE = {"id": "o", "kind": "path", "points": [[0, 5, 0], [10, 5, 0], [10, 15, 0]]}
FRONT, THIRD = 0.1, 1 / 30
CORNER = (0.1, 0.2, FRONT)
MIDDLE, RIM, UPPER, LOWER = (0, 0.1, FRONT), (0, 0.2, FRONT), (0, 0.1 + THIRD, FRONT), (0, 0.1 - THIRD, FRONT)
BESIDE = part({"id": "b2", "kind": "box", "size": [8, 30, 8]}, name="Post", id="post", placement={"translate": [6, 0, 6]})
TWISTED = part(BLOCK, {"id": "t", "kind": "twist", "axis": "y", "angle": 30}, name="Post", id="post", placement={"translate": [40, 0, 0]})
RING = part({"id": "c2", "kind": "circle", "radius": 4, "plane": "xy"}, name="Ring", id="ring", placement={"translate": [8, 8, 0]})

#: what a tool works on: the form, the key of what is picked, where that is clicked, and what is beside it
ON = {
    **{w: (BLOCK, "f", [MIDDLE]) for w in ("extrude", "inset", "round_out", "flatten", "duplicate", "split_off", "flip", "array", "noise", "delete")},
    "transform": (BLOCK, "f", [MIDDLE]), "bevel": (BLOCK, "e", [RIM]), "ridge": (BLOCK, "e", [UPPER]),
    "insert_loop": (BLOCK, "e", [(THIRD, 0.1, FRONT)]), "bridge": (BLOCK, "f", [(-2 * THIRD, 0.1, FRONT), (2 * THIRD, 0.1, FRONT)]),
    "connect": (BLOCK, "e", [UPPER, LOWER]), "slide": (BLOCK, "e", [UPPER]), "even_out": (BLOCK, "e", [UPPER]), "relax": (BLOCK, "v", [CORNER]),
    "weld": (BLOCK, "v", [CORNER, (THIRD, 0.2, FRONT)]), "dissolve": (BLOCK, "e", [UPPER]), "crease": (BLOCK, "e", [RIM]), "hard": (BLOCK, "e", [RIM]),
    "seam": (BLOCK, "e", [RIM]), "bead": (BLOCK, "e", [RIM]), "extrude_edges": (SHEET, "e", [(0.025, 0, 0.1)]),
    "stitch": (SHEET, "e", [(-0.075, 0, 0.1), (0.075, 0, 0.1)]), "quad_cap": (PLATE, "f", [(0, 0.1, 0)]),
    **{w: (BLOCK, None, []) for w in ("slice", "cut", "brush", "lattice", "bend", "twist", "taper", "stretch", "mirror", "shell", "subdivision", "to_ball",
                                      "shade")},
    "fill": ([BLOCK, OPEN], "e", [RIM]), "boolean": (BLOCK, None, [], BESIDE), "join": (BLOCK, None, [], BESIDE), "follow": (BLOCK, None, [], TWISTED),
    "separate": ([BLOCK, {"id": "two", "kind": "array", "count": 2, "step": [30, 0, 0]}], None, []),
    **{w: (OUTLINE, None, []) for w in ("offset", "thicken", "respace", "extrude_curve", "smooth_curve")},
    "lathe": ({**LINE, "points": [[5, 0, 0], [8, 5, 0], [5, 10, 0]]}, None, []), "sweep": (LINE, None, []), "combine": (OUTLINE, None, [], RING),
    "unwrap": (BLOCK, None, []), "project": (BLOCK, None, []), "straighten_uv": (BLOCK, "f", [MIDDLE]),
    "pack": ([BLOCK, LAID], None, []), "uv_transform": ([BLOCK, LAID], None, []),
    "round_corner": (LINE, "v", [(0.1, 0.05, 0)]),
}
#: tools reached by a name or a place of their own
FOUND = {"transform": "Move", "shell": "Shell", "delete": "Delete", "subdivision": None, "slice": "Slice: draw", "cut": "Cut: click", "brush": "Brush: strokes",
         "lattice": "Lattice: control", "bend": "Bend the part"}
#: stored by what is pointed at: strokes, lines, clicks, a part that is chosen
POINTED = ("slice", "cut", "brush", "boolean", "join", "follow", "combine", "lattice")
#: shares, of which 3 is none
SHARES = {"relax": "0.3", "slide": "0.3"}

CUT = """() => {
    const tray = document.querySelector('footer.tray'), box = tray.getBoundingClientRect();
    const out = [];
    for (const e of tray.querySelectorAll('*')) {
        const r = e.getBoundingClientRect(), own = [...e.childNodes].some((n) => n.nodeType === 3 && n.textContent.trim());
        if (r.width === 0 || (!own && e.tagName !== 'INPUT')) continue;
        const s = getComputedStyle(e);
        const clipped = (s.overflowX !== 'visible' || e.tagName === 'INPUT') && (e.scrollWidth > e.clientWidth + 1 || e.scrollHeight > e.clientHeight + 4);
        const hidden = e.closest('.unsighted') !== null;
        if (!hidden && (clipped || r.right > innerWidth + 1 || r.bottom > box.bottom + 1)) out.push(e.textContent || e.value || e.ariaLabel);
    }
    return out;
}"""
FOCUS = "() => document.activeElement?.getAttribute('aria-label') ?? document.activeElement?.tagName"


def begun(editor, word):
    form, key, spots, *others = ON[word]
    editor.make(parts=[part(*(form if isinstance(form, list) else [form]), name="Body", id="body"), *others])
    editor.page.get_by_role("region", name="Parts").get_by_role("button", name="Body", exact=True).click()
    editor.look("Top" if form == SHEET else "Front")
    if key is not None:
        editor.key(key)
        for i, spot in enumerate(spots):
            editor.click(*spot, modifiers=["Shift"] if i else [])
        editor.picked(f"{len(spots)} ")
    if word == "fill":
        editor.tray.get_by_role("button", name="Pick ▾").click()
        editor.page.get_by_role("menuitem", name="Borders").click()
        editor.picked("12 edges")
    editor.rest()
    return len(editor.steps())


def find(editor, word, *then):
    """By name, at once, with keys pressed right behind it."""
    editor.view.focus()
    editor.page.keyboard.press("Control+k")
    editor.page.keyboard.type(FOUND.get(word) or KINDS[word].title)
    editor.page.keyboard.press("Enter")
    for key in then:
        editor.page.keyboard.press(key)


def armed(editor):
    return editor.tray.get_by_role("button", name="Accept").count() > 0


def walked(editor, word):
    """What a person finds, in the words of the table."""
    page, count = editor.page, begun(editor, word)
    find(editor, word)
    editor.rest()
    if not armed(editor):
        stored = editor.wait_steps(lambda s: len(s) > count)
        assert stored[-1]["kind"] == word
        expect(editor.view).to_be_focused()
        return ["at once, by its name", "none", "–", "–", "Ctrl+Z takes it back", "nothing cut"]
    cut = page.evaluate(CUT)
    assert cut == [], cut
    page.keyboard.press("3")
    field = page.evaluate(FOCUS)
    typed = None if "view of the model" in field else field
    for _ in range(3):  # the number, the trial, the tool
        if armed(editor):
            page.keyboard.press("Escape")
            editor.rest()
    assert not armed(editor) and len(editor.steps()) == count
    if word in POINTED:
        return ["pointing", typed or "none", "–", "ends it", "takes it back, then lays it down", "nothing cut"]
    # at any speed: name, number and Enter in one breath
    find(editor, word, *([*SHARES.get(word, "3"), "Enter"] if typed else ["Enter"]))
    stored = editor.wait_steps(lambda s: len(s) > count)[-1]
    editor.rest()
    assert stored["kind"] == word and not armed(editor)
    expect(editor.view).to_be_focused()
    return ["its name or key", typed or "none", "lands in it" if typed else "–", "stores it and ends", "takes it back, then lays it down", "nothing cut"]


#: so many tests, none so long that others wait for it in the end
PIECES = 10
WORDS = sorted(w for w in ON if FOUND.get(w, "") is not None)


def rows():
    lines = [line for line in TABLE.read_text().splitlines() if line.startswith("| `")] if TABLE.exists() else []
    return {line.split("`")[1]: line for line in lines}


@pytest.mark.parametrize("words", [WORDS[i::PIECES] for i in range(PIECES)], ids=range(PIECES))
def test_every_tool_is_in_the_hand(editor, words):
    told = rows()
    for word in words:
        print("next:", word)
        line = f"| `{word}` | {KINDS[word].title} | " + " | ".join(walked(editor, word)) + " |"
        if os.environ.get("RHYTONIC_WRITE_TABLE"):
            with (TABLE.parent / "tools.new").open("a") as out:
                out.write(line + "\n")
        else:
            assert told.get(word) == line


@pytest.mark.parametrize("word", ["relax", "taper"])
def test_name_number_and_enter_in_one_breath_on_a_slow_processor(editor, word):
    """Each key comes while what the one before began is still under way."""
    count = begun(editor, word)
    cdp = editor.page.context.new_cdp_session(editor.page)
    cdp.send("Emulation.setCPUThrottlingRate", {"rate": 8})
    find(editor, word, *"0.3", "Enter")
    stored = editor.wait_steps(lambda s: len(s) > count)[-1]
    cdp.send("Emulation.setCPUThrottlingRate", {"rate": 1})
    cdp.detach()
    assert stored["kind"] == word and 0.3 in stored.values()


def test_no_tool_is_left_out_of_the_table():
    told = rows()
    missing = {k.word for k in KINDS.values() if not k.form} - set(told)
    assert missing == set() and all("|  |" not in line for line in told.values())
