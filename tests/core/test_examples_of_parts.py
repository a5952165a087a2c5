"""The example recipes that are made of several parts: a bench, a hatch, a chest, a hood."""

import json
import math

import numpy as np
import pytest
from scipy.optimize import brentq

from rhytonic.cli.__main__ import main
from rhytonic.core.mesh.names import hex_of
from rhytonic.core.recipe.built import build
from rhytonic.core.recipe.document import load
from rhytonic.launch.machine import ROOT
from tests.core.test_examples import told

NAMES = ["mender-bench", "louvred-hatch", "sea-chest", "pierced-hood"]


def file_of(name):
    return ROOT / "examples" / f"{name}.rhy.json"


@pytest.mark.parametrize("name", NAMES)
def test_every_part_is_closed_and_sound(name):
    for part in told(name).values():
        assert part["closed"] and part["manifold"] and part["unresolved"] == [] and part["notes"] == []
        assert {f["kind"] for f in part["findings"]} <= {"long_face", "ngon"} and part["volume"] > 0


def test_the_bench_stands_on_four_legs_under_three_slats():
    found = told("mender-bench")
    corners = {(n, tuple(np.sign(np.add(found[n]["min"], found[n]["max"]))[[0, 2]].tolist())) for n in found if n.startswith("Leg")}
    assert {c for _, c in corners} == {(1, 1), (-1, 1), (1, -1), (-1, -1)}
    assert len({round(found[n]["volume"], 9) for n in found if n.startswith("Leg")}) == 1
    assert found["Rail"]["size"][0] == pytest.approx(found["Leg 1"]["min"][0] - found["Leg 2"]["max"][0])  # from leg to leg
    assert [found["Rail 2"][k][2] for k in ("min", "max")] == pytest.approx([-found["Rail"]["max"][2], -found["Rail"]["min"][2]])
    d = load(file_of("mender-bench").read_bytes())
    slats = build(d, only="Slats")[0].mesh.points.reshape(3, -1, 3)[:, :, 2] * 100
    gaps = slats.min(axis=1)[1:] - slats.max(axis=1)[:-1]
    np.testing.assert_allclose(gaps, [3, 3], atol=1e-9)


def test_the_slats_of_the_hatch_are_sunk_into_its_frame():
    found = told("louvred-hatch")
    assert found["Frame"]["genus"] == 1 and found["Frame"]["volume"] == pytest.approx((60**2 - 48**2) * 6)
    assert found["Frame"]["faces"] == 4 + 4 + 2 * 2  # a face with a hole takes two edges
    assert found["Slats"]["shells"] == 7 and found["Slats"]["volume"] == pytest.approx(7 * 49 * 5.4)
    assert all(24 < abs(found["Slats"][k][0]) < 30 for k in ("min", "max"))
    assert all(abs(found["Slats"][k][2]) < 3 for k in ("min", "max"))


def test_the_lid_swings_clear_of_the_chest_and_stops_at_the_bulkhead(capsys):
    """Its front upper edge stands 38 before and 8 above the hinge, the bulkhead 11 behind it."""
    assert main(["clearance", str(file_of("sea-chest")), "--part", "Lid", "--against", "Chest"]) == 0
    chest = json.loads(capsys.readouterr().out)
    assert chest["least"] == pytest.approx(0.2) and chest["at"] == pytest.approx(0) and chest["touches_at"] is None
    assert main(["clearance", str(file_of("sea-chest")), "--part", "Lid"]) == 0
    touching = math.degrees(brentq(lambda t: 38 * math.cos(t) - 8 * math.sin(t) + 11, 1, 2))
    assert json.loads(capsys.readouterr().out)["touches_at"] == pytest.approx(touching, abs=1e-5)


def test_the_hood_is_pierced_eight_times():
    assert told("pierced-hood")["Hood"]["genus"] == 1 + 8


def test_ids_of_the_hood_stay_when_the_punch_gets_a_little_wider():
    data = json.loads(file_of("pierced-hood").read_text())

    def hood(radius):
        data["parts"][1]["steps"][0]["radius"] = radius
        return build(load(json.dumps(data)), only="Hood")[0].mesh

    one, two = hood(1.5), hood(1.55)
    assert set(hex_of(one.names.face)) == set(hex_of(two.names.face))
    assert set(hex_of(one.names.vertex)) == set(hex_of(two.names.vertex))
