"""The example recipes of the harbour, built and measured."""

import pytest

from rhytonic.core.inspect.report import report
from rhytonic.core.recipe.built import build
from rhytonic.core.recipe.document import load
from rhytonic.launch.machine import ROOT


def told(name, stage="surface"):
    d = load((ROOT / "examples" / f"{name}.rhy.json").read_bytes())
    return {p["name"]: p for p in report(d, build(d, stage))["parts"]}


@pytest.mark.parametrize("name", ["mooring-buoy", "bilge-pump", "tide-gauge"])
def test_every_part_is_closed_and_sound(name):
    for part in told(name).values():
        assert part["closed"] and part["manifold"] and part["unresolved"] == [] and part["notes"] == []
        assert {f["kind"] for f in part["findings"]} <= {"long_face", "ngon"} and part["tris"] == 0


def test_the_ribbed_buoy():
    cage, smooth = told("mooring-buoy", "cage")["Float"], told("mooring-buoy")["Float"]
    assert cage["size"][1] == pytest.approx(65) and cage["quads"] == cage["faces"] and smooth["faces"] == 4 * cage["faces"]
    crest = 2 * 1.8 / 0.980785  # two heights, out to the corners of sixteen sides
    assert cage["size"][0] == pytest.approx(50 + crest, rel=1e-4)
    assert smooth["genus"] == 0 and told("mooring-buoy")["Eye"]["genus"] == 1


def test_the_pump_has_a_handle_and_a_round_outlet():
    body = told("bilge-pump")["Body"]
    assert body["genus"] == 1 and body["shells"] == 1 and body["size"] == pytest.approx([23, 30, 12])
    d = load((ROOT / "examples" / "bilge-pump.rhy.json").read_bytes())
    mesh = build(d, "spout")[0].mesh
    ring = mesh.points[abs(mesh.points[:, 0] - 0.14) < 1e-9][:, 1:] - [0.12, 0]
    away = (ring**2).sum(axis=1) ** 0.5
    assert away.max() == pytest.approx(0.034) and (away > 0.033).sum() == 8


def test_the_tide_gauge_has_bevelled_ledges():
    housing = told("tide-gauge")["Housing"]
    assert housing["size"] == pytest.approx([18 + 2 * 1.2, 30, 14 + 2 * 1.2]) and housing["quads"] == housing["faces"]
    assert told("tide-gauge")["Pipe"]["genus"] == 1
