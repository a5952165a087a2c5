"""Boards in the plane of their view, trusted parts, and nudges."""

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from rhytonic.core.brief.board import Board
from rhytonic.core.brief.standing import from_plane, to_plane
from rhytonic.core.brief.tracing import Trust
from rhytonic.core.errors import InvalidDocument
from rhytonic.core.fit.boards import outline_of, trusted, trusted_of
from rhytonic.core.fit.nudge import nudge
from rhytonic.core.fit.outline import outline
from rhytonic.core.recipe.document import dump, read_document
from tests.helpers import mesh_of

SHA = "0" * 64
SQUARE = [[-1.0, 0.0], [1.0, 0.0], [1.0, 2.0], [-1.0, 2.0]]


def board(**more):
    return Board.model_validate({"id": "b", "picture": SHA, "name": "Board", "width": 10, **more})


def test_an_outline_follows_its_board():
    traced = {"width": 10, "rings": [SQUARE]}
    assert shapely.bounds(outline_of(board(outline=traced), 0.01)) == pytest.approx([-0.01, 0, 0.01, 0.02])
    assert shapely.bounds(outline_of(board(outline=traced, width=20), 0.01)) == pytest.approx([-0.02, 0, 0.02, 0.04])
    assert shapely.bounds(outline_of(board(outline=traced, at=[5, -3]), 0.01)) == pytest.approx([0.04, -0.03, 0.06, -0.01])
    turned = shapely.bounds(outline_of(board(outline=traced, turn=90), 1.0))
    assert turned == pytest.approx([-2, -1, 0, 1])  # counter-clockwise about the lower middle
    lopsided = {"width": 10, "rings": [[[0, 0], [3, 0], [3, 1]]]}
    assert shapely.bounds(outline_of(board(outline=lopsided, mirrored=True), 1.0)) == pytest.approx([-3, 0, 0, 1])


@settings(max_examples=40, deadline=None)
@given(st.floats(-360, 360), st.booleans(), st.tuples(st.floats(-9, 9), st.floats(-9, 9)), st.tuples(st.floats(-9, 9), st.floats(-9, 9)))
def test_onto_the_plane_and_back(turn, mirrored, at, place):
    b = board(turn=turn, mirrored=mirrored, at=at)
    p = np.array([place])
    assert from_plane(b, to_plane(b, p, 0.01), 0.01) == pytest.approx(p, abs=1e-9)


def test_trusted_parts_of_a_picture():
    def holds(trust, x, y):
        return bool(shapely.intersects_xy(trusted(Trust.model_validate(trust), 1.5), x, y))
    assert holds({"start": "left"}, -0.2, 0.5) and not holds({"start": "left"}, 0.2, 0.5)
    assert holds({"start": "upper"}, 0.2, 1.0) and not holds({"start": "upper"}, 0.2, 0.5)
    box = {"start": "box", "box": [0.25, 0.0, 0.5, 0.5]}
    assert holds(box, -0.2, 0.3) and not holds(box, 0.1, 0.3) and not holds(box, -0.2, 0.9)
    stroke = {"paint": "in", "radius": 0.1, "points": [[0.2, 0.2], [0.2, 0.8]]}
    assert holds({"start": "none", "strokes": [stroke]}, 0.25, 0.5) and not holds({"start": "none", "strokes": [stroke]}, 0.4, 0.5)
    assert not holds({"start": "all", "strokes": [{**stroke, "paint": "out"}]}, 0.2, 0.5)
    assert trusted_of(board(), 1.5, 0.01) is None
    region = trusted_of(board(trust={"start": "right"}, at=[5, 0]), 1.5, 0.01)
    assert bool(shapely.intersects_xy(region, 0.06, 0.01)) and not bool(shapely.intersects_xy(region, 0.04, 0.01))


def blocked(move, levels=2):
    """A box of blocks whose top is moved, smoothed."""
    return [mesh_of({"id": "b", "kind": "box", "size": [10, 10, 10], "segments": [2, 2, 2]},
                    {"id": "t", "kind": "transform", "pick": {"vertices": {"in_box": [[None, 9.9, None], [None] * 3]}},
                     "translate": [float(move[0]) * 100, float(move[1]) * 100, 0.0]},
                    {"id": "s", "kind": "subdivision", "levels": levels}, unit="cm")]


@pytest.mark.parametrize("true", [(0.012, 0.02), (-0.03, 0.0), (0.0, -0.015)])
def test_a_nudge_finds_the_move_that_was_made(true):
    """The picture is the model with its top moved: the suggestion is that move."""
    found = nudge(blocked, "front", outline(blocked(true), "front"), None)
    assert found.move == pytest.approx(true, abs=2e-4)
    assert found.after.mean < 0.02 * found.before.mean and found.after.iou > 0.995


def test_a_nudge_lowers_the_mean_also_where_nothing_fits_wholly():
    other = [mesh_of({"id": "b", "kind": "cylinder", "radius": 6, "height": 13, "sides": 24}, unit="cm")]
    found = nudge(lambda d: blocked(d, 1), "front", outline(other, "front"), None)
    assert found.after.mean < found.before.mean


