"""Drawing files against what others make and read of them: svgpathtools and dxfgrabber (old, used here alone), and ezdxf to make some."""

import io
import json
import re

import dxfgrabber
import ezdxf
import numpy as np
import pytest
import svgpathtools

from rhytonic.cli.__main__ import main
from rhytonic.core.files.limits import BadModel
from rhytonic.core.files.read import read_drawing
from rhytonic.core.handover.curves import drawing_of, recipe_of
from rhytonic.core.inspect.report import report
from rhytonic.core.recipe.built import build
from rhytonic.core.recipe.document import load
from tests.helpers import together

OUTLINES = [
    {"name": "Plate", "steps": [{"kind": "rectangle", "size": [60, 40], "radius": 8}]},
    {"name": "Brace", "steps": [{"kind": "path", "points": [[0, 0, 0], {"at": [10, 0, 0], "corner": "fillet", "size": 3}, [10, 20, 0]]}]},
    {"name": "Handle", "steps": [{"kind": "path", "closed": True, "points": [{"at": p, "corner": "soft"} for p in ([0, 0, 0], [20, 0, 0], [25, 15, 0], [0, 12, 0])]}]}]


def curves_of(recipe):
    document = load(json.dumps(recipe).encode())
    parts = build(document)
    return {p["name"]: p["curve"] for p in report(document, parts)["parts"]}, {p.name: p.curve for p in parts}


def svg(body, **attributes):
    told = " ".join(f'{k.replace("_", "-")}="{v}"' for k, v in {"xmlns": "http://www.w3.org/2000/svg", **attributes}.items())
    return f"<svg {told}>{body}</svg>".encode()


def written(extension, unit="mm", parts=OUTLINES):
    document = together(*parts, unit=unit)
    return drawing_of(document, build(document), extension), build(document)


def test_an_svg_read_by_another_library_has_our_lengths(tmp_path):
    """svgpathtools: lengths of its own arcs and Bézier curves, by quadrature."""
    data, parts = written(".svg")
    (tmp_path / "out.svg").write_bytes(data)
    paths, attributes = svgpathtools.svg2paths(str(tmp_path / "out.svg"))
    assert [a["id"] for a in attributes] == ["Plate", "Brace", "Handle"]
    plate, brace, handle = paths
    assert plate.length() == pytest.approx(2 * (44 + 24) + 2 * np.pi * 8, rel=1e-9)
    assert brace.length() == pytest.approx(7 + 17 + 3 * np.pi / 2, rel=1e-9)
    assert handle.length() == pytest.approx(parts[2].curve.divided.length * 1000, rel=5e-3)
    low = min(p.bbox()[2] for p in paths), max(p.bbox()[3] for p in paths)
    assert low == pytest.approx((-20, 20))  # y down: the rectangle about the origin


@pytest.mark.parametrize("unit, size", [("mm", 1), ("cm", 1), ("in", 1)])
def test_a_dxf_read_by_another_library_has_our_bulges(unit, size):
    """dxfgrabber: polylines with bulges in the build's unit; a quarter turn bulges by tan(π/8)."""
    data, _ = written(".dxf", unit)
    drawing = dxfgrabber.read(io.StringIO(data.decode()))
    assert drawing.header["$INSUNITS"] == {"mm": 4, "cm": 5, "in": 1}[unit]
    by_layer = {e.layer: e for e in drawing.entities}
    plate, brace = by_layer["Plate"], by_layer["Brace"]
    assert plate.is_closed and not brace.is_closed
    bulges = sorted(round(b, 9) for b in plate.bulge)
    assert bulges == pytest.approx([0] * 4 + [np.tan(np.pi / 8)] * 4)
    assert np.ptp([p[0] for p in plate.points]) == pytest.approx(60 * size)
    assert by_layer["Handle"].dxftype == "SPLINE" and by_layer["Handle"].degree == 3


@pytest.mark.parametrize("extension", [".svg", ".dxf"])
def test_what_is_written_is_read_back(extension):
    data, parts = written(extension)
    told, _ = curves_of(recipe_of(read_drawing(data, f"x{extension}")))
    assert sorted(told) == ["Brace", "Handle", "Plate"]
    for part in parts:
        fine = 4e-3 if part.name != "Handle" else 1e-3  # arcs come back as soft spans, of which there are more
        assert told[part.name]["closed"] == bool(part.curve.wires.closed[0])
        assert told[part.name]["length"] == pytest.approx(part.curve.divided.length * 1000, rel=fine)
    circle, = curves_of(recipe_of(read_drawing(svg('<circle r="10" cx="5"/>'), "x.svg")))[1].values()
    on = np.linalg.norm(circle.divided.points[:, :2] / (0.0254 / 96) - [5, 0], axis=1)
    np.testing.assert_allclose(on, 10, rtol=5e-6)


