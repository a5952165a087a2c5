"""Four jobs of the harbour from the first click on, each within so many actions of hand."""

import numpy as np
import pytest
from playwright.sync_api import expect

from rhytonic.core.mesh.triangulate import triangulate
from rhytonic.core.recipe.document import read_document
from rhytonic.core.recipe.evaluate import Evaluator
from tests.browser.hands import Hands
from tests.browser.test_brief import drawing
from tests.browser.test_the_job import drop_picture


@pytest.fixture
def hands(editor):
    return Hands(editor)


def made(editor, part=0):
    """The part as it stands, evaluated here: cage and surface."""
    document = read_document(editor.document())
    e = Evaluator().run(document.parts[part], document.unit, within=document)
    return e.cage.mesh, e.surface.mesh


def volume_of(mesh):
    triangles, _ = triangulate(mesh)
    a, b, c = (mesh.points[triangles[:, k]] for k in range(3))
    return float(np.einsum("ij,ij->", a, np.cross(b, c)) / 6)


def euler(mesh):
    """2 for a ball, 2 less for each hole through (L. Euler, Elementa doctrinae solidorum, 1758)."""
    t = mesh.topology
    return t.vertex_count - t.edge_count + t.face_count


def sound(mesh):
    t = mesh.topology
    return (t.edge_face_count == 2).all() and volume_of(mesh) > 0


def test_a_ribbed_buoy(editor, hands):
    hands.new_build("Ribbed buoy")
    hands.press(editor.page.locator(".start").get_by_role("radio", name="Cylinder"))
    hands.fields(radius=25, height=60)
    hands.key("Enter")
    editor.wait_document(lambda d: len(d["parts"]) == 1)
    editor.settle()
    # both ends, seen from the front by their edges
    hands.key("j")
    hands.key("a")
    hands.key("f")
    hands.box((-0.28, 0.62, 0), (0.28, 0.58, 0))
    hands.box((-0.28, 0.02, 0), (0.28, -0.02, 0), with_=["Shift"])
    editor.picked("2 faces")
    hands.tool("i", 5)
    editor.wait_steps(lambda s: len(s) == 2)
    hands.find("quad")
    editor.wait_steps(lambda s: len(s) == 3)
    # two ribs
    hands.key("e")
    hands.key("Escape")
    hands.key("d")
    hands.click(0, 0.2, 0.25)
    hands.click(0, 0.4, 0.25)
    editor.wait_steps(lambda s: len(s) == 5)
    hands.key("Escape")
    hands.double(0.0478, 0.2, 0.24)
    hands.double(0.0478, 0.4, 0.24, with_=["Shift"])
    editor.picked("32 edges")
    hands.find("ridge")
    hands.typed(3)
    steps = editor.wait_steps(lambda s: len(s) == 6)
    assert steps[5]["height"] == 3
    cage, _ = made(editor)
    assert sound(cage) and (cage.topology.sides == 4).all()
    assert np.hypot(cage.points[:, 0], cage.points[:, 2]).max() == pytest.approx(0.28, abs=2e-3)
    assert hands.count <= 35, hands.count


