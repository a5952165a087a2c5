"""Bevel, crease, slice, bridge, shell, mirror and weld against formulas and other people's code."""

import math

import numpy as np
import pytest
import trimesh

from rhytonic.core.mesh.measure import measure
from rhytonic.core.mesh.triangulate import triangulate
from tests.helpers import box, evaluate, facing, mesh_of

CUBE = box((2, 3, 4))


def bevel(width, segments, rule="all", **more):
    return {"id": "b", "kind": "bevel", "pick": {"edges": rule}, "width": width, "segments": segments, **more}


def volume(*steps):
    return measure(mesh_of(*steps)).volume


def steiner(a, b, c, w):
    """J. Steiner, Über parallele Flächen, Monatsberichte der Akademie Berlin, 1840: the box shrunk by w and grown by a ball."""
    a, b, c = a - 2 * w, b - 2 * w, c - 2 * w
    return a * b * c + 2 * w * (a * b + b * c + c * a) + math.pi * w**2 * (a + b + c) + 4 / 3 * math.pi * w**3


def test_a_rounded_box_approaches_steiners_formula_with_segments_squared():
    exact = steiner(2, 3, 4, 0.3)
    error = {s: exact - volume(CUBE, bevel(0.3, s)) for s in (2, 4, 8, 16)}
    assert all(e > 0 for e in error.values())
    for s in (2, 4, 8):
        assert error[s] / error[2 * s] == pytest.approx(4, rel=0.05)


def test_a_flat_bevel_of_one_box_edge():
    """Plane geometry: a right triangle of legs w is cut off along the edge."""
    assert volume(CUBE, bevel(0.25, 1, {"nearest": [1, 3, 0]})) == pytest.approx(24 - 0.25**2 / 2 * 4)


def test_a_round_bevel_of_one_box_edge():
    """Plane geometry: between the corner and an inscribed polygon of a quarter circle."""
    w, s = 0.25, 6
    polygon = s * 0.5 * w * w * math.sin(math.pi / 2 / s)
    assert volume(CUBE, bevel(w, s, {"nearest": [1, 3, 0]})) == pytest.approx(24 - (w * w - polygon) * 4)


@pytest.mark.parametrize("segments", [1, 2, 3, 4, 6])
def test_quad_counts_of_a_bevelled_box(segments):
    """Euler–Poincaré, and the counts of the grids that stand in the corners."""
    m = measure(mesh_of(CUBE, bevel(0.3, segments)))
    assert m.euler == 2
    h = segments // 2
    corner = 1 if segments == 1 else 3 * h * h if segments % 2 == 0 else 3 * (h * h + h) + 1
    assert m.faces == 6 + 12 * segments + 8 * corner


def test_all_edges_infinitely_sharp_leaves_the_cube():
    """T. DeRose, M. Kass, T. Truong, SIGGRAPH 1998."""
    crease = {"id": "c", "kind": "crease", "pick": {"edges": "all"}, "sharpness": 10}
    m = mesh_of(box((2, 2, 2), anchor="centre"), crease, {"id": "s", "kind": "subdivision", "levels": 3})
    assert np.allclose(np.abs(m.points).max(axis=1), 1) and measure(m).volume == pytest.approx(8)


def test_a_fractional_crease_is_the_blend_of_both_rules():
    """The same paper, section 4.2: an edge of sharpness s < 1 interpolates linearly between the rules."""
    cube = box((2, 2, 2), anchor="centre")
    soft, half, sharp = (mesh_of(cube, {"id": "c", "kind": "crease", "pick": {"edges": "all"}, "sharpness": s},
                                 {"id": "s", "kind": "subdivision", "levels": 1}).points for s in (0, 0.4, 1))
    assert np.allclose(half, 0.6 * soft + 0.4 * sharp)


@pytest.mark.parametrize("normal", [(0, 1, 0), (1, 2, 3), (-1, 0.3, 0.2), (1, 1, 1)])
def test_both_halves_of_a_slice_make_the_whole(normal):
    for form in (CUBE, {"id": "t", "kind": "torus", "radius": 2, "tube_radius": 0.7}):
        halves = [volume(form, {"id": "s", "kind": "slice", "point": [0.1, 1.2, 0.1] if form is CUBE else [0.1, 0.6, 0.2],
                                "normal": normal, "keep": k, "cap": True}) for k in ("above", "below")]
        assert all(h is not None and h > 0 for h in halves) and sum(halves) == pytest.approx(volume(form))


