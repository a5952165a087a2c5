"""Findings see what a person sees: the part as it is handed over, live steps included."""

import json

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rhytonic.cli.__main__ import main
from rhytonic.core.inspect.apart_at_mirror import apart_at_mirrors
from rhytonic.core.inspect.findings import as_handed_over, inspect, inspect_surface
from rhytonic.core.inspect.thresholds import DEFAULT
from tests.helpers import box, evaluate, facing, mesh_of

CUBE = box((2, 2, 2), (2, 2, 2))
HALF = [CUBE, {"id": "half", "kind": "slice", "point": [0, 0, 0], "normal": [1, 0, 0], "keep": "above"}]
MIRROR = {"id": "m", "kind": "mirror", "axis": "x"}
OPEN = {"id": "open", "kind": "delete", "pick": facing("+y")}
SOFT = {"id": "soft", "kind": "subdivision", "levels": 2}


def told(*steps):
    evaluation = evaluate(*steps)
    cage = as_handed_over(evaluation, inspect(evaluation.results[:evaluation.part.cage_end()]), DEFAULT)
    return {f.kind: f.count for f in [*cage, *apart_at_mirrors(evaluation), *inspect_surface(evaluation, DEFAULT, cage)]}


def test_a_half_has_no_hole_under_its_mirror_and_an_open_box_none_under_a_shell():
    assert told(*HALF) == {"open_border": 8}
    assert told(*HALF, MIRROR) == {}
    assert told(CUBE, OPEN) == {"open_border": 8}
    assert "open_border" not in told(CUBE, OPEN, {"id": "s", "kind": "shell", "thickness": -0.1})
    assert told(*HALF, OPEN, MIRROR) == {"open_border": 4}  # the hole alone, on the half that is edited


def test_what_a_live_step_opens_is_told():
    """A mirror that keeps the wrong side of a body that was closed leaves it closed; one whose halves stay apart does not."""
    moved = {"id": "t", "kind": "transform", "pick": {"vertices": "all"}, "translate": [0.03, 0, 0]}
    assert told(*HALF, moved, MIRROR)["apart_at_mirror"] == 8
    evaluation = evaluate(*HALF, moved, MIRROR)
    (found,) = apart_at_mirrors(evaluation)
    mended = mesh_of(*HALF, moved, {"id": "f", "kind": "flatten", "to": "x", "at": 0, "pick": {"vertices": {"ids": found.ids}}}, MIRROR)
    assert (mended.topology.edge_face_count == 2).all()


def test_a_slit_of_walls_along_the_mirror_is_told_and_mended():
    """A ridge-roofed half whose top is pushed along its own normal leaves the plane: walls look at each other there."""
    roof = {"id": "roof", "kind": "transform", "pick": {"vertices": {"in_box": [[0, 2, None], [0, 2, None]]}}, "translate": [0, 0.2, 0]}
    push = {"id": "e", "kind": "extrude", "pick": {"faces": {"in_box": [[0, 1.9, None], [1, None, None]]}}, "depth": 0.3}
    assert "apart_at_mirror" in told(*HALF, roof, push, MIRROR)
    assert "apart_at_mirror" not in told(*HALF, roof, {**push, "hold_plane": "x"}, MIRROR)
    evaluation = evaluate(*HALF, roof, push, MIRROR)
    (found,) = apart_at_mirrors(evaluation)
    mend = {"id": "f", "kind": "flatten", "to": "x", "at": 0, "pick": {"vertices": {"ids": found.ids}}}
    assert "apart_at_mirror" not in told(*HALF, roof, push, mend, MIRROR)
    assert (mesh_of(*HALF, roof, push, mend, MIRROR).topology.edge_face_count == 2).all()


@settings(max_examples=25, deadline=None)
@given(st.sampled_from(["box", "cylinder", "sphere", "tube", "torus"]), st.floats(0.2, 3), st.integers(1, 3))
def test_nothing_is_told_of_halves_that_meet(kind, size, level):
    form = {"box": box((size, 2, 1), (2, 1, 1)), "cylinder": {"id": "b", "kind": "cylinder", "radius": size, "height": 1, "sides": 8, "cap": "quads"},
            "sphere": {"id": "b", "kind": "sphere", "radius": size, "sides": 8, "rings": 4},
            "tube": {"id": "b", "kind": "tube", "radius": size, "inner_radius": size / 2, "height": 1, "sides": 8},
            "torus": {"id": "b", "kind": "torus", "radius": size, "tube_radius": size / 3, "sides": 8, "tube_sides": 6}}[kind]
    half = {"id": "half", "kind": "slice", "point": [0, 0, 0], "normal": [1, 0, 0], "keep": "above"}
    found = told(form, half, MIRROR, {**SOFT, "levels": level})
    assert not {"apart_at_mirror", "open_border", "folded_surface"} & set(found), found