def test_a_galley_pot(editor, hands):
    hands.new_build("Galley pot")
    hands.press(editor.page.locator(".start").get_by_role("radio", name="Cylinder"))
    hands.fields(radius=12, height=14)
    hands.key("Enter")
    editor.wait_document(lambda d: len(d["parts"]) == 1)
    editor.settle()
    hands.press(editor.step("cylinder1").get_by_role("button", name="Cylinder"))
    hands.press(editor.step("cylinder1").get_by_label("height segments"))
    hands.typed(4)
    editor.wait_steps(lambda s: s[0].get("height_segments") == 4)
    editor.settle()
    # open above, with a lip
    hands.key("j")
    hands.key("a")
    hands.key("f")
    hands.box((-0.13, 0.15, 0), (0.13, 0.13, 0))
    editor.picked("1 face")
    hands.key("Delete")
    editor.wait_steps(lambda s: len(s) == 2)
    hands.key("e")
    hands.double(0.0234, 0.14, 0.1177)
    editor.picked("16 edges")
    hands.find("extrude edges")
    hands.typed(0.4, 0.8)
    editor.wait_steps(lambda s: len(s) == 3)
    # a foot below
    hands.key("f")
    hands.box((-0.13, 0.01, 0), (0.13, -0.01, 0))
    editor.picked("1 face")
    hands.tool("i", 3)
    hands.tool("x", 1)
    editor.wait_steps(lambda s: len(s) == 5)
    hands.find("quad cap")
    editor.wait_steps(lambda s: len(s) == 6)
    # a handle: two arms off the wall, bridged
    hands.key("r")
    hands.click(0.115, 0.1225, 0.0234)
    hands.click(0.115, 0.0525, 0.0234, with_=["Shift"])
    editor.picked("2 faces")
    hands.tool("x", 2.5)
    hands.tool("x", 2)
    editor.wait_steps(lambda s: len(s) == 8)
    editor.settle()
    hands.key("j")
    hands.box((0.132, 0.115, 0), (0.172, 0.095, 0))
    hands.box((0.132, 0.08, 0), (0.172, 0.06, 0), with_=["Shift"])
    editor.picked("2 faces")
    hands.find("bridge")
    hands.typed(2)
    editor.wait_steps(lambda s: len(s) == 9)
    # thick, and smooth
    hands.find("shell")
    hands.typed(0.6)
    editor.wait_steps(lambda s: len(s) == 10)
    hands.press(editor.page.get_by_role("button", name="Shape"))
    hands.press(editor.page.get_by_label("Smooth surface", exact=True))
    steps = editor.wait_steps(lambda s: len(s) == 11)
    assert [s["kind"] for s in steps[2:]] == ["extrude_edges", "inset", "extrude", "quad_cap", "extrude", "extrude", "bridge", "shell", "subdivision"]
    cage, surface = made(editor)
    assert sound(surface) and (surface.topology.sides == 4).all()
    assert np.ptp(cage.points[:, 1]) == pytest.approx(0.154, abs=2e-3) and cage.points[:, 0].max() == pytest.approx(0.163, abs=2e-3)
    assert surface.topology.shells.max() == 0 and euler(surface) == -2  # one piece: the handle's hole, and that of the hollow in it
    assert hands.count <= 70, hands.count


def test_a_lamp_oil_can(editor, hands):
    hands.new_build("Lamp-oil can")
    hands.fields(width=14, height=20, depth=8)
    hands.key("Enter")
    editor.wait_document(lambda d: len(d["parts"]) == 1)
    editor.settle()
    # chamfered corners, ends cut to quads
    hands.key("u")
    hands.key("a")
    hands.key("e")
    for i, (x, z) in enumerate(((-0.07, -0.04), (0.07, -0.04), (-0.07, 0.04), (0.07, 0.04))):
        hands.box((x - 0.01, 0, z - 0.01), (x + 0.01, 0, z + 0.01), with_=["Shift"] if i else [])
    editor.picked("4 edges")
    hands.tool("b", 1.5)
    editor.wait_steps(lambda s: len(s) == 2)
    hands.key("j")
    hands.key("a")
    hands.key("f")
    hands.box((-0.08, 0.21, 0), (0.08, 0.19, 0))
    hands.box((-0.08, 0.01, 0), (0.08, -0.01, 0), with_=["Shift"])
    editor.picked("2 faces")
    hands.find("quad cap")
    editor.wait_steps(lambda s: len(s) == 3)
    # loops round
    hands.key("e")
    hands.key("Escape")
    hands.key("d")
    for height in (0.05, 0.08, 0.12, 0.15):
        hands.click(0.055, height, 0.04)
    editor.wait_steps(lambda s: len(s) == 7)
    hands.key("Escape")
    # shoulders, and a round spout
    hands.key("f")
    hands.box((-0.08, 0.21, 0), (0.08, 0.19, 0))
    editor.picked("4 faces")
    hands.tool("l", 0.7)
    hands.tool("i", 1)
    hands.find("round out")
    hands.typed(1.5)
    hands.tool("x", 4)
    editor.wait_steps(lambda s: len(s) == 11)
    # a grip
    hands.press(editor.page.get_by_label("View", exact=True).get_by_text("Left", exact=True))
    hands.click(-0.07, 0.065, 0)
    hands.click(-0.07, 0.135, 0, with_=["Shift"])
    editor.picked("2 faces")
    hands.tool("x", 2)
    hands.tool("x", 1.5)
    editor.wait_steps(lambda s: len(s) == 13)
    hands.key("j")
    hands.box((-0.11, 0.085, 0), (-0.085, 0.075, 0))
    hands.box((-0.11, 0.125, 0), (-0.085, 0.115, 0), with_=["Shift"])
    editor.picked("2 faces")
    hands.find("bridge")
    hands.typed(2)
    editor.wait_steps(lambda s: len(s) == 14)
    # smooth, its rims held
    hands.press(editor.page.get_by_role("button", name="Shape"))
    hands.press(editor.page.get_by_label("Smooth surface", exact=True))
    editor.wait_steps(lambda s: len(s) == 15)
    hands.button("Support loops")
    steps = editor.wait_steps(lambda s: len(s) > 15)
    assert steps[-1]["kind"] == "subdivision" and {s["kind"] for s in steps[14:-1]} == {"insert_loop"}
    _, surface = made(editor)
    assert sound(surface) and (surface.topology.sides == 4).all() and euler(surface) == 0  # the grip's hole
    assert surface.points[:, 1].max() > 0.22 and surface.points[:, 0].min() < -0.1
    assert hands.count <= 90, hands.count


