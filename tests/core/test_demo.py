"""The demo build measures what its drawings say."""

import json
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from rhytonic.core.brief.board import Board
from rhytonic.core.brief.tracing import Tracing
from rhytonic.core.fit.boards import fit
from rhytonic.core.inspect.report import report
from rhytonic.core.mesh.measure import measure
from rhytonic.core.picture.decode import decode
from rhytonic.core.picture.trace import to_rings, trace
from rhytonic.core.recipe.built import build
from rhytonic.core.recipe.change_unit import in_unit
from rhytonic.core.recipe.document import dump, load, read_document
from rhytonic.core.recipe.evaluate import Evaluator
from rhytonic.core.size.judge import judge
from rhytonic.core.size.scene import Scene
from rhytonic.demo import drawings, lantern, quay
from rhytonic.launch.machine import ROOT

WHOLE = {"format": "rhytonic", "version": 1, "unit": "cm", "parts": lantern.parts()}


@pytest.fixture(scope="module")
def told():
    d = read_document(WHOLE)
    return {p["name"]: p for p in report(d, build(d))["parts"]}


def test_the_example_file_is_the_demo():
    assert load((ROOT / "examples" / "lantern.rhy.json").read_bytes()) == read_document({**WHOLE, "name": "Signal lantern"})


def test_every_part_is_clean(told):
    for part in told.values():
        assert part["closed"] and part["manifold"] and {f["kind"] for f in part["findings"]} <= {"long_face"} and part["unresolved"] == []


def test_sizes_are_those_of_the_drawings(told):
    assert told["Housing"]["size"] == pytest.approx([19.2, 26, 19.2])  # 18 and a frame of 0.6 on either side
    assert told["Roof"]["min"][1] == pytest.approx(28) and told["Roof"]["max"] == pytest.approx([11.5, 41, 11.5])
    assert told["Foot"]["size"] == pytest.approx([20, 2, 20])
    assert told["Knob"]["min"][1] > 41 and told["Knob"]["max"][1] < 45
    assert told["Lamp"]["quads"] == told["Lamp"]["faces"]


def test_boards_are_drawn_to_scale():
    import io
    for png, size in ((drawings.elevation(), (30, 46)), (drawings.plan(), (30, 30))):
        image = Image.open(io.BytesIO(png))
        assert image.size == tuple(s * drawings.SCALE for s in size)
    front = Image.open(io.BytesIO(drawings.elevation())).convert("L")
    row = [front.getpixel((x, (46 - 20) * drawings.SCALE)) for x in range(front.width)]
    dark = [x for x, v in enumerate(row) if v < 120]
    assert (dark[-1] - dark[0]) / drawings.SCALE == pytest.approx(19.2, abs=0.3)  # the housing with its frames, at half its height


@pytest.mark.parametrize("view, picture, at", [("front", drawings.elevation, (0, 0)), ("right", drawings.elevation, (0, 0)),
                                               ("top", drawings.plan, (0, -15))])
def test_the_model_fits_its_boards(view, picture, at):
    rings = [(ring * 30).tolist() for ring in to_rings(trace(decode(picture()), Tracing(holes="fill")))]
    board = Board.model_validate({"id": "b", "picture": "0" * 64, "name": "b", "view": view, "width": 30, "at": at,
                                  "outline": {"width": 30, "rings": rings}})
    figures = fit(board, [p.mesh for p in build(read_document(WHOLE))], 1.0, 0.01)
    assert figures.iou > 0.95 and figures.mean < 0.002 and figures.worst < 0.005


def test_its_sizes_pass():
    ids = {p["name"]: f"part{i}" for i, p in enumerate(lantern.parts(), 1)}
    d = read_document({**WHOLE, "sizes": lantern.sizes(ids), "guides": lantern.guides()})
    evaluator = Evaluator()
    scene = Scene(d, lambda part: evaluator.run(part, d.unit))
    judged = {s.name: judge(scene, s) for s in d.sizes}
    assert {j.verdict for j in judged.values()} == {"pass", None} and not any(j.problem for j in judged.values())
    assert judged["Lamp gap"].have == pytest.approx(0.5)


def test_the_recipe_is_plain_json():
    assert json.loads(json.dumps(lantern.parts())) == lantern.parts()
    assert measure(build(read_document(WHOLE), only="Foot")[0].mesh).volume == pytest.approx(20 * 2 * 20 * 1e-6)


def test_the_quay_stands_on_its_floor_and_its_wheels_on_their_axle():
    raw = json.loads((Path(quay.__file__).parent.parent / "stock" / "spoked-wheel.json").read_text())["document"]
    pieces = [p for _, p in quay.pieces({"parts": raw["parts"], "groups": raw["groups"]})]
    d = in_unit(read_document({"format": "rhytonic", "version": 1, "unit": "cm",
                               "parts": [x for p in pieces[:-1] for x in p["parts"]],
                               "groups": [x for p in pieces[:-1] for x in p["groups"]]}), "mm")
    wheels = quay.wheels({"parts": raw["parts"], "groups": []}, "handcart")
    wheels["groups"] = [{**g, "placement": {**g["placement"], "translate": [10 * v for v in g["placement"]["translate"]]}}
                        for g in wheels["groups"]]
    whole = read_document({**dump(d), "parts": [*dump(d)["parts"], *wheels["parts"]], "groups": [*dump(d)["groups"], *wheels["groups"]]})
    parts = {p.name: p for p in build(whole)}
    assert len(parts) == 31 and all(measure(p.mesh).closed for p in parts.values())
    rims = [parts[f"Handcart: rim {n}"].mesh.points for n in (1, 2)]
    assert all(abs(r[:, 1].min()) < 2e-3 for r in rims) and np.allclose(rims[0][:, 1], rims[1][:, 1])
    assert parts["Handcart: rim 2"].part.of is not None
