"""Outlines moved, thickened and combined, and solids made of curves, against formulas and shapely."""

import numpy as np
import pytest
import shapely
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from scipy.integrate import quad

from rhytonic.core.errors import StepError
from rhytonic.core.inspect.report import report
from rhytonic.core.mesh.measure import measure
from rhytonic.core.recipe.built import build
from tests.helpers import together

EVERY = {"vertices": "all"}


def built(*steps, others=()):
    return build(together({"name": "Line", "steps": list(steps)}, *others, unit="m"))[0]


def curve_of(*steps, others=()):
    document = together({"name": "Line", "steps": list(steps)}, *others, unit="m")
    return report(document, build(document)[:1])["parts"][0]["curve"]


def volume(*steps, others=()):
    m = measure(built(*steps, others=others).mesh)
    assert m.closed and m.manifold
    return m.volume


def region(*steps):
    """What a curve encloses, by shapely alone."""
    line = built(*steps).curve.divided
    out = shapely.Polygon()
    for i in range(line.closed.size):
        out = out.symmetric_difference(shapely.make_valid(shapely.Polygon(line.points[line.run(i), :2])))
    return out


def closed(points):
    return {"kind": "path", "closed": True, "points": points}


def flat(points):
    return [[float(x), float(y), 0.0] for x, y in points]


def test_a_mitred_offset_of_a_rectangle_and_a_round_one():
    """(w + 2d)(h + 2d); and w·h + 2d(w + h) + the polygon of 24 edges about each corner (Steiner's formula, from memory)."""
    square = {"kind": "rectangle", "size": [4, 2]}
    for d in (0.5, -0.5):
        told = curve_of(square, {"kind": "offset", "distance": d})
        assert told["area"] == pytest.approx((4 + 2 * d) * (2 + 2 * d), rel=1e-12)
    told = curve_of(square, {"kind": "offset", "distance": 0.5, "corners": "round"})
    assert told["area"] == pytest.approx(8 + 12 * 0.5 + 24 / 2 * 0.5**2 * np.sin(2 * np.pi / 24), rel=1e-12)


def test_an_arc_stays_an_arc_about_its_centre_when_it_is_moved_sideways():
    arc = {"kind": "arc", "radius": 3, "from": 20, "to": 250}
    for d in (0.5, -0.5):  # left of a curve that turns counter-clockwise is towards its centre
        line = built(arc, {"kind": "offset", "distance": d}).curve
        assert (line.wires.kind[:-1] == 1).all()
        np.testing.assert_allclose(np.linalg.norm(line.divided.points, axis=1), 3 - d, rtol=1e-12)


ring = st.lists(st.tuples(st.integers(-12, 12), st.integers(-12, 12)), min_size=3, max_size=8, unique=True)


def simple(points):
    shape = shapely.Polygon(points)
    return shape.is_valid and shape.area > 1


@settings(max_examples=60, deadline=None)
@given(ring, st.floats(-3, 3).filter(lambda d: abs(d) > 0.05))
def test_offsets_of_any_outline_are_those_of_shapely(points, distance):
    """shapely (GEOS), buffer with mitred joints; corners sharper than its limit are left out, as ours are cut elsewhere."""
    assume(simple(points))
    at = np.array(points, float)
    into, out = at - np.roll(at, 1, axis=0), np.roll(at, -1, axis=0) - at
    cosine = (into * out).sum(axis=1) / np.linalg.norm(into, axis=1) / np.linalg.norm(out, axis=1)
    assume((cosine > -0.95).all())
    theirs = shapely.Polygon(points).buffer(distance, join_style="mitre", mitre_limit=50)
    steps = closed(flat(points)), {"kind": "offset", "distance": distance}
    try:
        ours = region(*steps)
    except StepError as error:
        assert "nothing is left" in str(error) and theirs.area < 1e-6
        return
    assert ours.symmetric_difference(theirs).area < 1e-6 * max(theirs.area, 1)


