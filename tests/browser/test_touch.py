"""Fingers and pens: two fingers zoom and shift, one on the rim turns, one elsewhere picks and drags; a pen's pressure reaches brushes."""

import numpy as np

from .hands import Hands

CUBE = {"id": "body", "kind": "box", "size": [20, 20, 20], "segments": [8, 8, 8]}


def by(place, x, y):
    return np.add(place, (x, y))


class Fingers:
    def __init__(self, editor):
        self.editor = editor
        self.cdp = editor.page.context.new_cdp_session(editor.page)

    def send(self, kind, *points):
        self.cdp.send("Input.dispatchTouchEvent", {"type": kind, "touchPoints": [{"x": float(x), "y": float(y), "id": i} for i, (x, y) in enumerate(points)]})

    def drag(self, start, end, steps=5):
        """Each finger from one place to another, all at once."""
        start, end = np.asarray(start, float), np.asarray(end, float)
        self.send("touchStart", *start)
        for i in range(1, steps + 1):
            self.send("touchMove", *(start + (end - start) * i / steps))
        self.send("touchEnd")
        self.editor.rest()


def test_two_fingers_zoom_and_shift_a_view_and_pick_nothing(editor):
    editor.make(CUBE)
    editor.look("Front")
    fingers = Fingers(editor)
    low, high = (np.array(editor.at(*p)) for p in ((0, 0, 0), (0, 0.1, 0)))
    middle = (low + high) / 2
    fingers.drag([by(middle, -40, 0), by(middle, 40, 0)], [by(middle, -80, 30), by(middle, 80, 30)])
    a, b = (np.array(editor.at(*p)) for p in ((0, 0, 0), (0, 0.1, 0)))
    assert np.allclose(np.linalg.norm(b - a) / np.linalg.norm(high - low), 2, rtol=0.02)
    assert np.allclose((a + b) / 2, by(middle, 0, 30), atol=2)
    editor.picked("nothing picked")
    assert len(editor.steps()) == 1
    # one finger picks by a tap, several by a drag
    fingers.drag([editor.at(0.01, 0.1, 0.1)], [editor.at(0.01, 0.1, 0.1)], steps=1)
    editor.picked("1 face")


def test_one_finger_on_the_rim_turns_and_two_shift_the_3d_view(editor):
    editor.make(CUBE)
    fingers = Fingers(editor)
    box = editor.view.bounding_box()
    rim = np.array([box["x"] + 25, box["y"] + box["height"] / 2])
    before = np.array([editor.at(*p) for p in ((0.1, 0, 0.1), (-0.1, 0.2, 0.1))])
    fingers.drag([rim], [by(rim, 0, 60)])
    turned = np.array([editor.at(*p) for p in ((0.1, 0, 0.1), (-0.1, 0.2, 0.1))])
    assert np.abs(turned - before).max() > 10
    middle = np.array([box["x"] + box["width"] / 2, box["y"] + box["height"] / 2])
    fingers.drag([by(middle, -50, 0), by(middle, 50, 0)], [by(middle, -20, 25), by(middle, 80, 25)])
    shifted = np.array([editor.at(*p) for p in ((0.1, 0, 0.1), (-0.1, 0.2, 0.1))])
    assert np.allclose(shifted - turned, [30, 25], atol=6)


def test_a_finger_that_began_a_drag_gives_it_up_for_two(editor):
    editor.make(CUBE)
    editor.look("Front")
    editor.click(0.01, 0.1, 0.1)
    Hands(editor).key("m")
    fingers = Fingers(editor)
    x, y = editor.at(0.0125, 0.0875, 0.1)
    fingers.send("touchStart", (x, y))
    fingers.send("touchMove", (x + 30, y))
    fingers.send("touchStart", (x + 30, y), (x + 120, y + 40))
    fingers.send("touchMove", (x + 40, y), (x + 130, y + 40))
    fingers.send("touchEnd")
    editor.rest()
    assert len(editor.steps()) == 1


def test_a_pens_pressure_reaches_the_brush(editor):
    editor.make(CUBE)
    editor.look("Front")
    Hands(editor).key("Shift+K")
    editor.tray.get_by_label("brush", exact=True).click(force=True)
    editor.page.locator(".ant-select-item-option", has_text="nflate").click()
    editor.rest()
    cdp = editor.page.context.new_cdp_session(editor.page)
    x, y = editor.at(-0.05, 0.1, 0.1)

    def pen(kind, at, force, buttons=1):
        cdp.send("Input.dispatchMouseEvent", {"type": kind, "x": at[0], "y": at[1], "button": "left" if kind != "mouseMoved" or buttons else "none",
                                              "buttons": buttons, "pointerType": "pen", "force": force, "clickCount": 1})

    pen("mouseMoved", (x, y), 0, 0)
    pen("mousePressed", (x, y), 0.2)
    for i in range(1, 9):
        pen("mouseMoved", (x + 10 * i, y), 0.2 + 0.05 * i)
        editor.frames(1)
    pen("mouseReleased", (x + 80, y), 0, 0)
    step = editor.wait_steps(lambda s: len(s) == 2)[1]
    pressures = [p[3] for p in step["strokes"][0]["points"]]
    assert min(pressures) < 0.35 and max(pressures) > 0.5
