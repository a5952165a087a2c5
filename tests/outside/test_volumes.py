"""Volumes, areas and centres against closed formulas, and against trimesh on the same triangles."""

import math

import numpy as np
import pytest
import trimesh
from hypothesis import assume, given

from rhytonic.core.mesh.measure import measure
from rhytonic.core.mesh.triangulate import triangulate
from tests.helpers import box, extrude, mesh_of
from tests.random_recipes import recipes, run


def as_trimesh(mesh):
    return trimesh.Trimesh(mesh.points, triangulate(mesh)[0], process=False)


@pytest.mark.parametrize("a, b, c", [(1, 1, 1), (18, 26, 18), (0.003, 2, 50)])
def test_prism_by_hand(a, b, c):
    """Divergence theorem on a box: V = abc, A = 2(ab + bc + ca) (Euclid, Elements XI; any handbook)."""
    told = measure(mesh_of(box((a, b, c), (2, 1, 3))))
    assert told.volume == pytest.approx(a * b * c, rel=1e-12)
    assert told.area == pytest.approx(2 * (a * b + b * c + c * a), rel=1e-12)


@pytest.mark.parametrize("n, cap", [(n, cap) for n in (3, 4, 5, 16, 257) for cap in ("ngon", "fan", "quads")
                                    if cap != "quads" or n % 2 == 0])
def test_n_sided_cylinder(n, cap):
    """V = n/2 · r² · sin(2π/n) · h exactly: n triangles of two radii (Archimedes' polygons; I. Bronshtein, K. Semendyayev,
    Handbook of Mathematics, 'regular polygons')."""
    r, h = 0.35, 1.0
    told = measure(mesh_of({"id": "c", "kind": "cylinder", "radius": r, "height": h, "sides": n, "cap": cap}))
    assert told.volume == pytest.approx(n / 2 * r * r * math.sin(2 * math.pi / n) * h, rel=1e-12)
    assert told.area == pytest.approx(n * 2 * r * math.sin(math.pi / n) * h + n * r * r * math.sin(2 * math.pi / n), rel=1e-12)


def test_cone_and_frustum():
    """V = h/3 · (A + √(A·B) + B) (Heron, Metrica; Bronshtein/Semendyayev, 'frustum of a pyramid')."""
    base = 12 / 2 * math.sin(2 * math.pi / 12)
    cone = measure(mesh_of({"id": "c", "kind": "cylinder", "radius": 1, "height": 3, "sides": 12, "radius_top": 0}))
    assert cone.volume == pytest.approx(base * 3 / 3)
    frustum = measure(mesh_of({"id": "c", "kind": "cylinder", "radius": 1, "height": 3, "sides": 12, "radius_top": 0.5}))
    assert frustum.volume == pytest.approx(3 / 3 * base * (1 + 0.5 + 0.25))


@pytest.mark.parametrize("depth", [0.7, 2, -0.4])
@pytest.mark.parametrize("how", ["region", "each"])
def test_extrude_of_a_flat_region(depth, how):
    """Volume grows by area × depth (Cavalieri's principle)."""
    top = {"faces": {"in_box": [[None, 3, None], [None, None, 0]]}}
    told = measure(mesh_of(box((3, 3, 4), (3, 3, 2)), extrude(top, depth, **{"as": how})))
    assert told.volume == pytest.approx(36 + 3 * 2 * depth)


def test_extrude_slanted_grows_by_the_height_alone():
    """Cavalieri again: shear changes no volume."""
    told = measure(mesh_of(box((2, 2, 2)), extrude({"faces": {"facing": "+y"}}, math.sqrt(2), along=[1, 1, 0])))
    assert told.volume == pytest.approx(8 + 4 * 1)


def test_a_drum_of_the_trade():
    """A 16-sided drum of radius 35 and height 100 (common practice, no source), in centimetres."""
    told = measure(mesh_of({"id": "c", "kind": "cylinder", "radius": 35, "height": 100}, unit="cm"))
    assert told.maximum == pytest.approx((0.35, 1.0, 0.35)) and told.quads == 16 and told.ngons == 2


@given(recipes(("extrude", "transform", "subdivision")))
def test_trimesh_measures_the_same(steps):
    """trimesh (Dawson-Haggerty et al., MIT licence): area, volume and bounds of the exported triangles."""
    mesh = run(steps).surface.mesh
    ours, theirs = measure(mesh), as_trimesh(mesh)
    assert ours.area == pytest.approx(theirs.area, rel=1e-9)
    assert np.allclose(theirs.bounds, [ours.minimum, ours.maximum])
    assert ours.triangles == len(theirs.faces)
    assume(mesh.topology.is_closed and mesh.topology.is_oriented)
    assert ours.volume == pytest.approx(theirs.volume, rel=1e-8, abs=1e-9)
    assert ours.euler == theirs.euler_number


def test_torus_by_pappus():
    """Pappus–Guldinus (Pappus, Collection VII; P. Guldin, Centrobaryca, 1641): a polygon of area A turned about an axis at
    distance R. With n flat sides the prisms between two turns of the polygon make 2πR into n·sin(2π/n)·R exactly."""
    n, m, big, small = 48, 12, 3.0, 1.0
    told = measure(mesh_of({"id": "t", "kind": "torus", "radius": big, "tube_radius": small, "sides": n, "tube_sides": m}))
    area = m / 2 * small**2 * math.sin(2 * math.pi / m)
    assert told.volume == pytest.approx(area * big * n * math.sin(2 * math.pi / n), rel=1e-9)


def test_spheres_approach_the_ball():
    """V = 4/3 πr³ (Archimedes, On the Sphere and Cylinder): the error falls with the square of the segments."""
    ball = 4 / 3 * math.pi
    for kind, names in (("quad_sphere", ("segments",)), ("sphere", ("sides", "rings"))):
        off = [ball - measure(mesh_of({"id": "s", "kind": kind, "radius": 1, **dict.fromkeys(names, n)})).volume for n in (8, 16, 32)]
        assert all(o > 0 for o in off)
        assert off[0] / off[1] == pytest.approx(4, rel=0.1) and off[1] / off[2] == pytest.approx(4, rel=0.1)
