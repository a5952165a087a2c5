"""Lattices, bends and their like, what follows them, noise and beads: rules of their own and what they refuse."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rhytonic.core.errors import RhytonicError, StepError
from rhytonic.core.recipe.built import build
from rhytonic.core.recipe.evaluate import Evaluator
from tests.helpers import ALL, assert_sound, box, evaluate, facing, made, mesh_of, together
from tests.random_recipes import recipes, run

BAR = box((4, 0.4, 0.5), (20, 2, 2))
BEND = {"id": "bend", "kind": "bend", "along": "x", "toward": "+y", "angle": 60}
#: every kind that shapes, by an amount of nothing
NOTHING = [
    {"kind": "lattice"}, {"kind": "lattice", "offsets": {"1,1,1": [0, 0, 0]}, "basis": "bspline", "outside": "follow"},
    {"kind": "bend", "along": "x", "toward": "+y", "angle": 0}, {"kind": "bend", "along": "z", "toward": "-x", "angle": 0, "hold": "middle"},
    {"kind": "twist", "axis": "x", "angle": 0}, {"kind": "taper", "axis": "x", "scale": 1},
    {"kind": "stretch", "axis": "x", "factor": 1}, {"kind": "noise", "pick": ALL, "amount": 0, "size": 0.3},
    *({"kind": "brush", "tool": tool, "radius": 1, "strength": 0, "strokes": [{"points": [[0.3, 0.5, 0.2, 1]], "move": [1, 1, 1]}]}
      for tool in ("grab", "smooth", "relax", "inflate", "pinch", "flatten", "groove")),
    {"kind": "brush", "tool": "inflate", "radius": 1, "strokes": [{"points": [[0.3, 0.5, 0.2, 0]]}]},
    {"kind": "brush", "tool": "grab", "radius": 1, "strokes": [{"points": [[0.3, 0.5, 0.2, 1]], "move": [0, 0, 0]}]}]


def notes(*steps):
    return [n for r in evaluate(*steps).results for n in r.notes]


@settings(deadline=None)
@given(recipes(most=2), st.sampled_from(NOTHING))
def test_an_amount_of_nothing_is_the_identity_to_the_last_bit(steps, step):
    before = run(steps).surface.mesh
    try:
        after = run([*steps, {"id": "nothing", **step}]).surface.mesh
    except StepError as error:
        assert "extent" in error.message  # a flat part has nothing to bend along its normal
        return
    assert (after.points == before.points).all()
    assert after.topology is before.topology and (after.names.vertex == before.names.vertex).all()


@pytest.mark.parametrize("outside", ["keep", "follow"])
def test_points_outside_a_lattices_box_stay_or_follow(outside):
    rest = mesh_of(BAR)
    step = {"kind": "lattice", "box": [[-1, -1, -1], [1, 1, 1]], "divisions": [1, 1, 1], "outside": outside,
            "offsets": {f"1,{j},{k}": [0, 0.5, 0] for j in (0, 1) for k in (0, 1)}}
    moved = mesh_of(BAR, step).points - rest.points
    beyond = rest.points[:, 0] > 1.01
    assert np.allclose(moved[beyond], [0, 0.5, 0] if outside == "follow" else 0, atol=1e-15)
    assert not moved[rest.points[:, 0] < -1.01].any()
    inside = np.abs(rest.points[:, 0]) < 0.99
    np.testing.assert_allclose(moved[inside, 1], (rest.points[inside, 0] + 1) / 4, atol=1e-15)


def test_a_lattice_acts_on_a_pick_alone_and_is_fitted_to_it():
    rest = mesh_of(BAR)
    top = np.flatnonzero(np.abs(rest.points[:, 1] - 0.4) < 1e-9)
    mesh = mesh_of(BAR, {"kind": "lattice", "pick": facing("+y"), "divisions": [1, 1, 1], "offsets": {"0,0,0": [0, 0.2, 0], "0,1,0": [0, 0.2, 0]}})
    changed = (mesh.points != rest.points).any(axis=1)
    assert changed.any() and np.isin(np.flatnonzero(changed), top).all()
    corner = np.lexsort((rest.points[top, 2], rest.points[top, 0]))[0]  # of the pick's own box, which is flat
    np.testing.assert_allclose(mesh.points[top[corner]] - rest.points[top[corner]], [0, 0.2, 0], atol=1e-15)


def test_lattices_stand_in_a_row_live_and_switched_off_over_a_form_that_is_changed_later():
    one = {"id": "one", "kind": "lattice", "live": True, "offsets": {"2,2,2": [0.3, 0, 0]}}
    two = {"id": "two", "kind": "lattice", "live": True, "basis": "bspline", "offsets": {"0,2,1": [0, 0.3, 0]}}
    both, first = mesh_of(BAR, one, two), mesh_of(BAR, one)
    assert (mesh_of(BAR, one, {**two, "enabled": False}).points == first.points).all()
    assert not (both.points == first.points).all()
    finer = {**BAR, "segments": [40, 4, 4]}
    evaluation = evaluate(finer, one, two)
    assert evaluation.cage.mesh.topology.face_count == mesh_of(finer).topology.face_count  # live: below the working mark
    shared = evaluation.surface.mesh.points[np.abs(mesh_of(finer).points[:, None] - mesh_of(BAR).points[None]).max(axis=2).argmin(axis=0)]
    np.testing.assert_allclose(shared, both.points, atol=1e-12)


def test_the_basis_is_worked_out_anew_where_the_points_or_the_moved_ones_change():
    evaluator = Evaluator()
    for height in (1.0, 2.0, 1.0):
        for word in ("2,2,2", "0,0,0", "2,2,2"):
            step = {"kind": "lattice", "offsets": {word: [0, 0.1 * height, 0]}}
            form = box((2, height, 1), (4, 4, 4))
            np.testing.assert_array_equal(evaluate(form, step, evaluator=evaluator).surface.mesh.points, mesh_of(form, step).points)


@pytest.mark.parametrize(("step", "told"), [
    ({"kind": "lattice", "offsets": {"0,3,0": [0, 0, 0]}}, "no control point 0,3,0"),
    ({"kind": "lattice", "offsets": {"0;3;0": [0, 0, 0]}}, "named by its control point"),
    ({"kind": "lattice", "box": [[1, 0, 0], [0, 1, 1]]}, "lower corner to its upper"),
    ({"kind": "lattice", "divisions": [0, 1, 1]}, "divisions"),
    ({"kind": "bend", "along": "x", "toward": "-x", "angle": 10}, "across it"),
    ({"kind": "bend", "along": "x", "toward": "+y", "angle": 10, "from": 3}, "has to lie below"),
    ({"kind": "twist", "axis": "y", "angle": 10, "from": 0.3, "to": 0.1}, "has to lie below"),
    ({"kind": "taper", "axis": "y", "scale": 2.5, "hold": "middle"}, "2 at most"),
    ({"kind": "stretch", "axis": "y", "factor": 0}, "factor"),
    ({"kind": "bead", "width": 1, "height": 1, "spacing": 1}, "one of pick and along"),
    ({"kind": "bead", "pick": facing("+y"), "width": 1, "height": 1, "spacing": 1}, "works on edges"),
    ({"kind": "bead", "pick": {"edges": "all"}, "width": 1, "height": 1, "spacing": 1}, "more than two"),
    ({"kind": "bead", "pick": {"edges": {"outline_of": {"facing": "+y"}}}, "width": 1, "height": 1, "spacing": 1e-7}, "faces"),
    ({"kind": "noise", "pick": ALL, "amount": 0.1, "size": 1e-13}, "too small beside how far"),
    ({"kind": "brush", "tool": "grab", "radius": 1, "strokes": [{"points": []}]}, "strokes"),
    ({"kind": "follow", "part": "Other", "step": "x"}, "Other"),
])
def test_what_cannot_be_is_told(step, told):
    with pytest.raises(RhytonicError, match=told):
        evaluate(BAR, {"id": "s", **step})


def test_the_axis_a_bend_goes_toward_may_be_told_without_a_sign():
    assert (mesh_of(BAR, {**BEND, "toward": "y"}).points == mesh_of(BAR, BEND).points).all()


def test_a_bend_tells_where_it_folds_and_where_it_is_too_coarse():
    assert notes(BAR, BEND) == []
    assert any("folds over itself" in n and "radius" in n for n in notes(BAR, {**BEND, "angle": 2000}))
    assert any("more segments" in n for n in notes(box((4, 0.4, 0.5)), BEND))
    assert any("more segments" in n for n in notes(box((4, 0.4, 0.5)), {**BEND, "angle": 20}))
    assert notes(box((4, 0.4, 0.5), (2, 1, 1)), {**BEND, "angle": 20}) == []


COVER = {"name": "Cover", "id": "cover", "placement": {"translate": [3, 1, 0], "rotate": [0, 90, 0]},
         "steps": [box((40, 2, 20), (20, 1, 4)), BEND]}


def latch(mode="rigid", **more):
    return {"name": "Latch", "id": "latch", "placement": {"translate": [3, 3, -12], "scale": [2, 1, 1]},
            "steps": [box((1, 1, 3), (2, 2, 2)), {"id": "ride", "kind": "follow", "part": "cover", "step": "bend", "as": mode, **more}]}


def in_build(*parts):
    return {b.part.name: b.mesh for b in build(together(*parts))}


def test_a_latch_rides_whole_on_a_cover_that_bends_or_bends_with_it():
    """Through both placements: it stands on the cover's end, which turned and went up."""
    still = in_build({**COVER, "steps": COVER["steps"][:1]}, {**latch(), "steps": latch()["steps"][:1]})["Latch"].points
    rigid, soft = in_build(COVER, latch())["Latch"].points, in_build(COVER, latch("deformed"))["Latch"].points
    apart = lambda p: np.linalg.norm(p[:, None] - p[None], axis=2)  # noqa: E731
    np.testing.assert_allclose(apart(rigid), apart(still), atol=1e-9)
    assert np.abs(apart(soft) - apart(still)).max() > 1e-5
    assert np.linalg.norm(rigid.mean(axis=0) - soft.mean(axis=0)) < 2e-3
    assert rigid[:, 1].mean() > still[:, 1].mean() + 0.05
    # a part of the cover itself would go the same way
    twin = {"name": "Twin", "id": "twin", "placement": COVER["placement"],
            "steps": [COVER["steps"][0], {"id": "f", "kind": "follow", "part": "cover", "step": "bend"}]}
    found = in_build(COVER, twin)
    np.testing.assert_allclose(found["Twin"].points, found["Cover"].points, atol=1e-12)