def test_transforms_units_and_holes_of_svg():
    """Values worked out by hand: CSS pixels are 1/96 inch; a view box scales; transforms nest; inner outlines are holes."""
    data = svg('<g transform="translate(10,0) scale(2)"><path id="frame" d="M0 0 h20 v10 h-20 z M5 2 v6 h10 v-6 z"/></g>'
               '<rect id="bar" x="0" y="60" width="30" height="4" transform="rotate(90 0 60)"/><line x1="0" y1="0" x2="3" y2="4"/>',
               width="100mm", height="100mm", viewBox="0 0 100 100")
    told, curves = curves_of(recipe_of(read_drawing(data, "x.svg")))
    assert told["Frame"]["area"] == pytest.approx(40 * 20 - 20 * 12) and told["Frame"]["closed"]
    low, high = curves["Frame"].points.min(axis=0) * 1000, curves["Frame"].points.max(axis=0) * 1000
    assert low[:2] == pytest.approx([10, -20]) and high[:2] == pytest.approx([50, 0])
    assert told["Bar"]["area"] == pytest.approx(120) and np.ptp(curves["Bar"].points[:, 1]) * 1000 == pytest.approx(30)
    plain = curves_of(recipe_of(read_drawing(svg('<rect width="96" height="48"/>'), "x.svg")))[0]
    assert next(iter(plain.values()))["area"] == pytest.approx(25.4 * 12.7)


def test_lines_and_arcs_of_dxf_are_joined_and_blocks_opened():
    """Made with ezdxf: a slot of two lines and two half circles; a block put in twice, once scaled; splines and ellipses."""
    drawing = ezdxf.new(units=5)
    space = drawing.modelspace()
    space.add_line((0, 0), (10, 0), dxfattribs={"layer": "SLOT"})
    space.add_line((10, 4), (0, 4), dxfattribs={"layer": "SLOT"})
    for at, start in (((10, 2), -90), ((0, 2), 90)):
        polyline = [(at[0], at[1] - 2, 1.0 if start < 0 else 0), (at[0], at[1] + 2, 0)] if start < 0 else [(at[0], at[1] + 2, 1.0), (at[0], at[1] - 2, 0)]
        space.add_lwpolyline(polyline, format="xyb", dxfattribs={"layer": "SLOT"})
    block = drawing.blocks.new("HOLE")
    block.add_circle((0, 0), 3)
    space.add_blockref("HOLE", (20, 0))
    space.add_blockref("HOLE", (40, 0), dxfattribs={"xscale": 2, "yscale": 2})
    space.add_ellipse((0, 30), (8, 0), 0.5)
    space.add_spline([(0, 50), (10, 55), (20, 50), (30, 55)])
    space.add_text("not a curve")
    text = io.StringIO()
    drawing.write(text)
    outlines = read_drawing(text.getvalue().encode(), "x.dxf")
    assert outlines.notes == ("left out: TEXT",)
    told, _ = curves_of(recipe_of(outlines, "cm"))
    assert told["Slot"]["closed"] and told["Slot"]["area"] == pytest.approx(40 + np.pi * 4, rel=5e-3)
    round_ = sorted(c["area"] for n, c in told.items() if c["closed"] and n != "Slot")
    assert round_ == pytest.approx(sorted([np.pi * 9, np.pi * 36, np.pi * 8 * 4]), rel=2e-2)
    assert sum(not c["closed"] for c in told.values()) == 1


@pytest.mark.parametrize("data, name, said", [
    (b"", "x.svg", "no SVG"), (b"<html/>", "x.svg", "begins with 'html'"), (svg(""), "x.svg", "draws nothing"),
    (b'<?xml version="1.0"?><!DOCTYPE s [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;">]><svg xmlns="http://www.w3.org/2000/svg"><text>&b;</text></svg>', "x.svg", "no SVG that is read"),
    (svg('<g id="a"><use href="#a"/></g>'), "x.svg", "copies something into itself"),
    (svg('<g id="a"><rect width="1" height="1"/></g>' + "".join(
        f'<g id="g{i}">' + "".join(f'<use href="#{"a" if i == 0 else f"g{i - 1}"}"/>' for _ in range(10)) + "</g>" for i in range(8))), "x.svg", "copies counted"),
    (b"<svg" + b" " * (21 * 2**20), "x.svg", "at most 20 MB"),
    (svg('<path d="M0 0 L 1e300 1e300"/>'), "x.svg", "far too large"),
    (b"0\nSECTION\n", "x.dxf", "no DXF that is read"), (b"\x00\x01\x02", "x.dxf", "no DXF"), (b"hello", "x.txt", "known are SVG and DXF"),
])
def test_bad_drawings_are_refused_with_a_reason(data, name, said):
    with pytest.raises(BadModel, match=re.escape(said)):
        read_drawing(data, name)


