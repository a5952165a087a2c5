"""The example recipes that are made of curves: a rack, a window, a fender, a railing; measured against plane geometry."""

import numpy as np
import pytest

from rhytonic.core.inspect.report import report
from rhytonic.core.recipe.built import build
from rhytonic.core.recipe.document import load, read_document
from rhytonic.demo import window
from rhytonic.launch.machine import ROOT
from tests.core.test_examples import told

NAMES = ["oar-rack", "pilot-house-window", "boat-fender", "quay-railing"]


def document(name):
    return load((ROOT / "examples" / f"{name}.rhy.json").read_bytes())


@pytest.mark.parametrize("name", NAMES)
def test_every_part_is_a_curve_or_closed_and_sound(name):
    for part in told(name).values():
        assert part["unresolved"] == [] and part["notes"] == []
        if "curve" not in part:
            assert part["closed"] and part["manifold"] and part["volume"] > 0
            assert {f["kind"] for f in part["findings"]} <= {"long_face", "ngon", "triangle"}


def test_the_racks_sides_are_bent_bands_with_their_feet_on_the_floor():
    """A band's area is its width by the length of its middle line; arcs of six edges lack less than a hundredth."""
    d = document("oar-rack")
    side = told("oar-rack")["Side"]
    line = report(d, build(d, "round", "Side"))["parts"][0]["curve"]
    assert side["min"][1] == 0 and side["size"][0] == pytest.approx(4)
    assert side["volume"] == pytest.approx((line["length"] + 2 + 2) * 2.4 * 4, rel=1e-2)  # the feet reach two further down
    assert told("oar-rack")["Other side"]["volume"] == pytest.approx(side["volume"])
    between = told("oar-rack")["Rail"]
    assert between["size"][0] == pytest.approx(2 * 58) and between["max"][0] <= 60


def test_the_windows_moulding_runs_round_its_half_circle():
    found = told("pilot-house-window")
    casing, pane, profile = found["Casing"], found["Pane"], found["Moulding profile"]["curve"]
    # outward of the opening by the profile's six, its front three and a half before the wall
    assert casing["min"][0] == pytest.approx(-36) and casing["max"][0] == pytest.approx(36)
    assert (casing["min"][2], casing["max"][2]) == (pytest.approx(0), pytest.approx(3.5))
    assert casing["min"][1] == pytest.approx(0) and casing["max"][1] == pytest.approx(86, rel=1e-3)
    # down both sides fifty each, and Pappus–Guldinus round the half circle at the profile's centroid
    section = build(document("pilot-house-window"), only="Moulding profile")[0].curve.divided.points[:, :2] * 100
    x, y = section.T
    turn = x * np.roll(y, -1) - np.roll(x, -1) * y
    centroid = (turn * (x + np.roll(x, -1))).sum() / (3 * turn.sum())
    assert casing["volume"] == pytest.approx(profile["area"] * (100 + np.pi * (30 + centroid)), rel=4e-3)
    assert pane["volume"] == pytest.approx(0.6 * (60 * 50 + np.pi * 900 / 2), rel=2e-3)
    assert window.ROUND == 30 and document("pilot-house-window") == read_document(
        {"format": "rhytonic", "version": 1, "unit": "cm", "name": "Pilot house window", "parts": window.parts()})


def test_the_rope_follows_the_fender():
    rope = told("boat-fender")["Rope"]
    assert rope["genus"] == 1 and rope["shells"] == 1
    d = document("boat-fender").model_dump(mode="json", by_alias=True, exclude_none=True)
    d["parts"][0]["steps"][0]["size"] = [30, 80, 14]
    taller = read_document(d)
    now = {p["name"]: p for p in report(taller, build(taller))["parts"]}["Rope"]
    assert now["max"][1] - rope["max"][1] == pytest.approx(20, abs=1.5) and now["closed"]
    # a rope's volume is its polygon's area along the way it runs (Pappus–Guldinus); it runs in a plane, and does not twist
    line = report(document("boat-fender"), build(document("boat-fender"), "rim", "Rope"))["parts"][0]["curve"]
    assert rope["volume"] == pytest.approx(8 / 2 * 1.2**2 * np.sin(np.pi / 4) * line["length"], rel=1e-2)


def test_the_railings_tube_and_turned_posts():
    found = told("quay-railing")
    d = document("quay-railing")
    way = report(d, build(d, "way", "Top rail"))["parts"][0]["curve"]
    area = 12 / 2 * 2.4**2 * np.sin(2 * np.pi / 12)
    assert found["Top rail"]["volume"] == pytest.approx(area * way["length"], rel=5e-3)
    posts = found["Stanchion"]
    assert posts["shells"] == 3 and posts["max"][1] == pytest.approx(87.6) and posts["size"][0] == pytest.approx(100 + 9)