@settings(max_examples=40, deadline=None)
@given(st.lists(st.tuples(st.integers(-12, 12), st.integers(-12, 12)), min_size=2, max_size=7, unique=True),
       st.floats(0.1, 4), st.sampled_from(["flat", "round"]))
def test_thickened_outlines_are_those_of_shapely(points, width, ends):
    """shapely (GEOS), buffer of a line with flat or round ends."""
    at = np.array(points, float)
    way = np.diff(at, axis=0)
    unit = way / np.linalg.norm(way, axis=1)[:, None]
    assume(((unit[1:] * unit[:-1]).sum(axis=1) > -0.95).all())
    ours = region({"kind": "path", "points": flat(points)}, {"kind": "thicken", "width": width, "ends": ends})
    theirs = shapely.LineString(points).buffer(width / 2, join_style="mitre", mitre_limit=50, cap_style="flat")
    slack = 1e-6 * theirs.area
    if ends == "round":
        theirs = theirs.union(shapely.MultiPoint([points[0], points[-1]]).buffer(width / 2, quad_segs=64))
        slack += 0.02 * width**2  # two half discs of twelve edges each lack so much at most
    assert ours.symmetric_difference(theirs).area < slack


def test_a_thickened_line_is_width_times_length_and_sides_differ_as_told():
    """Area of a mitred band: its width by the length of its middle line (Pappus in the plane, from memory)."""
    path = {"kind": "path", "points": flat([(0, 0), (10, 0), (10, 10), (4, 14)])}
    middle = 10 + 10 + np.hypot(6, 4)
    assert curve_of(path, {"kind": "thicken", "width": 0.6})["area"] == pytest.approx(0.6 * middle, rel=1e-12)
    # all on the left: the middle line lies half of it inside both corners, which turn left
    turns = np.pi / 2, np.arctan2(4, -6) - np.pi / 2
    inside = middle - 0.6 * sum(np.tan(t / 2) for t in turns)
    assert curve_of(path, {"kind": "thicken", "left": 0.6})["area"] == pytest.approx(0.6 * inside, rel=1e-12)


@settings(max_examples=50, deadline=None)
@given(ring, ring, st.sampled_from(["unite", "subtract", "intersect"]))
def test_combined_outlines_are_those_of_shapely(one, two, operation):
    """shapely (GEOS), overlay of two polygons."""
    assume(simple(one) and simple(two))
    a, b = shapely.Polygon(one), shapely.Polygon(two)
    theirs = {"unite": a | b, "subtract": a - b, "intersect": a & b}[operation]
    other = {"name": "Other", "steps": [closed(flat(two))]}
    steps = closed(flat(one)), {"kind": "combine", "parts": ["Other"], "operation": operation}
    if theirs.area == 0:
        with pytest.raises(StepError, match=r"nothing is left|no area"):
            built(*steps, others=[other])
        return
    assert curve_of(*steps, others=[other])["area"] == pytest.approx(theirs.area, rel=1e-9)


def test_combined_arcs_stay_arcs_where_they_were():
    disc = {"name": "Disc", "steps": [{"kind": "arc", "radius": 1, "from": 0, "to": 360, "steps": 8}]}
    line = built({"kind": "rectangle", "size": [2, 4]}, {"kind": "transform", "pick": EVERY, "translate": [1, 0, 0]},
                 {"kind": "combine", "parts": ["Disc"]}, others=[disc]).curve
    arcs = line.wires.kind == 1
    assert arcs.sum() == 2 and (line.wires.steps[arcs] == 8).all()
    around = line.divided.points[np.repeat(arcs, line.wires.steps)]
    np.testing.assert_allclose(np.linalg.norm(around, axis=1), 1, rtol=1e-12)


