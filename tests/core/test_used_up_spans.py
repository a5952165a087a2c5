"""Corners that use up the sides between them exactly, as the size that is told to fit does."""

import json
import math
import re

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rhytonic.cli.__main__ import main
from rhytonic.core.errors import StepError
from rhytonic.core.inspect.report import report
from rhytonic.core.mesh.measure import measure
from rhytonic.core.recipe.built import build
from rhytonic.core.recipe.evaluate import Evaluator
from tests.helpers import assert_sound, document, evaluate, together

SQUARE = [[-2, -1, 0], [2, -1, 0], [2, 1, 0], [-2, 1, 0]]
DEEP = {"id": "deep", "kind": "extrude_curve", "depth": 1}


def path(points, closed=True, **corner):
    return {"id": "way", "kind": "path", "closed": closed, "points": [{"at": p, **corner} for p in points]}


def area(steps, quarter):
    """Of a 4 × 2 stadium whose ends are polygons of so many sides a quarter turn."""
    return 4 + 2 * quarter * math.sin(math.pi / 2 / quarter)


def test_a_rectangle_whose_short_sides_are_used_up_is_a_stadium():
    for steps in ([{**path(SQUARE, corner="fillet", size=1)}], [{"id": "way", "kind": "rectangle", "size": [4, 2], "radius": 1}],
                  [path(SQUARE), {"id": "round", "kind": "round_corner", "radius": 1, "pick": {"vertices": "all"}}]):
        curve = evaluate(*steps).surface.curve
        assert len(curve.points) == 6 and np.isfinite(curve.divided.points).all()
        mesh = evaluate(*steps, DEEP).surface.mesh
        assert_sound(mesh)
        assert measure(mesh).volume == pytest.approx(area(steps, 6), rel=1e-12)
        assert (mesh.topology.sides[mesh.topology.sides != 26] == 4).all() and mesh.topology.face_count == 28


def test_a_square_used_up_on_all_sides_is_a_circle_and_a_cut_one_a_diamond():
    square = [[-1, -1, 0], [1, -1, 0], [1, 1, 0], [-1, 1, 0]]
    curve = evaluate(path(square, corner="fillet", size=1)).surface.curve
    assert len(curve.points) == 4 and np.allclose(np.linalg.norm(curve.divided.points, axis=1), 1)
    diamond = evaluate(path(square, corner="chamfer", size=1)).surface.curve
    assert len(diamond.points) == 4 and measure(evaluate(path(square, corner="chamfer", size=1), DEEP).surface.mesh).volume == pytest.approx(2)


def test_an_open_path_begins_and_ends_where_its_corner_does():
    """The fillet reaches the end of the side it begins on: that end is where it always was."""
    way = [[1, 0, 0], [0, 0, 0], [0, 1, 0]]
    for steps in ([{**path(way, closed=False, corner="fillet", size=1)}],
                  [path(way, closed=False), {"id": "round", "kind": "round_corner", "radius": 1, "pick": {"vertices": "all"}}]):
        curve = evaluate(*steps).surface.curve
        assert len(curve.points) == 2 and np.allclose(curve.points, [[1, 0, 0], [0, 1, 0]])
        assert np.allclose(np.linalg.norm(curve.divided.points - [1, 1, 0], axis=1), 1)


corners = st.lists(st.tuples(st.floats(-5, 5), st.floats(-5, 5)).map(lambda p: (round(p[0], 2), round(p[1], 2))), min_size=4, max_size=8, unique=True)
WAYS = [[DEEP], [{"id": "s", "kind": "sweep", "profile": {"circle": 0.05, "sides": 5}}], [{"id": "t", "kind": "thicken", "width": 0.05}, DEEP],
        [{"id": "o", "kind": "offset", "distance": 0.05}, DEEP], [{"id": "l", "kind": "lathe", "axis": "y", "at": [-9, 0, 0], "sides": 6}],
        [{"id": "r", "kind": "respace", "count": 12}], [{"id": "s", "kind": "smooth_curve"}], [{"id": "f", "kind": "fill"}],
        [{"id": "a", "kind": "array", "count": 2, "step": [20, 0, 0]}, DEEP]]


