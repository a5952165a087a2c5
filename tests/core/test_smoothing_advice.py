"""What is proposed before a cage is smoothed, and what comes of it."""

import numpy as np
import pytest
from hypothesis import given

from rhytonic.core.inspect.smoothing import advice
from tests.helpers import box, evaluate, mesh_of
from tests.random_recipes import meshes

DRUM = {"id": "drum", "kind": "cylinder", "radius": 1, "height": 3, "sides": 60}


def done(*steps):
    """The steps with all that is proposed, one proposal after the other."""
    steps = list(steps)
    for _ in range(2):
        found = advice(mesh_of(*steps))
        for step in found.caps or found.loops:
            steps.append({**step, "id": f"a{len(steps)}"})
    return steps


def test_a_drum_gets_quad_caps_and_loops_by_its_rims():
    mesh = mesh_of(DRUM)
    found = advice(mesh)
    assert (found.ngons, found.rims) == (2, 2)
    assert [s["kind"] for s in found.caps] == ["inset", "quad_cap"] and found.loops[0]["distance"] == [0.09, -0.09]
    steps = done(DRUM)
    after = mesh_of(*steps)
    assert (after.topology.sides == 4).all()
    left = advice(after)
    assert left.caps == [] and left.loops == []  # said once: then nothing is left to say
    smooth = evaluate(*steps, {"id": "s", "kind": "subdivision", "levels": 2}).surface.mesh
    top = smooth.points[np.isclose(smooth.points[:, 1], smooth.points[:, 1].max(), atol=0.02)]
    assert np.hypot(top[:, 0], top[:, 2]).max() > 0.93  # the cap reaches nearly to the rim, and is flat
    bare = evaluate(DRUM, {"id": "s", "kind": "subdivision", "levels": 2}).surface.mesh
    high = bare.points[np.isclose(bare.points[:, 1], bare.points[:, 1].max(), atol=0.02)]
    assert np.hypot(high[:, 0], high[:, 2]).max() < 0.9


def test_a_box_is_held_on_all_sides():
    steps = done(box((4, 3, 2)))
    assert [s["kind"] for s in steps[1:]] == ["insert_loop"] * 3
    smooth = evaluate(*steps, {"id": "s", "kind": "subdivision", "levels": 3}).surface.mesh
    assert np.ptp(smooth.points, axis=0) == pytest.approx([4, 3, 2], abs=0.02)


@pytest.mark.parametrize("upside", [0, 180])
def test_distances_run_from_the_end_they_are_told_from(upside):
    """One rim only: a drum open below and closed above gets its one loop above, whichever way it stands."""
    steps = [DRUM, {"id": "t", "kind": "transform", "pick": {"vertices": "all"}, "rotate": [upside, 0, 0]},
             {"id": "d", "kind": "delete", "pick": {"faces": {"facing": "-y"}}}]
    found = advice(mesh_of(*steps))
    assert found.rims == 1
    after = mesh_of(*steps, {**found.loops[0], "id": "l"})
    new = after.points[-60:, 1]
    top = after.points[:, 1].max()
    assert np.allclose(new, top - 0.09)


def test_what_smooths_well_is_left_alone():
    assert advice(mesh_of({"id": "q", "kind": "quad_sphere", "radius": 1, "segments": 3})).loops == []
    assert advice(mesh_of({"id": "p", "kind": "plane", "size": [2, 2]})).loops == []


@given(meshes())
def test_whatever_the_mesh_advice_is_told_or_there_is_none(mesh):
    """Rings that come back the other way round, too, cannot be cut and are left alone; distances lie within the edges."""
    found = advice(mesh)
    assert found.rims == sum(len(s["distance"]) for s in found.loops) and (found.ngons == 0) == (found.caps == [])
    size = np.ptp(mesh.points, axis=0).max()
    assert all(0 < abs(d) < size for s in found.loops for d in s["distance"])
