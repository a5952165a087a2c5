"""``./rhytonic fit`` as a caller sees it: figures, overlay, exit code, one line on standard error."""

import io
import json

import pytest
from PIL import Image, ImageDraw

from rhytonic.cli.__main__ import main

CHEST = {"format": "rhytonic", "version": 1, "unit": "cm", "parts": [
    {"name": "Chest", "steps": [{"id": "body", "kind": "box", "size": [20, 30, 10]}]},
    {"name": "Guide", "hidden": True, "steps": [{"id": "sheet", "kind": "box", "size": [40, 40, 40]}]}]}


def silhouette(path, box, size=(450, 400), ground="white", mode="RGB"):
    """A picture of 10 pixels to the centimetre with one black box on it, corners in centimetres from the lower middle."""
    image = Image.new(mode, size, ground)
    x0, y0, x1, y1 = box
    middle, height = size[0] / 2, size[1]
    ImageDraw.Draw(image).rectangle([middle + 10 * x0, height - 10 * y1, middle + 10 * x1 - 1, height - 10 * y0 - 1], fill="black")
    image.save(path)
    return path


@pytest.fixture
def file(tmp_path):
    path = tmp_path / "chest.rhy.json"
    path.write_text(json.dumps(CHEST))
    return path


def fit(capsys, file, board, *more, view="front", width=45):
    assert main(["fit", str(file), "--board", str(board), "--view", view, "--width", str(width), *map(str, more)]) == 0
    out = capsys.readouterr()
    assert out.err == ""
    return json.loads(out.out)


def refused(capsys, *argv):
    assert main(["fit", *map(str, argv)]) == 2
    out = capsys.readouterr()
    assert out.out == "" and out.err.count("\n") == 1
    return out.err


def test_a_picture_that_fits(capsys, file, tmp_path):
    told = fit(capsys, file, silhouette(tmp_path / "a.png", (-10, 0, 10, 30)))
    assert told["iou"] == pytest.approx(1, abs=1e-4) and told["worst"] < 0.06 and told["mean"] < 0.01
    assert len(told["worst_at"]) == 2 and told["outline"]["model"] == 4 and told["outline"]["picture"] >= 4
    assert told["unit"] == "cm" and told["view"] == "front"


def test_figures_are_in_the_unit_of_the_file(capsys, file, tmp_path):
    """The picture's box is 2 wider on the right: 20·30 of 22·30 shared, 2 off at worst."""
    told = fit(capsys, file, silhouette(tmp_path / "a.png", (-10, 0, 12, 30)))
    assert told["iou"] == pytest.approx(600 / 660, abs=1e-3)
    assert told["worst"] == pytest.approx(2, abs=0.1)
    assert abs(told["worst_at"][0]) > 9.9


@pytest.mark.parametrize("argv", [("--at", "-3,2"), ("--at=-3,2",)])
def test_the_picture_stands_where_it_is_told(capsys, file, tmp_path, argv):
    moved = silhouette(tmp_path / "a.png", (-7, 0, 13, 28), size=(450, 400))  # seen from 3 to the left and 2 up
    told = fit(capsys, file, moved, *argv)
    assert told["iou"] == pytest.approx(600 / 600 * 28 / 30, abs=1e-3)


def test_views_and_widths(capsys, file, tmp_path):
    side = silhouette(tmp_path / "a.png", (-5, 0, 5, 30))
    assert fit(capsys, file, side, view="right")["iou"] == pytest.approx(1, abs=1e-3)
    assert fit(capsys, file, side, view="left", width=90)["iou"] == pytest.approx(0.25, abs=1e-3)
    plan = silhouette(tmp_path / "b.png", (-10, 0, 10, 10))
    assert fit(capsys, file, plan, "--at", "0,-5", view="top")["iou"] == pytest.approx(1, abs=1e-3)


def test_hidden_parts_count_only_when_named(capsys, file, tmp_path):
    picture = silhouette(tmp_path / "a.png", (-20, 0, 20, 40))
    assert fit(capsys, file, picture)["iou"] == pytest.approx(600 / 1600, abs=1e-3)
    assert fit(capsys, file, picture, "--part", "Guide")["iou"] == pytest.approx(1, abs=1e-3)


def test_transparency_tells_the_outline(capsys, file, tmp_path):
    picture = silhouette(tmp_path / "a.png", (-10, 0, 10, 30), ground=(0, 0, 0, 0), mode="RGBA")
    assert fit(capsys, file, picture)["iou"] == pytest.approx(1, abs=1e-4)


def test_the_overlay_is_a_picture_with_both_outlines(capsys, file, tmp_path):
    out = tmp_path / "over.png"
    fit(capsys, file, silhouette(tmp_path / "a.png", (-10, 0, 14, 26)), "--overlay", out)
    colours = {c for _, c in Image.open(io.BytesIO(out.read_bytes())).convert("RGB").getcolors(10**6)}
    assert (179, 20, 107) in colours and (30, 111, 120) in colours  # outside and inside


def test_refusals_name_file_and_cause(capsys, file, tmp_path):
    picture = silhouette(tmp_path / "a.png", (-10, 0, 10, 30))
    base = ["--board", picture, "--view", "front", "--width", 45]
    assert "none.json: cannot be read" in refused(capsys, tmp_path / "none.json", *base)
    assert "there is no part 'Lid'" in refused(capsys, file, *base, "--part", "Lid")
    notes = tmp_path / "notes.png"
    notes.write_text("notes")
    assert "notes.png: this is not a picture" in refused(capsys, file, "--board", notes, "--view", "front", "--width", 45)
    blank = tmp_path / "blank.png"
    Image.new("RGB", (20, 20), "white").save(blank)
    assert "stands out" in refused(capsys, file, "--board", blank, "--view", "front", "--width", 45)
    assert "cannot be read" in refused(capsys, file, "--board", tmp_path / "no.png", "--view", "front", "--width", 45)
    with pytest.raises(SystemExit):
        main(["fit", str(file), "--board", str(picture), "--view", "front", "--width", "-4"])
