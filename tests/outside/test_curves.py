"""Curves, sweeps and copies along them, against formulas."""

import numpy as np
import pytest
from scipy.integrate import quad

from rhytonic.core.curve.curve import Curve, Wires
from rhytonic.core.curve.frames import frames_along
from rhytonic.core.inspect.report import report
from rhytonic.core.recipe.built import build
from tests.helpers import together


def built(*parts):
    """The first of some parts, in metres."""
    return build(together(*parts, unit="m"))[0]


def part_report(*parts):
    document = together(*parts, unit="m")
    return report(document, build(document)[:1])["parts"][0]


def mesh_of(*parts):
    return built(*parts).mesh


def line_of(*steps):
    return built({"name": "Line", "steps": list(steps)}).curve


def swept(path, profile, **more):
    return {"name": "Solid", "steps": [path, {"kind": "sweep", "profile": profile, **more}]}


def curve_of(*steps):
    return part_report({"name": "Line", "steps": list(steps)})["curve"]


def test_a_fillet_touches_both_sides_and_has_its_radius():
    """Tangent length r·tan(turn/2), arc length r·turn: Euclid, Elements III.18 and plane trigonometry, from memory."""
    for turn in np.radians([30, 60, 90, 120]):
        end = [10 + 10 * np.cos(turn), 10 * np.sin(turn), 0]
        steps = 400
        told = curve_of({"kind": "path", "steps": steps, "points": [
            [0, 0, 0], {"at": [10, 0, 0], "corner": "fillet", "size": 2}, end]})
        expected = 20 - 2 * 2 * np.tan(turn / 2) + 2 * turn
        divisions = round(steps * turn / (np.pi / 2))
        chords = 2 * 2 * np.sin(turn / divisions / 2) * divisions
        assert told["points"] == 4
        assert told["length"] == pytest.approx(expected - 2 * turn + chords, rel=1e-12)


def test_points_of_a_fillet_are_all_so_far_from_its_centre():
    line = line_of(
        {"kind": "path", "points": [[0, 0, 0], {"at": [10, 0, 0], "corner": "fillet", "size": 3}, [10, 10, 0]]}).divided.points
    arc = line[1:-1]
    np.testing.assert_allclose(np.linalg.norm(arc - [7, 3, 0], axis=1), 3, rtol=1e-12)
    assert len(arc) == 7  # six edges for a quarter turn
    angles = np.unwrap(np.arctan2(arc[:, 1] - 3, arc[:, 0] - 7))
    np.testing.assert_allclose(np.diff(angles), np.pi / 12, rtol=1e-9)


def test_the_length_of_a_soft_span_is_that_of_its_cubic():
    """Arc length by quadrature of |B'(t)| (P. Bézier's curves; scipy.integrate.quad). Chords fall short by a quarter at twice
    as many steps."""
    a, b, c, d = np.array([[0, 0, 0], [0, 3, 0], [4, 5, 1], [6, 0, 0]], float)

    def speed(t):
        return float(np.linalg.norm(3 * (1 - t) ** 2 * (b - a) + 6 * (1 - t) * t * (c - b) + 3 * t * t * (d - c)))

    exact = quad(speed, 0, 1, epsabs=1e-12)[0]
    off = []
    for steps in (50, 100):
        told = curve_of({"kind": "path", "steps": steps, "points": [
            {"at": a.tolist(), "corner": "soft", "out": (b - a).tolist()},
            {"at": d.tolist(), "corner": "soft", "in": (c - d).tolist()}]})
        off.append(exact - told["length"])
    assert off[0] / off[1] == pytest.approx(4, rel=0.01)
    assert off[1] / exact < 1e-4