@settings(max_examples=60, deadline=None)
@given(corners, st.sampled_from(["fillet", "chamfer"]), st.booleans(), st.sampled_from(WAYS), st.booleans())
def test_what_fits_fits(points, corner, closed, way, by_step):
    """The size that a refusal tells is taken at that very value, without a place that is no number and without copies."""
    first = math.atan2(points[0][1], points[0][0])
    points = sorted(points, key=lambda p: (math.atan2(p[1], p[0]) - first) % (2 * math.pi))

    def steps(size):
        way_points = [[x, y, 0] for x, y in points]
        if by_step:
            return [path(way_points, closed), {"id": "round", "kind": "round_corner", "radius": size, "style": corner, "pick": {"vertices": "all"}}]
        return [{**path(way_points, closed), "points": [{"at": p, "corner": corner, "size": size} for p in way_points]}]

    size = 50.0
    for _ in range(20):
        evaluation = evaluate(*steps(size), tolerant=True)
        error = next((r.error for r in evaluation.results if r.error), None)
        if error is None:
            break
        told = re.search(r"a (?:radius|width) of ([\d.e+-]+) m fits", str(error))
        if told is None:
            return  # no corner at all, or two points at one place: told as such
        assert float(told[1]) < size
        size = float(told[1])
    else:
        raise AssertionError("what is told to fit never does")
    curve = evaluation.surface.curve
    assert np.isfinite(curve.points).all() and np.isfinite(curve.divided.points).all()
    line = curve.divided.points
    assert (np.linalg.norm(np.diff(line, axis=0), axis=1) > 1e-9).all()
    try:
        after = evaluate(*steps(size), *way)
    except StepError as error:
        assert "no numbers" not in error.message and "cannot be worked out" not in error.message, error
        return
    if after.surface.curve is None:
        assert_sound(after.surface.mesh)


@settings(max_examples=20, deadline=None)
@given(st.floats(0.5, 4), st.floats(0.5, 4), st.sampled_from([1, 2, 5]))
def test_swept_round_used_up_corners_by_pappus(wide, high, sides):
    """A frame swept along a stadium by a profile about the path: its volume is the profile's area by the path's length."""
    radius = min(wide, high) / 2
    evaluation = evaluate({"id": "way", "kind": "rectangle", "size": [wide, high], "radius": radius},
                          {"id": "s", "kind": "sweep", "profile": {"rectangle": [radius / 9, radius / 7]}})
    line = evaluation.results[0].state.curve.divided.points
    length = np.linalg.norm(np.roll(line, -1, axis=0) - line, axis=1).sum()
    assert measure(evaluation.surface.mesh).volume == pytest.approx(length * radius**2 / 63, rel=1e-9)
    assert sides


def test_changing_the_size_through_the_exact_one_gives_the_same_as_anew():
    """Plans are kept by numbers that do not change them: the one size at which points fall together is another plan."""
    evaluator = Evaluator()
    for size in (0.5, 1.0, 0.9, 1.0, 0.999999):
        steps = [path(SQUARE, corner="fillet", size=size), DEEP]
        part = document(*steps).parts[0]
        kept, anew = evaluator.run(part, "m").surface.mesh, Evaluator().run(part, "m").surface.mesh
        assert kept.topology.digest == anew.topology.digest and (kept.points == anew.points).all()


def test_a_place_that_is_no_number_is_refused_by_name(tmp_path, monkeypatch):
    from rhytonic.core.edit.transform import TransformKind

    def broken(self, p, draft, mesh, picked, context):
        return mesh.points * np.nan

    move = {"id": "move", "kind": "transform", "pick": {"faces": "all"}, "translate": [1, 0, 0]}
    file = tmp_path / "a.rhy.json"
    file.write_text(json.dumps({"format": "rhytonic", "version": 1, "parts": [{"name": "P", "steps": [{"id": "b", "kind": "box", "size": [1, 1, 1]}, move]}]}))
    out = tmp_path / "a.obj"
    assert main(["build", str(file), "--out", str(out)]) == 0
    held = out.read_bytes()
    monkeypatch.setattr(TransformKind, "positions", broken)
    assert main(["build", str(file), "--out", str(out)]) == 2
    assert out.read_bytes() == held and sorted(p.name for p in tmp_path.iterdir()) == ["a.mtl", "a.obj", "a.rhy.json"]
    d = together({"name": "P", "steps": [{"id": "b", "kind": "box", "size": [1, 1, 1]}, move]})
    with pytest.raises(StepError, match=r"move.*cannot be worked out"):
        report(d, build(d))


def test_a_file_that_cannot_be_finished_leaves_what_was_there(tmp_path, monkeypatch):
    from rhytonic.core.files import write

    place = tmp_path / "model.stl"
    place.write_bytes(b"old")
    monkeypatch.setattr(write.os, "fsync", lambda _: (_ for _ in ()).throw(OSError(28, "No space left on device")))
    with pytest.raises(write.CannotWrite, match="No space left"):
        write.write_whole(b"new", place)
    assert place.read_bytes() == b"old" and [p.name for p in tmp_path.iterdir()] == ["model.stl"]
