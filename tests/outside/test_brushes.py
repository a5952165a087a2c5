"""Brushes and weld beads, against what is known of spheres, planes and lengths."""

import numpy as np
import pytest

from rhytonic.core.construct.falloff import soft_weight
from rhytonic.core.mesh.measure import measure
from tests.helpers import box, mesh_of

BALL = {"id": "ball", "kind": "quad_sphere", "radius": 1, "segments": 16, "anchor": "centre"}
SHEET = {"id": "sheet", "kind": "plane", "size": [2, 2], "segments": [40, 40]}


def brush(tool, points, radius=0.5, **more):
    return {"id": "b", "kind": "brush", "tool": tool, "radius": radius, "strokes": [{"points": points}], **more}


def over(count=60):
    """Samples all over the ball."""
    turn = np.pi * (3 - np.sqrt(5)) * np.arange(count)  # Fibonacci's lattice on a sphere: from memory
    height = 1 - 2 * (np.arange(count) + 0.5) / count
    around = np.sqrt(1 - height**2)
    return np.column_stack([around * np.cos(turn), height, around * np.sin(turn), np.ones(count)]).tolist()


def test_smooth_shrinks_a_sphere_and_relax_keeps_its_volume():
    """Umbrella smoothing is a discrete mean-curvature flow, which shrinks spheres: M. Desbrun and others, SIGGRAPH 1999."""
    was = measure(mesh_of(BALL)).volume
    smoothed = measure(mesh_of(BALL, brush("smooth", over()))).volume
    relaxed = measure(mesh_of(BALL, brush("relax", over()))).volume
    assert smoothed < 0.995 * was
    assert relaxed == pytest.approx(was, rel=0.01)


def test_relax_evens_the_spacing_of_a_sheet_that_stays_flat():
    crowded = {"id": "c", "kind": "transform", "pick": {"vertices": {"in_box": [[-0.5, -1, -0.5], [0.5, 1, 0.5]]}},
               "scale": [0.6, 1, 0.6], "about": "origin", "falloff": {"radius": 0.4}}
    points = [[x, 0, z, 1] for x in np.linspace(-0.8, 0.8, 9) for z in np.linspace(-0.8, 0.8, 9)]

    def spread(*steps):
        mesh = mesh_of(SHEET, crowded, *steps)
        a, b = mesh.topology.edges.T
        long = np.linalg.norm(mesh.points[a] - mesh.points[b], axis=1)
        assert np.abs(mesh.points[:, 1]).max() < 1e-12
        return long.std() / long.mean()

    assert spread(brush("relax", points * 3, radius=0.4, strength=1)) < 0.8 * spread()


def test_a_dome_raised_by_inflate_has_the_weights_profile():
    """A layer is strength × radius / 2 × the weight of soft selection, and the weight is that of the contract."""
    mesh = mesh_of(SHEET, brush("inflate", [[0, 0, 0, 1]], radius=0.7, strength=0.4, fullness=0.3, hold=False))
    off = np.linalg.norm(mesh.points[:, [0, 2]], axis=1)
    inside = off < 0.7
    expected = 0.4 * 0.7 / 2 * soft_weight(off[inside] / 0.7, 0.3)
    np.testing.assert_allclose(mesh.points[inside, 1], expected, atol=1e-12)
    assert not mesh.points[~inside, 1].any()


def test_a_layer_does_not_depend_on_how_finely_its_stroke_is_sampled():
    coarse = mesh_of(SHEET, brush("inflate", [[-0.5, 0, 0, 1], [0.5, 0, 0, 1]], radius=0.3))
    fine = mesh_of(SHEET, brush("inflate", [[x, 0, 0, 1] for x in np.linspace(-0.5, 0.5, 41)], radius=0.3))
    there_and_back = mesh_of(SHEET, brush("inflate", [[x, 0, 0, 1] for x in (-0.5, 0.1, 0.5, -0.3)], radius=0.3))
    np.testing.assert_allclose(fine.points, coarse.points, atol=1e-12)
    np.testing.assert_allclose(there_and_back.points, coarse.points, atol=1e-12)


