"""Outlines, shared areas and distances against shapely and plane geometry."""

import math

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from rhytonic.core.brief.views import PLANES, project
from rhytonic.core.fit.compare import compare
from rhytonic.core.fit.outline import filled, outline
from rhytonic.core.mesh.triangulate import triangulate
from rhytonic.core.recipe.built import build
from rhytonic.core.recipe.document import read_document
from tests.helpers import prism

VIEWS = tuple(PLANES)


def meshes(*steps):
    document = {"format": "rhytonic", "version": 1, "parts": [{"name": "a", "steps": list(steps)}]}
    return [p.mesh for p in build(read_document(document))]


def by_shapely(found, view):
    """The union of all projected triangles, one by one."""
    flat = [shapely.polygons(project(m.points, view)[triangulate(m)[0]]) for m in found]
    return shapely.union_all(shapely.make_valid(np.concatenate(flat)))


def circle(radius, n=720, at=(0.0, 0.0)):
    t = np.linspace(0, 2 * np.pi, n, endpoint=False)
    return shapely.Polygon(np.stack([at[0] + radius * np.cos(t), at[1] + radius * np.sin(t)], axis=1))


# outlines against shapely's union of the projected faces (GEOS OverlayNG) ----------------------------------------------

@pytest.mark.parametrize("corners", [
    [(0, 0), (4, 0), (4, 3), (0, 3)],
    [(0, 0), (4, 0), (4, 1), (1, 1), (1, 3), (0, 3)],  # an L
    [(0, 0), (6, 0), (6, 4), (4, 4), (4, 2), (2, 2), (2, 4), (0, 4)]])  # a U
@pytest.mark.parametrize("view", VIEWS)
def test_the_outline_of_a_prism_is_that_of_its_plan_or_its_box(corners, view):
    mesh = prism(corners, 5.0)
    expected = by_shapely([mesh], view)
    found = outline([mesh], view)
    if view == "top":
        assert shapely.area(shapely.symmetric_difference(found, shapely.Polygon(corners))) < 1e-9
    elif view == "front":
        wide = max(x for x, _ in corners) - min(x for x, _ in corners)
        assert shapely.area(found) == pytest.approx(5 * wide)
    assert shapely.area(shapely.symmetric_difference(found, expected)) < 1e-9 * shapely.area(expected)


@pytest.mark.parametrize("view", VIEWS)
def test_the_outline_of_a_bent_smooth_torus_is_the_union_of_its_faces(view):
    found = meshes({"kind": "torus", "radius": 10, "tube_radius": 3, "sides": 14, "tube_sides": 8},
                   {"kind": "transform", "pick": {"vertices": {"in_box": [[0, None, None], [None, None, None]]}},
                    "translate": [2, 3, 1], "rotate": [20, 30, 5]},
                   {"kind": "subdivision", "levels": 1})
    expected = by_shapely(found, view)
    assert shapely.area(shapely.symmetric_difference(outline(found, view), expected)) < 1e-9 * shapely.area(expected)


def test_open_meshes_and_faces_turned_either_way_cover_what_they_cover():
    sheet = meshes({"kind": "plane", "size": [4, 2]})
    assert shapely.area(outline(sheet, "top")) == pytest.approx(8e-4) == shapely.area(outline(sheet, "bottom"))
    assert shapely.area(outline(sheet, "front")) == 0  # edge on
    half = meshes({"kind": "box", "size": [4, 4, 4], "segments": [2, 2, 2]},
                  {"kind": "flip", "pick": {"faces": {"in_box": [[0, None, None], [None, None, None]]}}},
                  {"kind": "delete", "pick": {"faces": {"facing": "+y"}}})
    assert shapely.area(outline(half, "front")) == pytest.approx(16e-4)


def test_parts_behind_one_another_count_once_and_holes_stay():
    ring = meshes({"kind": "tube", "radius": 5, "inner_radius": 3, "height": 2, "sides": 64})
    area = 32 * math.sin(2 * math.pi / 64) * (25 - 9) * 1e-4  # of a regular n-gon, n/2 r² sin(2π/n)
    assert shapely.area(outline(ring, "top")) == pytest.approx(area, rel=1e-9)
    assert shapely.area(outline([*ring, *ring], "top")) == pytest.approx(area, rel=1e-9)
    assert len(shapely.get_rings(outline(ring, "top"))) == 2