def test_the_command_makes_a_recipe_and_writes_it_back(tmp_path, capsys):
    source, recipe, back = tmp_path / "plan.svg", tmp_path / "plan.rhy.json", tmp_path / "back.dxf"
    source.write_bytes(svg('<path id="oar" d="M0 0 C 10 0 20 10 20 20 L 0 20 Z"/>', width="20mm", height="20mm", viewBox="0 0 20 20"))
    assert main(["curve", str(source), "--out", str(recipe)]) == 0
    assert json.loads(capsys.readouterr().out)["parts"] == ["Oar"]
    assert main(["build", str(recipe), "--out", str(back)]) == 0
    told = json.loads(capsys.readouterr().out)["parts"][0]
    assert told["curve"]["closed"] and told["faces"] == 0
    again, = curves_of(recipe_of(read_drawing(back.read_bytes(), "back.dxf")))[0].values()
    assert again["area"] == pytest.approx(told["curve"]["area"], rel=1e-3)
    assert main(["curve", str(tmp_path / "none.svg"), "--out", str(recipe)]) == 2
    assert "cannot be read" in capsys.readouterr().err
    box = tmp_path / "box.rhy.json"
    box.write_text(json.dumps({"format": "rhytonic", "version": 1, "unit": "cm", "parts": [{"name": "Box", "steps": [{"kind": "box", "size": [1, 1, 1]}]}]}))
    assert main(["build", str(box), "--out", str(back)]) == 2
    assert "no part is a curve" in capsys.readouterr().err


def test_curves_of_several_planes_are_not_one_drawing():
    from rhytonic.core.files.write import CannotWrite

    lying = {"name": "Lying", "steps": [{"kind": "rectangle", "size": [3, 2], "plane": "xz"}]}
    bent = {"name": "Bent", "steps": [{"kind": "path", "points": [[0, 0, 0], [1, 0, 0], [1, 1, 0], [1, 1, 1]]}]}
    for parts, said in (([OUTLINES[0], lying], "lie in different planes"), ([bent], "leaves its plane")):
        with pytest.raises(CannotWrite, match=said):
            written(".svg", parts=parts)
    data, _ = written(".svg", parts=[lying])
    path, = svgpathtools.svg2paths(io.StringIO(data.decode()))[0]
    assert path.length() == pytest.approx(10)


def _circle(header=""):
    return f"{header}0\nSECTION\n2\nENTITIES\n0\nCIRCLE\n8\n0\n10\n0\n20\n0\n30\n0\n40\n60\n0\nENDSEC\n0\nEOF\n".encode()


@pytest.mark.parametrize("header", ["", "0\nSECTION\n2\nHEADER\n9\n$INSUNITS\n70\n0\n0\nENDSEC\n", "0\nSECTION\n2\nHEADER\n9\n$INSUNITS\n70\n99\n0\nENDSEC\n"])
def test_a_dxf_that_tells_no_unit_says_what_was_assumed(header):
    """$INSUNITS: 0 is unitless, 4 millimetres (DXF reference, group codes of the header section); the header may be missing."""
    assumed = read_drawing(_circle(header), "plate.dxf")
    assert (assumed.metres, assumed.unit) == (0.001, "mm") and "the file tells no unit: millimetres were assumed" in assumed.notes
    told = read_drawing(_circle(header), "plate.dxf", "in")
    assert (told.metres, told.unit) == (0.0254, "in") and "the file tells no unit: inches were taken" in told.notes


def test_a_dxf_that_tells_its_unit_is_believed():
    drawing = read_drawing(_circle("0\nSECTION\n2\nHEADER\n9\n$INSUNITS\n70\n5\n0\nENDSEC\n"), "plate.dxf", "in")
    assert (drawing.metres, drawing.unit, drawing.notes) == (0.01, None, ())
