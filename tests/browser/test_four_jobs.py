"""Four jobs of the harbour from the first click on, each within so many actions of hand."""

import numpy as np
import pytest
from playwright.sync_api import expect

from rhytonic.core.mesh.triangulate import triangulate
from rhytonic.core.recipe.document import read_document
from rhytonic.core.recipe.evaluate import Evaluator
from tests.browser.hands import Hands


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


def sound(mesh):
    t = mesh.topology
    return (t.edge_face_count == 2).all() and volume_of(mesh) > 0


def test_a_ribbed_buoy(editor, hands):
    hands.new_build("Ribbed buoy")
    hands.press(editor.page.locator(".start").get_by_role("radio", name="Cylinder"))
    hands.fields(radius=25, height=60)
    hands.key("Enter")
    editor.wait_steps(lambda s: len(s) == 1)
    editor.settle()
    # both ends, seen from the front by their edges
    hands.key("j")
    hands.key("f")
    hands.box((-0.28, 0.62, 0), (0.28, 0.58, 0))
    hands.box((-0.28, 0.02, 0), (0.28, -0.02, 0), with_=["Shift"])
    editor.picked("2 faces")
    hands.key("i")
    hands.type("5")
    hands.key("Enter")
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
    hands.type("3")
    hands.key("Enter")
    steps = editor.wait_steps(lambda s: len(s) == 6)
    assert steps[5]["height"] == 3
    cage, _ = made(editor)
    assert sound(cage) and (cage.topology.sides == 4).all()
    assert np.hypot(cage.points[:, 0], cage.points[:, 2]).max() == pytest.approx(0.28, abs=2e-3)
    assert hands.count <= 35, hands.count