def test_no_nudge_where_nothing_can_get_better():
    assert nudge(blocked, "front", outline(blocked((0, 0)), "front"), None) is None
    still = blocked((0, 0))
    assert nudge(lambda d: still, "front", shapely.box(-0.05, 0, 0.05, 0.2), None) is None


def test_the_document_holds_the_brief_and_gives_it_back():
    whole = {"format": "rhytonic", "version": 1, "unit": "mm", "display": {"unit": "in", "digits": 2},
             "boards": [{"id": "a", "picture": SHA, "name": "A", "view": "free", "width": 5, "crop": [0.1, 0.0, 0.9, 1.0], "tint": "#aabbcc",
                         "place": {"translate": [1.0, 2.0, 3.0], "rotate": [0.0, 90.0, 0.0]}, "turn": 3.0, "mirrored": True, "one_sided": True,
                         "source": {"picture": "1" * 64, "distortion": -0.05},
                         "outline": {"width": 5, "tracing": {"threshold": 0.2, "strokes": [{"radius": 0.1, "points": [[0.1, 0.2]]}]}, "rings": [SQUARE]},
                         "trust": {"start": "left"}, "parts": ["p"]}],
             "guides": [{"id": "g", "name": "Eaves", "kind": "level", "at": [0.0, 3.0, 0.0]}],
             "sizes": [{"id": "s", "name": "Width", "measure": "width", "of": [{"part": "p"}], "want": 3.0,
                        "driver": {"kind": "scale", "part": "p", "axis": "x"}}],
             "parts": [{"name": "P", "id": "p", "steps": [{"id": "b", "kind": "box", "size": [1.0, 1.0, 1.0]}]}]}
    read = read_document(whole)
    assert read_document(dump(read)) == read
    assert dump(read)["boards"][0]["crop"] == [0.1, 0.0, 0.9, 1.0]


@pytest.mark.parametrize("broken, told", [
    ({"boards": [{"id": "a", "picture": SHA, "name": "A", "width": 5, "crop": [0.5, 0, 0.4, 1]}]}, "left less than right"),
    ({"boards": [{"id": "a", "picture": SHA, "name": "A", "width": 5, "tint": "red"}]}, "tint"),
    ({"guides": [{"id": "g", "name": "L", "kind": "line"}]}, "two points"),
    ({"sizes": [{"id": "s", "name": "S", "measure": "gap", "of": [{"part": "p"}, {"part": "p"}]}]}, "two different"),
    ({"sizes": [{"id": "s", "name": "S", "measure": "distance", "of": [{"part": "p"}]}]}, "2 targets, not of 1"),
    ({"sizes": [{"id": "s", "name": "S", "measure": "angle", "of": [{"part": "p"}, {"part": "q"}]}]}, "picked elements"),
    ({"sizes": [{"id": "s", "name": "S", "measure": "height"}, {"id": "s", "name": "T", "measure": "width"}]}, "two size ids")])
def test_what_breaks_the_contract_is_told(broken, told):
    with pytest.raises(InvalidDocument, match=told):
        read_document({"format": "rhytonic", "version": 1, **broken})


def plate(move, corner):
    """A plate of six by four faces seen from the front, one vertex of its upper edge moved."""
    return [mesh_of({"id": "p", "kind": "plane", "size": [12, 8], "segments": [6, 4]},
                    {"id": "up", "kind": "transform", "pick": {"faces": {"not": {"ids": []}}}, "rotate": [90, 0, 0], "about": "origin"},
                    {"id": "t", "kind": "transform", "pick": {"vertices": {"nearest": corner}},
                     "translate": [float(move[0]) * 100, float(move[1]) * 100, 0.0]}, unit="cm")]


@pytest.mark.parametrize("seed", range(12))
def test_a_nudge_passes_no_neighbour_and_goes_no_farther_than_the_picture_is(seed):
    """Looked at by another library: the faces round what moved, as polygons, stay whole and lie beside each other."""
    rng = np.random.default_rng(seed)
    corner = [float(rng.integers(-2, 3)) * 2, 4.0, 0.0]
    picture = shapely.Polygon(rng.uniform([-0.09, -0.05], [0.09, 0.12], (5, 2))).convex_hull
    found = nudge(lambda d: plate(d, corner), "front", picture, None)
    if found is None:
        return
    mesh = plate(found.move, corner)[0]
    t = mesh.topology
    faces = [shapely.Polygon(mesh.points[t.corners[t.offsets[f]:t.offsets[f + 1]], :2]) for f in range(t.face_count)]
    assert all(f.is_valid for f in faces)
    assert sum(f.area for f in faces) == pytest.approx(shapely.union_all(faces).area, rel=1e-6)
    away = max(picture.boundary.distance(shapely.Point(x / 100, corner[1] / 100)) for x in (corner[0] - 2, corner[0], corner[0] + 2))
    assert np.hypot(*found.move) <= 2.0 * away + 1e-4