def test_each_connected_piece_is_carried_by_itself():
    two = {"name": "Two", "id": "two", "placement": COVER["placement"], "steps": [
        box((1, 1, 1)), {"kind": "duplicate", "pick": ALL, "translate": [15, 0, 0]},
        {"id": "ride", "kind": "follow", "part": "cover", "step": "bend", "as": "rigid"}]}
    points = in_build(COVER, two)["Two"].points
    one, other = points[:8], points[8:]
    for piece in (one, other):
        assert np.linalg.norm(piece.max(axis=0) - piece.min(axis=0)) < 0.03
    middle = np.linalg.norm(one.mean(axis=0) - other.mean(axis=0))
    radius = 0.4 / np.radians(60)  # their middles lie half a centimetre outside of the line that keeps its length
    assert middle == pytest.approx(2 * (radius + 0.005) * np.sin(0.15 / radius / 2), rel=1e-6)


def test_following_what_is_switched_off_moves_nothing_and_what_does_not_deform_is_refused():
    off = {**COVER, "steps": [COVER["steps"][0], {**BEND, "enabled": False}]}
    still = in_build(off, {**latch(), "steps": latch()["steps"][:1]})["Latch"].points
    assert (in_build(off, latch())["Latch"].points == still).all()
    with pytest.raises(StepError, match="nothing that can be followed; name a lattice"):
        in_build(COVER, latch(step="body"))
    with pytest.raises(StepError, match="no step 'gone'"):
        in_build(COVER, latch(step="gone"))
    ring = {**COVER, "steps": [*COVER["steps"], {"kind": "follow", "part": "latch", "step": "ride"}]}
    with pytest.raises(StepError, match="need each other in a ring"):
        in_build(ring, latch())


