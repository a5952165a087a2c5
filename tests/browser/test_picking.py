"""What a click takes."""


from playwright.sync_api import expect

from tests.api.conftest import BOX, part


def test_faces_edges_vertices_by_click_shift_and_alt(page, editor):
    editor.make(BOX)
    editor.click(0, 0.2, 0)
    editor.picked("1 face · 300 cm²")
    editor.click(0, 0.1, 0.15, modifiers=["Shift"])
    editor.picked("2 faces")
    editor.click(0, 0.2, 0, modifiers=["Alt"])
    editor.picked("1 face · 200 cm²")
    editor.click(0, 0.1, 0.15, modifiers=["Shift"])
    editor.picked("nothing picked")
    editor.key("e")
    editor.click(0, 0.2, 0.15)
    editor.picked("1 edge · 10 cm")
    editor.key("v")
    editor.picked("2 vertices")  # the pick went along
    editor.click(0.05, 0.2, 0.15)
    editor.picked("1 vertex · 5, 20, 15 cm")


def test_a_second_click_takes_what_lies_behind(page, editor):
    editor.make(BOX)
    editor.click(0, 0.2, 0)
    editor.picked("300 cm²")
    editor.click_again(0, 0.2, 0)
    editor.rest()
    editor.key("Escape")
    editor.picked("nothing picked")


def test_clicking_beside_everything_unpicks(page, editor):
    editor.make(BOX)
    editor.click(0, 0.2, 0)
    editor.picked("1 face")
    box = editor.view.bounding_box()
    page.mouse.click(box["x"] + 20, box["y"] + box["height"] / 2)
    editor.picked("nothing picked")


def test_hover_shows_what_a_click_takes_without_drawing_the_model(page, editor):
    editor.make(BOX)
    page.evaluate("performance.clearMeasures()")
    page.mouse.move(*editor.at(0, 0.2, 0))
    editor.rest()
    pixel = """([x, y]) => { const c = document.querySelector('canvas.overlay'), b = c.getBoundingClientRect();
        const d = c.getContext('2d').getImageData(x - b.left - 4, y - b.top - 4, 9, 9).data;
        const n = { teal: 0, berry: 0 };
        for (let i = 0; i < d.length; i += 4) if (d[i + 3] > 60) { if (d[i] > 140 && d[i + 1] < 60) n.berry++; if (d[i] < 60 && d[i + 1] > 90) n.teal++; }
        return n; }"""

    def seen():
        """Along the front edge of the top, a dash or the next."""
        found = [page.evaluate(pixel, editor.at(x, 0.2, 0.15)) for x in (-0.02, -0.01, 0, 0.01, 0.02)]
        return sum(f["teal"] for f in found), sum(f["berry"] for f in found)

    teal, berry = seen()
    assert teal > 0 and berry == 0  # unlike what is picked
    assert page.evaluate("performance.getEntriesByName('rhytonic:drawn').length") == 0
    page.mouse.down()
    page.mouse.move(*editor.at(0.02, 0.1, 0.1))
    page.mouse.up()
    page.mouse.move(*editor.at(0.3, 0.3, 0.3))
    editor.rest()
    assert seen()[0] == 0  # and gone after a box


def test_clicking_another_part_makes_it_current(page, editor, server):
    editor.make(BOX, parts=[part(BOX), part(BOX, name="Post", placement={"translate": [30, 0, 0]})])
    editor.click(0.3, 0.2, 0)
    editor.picked("1 face")
    expect(page.get_by_text("Recipe of Post")).to_be_visible()


def test_the_smooth_surface_picks_the_cage(page, editor):
    editor.make(BOX, {"id": "soft", "kind": "subdivision", "levels": 2})
    editor.click(0, 0.16, 0)
    editor.picked("1 face · 300 cm²")


def test_a_locked_part_is_not_picked(page, editor):
    editor.make(BOX)
    page.get_by_label("Lock Bollard").click()
    expect(page.get_by_label("Unlock Bollard")).to_be_visible()
    editor.click(0, 0.2, 0)
    editor.picked("nothing picked")


def test_another_kind_of_pick_begins_anew_at_the_same_spot(editor):
    """A face, then E and a click on the same place: the edge there is the first, not the one behind it."""
    editor.make(BOX)
    editor.look("Front")
    spot = (0.049, 0.1, 0.15)
    editor.click(*spot)
    editor.picked("1 face")
    editor.key("e")
    editor.click(*spot)
    editor.picked("1 edge")
    first = editor.page.get_by_test_id("picked").inner_text()
    editor.key("Escape")
    editor.page.mouse.move(5, 5)
    editor.click(0, 0.3, 0.15)
    editor.click(*spot)
    editor.picked("1 edge")
    assert editor.page.get_by_test_id("picked").inner_text() == first
    expect(editor.page.locator(".hint")).not_to_contain_text("2 of")