def test_flatten_brings_points_into_one_plane_and_pinch_draws_them_together():
    bumpy = {"id": "n", "kind": "noise", "pick": {"vertices": "all"}, "amount": 0.05, "size": 0.2}
    middle = {"vertices": {"in_box": [[-0.3, -1, -0.3], [0.3, 1, 0.3]]}}

    def flatness(*steps):
        mesh = mesh_of(SHEET, bumpy, *steps)
        near = np.linalg.norm(mesh.points[:, [0, 2]], axis=1) < 0.3
        return np.linalg.svd(mesh.points[near] - mesh.points[near].mean(axis=0))[1][2]

    assert flatness(brush("flatten", [[0, 0, 0, 1]] * 12, radius=0.6, strength=1)) < 0.2 * flatness()
    rest, pinched = mesh_of(SHEET), mesh_of(SHEET, brush("pinch", [[0, 0, 0, 1]] * 4, radius=0.6, pick=middle))
    near = np.linalg.norm(rest.points, axis=1) < 0.3
    assert np.linalg.norm(pinched.points[near], axis=1).mean() < 0.8 * np.linalg.norm(rest.points[near], axis=1).mean()


def test_a_groove_is_as_deep_as_told_and_draws_its_sides_in():
    mesh = mesh_of(SHEET, brush("groove", [[-0.5, 0, 0, 1], [0.5, 0, 0, 1]], radius=0.3, strength=0.6))
    assert mesh.points[:, 1].min() == pytest.approx(-0.6 * 0.3 / 2, rel=1e-9)
    line = np.abs(mesh_of(SHEET).points[:, 0]) < 0.4
    aside = mesh_of(SHEET).points[line, 2]
    assert (np.abs(mesh.points[line, 2]) <= np.abs(aside) + 1e-12).all() and np.abs(mesh.points[line, 2]).sum() < np.abs(aside).sum()


def test_a_grab_takes_its_middle_along_whole_and_nothing_beyond_the_radius():
    mesh = mesh_of(SHEET, {"kind": "brush", "tool": "grab", "radius": 0.5, "strokes": [{"points": [[0, 0, 0, 1]], "move": [0.1, 0.3, 0]}]})
    rest = mesh_of(SHEET).points
    centre = int(np.linalg.norm(rest, axis=1).argmin())
    np.testing.assert_allclose(mesh.points[centre] - rest[centre], [0.1, 0.3, 0], atol=1e-15)
    far = np.linalg.norm(rest, axis=1) >= 0.5
    assert (mesh.points[far] == rest[far]).all()


@pytest.mark.parametrize("spacing", [0.05, 0.11, 0.3])
def test_a_bead_has_as_many_drops_as_its_length_by_its_spacing(spacing):
    """Round a box's upper face of 2 by 1: a loop of length 6. Each drop is closed, a shell of its own and a ball: χ = 2."""
    edges = {"edges": {"outline_of": {"facing": "+y"}}}
    mesh = mesh_of(box((2, 1, 1)), {"kind": "bead", "pick": edges, "width": 0.1, "height": 0.05, "spacing": spacing})
    shells = int(mesh.topology.shells.max()) + 1
    assert shells - 1 == round(6 / spacing)
    assert mesh.topology.is_closed and mesh.topology.is_manifold
    t = mesh.topology
    assert t.vertex_count - t.edge_count + t.face_count == 2 * shells


def test_a_drop_is_as_wide_and_high_as_told():
    mesh = mesh_of(SHEET, {"kind": "bead", "pick": {"edges": {"nearest": [0, 0, 0]}}, "width": 0.2, "height": 0.06, "spacing": 0.05,
                           "irregularity": 0, "sides": 32})
    drops = mesh.points[mesh_of(SHEET).topology.vertex_count:]
    size = drops.max(axis=0) - drops.min(axis=0)
    assert size[[0, 2]].max() == pytest.approx(0.2, rel=0.02)
    assert drops[:, 1].max() == pytest.approx(0.06, rel=1e-9) and drops[:, 1].min() < 0
