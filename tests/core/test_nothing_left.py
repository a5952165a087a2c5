"""Cuts and joins that leave faces without area, or bodies without a room, tell it with the step."""

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from rhytonic.core.errors import StepError
from rhytonic.core.mesh.measure import faces_without_area
from rhytonic.core.recipe.evaluate import Evaluator
from rhytonic.core.recipe.registry import KINDS
from tests.helpers import box, document, evaluate, facing, mesh_of
from tests.random_recipes import as_step, recipes, run, wishes

WATCHED = tuple(sorted(word for word, kind in KINDS.items() if kind.watches_area))


def test_a_body_of_two_faces_is_noted():
    """A box whose edges but those of one loop are dissolved."""
    flat = [box((2, 1, 2)), {"id": "d", "kind": "dissolve", "pick": {"edges": {"of_faces": facing("+y")["faces"]}}}]
    evaluation = evaluate(*flat, {"id": "e", "kind": "dissolve", "pick": {"edges": {"nearest": [1, 0.5, 1]}}},
                          {"id": "f", "kind": "dissolve", "pick": {"edges": {"outline_of": facing("-y")["faces"]}}}, tolerant=True)
    told = " ".join(n for r in evaluation.results for n in r.notes) + " ".join(str(r.error) for r in evaluation.results if r.error)
    assert "two faces back to back" in told, told


def test_a_corner_cut_to_a_line_is_noted_with_its_place():
    straight = [box((2, 2, 2), (2, 1, 1)), {"id": "d", "kind": "dissolve", "keep_points": True, "pick": {"edges": {"in_box": [[0, None, None], [0, None, None]]}}}]
    mesh = mesh_of(*straight)
    t = mesh.topology
    top = int(np.flatnonzero(mesh.normals[:, 1] > 0.9)[0])
    loop = t.corners[t.offsets[top]:t.offsets[top + 1]]
    middle = [v for v in loop if abs(mesh.points[v, 0]) < 1e-9]
    before = loop[(list(loop).index(middle[0]) - 1) % loop.size], loop[(list(loop).index(middle[0]) + 1) % loop.size]
    ids = [f"{int(mesh.names.vertex[v]):016x}" for v in before]
    evaluation = evaluate(*straight, {"id": "c", "kind": "connect", "pick": {"vertices": {"ids": ids}}}, tolerant=True)
    last = evaluation.results[-1]
    told = " ".join(last.notes) + (last.error.message if last.error else "")
    assert "without area" in told or last.error is not None, told


@settings(max_examples=60, deadline=None)
@given(recipes(most=2), wishes(WATCHED), st.integers(0, 3))
def test_every_face_without_area_is_told_by_the_step_that_left_it(steps, wish, squash):
    """On meshes whose vertices stand on a coarse grid, some at one place: areas by numpy's own cross product."""
    coarse = {"id": "q", "kind": "flatten", "pick": {"vertices": {"in_box": [[None, None, None], [0.1 * squash, None, None]]}}, "to": "y"}
    if squash:
        try:
            run([*steps, coarse])
        except StepError:
            return
        steps = [*steps, coarse]
    mesh = run(steps).surface.mesh
    if not mesh.topology.face_count:
        return
    longer = [*steps, as_step(wish, mesh, "last")]
    evaluation = Evaluator().run(document(*longer).parts[0], "m", tolerant=True)
    last = evaluation.results[-1]
    if last.error is not None:
        return
    made, draft = last.state.mesh, last.state.plan.draft
    t = made.topology
    empty = []
    for f in range(t.face_count):
        p = made.points[t.corners[t.offsets[f]:t.offsets[f + 1]]]
        area = np.linalg.norm(np.cross(p - p[0], np.roll(p, -1, axis=0) - p[0]).sum(axis=0)) / 2
        if area <= max(1e-10 * max(np.linalg.norm(np.roll(p, -1, axis=0) - p, axis=1)) ** 2, 1e-18):
            empty.append(f)
    old = set(faces_without_area(mesh).tolist())
    fresh = [f for f in empty if draft.kept_faces[f] < 0 or draft.kept_faces[f] not in old]
    assert bool(fresh) == any("without area" in n for n in last.notes)


def test_mirrors_of_bodies_that_are_not_manifold_are_made_or_refused():
    """Welded copies that share edges and faces, mirrored in planes through and beside them."""
    made = 0
    for seed in range(25):
        r = np.random.default_rng(seed)
        steps = [box((2, 2, 2), tuple(int(v) for v in r.integers(1, 3, 3)))]
        for i in range(3):
            mesh = mesh_of(*steps)
            face = f"{int(mesh.names.face[r.integers(mesh.topology.face_count)]):016x}"
            step = [{"kind": "duplicate", "pick": {"faces": {"ids": [face]}}, "translate": r.choice([0, 1, 2, -1], 3).tolist()},
                    {"kind": "array", "count": 2, "step": r.choice([0, 1, 2], 3).tolist(), "weld": 1e-5},
                    {"kind": "weld", "pick": {"vertices": "all"}, "distance": 0.01}][int(r.integers(3))]
            try:
                mesh_of(*steps, {"id": f"s{i}", **step})
                steps = [*steps, {"id": f"s{i}", **step}]
            except StepError:
                continue
        for axis in "xyz":
            for at in (0, 0.5, 1.0):
                for clip in (True, False):
                    try:
                        mesh = mesh_of(*steps, {"id": "m", "kind": "mirror", "axis": axis, "at": at, "clip": clip})
                    except StepError as error:
                        assert error.code != "unforeseen"
                        continue
                    made += 1
                    assert mesh.topology.faults() == [] and np.isfinite(mesh.points).all()
    assert made > 330
