"""Catmull–Clark against its papers, against B-splines, and vertex for vertex against COMPAS."""

import numpy as np
import pytest
from compas.datastructures import Mesh as CompasMesh
from hypothesis import assume, given
from scipy.interpolate import BSpline
from scipy.spatial import cKDTree

from rhytonic.core.construct.refining.refine import Refinement
from rhytonic.core.mesh.topology import Topology
from tests.helpers import box, mesh_of
from tests.random_recipes import recipes, run


def test_the_cube_of_the_paper():
    """E. Catmull, J. Clark, Computer-Aided Design 10(6), 1978: a cube of half-size 1 after one step has face points at 1,
    edge points at (0, 3/4, 3/4) and vertex points at 5/9 per axis."""
    m = mesh_of(box((2, 2, 2), anchor="centre"), {"id": "s", "kind": "subdivision", "levels": 1})
    size = np.sort(np.abs(m.points), axis=1)
    assert np.allclose(size[:8], 5 / 9)
    assert np.allclose(size[8:20], [0, 0.75, 0.75])
    assert np.allclose(size[20:], [0, 0, 1])


def test_the_limit_of_the_cubes_corner():
    """M. Halstead, M. Kass, T. DeRose, SIGGRAPH 1993, limit mask of a vertex of valence n:
    (n² P + 4 Σ edges + Σ faces) / (n (n + 5)) applied after one step. Deep refinement converges to it."""
    m = mesh_of(box((2, 2, 2), anchor="centre"), {"id": "s", "kind": "subdivision", "levels": 1})
    corner, n = m.points[0], 3
    near = np.unique(m.topology.edges[(m.topology.edges == 0).any(axis=1)])
    edges = m.points[near[near != 0]].sum(axis=0)
    t = m.topology
    faces = np.flatnonzero((t.corners.reshape(-1, 4) == 0).any(axis=1))
    opposite = m.points[t.corners.reshape(-1, 4)[faces]].reshape(-1, 3)
    diagonal = opposite.sum(axis=0) - n * corner - 2 * edges
    limit = (n * n * corner + 4 * edges + diagonal) / (n * (n + 5))
    deep = mesh_of(box((2, 2, 2), anchor="centre"), {"id": "s", "kind": "subdivision", "levels": 6})
    assert np.allclose(deep.points[0], limit, atol=1e-4)


def test_a_regular_patch_is_the_uniform_bicubic_b_spline():
    """The same paper, section 2: on a regular grid the scheme is knot insertion of bicubic B-splines; the limit at a grid
    vertex is the spline there. Values from scipy's BSpline."""
    rng = np.random.default_rng(7)
    n = 7
    control = np.stack(np.meshgrid(np.arange(n), [0.0], np.arange(n), indexing="ij"), axis=-1).reshape(n, n, 3)
    control[..., 1] = rng.normal(size=(n, n))
    number = np.arange(n * n).reshape(n, n)
    quads = np.stack([number[:-1, :-1], number[:-1, 1:], number[1:, 1:], number[1:, :-1]], axis=-1).reshape(-1, 4)
    t = Topology(n * n, np.arange(0, quads.size + 1, 4), quads.ravel())
    levels = 4
    deep = Refinement(t, "edge").apply(control.reshape(-1, 3), levels)
    knots = np.arange(-1, n + 3) - 1.0  # uniform: basis i centred on i
    along = BSpline(knots, control, 3, axis=0)
    for u in (2, 3, 4):
        for v in (2, 3, 4):
            exact = BSpline(knots, along(u), 3, axis=0)(v)
            assert np.allclose(deep[number[u, v]], exact, atol=3e-2 * 4.0 ** -(levels - 1) * 16)


def as_sets(points):
    return cKDTree(points)


@given(recipes(("extrude", "transform")))
def test_compas_vertex_for_vertex(steps):
    """COMPAS (ETH Zürich, MIT licence), mesh_subdivide_catmullclark, on closed quad meshes; agrees to 1e-14 of the size."""
    mesh = run(steps).surface.mesh
    t = mesh.topology
    assume(t.uniform == 4 and t.is_closed and t.is_manifold and t.face_count <= 120)
    theirs = CompasMesh.from_vertices_and_faces(mesh.points.tolist(), t.corners.reshape(-1, 4).tolist())
    theirs = theirs.subdivided(scheme="catmullclark", k=1)
    points = np.array([theirs.vertex_coordinates(v) for v in theirs.vertices()])
    ours = Refinement(t, "edge").apply(mesh.points, 1)
    assert len(points) == len(ours)
    size = np.ptp(mesh.points, axis=0).max()
    assert cKDTree(points).query(ours)[0].max() <= 1e-13 * size
    assert cKDTree(ours).query(points)[0].max() <= 1e-13 * size


def test_compas_on_a_box_numbered_alike():
    mesh = mesh_of(box((3, 1, 2), (3, 2, 2)))
    theirs = CompasMesh.from_vertices_and_faces(mesh.points.tolist(), mesh.topology.corners.reshape(-1, 4).tolist())
    theirs = theirs.subdivided(scheme="catmullclark", k=2)
    points = np.array([theirs.vertex_coordinates(v) for v in theirs.vertices()])
    ours = Refinement(mesh.topology, "edge").apply(mesh.points, 2)
    assert cKDTree(points).query(ours)[0].max() <= 1e-14 * 3
    assert theirs.number_of_faces() == Refinement(mesh.topology, "edge").result(2).face_count


@pytest.mark.parametrize("boundary, expected", [("edge", 0.75), ("edge_and_corner", 1.0)])
def test_borders_as_openusd_says(boundary, expected):
    """OpenUSD, UsdGeomMesh, interpolateBoundary: edgeOnly makes border edges sharp, edgeAndCorner keeps corners of one face
    too. A border curve is the uniform cubic B-spline: (1, 6, 1) / 8."""
    plane = {"id": "p", "kind": "plane", "size": [2, 2]}
    m = mesh_of(plane, {"id": "s", "kind": "subdivision", "levels": 1, "boundary": boundary})
    assert np.allclose(np.abs(m.points[:4][:, [0, 2]]), expected)