def test_the_handcart_sheet(editor, hands):
    """A sheet with three views of the handcart, 110 wide: from above over the front, the right side beside it."""
    front, top, right = (-16, 3, -2, 13), (-16, 18, -2, 26), (4, 3, 12, 13)
    page = editor.page
    hands.new_build("Handcart")
    drop_picture(page, drawing(front, top, right))
    hands.count += 1
    expect(page.get_by_label("Picture width")).to_be_focused()
    hands.key("Enter")
    editor.wait_document(lambda d: d.get("boards"))
    hands.button("Cut up …")
    stage = page.get_by_label("The drawing to cut up")
    expect(stage.locator("svg")).to_be_visible()
    box = stage.bounding_box()

    def place(x, y):
        return box["x"] + box["width"] * (x / 40 + 0.5), box["y"] + box["height"] * (1 - y / 40)

    for x0, y0, x1, y1 in (front, top, right):
        start, end = place(x0 - 0.5, y0 - 0.5), place(x1 + 0.5, y1 + 0.5)
        editor.drag(start, (end[0] - start[0], end[1] - start[1]))
        hands.count += 1
    hands.press(page.get_by_text("Known length"))
    for x in (-16, -2):
        page.mouse.click(*place(x, 3))
        hands.count += 1
    hands.typed(110)  # Enter does what the button does
    boards = editor.wait_document(lambda d: len(d["boards"]) == 3)["boards"]
    assert [b.get("view", "front") for b in boards] == ["front", "top", "right"]
    metres = 0.01 * 110 / 14  # one centimetre of the drawing
    # each stands by its frame, half a centimetre of paper below it: the wheels onto the floor
    for view, point, onto in (("front", (0, 0.5, 0), (0, 0, 0)), ("right", (0, 0.5, 0), (0, 0, 0))):
        hands.press(page.locator(".board").nth({"front": 0, "right": 2}[view]))
        hands.button("Line up")
        hands.click(*(c * metres for c in point))
        hands.click(*(c * metres for c in onto))
    boards = editor.wait_document(lambda d: d["boards"][2]["at"] != boards[2]["at"])["boards"]
    for i in range(3):
        hands.press(page.locator(".board").nth(i))
        hands.button("Outline …")
        expect(page.get_by_text("one ring", exact=False)).to_be_visible()
        hands.button("Take this outline")
        editor.wait_document(lambda d, n=i: d["boards"][n].get("outline"))
    boards = editor.document()["boards"]
    size = {}
    for b in boards:
        xs, ys = zip(*[p for ring in b["outline"]["rings"] for p in ring], strict=True)
        size[b.get("view", "front")] = (max(xs) - min(xs), max(ys) - min(ys))
        if b.get("view", "front") != "top":
            assert min(ys) + b["at"][1] == pytest.approx(0, abs=1)
    assert size["front"] == pytest.approx((110, 10 * 110 / 14), rel=0.02)
    assert size["top"] == pytest.approx((110, 8 * 110 / 14), rel=0.02)
    assert size["right"] == pytest.approx((8 * 110 / 14, 10 * 110 / 14), rel=0.02)
    assert hands.count <= 45, hands.count