@pytest.mark.parametrize("sides", [7, 24])
def test_a_lathe_obeys_pappus(sides):
    """Pappus–Guldinus with the polygon's own turn: area times the way of its centroid, sides · 2 sin(π/sides) / (2π/sides)
    … of a full turn, exactly: V = A · x̄ · n · sin(2π/n) for an n-sided ring."""
    corners = [(3, 0), (5, 1), (4, 3)]
    area, centre = shapely.Polygon(corners).area, np.mean(corners, axis=0)
    steps = closed(flat(corners)), {"kind": "lathe", "sides": sides}
    # each slice between two half planes is a frustum: exact for wedges is the second moment, so sum it as one
    def slab(y):
        low, high = (g for g in _across(corners, y))
        return (high**2 - low**2) / 2 * np.sin(2 * np.pi / sides) * sides
    exact = quad(slab, 0, 1)[0] + quad(slab, 1, 3)[0]
    assert exact == pytest.approx(area * centre[0] * sides * np.sin(2 * np.pi / sides), rel=1e-9)
    assert volume(*steps) == pytest.approx(exact, rel=1e-9)
    part = volume(*steps[:1], {"kind": "lathe", "sides": sides, "angle": 90})
    assert part == pytest.approx(area * centre[0] * sides * np.sin(np.pi / 2 / sides), rel=1e-9)


def _across(corners, y):
    """Where a triangle begins and ends at a height."""
    line = shapely.LineString([(-100, y), (100, y)]).intersection(shapely.Polygon(corners))
    return line.bounds[0], line.bounds[2]


def test_a_swept_rectangular_frame_has_exactly_its_mitred_volume():
    """(a + w)² − (a − w)² of a square frame of mean side a and bar w, times its depth."""
    a, w, t = 10.0, 1.0, 0.5
    frame = {"kind": "rectangle", "size": [a, a]}
    assert volume(frame, {"kind": "sweep", "profile": {"rectangle": [w, t]}}) == pytest.approx(
        ((a + w) ** 2 - (a - w) ** 2) * t, rel=1e-12)


def test_an_extruded_outline_with_holes_is_area_times_depth():
    plate = ({"kind": "rectangle", "size": [6, 4], "radius": 0.5},
             {"kind": "duplicate", "id": "in", "pick": EVERY},
             {"kind": "transform", "pick": {"vertices": {"made_by": "in"}}, "scale": [0.5, 0.5, 1]})
    area = curve_of(*plate)["area"]
    assert area == pytest.approx(curve_of(plate[0])["area"] * 0.75, rel=1e-12)
    for depth in (1.5, -1.5):
        assert volume(*plate, {"kind": "extrude_curve", "depth": depth, "segments": 2}) == pytest.approx(area * 1.5, rel=1e-12)
    assert measure(built(*plate, {"kind": "fill"}).mesh).area == pytest.approx(area, rel=1e-12)
    # a hole along a swept profile: area times length on a straight way
    way = {"kind": "path", "points": [[0, 0, 0], [0, 3, 7]]}
    profile = {"name": "Plate", "steps": list(plate)}
    assert volume(way, {"kind": "sweep", "profile": "Plate"}, others=[profile]) == pytest.approx(area * np.hypot(3, 7), rel=1e-12)


def test_refinement_draws_the_cubic_b_spline():
    """The limit of a vertex is (1, 4, 1)/6 of it and its neighbours (J. Lane, R. Riesenfeld, IEEE PAMI 2(1), 1980)."""
    at = flat([(0, 0), (4, 0), (4, 4), (1, 6)])
    line = built(closed(at), {"kind": "smooth_curve", "levels": 8}).curve.points
    p = np.array(at)
    limit = (np.roll(p, 1, axis=0) + 4 * p + np.roll(p, -1, axis=0)) / 6
    for q in limit:
        assert np.linalg.norm(line - q, axis=1).min() < 1e-4


def test_points_spaced_along_a_circle_lie_on_it_evenly():
    line = built({"kind": "arc", "radius": 2, "from": 0, "to": 360}, {"kind": "respace", "count": 37}).curve.points
    np.testing.assert_allclose(np.linalg.norm(line, axis=1), 2, rtol=1e-12)
    gaps = np.linalg.norm(line - np.roll(line, -1, axis=0), axis=1)
    np.testing.assert_allclose(gaps, 2 * 2 * np.sin(np.pi / 37), rtol=1e-4)