@settings(max_examples=40, deadline=None)
@given(st.lists(st.tuples(st.floats(-5, 5), st.floats(-5, 5), st.floats(-5, 5)), min_size=8, max_size=8),
       st.sampled_from(VIEWS))
def test_any_hexahedron_has_the_outline_of_its_faces(moves, view):
    [mesh] = meshes({"kind": "box", "size": [10, 10, 10]})
    mesh = mesh.with_points(mesh.points + np.array(moves) / 100)
    expected = by_shapely([mesh], view)
    assert shapely.area(shapely.symmetric_difference(outline([mesh], view), expected)) < 1e-7 * max(shapely.area(expected), 1e-6)


# figures by hand ------------------------------------------------------------------------------------------------------

def test_two_offset_squares_share_what_they_share():
    """Squares of side 2, shifted by 1 and 0.5: intersection 1 × 1.5, union 8 − 1.5."""
    f = compare(shapely.box(0, 0, 2, 2), shapely.box(1, 0.5, 3, 2.5))
    assert f.iou == pytest.approx(1.5 / 6.5, rel=1e-12)


def test_a_shifted_square_is_off_by_the_shift_at_worst():
    """Of a square moved by d along x the two sides across are off by d, the others by nothing but near their ends; the
    Hausdorff distance of the outlines is d."""
    f = compare(shapely.box(0, 0, 2, 2), shapely.box(0.1, 0, 2.1, 2))
    assert f.worst == pytest.approx(0.1, rel=1e-9)
    assert f.mean < 0.06
    assert min(abs(f.worst_at[0] - x) for x in (0, 0.1, 2, 2.1)) < 1e-9


@pytest.mark.parametrize("outer", [1.01, 1.1, 1.5])
def test_concentric_circles_are_apart_by_the_difference_of_their_radii(outer):
    f = compare(circle(outer), circle(1.0))
    assert f.mean == pytest.approx(outer - 1, rel=1e-4)
    assert f.worst == pytest.approx(outer - 1, rel=1e-4)
    assert f.iou == pytest.approx(1 / outer**2, rel=1e-12)
    assert (f.model.off > 0).all() and (f.picture.off < 0).all()  # outside the picture; inside the model


def test_the_worst_distance_is_shapelys_hausdorff_distance():
    a, b = circle(1.0, 90), shapely.box(-0.9, -0.8, 1.2, 0.7)
    exact = shapely.hausdorff_distance(shapely.boundary(a), shapely.boundary(b), densify=0.001)
    assert compare(a, b).worst == pytest.approx(exact, rel=2e-3)


def test_outlines_in_several_pieces_are_walked_whole():
    two = shapely.union(circle(1.0), circle(0.5, at=(3.0, 0.0)))
    f = compare(two, two)
    assert f.iou == pytest.approx(1) and f.worst < 1e-12
    walked = f.model.points
    assert (walked[:, 0] > 2.4).any() and (walked[:, 0] < 0).any()
    assert f.model.length.sum() == pytest.approx(shapely.length(two), rel=1e-9)


def test_only_the_trusted_part_is_judged():
    """Right of x = 0 both agree; left of it one is twice as wide."""
    model, picture = shapely.box(-2, 0, 1, 1), shapely.box(-1, 0, 1, 1)
    f = compare(model, picture, shapely.box(0, -5, 5, 5))
    assert f.iou == pytest.approx(1) and f.worst < 1e-12
    assert compare(model, picture).worst == pytest.approx(1)


def test_nothing_to_compare_is_no_figure():
    assert compare(filled([]), shapely.box(0, 0, 1, 1)) is None
    assert compare(shapely.box(0, 0, 1, 1), shapely.box(0, 0, 1, 1), shapely.box(5, 5, 6, 6)) is None
