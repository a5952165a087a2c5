"""What lies on the plane between a half and its image stays there: the half edited and mirrored is the whole edited."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rhytonic.core.errors import StepError
from rhytonic.core.mesh.measure import measure
from rhytonic.core.recipe.registry import KINDS
from tests.helpers import assert_sound, box, facing, mesh_of

WHOLE = box((4, 2, 2), (4, 2, 2))
#: the half of it with x from 0 on: open where it goes on as its image
HALF = [WHOLE, {"id": "half", "kind": "slice", "point": [0, 0, 0], "normal": [1, 0, 0], "keep": "above"}]
MIRROR = {"id": "m", "kind": "mirror", "axis": "x"}


def halves(pick, **values):
    """The whole edited on both sides, and the half edited with its plane held, then mirrored."""
    both = mesh_of(WHOLE, {"id": "e", "pick": pick(False), **values})
    one = mesh_of(*HALF, {"id": "e", "pick": pick(True), **values, "hold_plane": "x"}, MIRROR)
    return both, one


def inside(half, *, wide=1.0, facing_up=True):
    """Faces of the top beside the plane: x up to so much, on one side or on both."""
    low = 0 if half else -wide
    return {"faces": {"all_of": [facing("+y")["faces"], {"in_box": [[low, None, -1], [wide, None, 0]]}]}}


def same(one, two):
    """The same places, faces and volume."""
    a, b = (m.points[np.lexsort(np.round(m.points, 9).T)] for m in (one, two))
    assert a.shape == b.shape and np.allclose(a, b, atol=1e-9)
    assert one.topology.face_count == two.topology.face_count
    assert measure(one).volume == pytest.approx(measure(two).volume, rel=1e-9)
    assert measure(one).closed and measure(two).closed


@pytest.mark.parametrize("values", [
    {"kind": "extrude", "depth": 0.5}, {"kind": "extrude", "depth": -0.5, "segments": 2}, {"kind": "extrude", "depth": 0.5, "along": "surface"},
    {"kind": "extrude", "depth": 0.5, "scale": 0.5}, {"kind": "extrude", "depth": 0.5, "margin": 0.2}, {"kind": "extrude", "depth": 0.5, "along": "+y"},
    {"kind": "inset", "width": 0.2}, {"kind": "inset", "width": 0.2, "depth": -0.3}])
def test_a_half_edited_beside_its_plane_is_half_of_the_whole_edited(values):
    both, one = halves(inside, **values)
    same(both, one)
    assert_sound(one)


def test_a_tilted_region_is_pushed_along_the_plane():
    """The normal of the half's faces points away from the plane; that of both halves does not."""
    roof = {"id": "roof", "kind": "transform", "pick": {"vertices": {"in_box": [[0, 2, None], [0, 2, None]]}}, "translate": [0, 1, 0]}
    top = {"faces": {"in_box": [[-1, 2, None], [1, None, None]]}}
    both = mesh_of(WHOLE, roof, {"id": "e", "kind": "extrude", "pick": top, "depth": 0.4})
    one = mesh_of(*HALF, roof, {"id": "e", "kind": "extrude", "pick": {"faces": {"in_box": [[0, 2, None], [1, None, None]]}}, "depth": 0.4, "hold_plane": "x"}, MIRROR)
    same(both, one)
    loose = mesh_of(*HALF, roof, {"id": "e", "kind": "extrude", "pick": {"faces": {"in_box": [[0, 2, None], [1, None, None]]}}, "depth": 0.4}, MIRROR)
    assert loose.topology.face_count > one.topology.face_count  # walls in the slit


HOLDING = sorted(word for word, kind in KINDS.items() if "hold_plane" in kind.model.model_fields)


def test_every_edit_that_moves_or_makes_points_off_its_pick_may_hold_a_plane():
    assert {"transform", "extrude", "extrude_edges", "inset", "ridge", "bevel", "bridge", "relax", "brush", "noise", "lattice", "bend",
            "slide", "even_out", "round_out", "flatten", "stitch", "weld", "twist", "taper", "stretch"} <= set(HOLDING)


VALUES = {
    "transform": {"translate": [0.3, 0.1, 0.2], "rotate": [10, 20, 30]}, "extrude": {"depth": 0.2}, "inset": {"width": 0.1, "depth": 0.1},
    "bevel": {"width": 0.1}, "ridge": {"width": 0.1, "height": 0.1}, "relax": {"iterations": 3}, "noise": {"amount": 0.3, "size": 0.5, "along": "free"},
    "slide": {"amount": 0.5}, "even_out": {}, "round_out": {}, "flatten": {"to": "x", "at": 0.7}, "weld": {"distance": 0.6},
    "lattice": {"offsets": {"0,0,0": [0.5, 0.2, 0.1], "1,1,1": [0.4, 0, 0]}}, "bend": {"along": "y", "toward": "+x", "angle": 40},
    "twist": {"axis": "y", "angle": 40}, "taper": {"axis": "y", "scale": 0.5}, "stretch": {"axis": "x", "factor": 1.5},
    "brush": {"tool": "inflate", "radius": 1.5, "strokes": [{"points": [[0.2, 2, 0, 1]]}]}}
ON = {"extrude": "faces", "inset": "faces", "bevel": "edges", "ridge": "edges", "slide": "edges", "even_out": "edges"}


@settings(max_examples=80, deadline=None)
@given(st.sampled_from(sorted(VALUES)), st.lists(st.integers(0, 999), min_size=1, max_size=6))
def test_points_on_the_plane_stay_and_what_comes_of_them_alone_lies_on_it(kind, picks):
    from rhytonic.core.recipe.evaluate import Evaluator
    from tests.helpers import document
    from tests.random_recipes import WHOLE as WITHOUT_PICK
    from tests.random_recipes import ids_of

    before = mesh_of(*HALF)
    pick = {} if kind in WITHOUT_PICK else {"pick": ids_of(before, ON.get(kind, "vertices"), picks)}
    step = {"id": "e", "kind": kind, **VALUES[kind], **pick, "hold_plane": "x"}
    try:
        evaluation = Evaluator().run(document(*HALF, step).parts[0], "m")
    except StepError:
        return
    after, draft = evaluation.surface.mesh, evaluation.results[-1].state.plan.draft
    on = np.abs(before.points[:, 0]) <= 1e-6
    kept = draft.kept_vertices
    assert (after.points[(kept >= 0) & on[np.maximum(kept, 0)], 0] == 0).all()
    mirrored = mesh_of(*HALF, step, MIRROR)
    if kind not in ("flatten", "weld", "noise", "transform"):  # those may push others through the plane, where they are cut off
        assert measure(mirrored).closed or not (after.points[:, 0] >= -1e-9).all()


def test_only_what_lies_on_the_plane_is_held():
    """A hair beside it is a place of its own, however near."""
    for beside, kept in ((0.0, True), (1e-4, False), (0.05, False)):
        sheet = {"id": "p", "kind": "plane", "size": [2, 2], "segments": [1, 1]}
        there = {"id": "t", "kind": "transform", "pick": {"vertices": "all"}, "translate": [1 + beside, 0, 0]}
        moved = {"id": "e", "kind": "transform", "pick": {"vertices": "all"}, "translate": [0.2, 0, 0], "hold_plane": "x"}
        x = np.unique(mesh_of(sheet, there, moved).points[:, 0].round(9))
        assert x[0] == pytest.approx(0.0 if kept else 0.2 + beside)