def test_a_cut_span_is_the_same_curve():
    """Half of a circle and of a soft outline, cut by a plane and put back: points of both lie on the whole."""
    soft = closed([{"at": at, "corner": "soft"} for at in flat([(-4, 0), (3, -2), (4, 5), (-1, 6)])])
    for start in (soft, {"kind": "arc", "radius": 4, "from": 0, "to": 360}):
        whole = region(start, {"kind": "respace", "count": 4000})
        half = region({**start, "steps": 40}, {"kind": "mirror", "axis": "x", "at": 0.5}, {"kind": "respace", "count": 4000})
        kept = shapely.box(0.5, -50, 50, 50)
        assert half.intersection(kept).symmetric_difference(whole.intersection(kept)).area < 1e-4 * whole.area
        assert half.area == pytest.approx(2 * whole.intersection(kept).area, rel=1e-4)


def test_lengths_on_a_surface_are_true():
    """uv: along by the depth, around by the length of the outline, in metres; a face's area in them is its own."""
    mesh = built({"kind": "rectangle", "size": [3, 2], "radius": 0.4}, {"kind": "extrude_curve", "depth": 5, "segments": 3}).mesh
    t, uv = mesh.topology, mesh.attributes["uv"].values
    for face in range(t.face_count):
        corner = slice(t.offsets[face], t.offsets[face + 1])
        x, y = uv[corner].T
        laid = abs(x @ np.roll(y, -1) - y @ np.roll(x, -1)) / 2
        p = mesh.points[t.corners[corner]]
        vector = sum(np.cross(p[i], p[(i + 1) % len(p)]) for i in range(len(p))) / 2
        assert laid == pytest.approx(np.linalg.norm(vector), rel=1e-9)


def test_round_ends_of_a_band_that_is_all_on_one_side_stand_there():
    """Half discs about the middle of each end, whether the outline is sound as it comes or was put together anew."""
    crossing = region({"kind": "path", "points": flat([(-7, 2), (10, 4), (3, 11), (1, -2)])}, {"kind": "thicken", "width": 2, "ends": "round"})
    assert crossing.geom_type == "Polygon" and len(crossing.interiors) == 1  # ends and band are one piece, found at random
    for points in ([(0, 0), (10, 0)], [(0, 0), (10, 0), (10, 1.5), (0, 1.5)]):
        ours = region({"kind": "path", "points": flat(points)}, {"kind": "thicken", "left": 2, "right": 0, "ends": "round"})
        assert ours.contains(shapely.Point(-0.95, 1)) and not ours.contains(shapely.Point(-0.95, -0.5))


def test_lengths_on_lathes_and_sweeps_are_true():
    """A cylinder unrolls exactly; a turned body as a whole by Pappus–Guldinus; a straight sweep face by face."""
    ring = closed(flat([(2, 0), (3, 0), (3, 5), (2, 5)]))
    mesh = built(ring, {"kind": "lathe", "sides": 40, "angle": 200}).mesh
    assert laid(mesh).sum() == pytest.approx(measure(mesh).area, rel=2e-2)
    way = {"kind": "path", "points": [[0, 0, 0], [0, 0, 7]]}
    mesh = built(way, {"kind": "sweep", "profile": {"circle": 1, "sides": 9}}).mesh
    areas = np.array([np.linalg.norm(sum(np.cross(p[i], p[(i + 1) % len(p)]) for i in range(len(p))) / 2)
                      for p in (mesh.points[mesh.topology.corners[a:b]] for a, b in zip(mesh.topology.offsets, mesh.topology.offsets[1:], strict=False))])
    np.testing.assert_allclose(laid(mesh), areas, rtol=1e-9)


def laid(mesh):
    """Area of each face as it is laid flat."""
    uv, t = mesh.attributes["uv"].values, mesh.topology
    out = []
    for a, b in zip(t.offsets, t.offsets[1:], strict=False):
        x, y = uv[a:b].T
        out.append(abs(x @ np.roll(y, -1) - y @ np.roll(x, -1)) / 2)
    return np.array(out)