def test_a_follower_outside_a_lattice_that_keeps_what_is_outside_is_told_so():
    cover = {**COVER, "steps": [COVER["steps"][0], {"id": "bend", "kind": "lattice", "offsets": {"2,2,2": [0, 3, 0]}}]}
    document = together(cover, latch())
    told = [n for r in build(document)[1].evaluation.results for n in r.notes]
    assert any("outside" in n and "follow" in n for n in told)


@settings(deadline=None)
@given(recipes(most=2), st.sampled_from(["normal", "free"]), st.integers(0, 5))
def test_noise_is_the_same_again_and_never_more_than_its_amount(steps, along, seed):
    step = {"id": "n", "kind": "noise", "pick": {"vertices": "all"}, "amount": 0.2, "size": 0.7, "seed": seed, "along": along}
    rest, mesh = run(steps).surface.mesh, run([*steps, step]).surface.mesh
    assert np.linalg.norm(mesh.points - rest.points, axis=1).max() <= 0.2 + 1e-12
    assert (run([*steps, step]).surface.mesh.points == mesh.points).all()


RIM = {"edges": {"outline_of": {"facing": "+y"}}}


def bead(**more):
    return {"id": "weld", "kind": "bead", "pick": RIM, "width": 0.1, "height": 0.05, "spacing": 0.08, **more}


