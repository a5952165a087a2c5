"""Counts against the Euler–Poincaré formula V − E + F = 2(S − G).

Source: H. Poincaré, Sur la généralisation d'un théorème d'Euler relatif aux polyèdres, Comptes rendus 117, 1893; for
solids as in M. Mäntylä, An Introduction to Solid Modeling, 1988, chapter 3.
"""

import pytest

from rhytonic.core.mesh.measure import measure
from tests.helpers import box, extrude, facing, mesh_of

TWO_HOLES = [
    # a slab of 5 × 3 whose two inner columns are taken away from above and from below leaves two tunnels once bridged;
    # without a bridge step the same comes from rings: extrude all but the holes of a plane, region on both sides
    {"id": "sheet", "kind": "plane", "size": [5, 3], "segments": [5, 3]},
    {"id": "holes", "kind": "delete", "pick": {"faces": {"any_of": [{"nearest": [-1, 0, 0]}, {"nearest": [1, 0, 0]}]}}}]


@pytest.mark.parametrize("steps, shells, genus", [
    ([box(segments=(3, 2, 4))], 1, 0),
    ([box(segments=(3, 3, 3)), extrude(facing("+y"), 1, **{"as": "each"})], 1, 0),
    ([{"id": "c", "kind": "cylinder", "radius": 1, "height": 2, "cap": "fan"}, {"id": "s", "kind": "subdivision", "levels": 2}], 1, 0),
    ([{"id": "c", "kind": "cylinder", "radius": 1, "height": 2, "radius_top": 0}, extrude({"faces": {"sides": [5, None]}}, 1, segments=3)], 1, 0)])
def test_closed_shells(steps, shells, genus):
    told = measure(mesh_of(*steps))
    assert told.closed and told.manifold
    assert told.vertices - told.edges + told.faces == 2 * (shells - genus) == told.euler
    assert told.shells == shells and told.genus == genus


def test_a_sheet_with_two_holes():
    """An open surface has V − E + F = 2 − 2G − B with B borders; here one outside and two holes."""
    told = measure(mesh_of(*TWO_HOLES))
    assert told.euler == 2 - 3 and not told.closed and told.genus is None
    thick = measure(mesh_of(*TWO_HOLES, extrude({"faces": "all"}, 1)))
    assert thick.euler == told.euler  # walls add a band to each border and change no characteristic


def test_each_level_multiplies_quads_by_four():
    """Common practice, no source; follows from one new quad a corner."""
    counts = [measure(mesh_of(box(), {"id": "s", "kind": "subdivision", "levels": n})).quads for n in (1, 2, 3, 4)]
    assert counts == [24, 96, 384, 1536]
