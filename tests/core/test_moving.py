"""Slide, even_out, relax, round_out and extrude_edges."""

import numpy as np
import pytest

from rhytonic.core.construct.relaxing.neighbours import neighbour_means
from rhytonic.core.errors import InvalidDocument, StepError
from rhytonic.core.mesh.measure import measure
from tests.helpers import assert_sound, box, mesh_of

SHEET = {"id": "p", "kind": "plane", "size": [4, 4], "segments": [4, 4]}
GRID = box((2, 2, 2), (4, 4, 4))
LINE = {"loop_through": {"nearest": [0, 0, 0.5]}}


def step(kind, pick, **more):
    return {"id": "x", "kind": kind, "pick": pick, **more}


@pytest.mark.parametrize("amount", [-1, -0.5, 0.25, 1])
def test_a_loop_slides_between_its_neighbours(amount):
    m = mesh_of(SHEET, step("slide", {"edges": LINE}, amount=amount))
    moved = m.points[np.isclose(mesh_of(SHEET).points[:, 0], 0)]
    assert np.allclose(np.abs(moved[:, 0]), abs(amount)) and np.ptp(moved[:, 0]) < 1e-12
    other = mesh_of(SHEET, step("slide", {"edges": LINE}, amount=-amount)).points
    assert np.allclose(other[np.isclose(mesh_of(SHEET).points[:, 0], 0), 0], -moved[:, 0])


def test_a_closed_loop_slides_and_a_vertex_follows_its_edges():
    ring = {"edges": {"loop_through": {"nearest": [1, 0.5, 0.25]}}}
    one, two = (mesh_of(GRID, step("slide", ring, amount=a)).points[:, 1] for a in (0.5, -0.5))
    assert {round(v, 6) for v in one} ^ {round(v, 6) for v in two} == {0.25, 0.75}
    up = mesh_of(GRID, step("slide", {"vertices": {"nearest": [1, 1, 0]}}, amount=0.5)).points
    down = mesh_of(GRID, step("slide", {"vertices": {"nearest": [1, 1, 0]}}, amount=-0.5)).points
    assert np.isclose(up, [1, 1.25, 0]).all(axis=1).any() and np.isclose(down, [1, 0.75, 0]).all(axis=1).any()
    with pytest.raises(InvalidDocument):
        mesh_of(GRID, step("slide", {"vertices": "all"}, amount=1.5))


def test_even_out_open_chains_and_loops():
    strip = {"id": "p", "kind": "plane", "size": [4, 1], "segments": [4, 1]}
    push = {"id": "t", "kind": "transform", "pick": {"vertices": {"nearest": [1, 0, 0.5]}}, "translate": [0.7, 0, 0]}
    edge = {"edges": {"in_box": [[None, None, 0.4], [None, None, None]]}}
    m = mesh_of(strip, push, step("even_out", edge))
    assert sorted(m.points[np.isclose(m.points[:, 2], 0.5), 0]) == pytest.approx([-2, -1, 0, 1, 2])
    drum = {"id": "c", "kind": "cylinder", "radius": 1, "height": 2, "sides": 8}
    turn = {"id": "t", "kind": "transform", "pick": {"vertices": {"nearest": [0, 2, 1]}}, "rotate": [0, 20, 0], "about": "origin"}
    rim = {"edges": {"in_box": [[None, 1.9, None], [None, None, None]]}}
    p = mesh_of(drum, turn, step("even_out", rim)).points
    ring = p[p[:, 1] > 1.9]
    ring = ring[np.argsort(np.arctan2(ring[:, 2], ring[:, 0]))]
    gaps = np.linalg.norm(ring - np.roll(ring, 1, axis=0), axis=1)
    assert np.ptp(gaps) < 0.07  # along the bent line as it was; across its kinks a little less
    with pytest.raises(StepError, match="more than two of the picked edges meet"):
        mesh_of(GRID, step("even_out", {"edges": "all"}))