def test_a_bead_is_named_marked_and_no_crossing():
    from rhytonic.core.inspect.report import report
    evaluation = evaluate(box((2, 1, 1)), bead())
    mesh = evaluation.surface.mesh
    assert_sound(mesh)
    drops = evaluate(box((2, 1, 1)), bead(), {"id": "gone", "kind": "delete", "pick": made("weld", "bead")}).surface.mesh
    assert drops.topology.face_count == 6
    document = together({"name": "A", "steps": [box((2, 1, 1)), bead()]}, unit="m")
    kinds = {f["kind"] for f in report(document, build(document))["parts"][0]["findings"]}
    assert not kinds & {"self_crossing", "thin_wall", "doubled_vertex"}


def test_a_bead_that_takes_long_is_asked_for_once_more():
    from rhytonic.core.errors import TakesLong
    d = together({"name": "A", "steps": [box((2, 1, 1)), bead(spacing=2e-4)]}, unit="m").parts[0]
    told = Evaluator().run(d, "m", tolerant=True, asks=["weld"]).results[-1].error
    assert isinstance(told, TakesLong) and "960 006 faces" in str(told) and told.parameter == "spacing"


def test_drops_keep_their_names_while_numbers_change_and_stray_the_same_for_one_seed():
    one = mesh_of(box((2, 1, 1)), bead(seed=3))
    wider = mesh_of(box((2, 1, 1)), bead(seed=3, width=0.2, irregularity=0.9))
    assert (one.names.vertex == wider.names.vertex).all() and (one.names.face == wider.names.face).all()
    assert (mesh_of(box((2, 1, 1)), bead(seed=3)).points == one.points).all()
    assert not (mesh_of(box((2, 1, 1)), bead(seed=4)).points == one.points).all()
    longer = mesh_of(box((3, 1, 1)), bead(seed=3))
    assert longer.topology.face_count > one.topology.face_count
    assert np.isin(one.names.face, longer.names.face).all()


def test_a_bead_goes_along_a_curve_and_along_what_a_boolean_cut():
    path = {"name": "Seam", "id": "seam", "steps": [{"kind": "path", "points": [[-0.8, 1, 0], [0.8, 1, 0]]}]}
    plate = {"name": "Plate", "steps": [box((2, 1, 1)), {**bead(), "pick": None, "along": "seam"}]}
    plate["steps"][1].pop("pick")
    mesh = build(together(plate, path, unit="m"))[0].mesh
    assert int(mesh.topology.shells.max()) == round(1.6 / 0.08)
    assert mesh.points[:, 1].max() > 1.04  # away from the face it lies on
    post = {"name": "Post", "id": "post", "hidden": True, "steps": [{"kind": "cylinder", "radius": 0.2, "height": 3, "sides": 12}]}
    joined = {"name": "Bracket", "steps": [box((2, 1, 1)), {"id": "cut", "kind": "boolean", "parts": ["post"], "operation": "unite"},
                                           {**bead(), "pick": {"edges": {"all_of": [{"made_by": "cut", "role": "cut_edge"}, {"in_box": [[None, 0.9, None], [None, 1.1, None]]}]}}}]}
    mesh = build(together(joined, post, unit="m"))[0].mesh
    round_it = 12 * 2 * 0.2 * np.sin(np.pi / 12)
    assert int(mesh.topology.shells.max()) == round(round_it / 0.08)
    with pytest.raises(StepError, match="has faces; a bead goes along"):
        build(together({**plate, "steps": [plate["steps"][0], {**plate["steps"][1], "along": "post"}]}, post, unit="m"))


@pytest.mark.parametrize("unit", ["mm", "in"])
def test_lengths_of_shape_are_in_the_files_unit(unit):
    metres = {"mm": 0.001, "in": 0.0254}[unit]
    steps = [box((0.4, 0.1, 0.2), (6, 2, 3)), {"id": "l", "kind": "lattice", "box": [[-0.2, 0, -0.1], [0.2, 0.1, 0.1]], "offsets": {"2,2,2": [0.02, 0.01, 0]}},
             {"id": "b", "kind": "bend", "along": "x", "toward": "+y", "angle": 30, "from": -0.1, "to": 0.1},
             {"id": "s", "kind": "brush", "tool": "inflate", "radius": 0.05, "strokes": [{"points": [[0.05, 0.1, 0, 0.5], [0.1, 0.12, 0, 1]]}]}]

    def scaled(value, key=None):
        if isinstance(value, dict):
            return {k: scaled(v, k) for k, v in value.items()}
        if key == "points":
            return [[*(v / metres for v in p[:3]), p[3]] for p in value]
        if key in ("segments", "angle"):
            return value
        if isinstance(value, list):
            return [scaled(v) for v in value]
        return value / metres if isinstance(value, float) and key not in ("angle",) else value

    np.testing.assert_allclose(mesh_of(*scaled(steps), unit=unit).points, mesh_of(*steps).points, atol=1e-9)