def crossed_panel():
    """The front of a box cut across, its parts inset far, pushed in and creased: the surface folds."""
    front = facing("+z")
    steps = [box((2, 2, 2))]
    mesh = mesh_of(*steps)
    t = mesh.topology
    face = int(np.flatnonzero(mesh.normals[:, 2] > 0.9)[0])
    a, c = (f"{int(mesh.names.vertex[v]):016x}" for v in t.corners[t.offsets[face]:t.offsets[face + 1]][::2])
    return [*steps, {"id": "x", "kind": "cut", "path": [{"vertex": {"ids": [a]}}, {"vertex": {"ids": [c]}}]},
            {"id": "in", "kind": "inset", "as": "each", "width": 0.45, "depth": -0.9, "pick": front},
            {"id": "cr", "kind": "crease", "sharpness": 10, "pick": {"edges": {"made_by": "in", "role": "inner"}}}]


def test_a_surface_that_folds_over_itself_is_told_at_the_cages_faces():
    """As a slow look sees it: faces of the surface whose normals look away from the cage's, one by one."""
    steps = crossed_panel()
    evaluation = evaluate(*steps, SOFT)
    surface, cage = evaluation.surface.mesh, evaluation.cage.mesh
    source = evaluation.cage_face_of_surface
    backwards = {int(source[f]) for f in range(surface.topology.face_count)
                 if surface.normals[f] @ cage.normals[source[f]] < np.cos(np.radians(100))}
    found = told(*steps, SOFT)
    assert found["folded_surface"] == len(backwards) > 0
    assert "folded_surface" not in told(*steps)


@settings(max_examples=40, deadline=None)
@given(st.floats(0.02, 0.48), st.floats(-1.5, 1.5), st.floats(0, 10), st.integers(1, 3))
def test_folds_of_random_panels_are_those_a_slow_look_sees(width, depth, sharpness, level):
    steps = [box((2, 2, 2), (2, 1, 1)), {"id": "in", "kind": "inset", "as": "each", "width": width, "depth": round(depth, 3), "pick": facing("+z")},
             {"id": "cr", "kind": "crease", "sharpness": round(sharpness, 2), "pick": {"edges": {"made_by": "in", "role": "inner"}}}]
    evaluation = evaluate(*steps, {**SOFT, "levels": level})
    surface, cage, source = evaluation.surface.mesh, evaluation.cage.mesh, evaluation.cage_face_of_surface
    backwards = {int(source[f]) for f in range(surface.topology.face_count)
                 if surface.normals[f] @ cage.normals[source[f]] < np.cos(np.radians(100))}
    assert told(*steps, {**SOFT, "levels": level}).get("folded_surface", 0) == len(backwards)


@pytest.mark.parametrize("operation", ["subtract", "intersect", "unite"])
def test_what_only_serves_as_the_other_side_of_a_boolean_stays_home(tmp_path, operation):
    file = tmp_path / "hood.rhy.json"
    parts = [{"name": "Hood", "steps": [{"id": "b", "kind": "box", "size": [4, 4, 4]}, {"id": "c", "kind": "boolean", "part": "Hole", "operation": operation}]},
             {"name": "Hole", "steps": [{"id": "b", "kind": "box", "size": [1, 9, 1]}]},
             {"name": "Rule", "template": True, "steps": [{"id": "b", "kind": "box", "size": [1, 1, 1]}]}]
    file.write_text(json.dumps({"format": "rhytonic", "version": 1, "parts": parts}))
    assert main(["build", str(file), "--out", str(tmp_path / "x.obj")]) == 0
    text = (tmp_path / "x.obj").read_text()
    assert "o Hood" in text and "Hole" not in text and "Rule" not in text
    assert main(["build", str(file), "--part", "Hole", "--out", str(tmp_path / "y.obj")]) == 0
    assert "o Hole" in (tmp_path / "y.obj").read_text()


def test_a_slice_along_a_loop_is_that_loop():
    loop = [box((2, 2, 2)), {"id": "l", "kind": "insert_loop", "through": {"nearest": [1, 1, 1]}, "at": [0.25]}]
    cut = {"id": "s", "kind": "slice", "point": [0, 0.5, 0], "normal": [0, 1, 0]}
    evaluation = evaluate(*loop, cut, {"id": "c", "kind": "crease", "sharpness": 1, "pick": {"edges": {"made_by": "s", "role": "cut_edge"}}})
    assert evaluation.results[-1].state.picked.elements.size == 4
    assert evaluation.surface.mesh.topology.face_count == mesh_of(*loop).topology.face_count
    for keep, faces in (("above", 5), ("below", 5)):
        assert mesh_of(*loop, {**cut, "keep": keep}).topology.face_count == faces
