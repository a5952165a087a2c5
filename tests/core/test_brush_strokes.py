"""Strokes: the same again, the same however they are asked for, mirrored, masked, and where the surface went."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rhytonic.core.recipe.document import dump, read_document
from rhytonic.core.recipe.evaluate import Evaluator
from rhytonic.core.recipe.meanings import after_change, with_meanings
from tests.helpers import box, document, evaluate, mesh_of

BALL = {"id": "ball", "kind": "quad_sphere", "radius": 1, "segments": 6, "anchor": "centre"}
TOOLS = ["grab", "smooth", "relax", "inflate", "pinch", "flatten", "groove"]
tools = st.sampled_from(TOOLS)
place = st.floats(-1.1, 1.1).map(lambda v: round(v, 3))
sample = st.tuples(place, place, place, st.sampled_from([1.0, 0.4])).map(list)
stroke = st.fixed_dictionaries({"points": st.lists(sample, min_size=1, max_size=6), "move": st.tuples(place, place, place).map(list)})


def brush(tool, strokes, radius=0.7, **more):
    return {"id": "brush", "kind": "brush", "tool": tool, "radius": radius, "strokes": strokes, **more}


def line(*places, **more):
    return {"points": [[*p, 1.0] for p in places], **more}


@settings(deadline=None)
@given(tools, st.lists(stroke, min_size=1, max_size=3), st.sampled_from(["none", "x", "z"]))
def test_strokes_come_out_the_same_however_far_they_were_drawn_when_asked_for(tool, strokes, mirror):
    """Sample by sample, as under a hand, with a stroke taken back and drawn otherwise in between, or all at once."""
    whole = mesh_of(BALL, brush(tool, strokes, mirror=mirror)).points
    drawn = Evaluator()
    for n, one in enumerate(strokes):
        for k in range(1, len(one["points"]) + 1):
            sofar = [*strokes[:n], {**one, "points": one["points"][:k]}]
            points = evaluate(BALL, brush(tool, sofar, mirror=mirror), evaluator=drawn).surface.mesh.points
        other = [*strokes[:n], {"points": [[0.1, 0.9, 0.2, 1.0]], "move": [0.5, 0, 0]}]
        evaluate(BALL, brush(tool, other, mirror=mirror), evaluator=drawn)
        points = evaluate(BALL, brush(tool, strokes[:n + 1], mirror=mirror), evaluator=drawn).surface.mesh.points
    assert (points == whole).all()
    assert np.isfinite(whole).all()


@settings(deadline=None)
@given(tools, st.lists(stroke, min_size=1, max_size=2), st.sampled_from(["x", "y", "z"]))
def test_mirrored_strokes_are_symmetric(tool, strokes, axis):
    points = mesh_of(BALL, brush(tool, strokes, mirror=axis)).points
    rest = mesh_of(BALL).points
    k = "xyz".index(axis)
    flip = np.ones(3)
    flip[k] = -1
    image = np.linalg.norm(rest[:, None] * flip - rest[None], axis=2).argmin(axis=1)
    np.testing.assert_allclose(points[image], points * flip, atol=1e-12)


def test_a_pick_masks_and_borders_and_creases_are_held():
    sheet = {"id": "sheet", "kind": "plane", "size": [2, 2], "segments": [8, 8]}
    crease = {"id": "c", "kind": "crease", "pick": {"edges": {"in_box": [[-0.01, None, None], [0.01, None, None]]}}, "sharpness": 3}
    stroke = [line([0, 0, 0], [0.9, 0, 0])]
    rest = mesh_of(sheet)
    held = mesh_of(sheet, crease, brush("inflate", stroke)).points[:, 1] != 0
    border = np.abs(rest.points[:, [0, 2]]).max(axis=1) > 0.99
    creased = np.abs(rest.points[:, 0]) < 0.01
    assert held.any() and not held[border | creased].any()
    free = mesh_of(sheet, crease, brush("inflate", stroke, hold=False)).points[:, 1] != 0
    assert free[border].any() and free[creased].any()
    masked = mesh_of(sheet, brush("inflate", stroke, pick={"vertices": {"in_box": [[0.2, None, None], [0.6, None, None]]}})).points[:, 1] != 0
    assert masked.any() and (rest.points[masked, 0] > 0.2).all() and (rest.points[masked, 0] < 0.6).all()


def test_a_negative_strength_turns_the_direction_round():
    stroke = [line([0, 1, 0])]
    up, down, rest = (mesh_of(BALL, brush("inflate", stroke, strength=s)).points for s in (0.5, -0.5, 0))
    np.testing.assert_allclose(up - rest, rest - down, atol=1e-15)


def test_samples_that_find_nothing_are_counted():
    evaluation = evaluate(BALL, brush("smooth", [line([0, 1, 0], [0, 9, 0]), line([9, 0, 0])]))
    assert evaluation.results[-1].notes == ("2 samples of the strokes found nothing within the radius",)
    assert evaluate(BALL, brush("smooth", [line([0, 1, 0])])).results[-1].notes == ()


def anchored(*steps):
    """The document as it is stored: strokes with their places on the surface."""
    d = document(*steps)
    return with_meanings(d.parts[0], Evaluator().run(d.parts[0], d.unit))


def again(part, **form):
    """The stored part with another form, evaluated."""
    steps = [part.steps[0].model_copy(update=form), *part.steps[1:]]
    return Evaluator().run(part.model_copy(update={"steps": steps}), "m")


def test_a_groove_goes_with_the_face_it_was_drawn_on_when_the_box_below_is_resized():
    form = box((2, 1, 1), (16, 4, 8))
    groove = brush("groove", [line([-0.6, 1, 0], [0.6, 1, 0])], radius=0.3)
    part = anchored(form, groove)
    assert all(on is not None for on in part.steps[1].strokes[0].on)
    np.testing.assert_allclose(again(part).surface.mesh.points, mesh_of(form, groove).points, atol=1e-9)
    taller = again(part, size=(2, 3, 1))
    top = taller.surface.mesh.points[np.abs(mesh_of(box((2, 3, 1), (16, 4, 8))).points[:, 1] - 3) < 1e-9]
    assert top[:, 1].min() == pytest.approx(3 - 0.5 * 0.3 / 2, abs=1e-9)
    assert taller.results[-1].notes == ()
    # by position alone it would be left behind in the air
    left = evaluate(box((2, 3, 1), (16, 4, 8)), groove)
    assert left.results[-1].notes == ("2 samples of the strokes found nothing within the radius",)
    turned = {"id": "t", "kind": "transform", "pick": {"faces": "all"}, "rotate": [0, 0, 90], "about": "origin"}
    with_turn = part.model_copy(update={"steps": [part.steps[0], document(form, turned).parts[0].steps[1], part.steps[1]]})
    mesh = Evaluator().run(with_turn, "m").surface.mesh
    expected = mesh_of(form, groove).points @ np.array([[0, 1, 0], [-1, 0, 0], [0, 0, 1]])
    np.testing.assert_allclose(mesh.points, expected, atol=1e-8)


def test_a_sample_whose_face_is_gone_stays_where_it_was():
    part = anchored(box((2, 1, 1), (16, 4, 8)), brush("groove", [line([-0.6, 1, 0], [0.6, 1, 0])], radius=0.3))
    other = again(part, segments=(10, 3, 6))  # faces are named after their places: most are others now
    assert other.surface.mesh.points[:, 1].max() == 1 and other.results[-1].notes == ()
    assert (other.surface.mesh.points[:, 1] > 0.99).sum() < (mesh_of(box((2, 1, 1), (10, 3, 6))).points[:, 1] > 0.99).sum()


def test_what_is_kept_of_the_surface_is_that_from_before_a_change():
    """Strokes of a file, and a change above in the same breath: they were drawn on what stood there then."""
    before = document(box((2, 1, 1), (16, 4, 8)), brush("groove", [line([-0.6, 1, 0], [0.6, 1, 0])], radius=0.3)).parts[0]
    after = before.model_copy(update={"steps": [before.steps[0].model_copy(update={"size": (2, 3, 1)}), before.steps[1]]})
    then, now = Evaluator().run(before, "m"), Evaluator().run(after, "m")
    kept = after_change(after, now, before, then)
    assert kept.steps[1].strokes[0].on == with_meanings(before, then).steps[1].strokes[0].on
    assert Evaluator().run(kept, "m").results[-1].notes == ()


def test_strokes_are_stored_and_read_as_they_are():
    d = document(box((2, 1, 1), (16, 4, 8)), brush("groove", [line([-0.6, 1, 0], [0.6, 1, 0])], radius=0.3))
    whole = d.model_copy(update={"parts": [with_meanings(d.parts[0], Evaluator().run(d.parts[0], d.unit))]})
    assert read_document(dump(whole)) == whole


def test_a_brush_works_on_the_cage_or_on_the_smooth_surface_by_its_place():
    smooth = {"id": "smooth", "kind": "subdivision", "levels": 2}
    stroke = [line([0, 1, 0])]
    rest = evaluate(BALL, smooth)
    above = evaluate(BALL, brush("inflate", stroke, radius=0.3), smooth)
    below = evaluate(BALL, smooth, brush("inflate", stroke, radius=0.3, live=True))
    assert (above.cage.mesh.points != rest.cage.mesh.points).any() and (below.cage.mesh.points == rest.cage.mesh.points).all()
    moved = (below.surface.mesh.points != rest.surface.mesh.points).any(axis=1)
    assert moved.sum() > (above.cage.mesh.points != rest.cage.mesh.points).any(axis=1).sum()


@pytest.mark.parametrize("tool", TOOLS)
def test_strokes_do_something_near_and_nothing_far(tool):
    form = {"id": "n", "kind": "noise", "pick": {"vertices": "all"}, "amount": 0.08, "size": 0.3}
    rest = mesh_of(BALL, form).points
    points = mesh_of(BALL, form, brush(tool, [line([0, 1, 0], [0.1, 1, 0], move=[0.2, 0.1, 0])])).points
    moved = (points != rest).any(axis=1)
    near = np.minimum(np.linalg.norm(rest - [0, 1, 0], axis=1), np.linalg.norm(rest - [0.1, 1, 0], axis=1)) < 0.75
    assert moved.any() and not moved[~near].any()


@pytest.mark.parametrize("tool", ["groove", "smooth"])
def test_a_stroke_far_longer_or_a_radius_far_larger_than_the_other_is_gone_along_all_the_same(tool):
    """A line of a million radii, and a reach that holds the whole part at every sample."""
    thin = evaluate(BALL, brush(tool, [line([-50, 1, 0], [50, 1, 0])], radius=1e-4)).surface.mesh
    assert np.isfinite(thin.points).all()
    wide = mesh_of(BALL, brush(tool, [line(*([x, 1, 0] for x in np.linspace(-1, 1, 150)))], radius=1e3))
    assert np.isfinite(wide.points).all() and (wide.points != mesh_of(BALL).points).any()