def test_soft_handles_are_a_third_of_each_span_and_parallel_to_the_chord():
    curve = line_of({"kind": "path", "points": [[0, 0, 0], {"at": [3, 3, 0], "corner": "soft"}, [9, 0, 0]]})
    chord = np.array([1.0, 0, 0])
    np.testing.assert_allclose(curve.controls[0, 1], [3, 3, 0] - chord * np.sqrt(18) / 3)
    np.testing.assert_allclose(curve.controls[1, 0], [3, 3, 0] + chord * np.sqrt(45) / 3)


def test_areas_of_closed_outlines():
    assert curve_of({"kind": "circle", "radius": 2, "sides": 24})["area"] == pytest.approx(24 / 2 * 4 * np.sin(2 * np.pi / 24))
    rounded = curve_of({"kind": "rectangle", "size": [6, 4], "radius": 1})
    corner = 6 * np.sin(np.pi / 12) / 2  # six triangles of a quarter of a 24-gon of radius 1
    assert rounded["area"] == pytest.approx(6 * 4 - 4 + 4 * corner)
    assert rounded["points"] == 8 and rounded["closed"] and rounded["planar"]


def test_a_mitred_frame_of_a_rectangle_has_exactly_its_volume():
    """(a+w)(b+w) − (a−w)(b−w) times the thickness."""
    a, b, w, t = 7.0, 5.0, 0.8, 0.3
    half = [[-a / 2, -b / 2, 0], [a / 2, -b / 2, 0], [a / 2, b / 2, 0], [-a / 2, b / 2, 0]]
    told = part_report(swept({"kind": "path", "closed": True, "points": half}, {"rectangle": [w, t]}))
    assert told["volume"] == pytest.approx(((a + w) * (b + w) - (a - w) * (b - w)) * t, rel=1e-12)
    assert told["quads"] == told["faces"] == 16


@pytest.mark.parametrize("offset", [0.0, 0.4, -0.4])
def test_a_ring_swept_off_its_path_obeys_pappus(offset):
    """Volume = section × way of its centroid (Pappus of Alexandria, Collection VII; P. Guldin, 1640), exactly for the prisms a
    polygon is made of: x looks inward, so that the centroid goes round the polygon narrowed by the offset."""
    n, r, sides, wire = 24, 3.0, 10, 0.25
    told = part_report(swept({"kind": "circle", "radius": r, "sides": n}, {"circle": wire, "sides": sides}, offset=[offset, 0]))
    section = sides / 2 * wire**2 * np.sin(2 * np.pi / sides)
    apothem = r * np.cos(np.pi / n) - offset
    assert told["volume"] == pytest.approx(section * 2 * n * np.tan(np.pi / n) * apothem, rel=1e-12)
    assert told["genus"] == 1


def test_a_planar_path_never_twists_its_profile():
    path = {"kind": "path", "points": [[0, 0, 0], {"at": [4, 0, 0], "corner": "soft"}, {"at": [4, 5, 0], "corner": "fillet",
                                                                                         "size": 1}, [-3, 5, 0], [-3, 9, 0]]}
    told = part_report(swept(path, {"rectangle": [0.5, 0.2]}))
    assert told["min"][2] == pytest.approx(-0.1, abs=1e-12) and told["max"][2] == pytest.approx(0.1, abs=1e-12)
    frames = frames_along(line_of(path).divided.points, False)
    np.testing.assert_allclose(np.abs(frames.y), np.broadcast_to([0, 0, 1], frames.y.shape), atol=1e-12)


def helix(radius, rise, turns, n):
    t = np.linspace(0, 2 * np.pi * turns, n + 1)
    return t, np.stack([radius * np.cos(t), radius * np.sin(t), rise * t], axis=1)