def test_slice_area_against_trimesh():
    """trimesh's own section of the same triangles."""
    m = mesh_of({"id": "t", "kind": "torus", "radius": 2, "tube_radius": 0.7})
    triangles, _ = triangulate(m)
    section = trimesh.Trimesh(m.points, triangles, process=False).section([0, 1, 0.3], [0, 0.6, 0])
    length = section.length
    cut = mesh_of({"id": "t", "kind": "torus", "radius": 2, "tube_radius": 0.7},
                  {"id": "f", "kind": "slice", "point": [0, 0.6, 0], "normal": [0, 1, 0.3], "keep": "above"})
    t = cut.topology
    ends = cut.points[t.edges[t.border_edges]]
    assert np.linalg.norm(ends[:, 0] - ends[:, 1], axis=1).sum() == pytest.approx(length, rel=0.01)


def test_a_bridge_between_two_regions_of_one_shell_adds_a_handle():
    """Euler–Poincaré: V − E + F = 2(S − G)."""
    pick = {"faces": {"any_of": [{"nearest": [-1.6, 1, 0]}, {"nearest": [1.6, 1, 0]}]}}
    m = measure(mesh_of(box((4, 1, 1), (5, 1, 1)), {"id": "b", "kind": "bridge", "pick": pick, "segments": 3}))
    assert m.genus == 1 and m.euler == 0 and m.shells == 1


def test_shell_of_a_ball():
    """Two polyhedra of the same shape: the ratio of volumes is the cube of that of their inscribed radii."""
    form = {"id": "q", "kind": "box", "size": [2, 2, 2]}
    m = volume(form, {"id": "h", "kind": "shell", "thickness": 0.25})
    assert m == pytest.approx(2.5**3 - 2**3)


def test_mirrored_volume_is_twice_the_half():
    half = [{"id": "c", "kind": "sphere", "radius": 1, "sides": 9, "rings": 6}, {"id": "s", "kind": "slice", "point": [0, 0, 0],
            "normal": [1, 0, 0], "keep": "above"}]
    capped = volume(half[0], {**half[1], "cap": True})
    assert volume(*half, {"id": "m", "kind": "mirror", "axis": "x"}) == pytest.approx(2 * capped)


def test_welding_mirrored_halves():
    """Common practice, no source: distance 0 merges nothing, a little above 0 merges the seam."""
    half = [box((2, 2, 2)), {"id": "s", "kind": "slice", "point": [0, 0, 0], "normal": [1, 0, 0], "keep": "above"},
            {"id": "copy", "kind": "duplicate", "pick": {"faces": "all"}, "rotate": [0, 180, 0], "translate": [-1, 0, 0]}]
    weld = {"id": "w", "kind": "weld", "pick": {"vertices": "all"}}
    apart, joined = (measure(mesh_of(*half, {**weld, "distance": d})) for d in (0, 1e-6))
    assert apart.shells == 2 and not apart.closed and joined.shells == 1 and joined.closed


@pytest.mark.parametrize("steps", [
    [CUBE, bevel(0.2, 3)], [CUBE, {"id": "m", "kind": "mirror", "axis": "x"}],
    [CUBE, {"id": "s", "kind": "slice", "point": [0, 1, 0], "normal": [1, 2, 3], "keep": "above", "cap": True}],
    [{"id": "t", "kind": "tube", "radius": 2, "inner_radius": 1, "height": 2},
     {"id": "s", "kind": "slice", "point": [0.3, 1, 0], "normal": [1, 0, 0.2], "keep": "below", "cap": True}],
    [CUBE, {"id": "d", "kind": "delete", "pick": facing("+y")}, {"id": "h", "kind": "shell", "thickness": 0.1}],
    [{"id": "c", "kind": "cylinder", "radius": 1, "height": 4, "sides": 12, "height_segments": 4},
     {"id": "r", "kind": "ridge", "pick": {"edges": {"loop_through": {"nearest": [1, 2, 0]}}}, "height": 0.2, "width": 0.4}]])
def test_trimesh_finds_them_watertight(steps):
    m = mesh_of(*steps)
    triangles, _ = triangulate(m)
    other = trimesh.Trimesh(m.points, triangles, process=False)
    assert other.is_watertight and other.is_winding_consistent and other.volume == pytest.approx(measure(m).volume)
    assert evaluate(*steps).results[-1].notes == ()
