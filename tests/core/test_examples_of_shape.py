"""The example recipes that are bent, pulled and brushed: a pad, a hatch cover, a tarpaulin, a welded bracket; measured."""

import numpy as np
import pytest

from rhytonic.core.recipe.built import build
from rhytonic.core.recipe.document import load
from rhytonic.launch.machine import ROOT
from tests.core.test_examples import told

NAMES = ["kneeling-pad", "hatch-cover", "tarpaulin", "mooring-bracket"]


def document(name, **without):
    """A document, some steps of some parts switched off."""
    held = load((ROOT / "examples" / f"{name}.rhy.json").read_bytes())
    off = {(part, step) for part, steps in without.items() for step in steps}
    return held.model_copy(update={"parts": [p.model_copy(update={"steps": [
        s.model_copy(update={"enabled": (p.id, s.id) not in off}) for s in p.steps]}) for p in held.parts]})


def points(name, part, **without):
    return {p.part.id: p for p in build(document(name, **without))}[part].mesh.points * 100


@pytest.mark.parametrize("name", NAMES)
def test_every_part_is_closed_and_sound(name):
    for part in told(name).values():
        assert part["closed"] and part["manifold"] and part["volume"] > 0 and part["unresolved"] == [] and part["notes"] == []
        assert {f["kind"] for f in part["findings"]} <= {"long_face", "ngon", "triangle"}


def test_the_pads_belly_is_raised_and_its_corners_are_pulled_out_by_the_finer_lattice():
    flat = points("kneeling-pad", "pad", pad=["belly", "corners", "soft"])
    belly = points("kneeling-pad", "pad", pad=["corners", "soft"])
    whole = points("kneeling-pad", "pad", pad=["soft"])
    middle = int(np.abs(flat - [0, 5, 0]).sum(axis=1).argmin())
    # the middle of a row of three control points counts a half of itself each way: a quarter of nine, and the corners' dip
    assert belly[middle, 1] == pytest.approx(5 + 9 / 4 - 4 * 0.8 / 16)
    corners = np.abs(np.abs(flat[:, [0, 2]]) - [21, 14]).sum(axis=1) < 1e-9
    np.testing.assert_allclose(np.abs(whole[corners][:, [0, 2]]), np.abs(belly[corners][:, [0, 2]]) + 1.6)
    np.testing.assert_allclose(whole[middle], belly[middle], atol=1e-12)  # a pull on the spline basis is felt two cells far


def test_the_rope_runs_round_the_pad_on_its_seam():
    pad, rope = told("kneeling-pad")["Pad"], told("kneeling-pad")["Rope"]
    assert rope["genus"] == 1 and rope["shells"] == 1
    assert rope["size"][1] < 2.5 and np.isclose((rope["min"][1] + rope["max"][1]) / 2, 2.5, atol=0.4)
    assert rope["size"][0] == pytest.approx(pad["size"][0] + 1.6, abs=0.5)


def test_the_cover_is_bent_to_its_radius_and_its_latch_rides_on_it():
    """Forty degrees of 64: a radius of 91.7 for the line in its middle, which keeps its length; chords are 2R·sin(half)."""
    flat, cover = points("hatch-cover", "cover", cover=["bow", "soft"]), points("hatch-cover", "cover", cover=["soft"])
    ends = [cover[np.isclose(flat[:, 0], x)].mean(axis=0) for x in (-32, 32)]
    radius = 64 / np.radians(40)
    assert np.linalg.norm(ends[1] - ends[0]) == pytest.approx(2 * radius * np.sin(np.radians(20)), rel=1e-9)
    still, latch = points("hatch-cover", "latch", latch=["ride"]), points("hatch-cover", "latch")
    np.testing.assert_allclose(np.linalg.norm(np.diff(latch, axis=0), axis=1), np.linalg.norm(np.diff(still, axis=0), axis=1), atol=1e-8)
    # it stands on the upper side, 1.2 over the middle line, under 15 degrees at 24 from the middle
    foot = latch[np.isclose(still[:, 1], 2.4)].mean(axis=0)
    away = np.radians(40) * 24 / 64
    expected = [(radius + 1.2) * np.sin(away), 1.2 - radius + (radius + 1.2) * np.cos(away), 0]
    np.testing.assert_allclose(foot, expected, atol=1e-6)
    seal = points("hatch-cover", "seal")
    assert seal[:, 1].max() - seal[:, 1].min() > 4  # deformed as the cover is


def test_the_tarpaulin_sags_between_its_poles():
    """Half its pull in the middle of each way: a quarter of 34, and the corners' lift by a quarter of 4."""
    sagging = points("tarpaulin", "canvas", canvas=["wind", "fold", "thick"])
    flat = points("tarpaulin", "canvas", canvas=["sag", "wind", "fold", "thick"])
    middle = int(np.abs(flat - flat.mean(axis=0)).sum(axis=1).argmin())
    assert sagging[middle, 1] - flat[middle, 1] == pytest.approx(-34 / 4 + 4 / 4)
    windy = points("tarpaulin", "canvas", canvas=["fold", "thick"])
    far = np.linalg.norm(windy - sagging, axis=1)
    assert 0.3 < far.max() <= 1.2
    folded = points("tarpaulin", "canvas", canvas=["thick"])
    moved = (folded != windy).any(axis=1)
    assert 30 < moved.sum() < 0.6 * len(moved)
    assert moved[np.abs(flat[:, 0]) < 10].sum() == 0  # folds run out before the middle


def test_the_brackets_weld_runs_round_the_fins_foot():
    bracket = {p.part.id: p for p in build(document("mooring-bracket"))}["bracket"].mesh
    plain = {p.part.id: p for p in build(document("mooring-bracket", bracket=["weld"]))}["bracket"].mesh
    foot = plain.points[np.isclose(plain.points[:, 1], 0.02) & (np.abs(plain.points[:, 2]) < 0.02)] * 100
    width, depth = foot[:, 0].max() - foot[:, 0].min(), foot[:, 2].max() - foot[:, 2].min()
    assert width == pytest.approx(24 * (1 - 0.55 / 17))  # a seventeenth up its taper
    drops = int(bracket.topology.shells.max())
    assert drops == round(2 * (width + depth) / 0.8)
    assert bracket.topology.face_count - plain.topology.face_count == drops * 32