def test_frames_along_a_helix_turn_against_its_torsion():
    """On a helix the axes turn against the principal normal by the torsion times the length, −∫τ ds (W. Wang, B. Jüttler,
    D. Zheng, Y. Liu, Computation of rotation minimizing frames, ACM TOG 27(1), 2008, section 2): here −rise·t/√(r² + rise²).
    The error falls by four at twice as many points."""
    off = []
    for n in (200, 400):
        t, points = helix(1.0, 0.3, 1.0, n)
        middle = (t[:-1] + t[1:]) / 2
        normal = -np.stack([np.cos(middle), np.sin(middle), 0 * middle], axis=1)
        f = frames_along(points, False, up=tuple(normal[0]))
        binormal = np.cross(f.tangent, normal)
        angle = np.unwrap(np.arctan2(np.einsum("ij,ij->i", f.y, binormal), np.einsum("ij,ij->i", f.y, normal)))
        expected = -0.3 / np.hypot(1.0, 0.3) * (middle - middle[0])
        off.append(np.abs(angle - angle[0] - expected).max())
    assert off[1] < 1e-3
    assert off[0] / off[1] == pytest.approx(4, rel=0.1)


def test_copies_along_a_line_are_evenly_spaced_and_turn_with_it():
    """A half circle divided into 12 edges: copies at its quarters stand at its corners, turned by 45° each."""
    way = {"name": "Way", "steps": [{"kind": "arc", "radius": 2, "from": 0, "to": 180}]}
    post = {"name": "Posts", "placement": {"translate": [2, 0, 0]}, "steps": [
        {"kind": "box", "size": [0.2, 0.4, 0.6], "anchor": "centre"}, {"kind": "array", "count": 5, "along": {"part": "Way"}}]}
    mesh = mesh_of(post, way)
    middles = mesh.points.reshape(5, 8, 3).mean(axis=1)
    turn = np.radians([0, 45, 90, 135, 180])
    np.testing.assert_allclose(middles, np.stack([2 * np.cos(turn), 2 * np.sin(turn), 0 * turn], axis=1), atol=1e-12)
    edge = mesh.points.reshape(5, 8, 3)
    reach = np.ptp(edge, axis=1)
    np.testing.assert_allclose(reach[2], [0.4 * 1, 0.2, 0.6], atol=0.06)  # a quarter turn swaps width and height
    still = {"kind": "array", "count": 5, "along": {"part": "Way", "align": False}}
    plain = mesh_of({**post, "steps": [post["steps"][0], still]}, way)
    np.testing.assert_allclose(np.ptp(plain.points.reshape(5, 8, 3), axis=1), np.tile([0.2, 0.4, 0.6], (5, 1)), atol=1e-12)


def test_copies_round_a_closed_curve_leave_no_double_at_its_seam():
    ring = {"name": "Ring", "steps": [{"kind": "circle", "radius": 1, "sides": 12}]}
    mesh = mesh_of({"name": "Studs", "steps": [{"kind": "box", "size": [0.1, 0.1, 0.1]}, {
        "kind": "array", "count": 6, "along": {"part": "Ring"}}]}, ring)
    middles = mesh.points.reshape(6, 8, 3).mean(axis=1)
    turn = np.radians(60) * np.arange(6)
    ring_of_it = np.stack([np.cos(turn) - 1, np.sin(turn), 0 * turn], axis=1)
    np.testing.assert_allclose(middles - middles[0], ring_of_it, atol=1e-12)


def test_moving_points_carries_what_shapes_their_spans():
    """An affine map of all points maps every point of the curve."""
    rng = np.random.default_rng(4)
    wires = Wires(np.array([0, 4]), np.array([True]), np.array([0, 1, 2, 1]), np.array([1, 0.7, 1, 0.9]), np.array([1, 5, 7, 4]))
    curve = Curve(rng.normal(size=(4, 3)), rng.normal(size=(4, 2, 3)), wires, np.arange(4, dtype=np.uint64))
    curve.controls[[1, 3], 1] = curve.controls[[1, 3], 0]
    linear, shift = rng.normal(size=(3, 3)), rng.normal(size=3)
    moved = curve.moved(curve.points @ linear.T + shift, np.broadcast_to(linear, (4, 3, 3)))
    np.testing.assert_allclose(moved.divided.points, curve.divided.points @ linear.T + shift, atol=1e-12)
