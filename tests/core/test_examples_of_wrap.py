"""The example recipes that are wrapped: the dinghy's fender pads in relief, and a porch on imported walls; measured."""

import json

import numpy as np
import pytest

from rhytonic.core.files.companions import Companions
from rhytonic.core.mesh.uv import Flat, uvs
from rhytonic.core.recipe.built import build
from rhytonic.core.recipe.document import load
from rhytonic.core.recipe.evaluate import Evaluator
from rhytonic.demo import pads
from rhytonic.launch.machine import ROOT
from tests.core.test_examples import told


def points(document):
    return {p.name: p.mesh.points * 100 for p in build(load(json.dumps(document)))}


def test_the_example_is_the_demos():
    assert json.loads((ROOT / "examples" / "fender-pad.rhy.json").read_text()) == pads.document()


def test_the_pads_are_closed_apart_on_the_square_and_right_side_out():
    report = told("fender-pad")
    for part in report.values():
        assert part["closed"] and part["manifold"] and part["volume"] > 0
        assert not {f["kind"] for f in part["findings"]} & {"turned_island", "overlapping_islands", "stretched_face", "no_uv", "self_crossing", "turned_face"}
    port, starboard = report["Pad, port"], report["Pad, starboard"]
    assert port["uv"]["turned"] == 0 and port["uv"]["overlap"] == 0 and port["uv"]["islands"] == 7
    assert port["volume"] == pytest.approx(starboard["volume"], rel=1e-9)


def test_the_ridges_hold_area_times_height_times_duty():
    document = pads.document()
    document["patterns"][0]["layers"] = document["patterns"][0]["layers"][:1]
    whole = told_volume(document)
    document["parts"][0]["steps"] = document["parts"][0]["steps"][:-1]
    assert whole - told_volume(document) == pytest.approx(15.4 * 10.2 * 0.5 * 0.6, rel=0.03)  # soft at the upper and lower ends


def told_volume(document):
    from rhytonic.core.mesh.measure import measure
    return measure(build(load(json.dumps(document)))[0].mesh).volume * 1e6


def test_the_mark_reads_right_on_the_twin():
    document = pads.document()
    port, starboard = points(document).values()
    lay = {(round(x + 16, 3), round(y, 3)): z for x, y, z in port.tolist() if z > 2.9}
    there = {(round(x - 16, 3), round(y, 3)): z for x, y, z in starboard.tolist() if z > 2.9}
    both = lay.keys() & there.keys()
    assert len(both) > 2500 and max(abs(lay[k] - there[k]) for k in both) < 1e-3
    del document["parts"][1]["readable"]
    _, turned = points(document).values()
    other = {(round(x - 16, 3), round(y, 3)): z for x, y, z in turned.tolist() if z > 2.9}
    assert max(abs(lay[k] - other[k]) for k in lay.keys() & other.keys()) > 0.4


def test_the_porchs_tiles_are_as_large_everywhere_and_square():
    path = ROOT / "examples" / "boathouse-porch.rhy.json"
    for part in build(load(path.read_bytes()), evaluator=Evaluator(files=Companions(path.parent))):
        flat = Flat.of(part.mesh, uvs(part.mesh))
        size = 0.3 if part.name == "Floor" else 0.2
        assert np.allclose(flat.stretch, 1) and np.allclose(flat.face_density, 1 / size) and not flat.turned.any()
        assert np.allclose(part.mesh.bounds[0][0], -2.1) or part.name == "Side wall"