def test_relax_evens_the_spread_and_keeps_the_volume():
    rough = [{"id": "b", "kind": "sphere", "radius": 1, "sides": 12, "rings": 8},
             {"id": "t", "kind": "transform", "pick": {"vertices": {"in_box": [[0.2, None, None], [None, None, None]]}}, "translate": [0.2, 0.1, 0]}]
    before = mesh_of(*rough)
    after = mesh_of(*rough, step("relax", {"vertices": "all"}, iterations=10))
    spread = [np.linalg.norm(neighbour_means(m.topology, np.arange(m.topology.vertex_count)) @ m.points - m.points, axis=1).sum() for m in (before, after)]
    assert spread[1] < spread[0] and measure(after).volume == pytest.approx(measure(before).volume, rel=0.005)
    loose = mesh_of(*rough, step("relax", {"vertices": "all"}, iterations=10, keep_volume=False))
    assert measure(loose).volume < measure(before).volume * 0.98


def test_relax_leaves_borders_and_creases():
    hill = [SHEET, {"id": "t", "kind": "transform", "pick": {"vertices": {"nearest": [0, 0, 0]}}, "translate": [0, 1, 0]},
            {"id": "c", "kind": "crease", "pick": {"edges": {"nearest": [1, 0, 0.5]}}, "sharpness": 2}]
    before, after = mesh_of(*hill).points, mesh_of(*hill, step("relax", {"vertices": "all"}, keep_volume=False)).points
    held = (np.abs(before[:, [0, 2]]) > 1.9).any(axis=1) | (np.isclose(before[:, 0], 1) & (before[:, 2] >= 0) & (before[:, 2] <= 1))
    assert np.array_equal(before[held], after[held]) and not np.allclose(before[~held], after[~held])


def test_round_out_a_patch_and_a_loop():
    m = mesh_of(SHEET, step("round_out", {"faces": "all"}, radius=3))
    flat = mesh_of(SHEET).points
    outline = (np.abs(flat[:, [0, 2]]) > 1.9).any(axis=1)
    away = np.linalg.norm(m.points, axis=1)
    assert np.allclose(away[outline], 3) and (away[~outline] < 3).all() and np.allclose(m.points[12], 0)
    mean = mesh_of(SHEET, step("round_out", {"vertices": {"of_faces": {"in_box": [[-1, None, -1], [1, None, 1]]}}}))
    ring = (np.abs(flat[:, [0, 2]]).max(axis=1) == 1)
    assert np.allclose(np.linalg.norm(mean.points[ring], axis=1), (4 + 4 * np.sqrt(2)) / 8)
    loop = mesh_of(GRID, step("round_out", {"edges": {"loop_through": {"nearest": [1, 1, 0.25]}}}))
    at = np.isclose(mesh_of(GRID).points[:, 1], 1)
    radii = np.linalg.norm(loop.points[at][:, [0, 2]], axis=1)
    assert np.ptp(radii[radii > 0.9]) < 1e-9
    with pytest.raises(StepError, match="at least three"):
        mesh_of(GRID, step("round_out", {"vertices": {"nearest": [1, 1, 1]}}))


def test_extrude_edges_by_a_vector_and_by_width_and_height():
    border = {"edges": {"border": True}}
    m = mesh_of(SHEET, step("extrude_edges", border, width=0.5))
    assert_sound(m)
    assert m.topology.face_count == 32 and measure(m).area == pytest.approx(25) and m.topology.is_oriented
    lifted = mesh_of(SHEET, step("extrude_edges", border, width=0.5, height=0.25))
    assert lifted.points.max(axis=0) == pytest.approx([2.5, 0.25, 2.5])
    wall = mesh_of(SHEET, step("extrude_edges", border, vector=[0, -1, 0]))
    assert measure(wall).area == pytest.approx(16 + 16) and wall.topology.is_oriented
    fin = mesh_of(SHEET, step("extrude_edges", {"edges": LINE}, vector=[0, 1, 0]))
    assert fin.topology.face_count == 20 and (fin.topology.edge_face_count == 3).sum() == 4
    for wrong in ({}, {"vector": [0, 1, 0], "width": 1}):
        with pytest.raises(InvalidDocument, match="either vector, or width and height"):
            mesh_of(SHEET, step("extrude_edges", border, **wrong))
