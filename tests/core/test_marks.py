"""Creases, hard edges, seams and shading, and how they are carried."""

import json
import struct

import numpy as np
import pytest

from rhytonic.core.files.model import Model, Node, Shape
from rhytonic.core.files.writing.gltf import write_glb
from rhytonic.core.files.writing.obj import write_obj
from rhytonic.core.mesh.marks import CREASE, HARD, SEAM, edge_mark
from rhytonic.core.mesh.measure import measure
from rhytonic.core.mesh.shading import corner_normals
from tests.helpers import ALL, box, extrude, facing, mesh_of

CUBE = box((2, 2, 2), anchor="centre")
TOP = {"edges": {"of_faces": {"facing": "+y"}}}


def mark(kind, pick, **more):
    return {"id": kind, "kind": kind, "pick": pick, **more}


def crease(sharpness, pick=None):
    return mark("crease", pick or {"edges": "all"}, sharpness=sharpness)


def smooth(levels):
    return {"id": "s", "kind": "subdivision", "levels": levels}


def test_marks_are_set_and_taken_off():
    m = mesh_of(CUBE, mark("hard", {"edges": "all"}), {**mark("hard", TOP, on=False), "id": "off"}, mark("seam", TOP), crease(3, TOP))
    assert (edge_mark(m, HARD).sum(), edge_mark(m, SEAM).sum(), edge_mark(m, CREASE).sum()) == (8, 4, 12)


@pytest.mark.parametrize("step, halves", [
    ({"kind": "insert_loop", "through": {"nearest": [1, 0, 1]}, "count": 1}, 4),
    ({"kind": "slice", "point": [0, 0, 0], "normal": [0, 1, 0]}, 4),
    ({"kind": "connect", "pick": {"edges": {"ring_through": {"nearest": [1, 0, 1]}}}}, 4),
    ({"kind": "subdivision", "levels": 1}, 12)])
def test_split_edges_give_their_marks_to_their_pieces(step, halves):
    m = mesh_of(CUBE, mark("seam", {"edges": "all"}), crease(4), {"id": "x", **step})
    for key, value in ((SEAM, 1), (CREASE, 4)):
        assert (edge_mark(m, key) == value).sum() == 12 + halves and edge_mark(m, key).sum() == value * (12 + halves)


@pytest.mark.parametrize("step", [
    {"kind": "mirror", "axis": "y"}, {"kind": "bevel", "pick": {"edges": {"nearest": [1, 1, 0]}}, "width": 0.1, "segments": 3},
    {"kind": "bridge", "pick": {"faces": {"any_of": [{"facing": "+y"}, {"facing": "-y"}]}}, "segments": 2},
    {"kind": "shell", "thickness": 0.1}, {"kind": "ridge", "pick": {"edges": {"nearest": [1, 1, 0]}}, "width": 0.1, "height": 0.1},
    {"kind": "cut", "path": [{"edge": {"nearest": [1, 1, 0]}}, {"edge": {"nearest": [-1, 1, 0]}}]},
    {"kind": "extrude_edges", "pick": {"edges": {"nearest": [1, 1, 0]}}, "vector": [1, 0, 0]}])
def test_untouched_edges_keep_theirs(step):
    vertical = {"edges": {"nearest": [1, 0, 1]}}
    m = mesh_of(CUBE, crease(5, vertical), {"id": "x", **step})
    assert (edge_mark(m, CREASE) == 5).any()


def test_a_sharpness_under_one_lies_between():
    volume = {s: measure(mesh_of(CUBE, crease(s), smooth(1))).volume for s in (0, 0.25, 0.5, 1, 10)}
    assert volume[0] < volume[0.25] < volume[0.5] < volume[1] == pytest.approx(8)
    assert volume[10] == pytest.approx(8)


def test_semi_sharp_edges_soften_level_by_level():
    """Sharpness two: two levels as if infinitely sharp, smooth from there on."""
    sharp = mesh_of(CUBE, crease(2), smooth(2))
    assert np.allclose(np.abs(sharp.points).max(axis=1), 1)
    once = mesh_of(CUBE, crease(2), smooth(3))
    plain = mesh_of(box((2, 2, 2), (4, 4, 4), anchor="centre"), smooth(1))
    assert np.allclose(np.sort(np.linalg.norm(once.points, axis=1)), np.sort(np.linalg.norm(plain.points, axis=1)))


def test_a_ring_of_creases_keeps_its_curve_and_one_edge_alone_is_a_dart():
    ring = mesh_of(CUBE, crease(10, TOP), smooth(3))
    top = ring.points[np.isclose(ring.points[:, 1], ring.points[:, 1].max())]
    assert ring.points[:, 1].max() == pytest.approx(1) and len(top) > 8
    one = mesh_of(CUBE, crease(10, {"edges": {"nearest": [1, 1, 0]}}), smooth(2))
    none = mesh_of(CUBE, smooth(2))
    assert measure(one).volume > measure(none).volume
    assert np.abs(one.points[0] - none.points[0]).max() < 1e-12  # the far corner does not feel it


def test_shade_by_angle_and_its_normals():
    drum = {"id": "c", "kind": "cylinder", "radius": 1, "height": 2, "sides": 16}
    flat, round_ = mesh_of(drum), mesh_of(drum, {"id": "sh", "kind": "shade"})
    assert np.allclose(corner_normals(flat), flat.normals[flat.topology.corner_face])
    normals = corner_normals(round_)
    t = round_.topology
    side = t.sides[t.corner_face] == 4
    outward = round_.points[t.corners] * [1, 0, 1]
    assert np.allclose(normals[side], outward[side]) and np.allclose(np.abs(normals[~side]), [0, 1, 0])
    assert np.isclose(edge_mark(round_, HARD).sum(), 32)
    all_smooth = corner_normals(mesh_of(drum, {"id": "sh", "kind": "shade", "angle": 180}))
    assert not np.allclose(all_smooth, normals)


def test_weights_by_area_and_by_angle_differ():
    lid = [box((2, 0.2, 2)), {"id": "sh", "kind": "shade", "angle": 100}]
    area, angle = (corner_normals(mesh_of(lid[0], {**lid[1], "weighted": w})) for w in (True, False))
    assert np.allclose(np.abs(angle), 1 / np.sqrt(3)) and np.abs(area[:, 1]).min() > 0.9


def _drum(*steps):
    return Model((Node("Drum", shape=Shape("Drum", mesh_of(*steps))),))


def test_shading_goes_out_with_the_files():
    drum = {"id": "c", "kind": "cylinder", "radius": 1, "height": 2, "sides": 16}
    text = write_obj(_drum(drum, {"id": "sh", "kind": "shade"})).decode()
    assert text.count("\nvn ") == 18 and "//" in text and text.count("\nf ") == 18
    assert "vn" not in write_obj(_drum(drum)).decode()
    counts = []
    for steps in ([drum], [drum, {"id": "sh", "kind": "shade"}]):
        raw = write_glb(_drum(*steps))
        size = struct.unpack("<I", raw[12:16])[0]
        counts.append(json.loads(raw[20:20 + size])["accessors"][0]["count"])
    assert counts == [16 * 4 + 32, 32 + 32]


def test_shading_is_carried():
    m = mesh_of(CUBE, {"id": "sh", "kind": "shade"}, extrude(facing("+y"), 1), smooth(1), {"id": "f", "kind": "flip", "pick": ALL})
    assert (m.attributes["shading"].values > 0).all()
