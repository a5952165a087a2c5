"""Model files in: what is read, what is refused and with which words, and that writing and reading again changes nothing."""

import base64
import hashlib
import json
import struct

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rhytonic.core.errors import StepError
from rhytonic.core.files import limits
from rhytonic.core.files.companions import Companions
from rhytonic.core.files.limits import BadModel
from rhytonic.core.files.model import Model, Node, Shape
from rhytonic.core.files.read import format_of, read_model
from rhytonic.core.files.writing.gltf import write_glb, write_gltf
from rhytonic.core.files.writing.obj import write_obj
from rhytonic.core.files.writing.ply import write_ply
from rhytonic.core.files.writing.stl import write_stl
from rhytonic.core.handover.from_model import taken
from rhytonic.core.handover.to_model import model_of
from rhytonic.core.mesh.measure import measure
from rhytonic.core.mesh.mesh import Mesh
from rhytonic.core.recipe.built import build
from rhytonic.core.recipe.evaluate import Evaluator
from tests.helpers import assert_sound, box, document, mesh_of, together

SQUARE = b"v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\n"
DRUM = {"id": "c", "kind": "cylinder", "radius": 1.3, "height": 2.1, "sides": 7}


def only(model):
    [(_, mesh)] = model.placed()
    return mesh


def as_model(mesh, name="Crate"):
    return Model((Node(name, shape=Shape(name, mesh), placed=mesh),))


def step_mesh(data, **more):
    """A part that begins with a file of these bytes."""
    evaluator = Evaluator(files=lambda name: read_model(data))
    d = document({"id": "m", "kind": "mesh", "file": "crate.obj", **more})
    return evaluator.run(d.parts[0], d.unit).surface.mesh


def faces_of(mesh):
    """Faces as sets of places rounded to what single precision holds, in their cyclic order, from the least corner."""
    t = mesh.topology
    p = np.round(mesh.points, 4) + 0.0
    out = []
    for f in range(t.face_count):
        ring = [tuple(p[v]) for v in t.corners[t.offsets[f]:t.offsets[f + 1]]]
        least = ring.index(min(ring))
        out.append(tuple(ring[least:] + ring[:least]))
    return sorted(out)


STEPS = [[DRUM], [box((2, 3, 4), (2, 1, 3))], [box(), {"id": "b", "kind": "bevel", "pick": {"edges": "all"}, "width": 0.2}],
         [{"id": "p", "kind": "plane", "size": [1, 2], "segments": [3, 2]}],
         [{"id": "t", "kind": "torus", "radius": 3, "tube_radius": 1, "sides": 9, "tube_sides": 6}]]


@pytest.mark.parametrize("steps", STEPS, ids=lambda s: s[-1]["kind"])
@pytest.mark.parametrize("write", [write_obj, write_ply])
def test_polygons_come_back_to_the_last_bit(steps, write):
    mesh = mesh_of(*steps)
    back = only(read_model(write(as_model(mesh))))
    assert (back.points == mesh.points).all()
    assert (back.topology.corners == mesh.topology.corners).all() and (back.topology.offsets == mesh.topology.offsets).all()


@pytest.mark.parametrize("steps", STEPS, ids=lambda s: s[-1]["kind"])
@pytest.mark.parametrize("write", [write_stl, write_glb, write_gltf])
def test_quads_come_back_from_their_triangles(steps, write):
    """Formats of triangles hold single precision; pairs of triangles are the quads again."""
    mesh = mesh_of(*steps)
    data = write(as_model(mesh))
    back = step_mesh(data)
    assert measure(back).triangles == measure(mesh).triangles and back.topology.vertex_count == mesh.topology.vertex_count
    quads = step_mesh(data, quads=True)
    assert_sound(quads)
    wanted = [f for f in faces_of(mesh) if len(f) == 4]
    assert set(wanted) <= set(faces_of(quads)) and measure(quads).area == pytest.approx(measure(mesh).area, rel=1e-6)


@settings(max_examples=40, deadline=None)
@given(st.lists(st.tuples(*[st.floats(-1e6, 1e6) for _ in range(3)]), min_size=8, max_size=8))
def test_any_coordinates_come_back(places):
    mesh = mesh_of(box()).with_points(np.array(places))
    for write in (write_obj, write_ply):
        assert (only(read_model(write(as_model(mesh)))).points == mesh.points + 0.0).all()


@settings(max_examples=30, deadline=None)
@given(st.tuples(*[st.integers(-40, 40)] * 3), st.tuples(*[st.floats(-180, 180)] * 3), st.tuples(*[st.floats(0.1, 5)] * 3),
       st.tuples(*[st.floats(-3, 3)] * 3))
def test_a_whole_build_comes_back_from_glb(move, turn, scale, pivot):
    """Names, groups, places and copies: what is written and read again stands where it stood."""
    d = together({"name": "Leg", "id": "leg", "group": "g", "pivot": pivot,
                  "placement": {"translate": move, "rotate": turn, "scale": scale}, "steps": [box((2, 3, 4))]},
                 {"name": "Leg 2", "of": "leg", "mirrored": "z", "group": "g", "placement": {"translate": [9, 0, 0]}},
                 groups=[{"id": "g", "name": "Frame", "placement": {"rotate": [0, 20, 0]}}])
    parts = build(d)
    back = read_model(write_glb(model_of(d, parts)))
    found = {path[-1].removesuffix(" surface"): (path, mesh) for path, mesh in back.placed()}
    assert set(found) == {"Leg", "Leg 2"} and all(path[0] == "Frame" for path, _ in found.values())
    for p in parts:
        mesh = found[p.name][1]
        assert np.allclose([mesh.points.min(axis=0), mesh.points.max(axis=0)],
                           [p.mesh.points.min(axis=0), p.mesh.points.max(axis=0)], atol=1e-6)
        assert measure(mesh).volume == pytest.approx(measure(p.mesh).volume, rel=1e-4)
    shapes = [s.node.shape for s in back.walk() if s.node.shape is not None]
    assert shapes[0] is shapes[1]


def test_unit_and_up_are_given_with_the_step():
    data = b"v 0 0 0\nv 2 0 0\nv 2 3 0\nv 0 3 1\nf 1 2 3 4\n"
    assert np.allclose(step_mesh(data).points[3], [0, 3, 1])
    assert np.allclose(step_mesh(data, unit="cm").points[3], [0, 0.03, 0.01])
    assert np.allclose(step_mesh(data, up="z").points[3], [0, 1, -3])


def test_points_are_welded_at_a_distance_and_named_after_the_first():
    # two squares side by side, their common edge doubled 0.01 apart
    data = b"v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nv 1.01 0 0\nv 2 0 0\nv 2 1 0\nv 1.01 1 0\nf 1 2 3 4\nf 5 6 7 8\n"
    apart, whole = step_mesh(data), step_mesh(data, weld=0.02)
    assert (apart.topology.vertex_count, whole.topology.vertex_count) == (8, 6) and whole.topology.edge_count == 7
    assert step_mesh(data, weld=0.01).topology.vertex_count == 8  # strictly nearer
    assert np.allclose(sorted(whole.points[:, 0])[2:4], [1.005, 1.005])
    assert set(whole.names.vertex) < set(apart.names.vertex) and (whole.names.face == apart.names.face).all()


def test_what_a_weld_collapses_is_noted():
    data = b"v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nv 1.001 0 0\nf 1 2 3 4\nf 2 5 3\n"
    evaluator = Evaluator(files=lambda name: read_model(data))
    d = document({"id": "m", "kind": "mesh", "file": "a.obj", "weld": 0.01})
    found = evaluator.run(d.parts[0], d.unit)
    assert found.surface.mesh.topology.face_count == 1 and found.results[0].notes == ("1 face collapsed",)


def test_triangles_pair_into_the_squarest_quads():
    grid = mesh_of({"id": "p", "kind": "plane", "size": [4, 4], "segments": [4, 4]})
    t = grid.topology
    corners = t.corners.reshape(-1, 4)
    triangles = np.concatenate([corners[:, [0, 1, 2]], corners[:, [0, 2, 3]]])[::-1]
    text = write_obj(as_model(Mesh(grid.points, type(t).of(t.vertex_count, np.arange(len(triangles) + 1) * 3, triangles.ravel()))))
    quads = step_mesh(text, quads=True)
    assert faces_of(quads) == faces_of(grid)
    bent = b"v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0.1\nf 1 2 3\nf 1 3 4\n"
    assert step_mesh(bent, quads=True).topology.face_count == 2
    dart = b"v 0 0 0\nv 1 0 0\nv 0.2 0.2 0\nv 0 1 0\nf 1 2 3\nf 1 3 4\n"
    assert step_mesh(dart, quads=True).topology.face_count == 2  # a corner would turn back


def test_objects_and_groups_of_an_obj_are_a_tree():
    data = SQUARE + b"o Post\ng Frame Post\nf 1 2 3\no Rail\ng Frame Rail\nf 1 3 4\no Bolt\nf 2 3 4\n"
    model = read_model(data)
    assert [(n.name, [c.name for c in n.children]) for n in model.nodes] == [("Frame", ["Post", "Rail"]), ("Bolt", [])]
    assert [n.name for n in read_model(SQUARE + b"g a b\nf 1 2 3\ng c\nf 1 3 4\n").nodes] == ["a b", "c"]
    assert [n.name for n in read_model(SQUARE + b"o A\nf 1 2 3\no B\nf 1 3 4\no A\nf 2 3 4\n").nodes] == ["A", "B", "A 2"]
    goes_on = read_model(SQUARE + b"o A\nf 1 2 3\ng A\nusemtl x\nf 1 3 4\n")
    assert only(goes_on).topology.face_count == 2
    mesh = step_mesh(data, object="Rail")
    assert mesh.topology.face_count == 1 and mesh.topology.vertex_count == 3
    with pytest.raises(StepError, match="no object 'Wheel'; it has 'Post', 'Rail', 'Bolt'"):
        step_mesh(data, object="Wheel")


def test_an_obj_as_others_write_it():
    data = (b"# from elsewhere\r\nmtllib /etc/passwd\r\nv 0 0 0 1 0 0\r\nv 1 0 0 \\\r\n1.0\r\nvt 0 0\r\nvn 0 0 1\r\n"
            b"v 1 1 0\r\ns off\r\nf -3/1/1 -2/1/1 -1/1/1 # the one\r\nl 1 2\r\n")
    assert only(read_model(data)).topology.face_count == 1


def test_faces_no_mesh_can_have_are_left_out():
    data = SQUARE + b"f 1 2 3 4\nf 1 2 2\nf 1 2 1 3\nf 1 1 2 3\n"
    mesh = only(read_model(data))
    assert mesh.topology.sides.tolist() == [4, 3]


PLY = (b"ply\nformat %s 1.0\ncomment x\nelement vertex 4\nproperty float x\nproperty float y\nproperty uchar red\nproperty float z\n"
       b"element extra 1\nproperty list uchar short n\nproperty int m\n"
       b"element face 2\nproperty uchar flag\nproperty list uchar int vertex_index\nproperty float w\nend_header\n")


@pytest.mark.parametrize("order", ["<", ">"])
def test_ply_in_both_orders_with_what_is_passed_over(order):
    data = PLY % (b"binary_little_endian" if order == "<" else b"binary_big_endian")
    for x, y, z in ((0, 0, 0), (1, 0, 0), (1, 1, 0), (0, 1, 2)):
        data += struct.pack(order + "ffBf", x, y, 7, z)
    data += struct.pack(order + "BhhhI", 3, 1, 2, 3, 9)
    data += struct.pack(order + "BBiiif", 1, 3, 0, 1, 2, 0.5) + struct.pack(order + "BBiiiif", 1, 4, 0, 1, 2, 3, 0.5)
    mesh = only(read_model(data))
    assert mesh.topology.sides.tolist() == [3, 4] and mesh.points[3].tolist() == [0, 1, 2]


def test_ply_as_text():
    data = PLY % b"ascii" + b"0 0 7 0\n1 0 7 0\n1 1 7 0\n0 1 7 2\n3 1 2 3 9\n1 3 0 1 2 0.5\n1 4 0 1 2 3 0.5\n"
    assert only(read_model(data)).topology.sides.tolist() == [3, 4]


def test_stl_as_text():
    data = b"solid Old crate\n" + b"".join(
        b"facet normal 0 0 0\nouter loop\n" + b"".join(b"vertex %d %d %d\n" % p for p in t) + b"endloop\nendfacet\n"
        for t in (((0, 0, 0), (1, 0, 0), (1, 1, 0)), ((0, 0, 0), (1, 1, 0), (0, 1, 0)))) + b"endsolid\n"
    model = read_model(data)
    assert model.nodes[0].name == "Old crate" and only(model).topology.vertex_count == 4


def gltf(**more):
    numbers = np.array([[0, 0, 0], [1, 0, 0], [1, 1, 0]], "<f4").tobytes() + np.array([0, 1, 2], "<u2").tobytes()
    document = {
        "asset": {"version": "2.0"}, "scenes": [{"nodes": [0]}], "nodes": [{"name": "A", "mesh": 0}],
        "meshes": [{"primitives": [{"attributes": {"POSITION": 0}, "indices": 1}]}],
        "accessors": [{"bufferView": 0, "componentType": 5126, "count": 3, "type": "VEC3"},
                      {"bufferView": 1, "componentType": 5123, "count": 3, "type": "SCALAR"}],
        "bufferViews": [{"buffer": 0, "byteLength": 36}, {"buffer": 0, "byteOffset": 36, "byteLength": 6}],
        "buffers": [{"byteLength": 42, "uri": "data:application/octet-stream;base64," + base64.b64encode(numbers).decode()}]}
    document.update(more)
    return json.dumps(document).encode()


def test_gltf_nodes_stand_where_their_matrices_say():
    turn = [0, 1, 0, 0, -1, 0, 0, 0, 0, 0, 2, 0, 5, 6, 7, 1]  # columns: a quarter turn about z, z doubled, moved
    model = read_model(gltf(nodes=[{"name": "A", "children": [1]}, {"mesh": 0, "matrix": turn}]))
    assert np.allclose(only(model).points, [[5, 6, 7], [5, 7, 7], [4, 7, 7]])
    mirrored = read_model(gltf(nodes=[{"mesh": 0, "scale": [-1, 1, 1]}]))
    assert only(mirrored).area_vectors[0][2] > 0  # right side out
    strip = read_model(gltf(meshes=[{"primitives": [{"attributes": {"POSITION": 0}, "mode": 5}, {"attributes": {}, "mode": 1}]}]))
    assert only(strip).topology.face_count == 1


BAD = {
    "nothing": (b"hello", "in no format that is read; known are OBJ, PLY, STL, GLB and glTF"),
    "empty": (b"", "in no format"),
    "obj index": (SQUARE + b"\nf 1 2 9\n", "line 6: the face names a point that is not there; the file has 4"),
    "obj zero": (SQUARE + b"f 0 1 2\n", "line 5"),
    "obj before": (SQUARE + b"f -9 1 2\n", "line 5: the face names a point that is not there; 4 are told before it"),
    "obj word": (SQUARE + b"f 1 two 3\n", "line 5: a face's corner is no number: 1 two 3"),
    "obj not a number": (b"v 0 0 nan\nv 1 0 0\nv 1 1 0\nf 1 2 3\n", "vertex 1 of the file lies nowhere"),
    "obj infinite": (b"v 0 0 inf\nv 1 0 0\nv 1 1 0\nf 1 2 3\n", "lies nowhere"),
    "obj far": (b"v 0 0 1e30\nv 1 0 0\nv 1 1 0\nf 1 2 3\n", "lies nowhere"),
    "obj letters": (b"v 0 0 z\nv 1 0 0\nf 1 2 1\n", "no number: z"),
    "obj short": (b"v 0 0\n", "line 1: a point has three coordinates"),
    "ply header": (b"ply\nformat ascii 1.0\n", "header does not end"),
    "ply type": (b"ply\nformat ascii 1.0\nelement vertex 1\nproperty word x\nend_header\n1\n", "property word x"),
    "ply cut": (PLY % b"binary_little_endian" + b"\0" * 20, "cut short"),
    "ply text cut": (PLY % b"ascii" + b"0 0 0 0\n", "cut short"),
    "ply claims": (b"ply\nformat binary_little_endian 1.0\nelement vertex 900000000\nproperty float x\nproperty float y\n"
                   b"property float z\nend_header\n", "900 000 000 vertices; at most 4 000 000"),
    "ply no faces": (b"ply\nformat ascii 1.0\nelement face 1\nproperty int a\nend_header\n1\n", "name no vertices"),
    "stl cut": (b"solid x\nfacet\nvertex 1 2 3\n", "cut short"),
    "glb cut": (struct.pack("<4sII", b"glTF", 2, 900) + b"\0" * 20, "cut short"),
    "glb old": (struct.pack("<4sII", b"glTF", 1, 32) + b"\0" * 20, "not glTF 2.0"),
    "gltf outside": (gltf(buffers=[{"byteLength": 42, "uri": "../../secret.bin"}]), "lie in another file, ../../secret.bin"),
    "gltf address": (gltf(buffers=[{"byteLength": 42, "uri": "http://example.org/a.bin"}]), "lie in another file"),
    "gltf beyond": (gltf(bufferViews=[{"buffer": 0, "byteLength": 3600}, {"buffer": 0, "byteLength": 6}]), "reaches beyond"),
    "gltf many": (gltf(accessors=[{"bufferView": 0, "componentType": 5126, "count": 10**9, "type": "VEC3"}]), "at most"),
    "gltf loop": (gltf(nodes=[{"mesh": 0, "children": [0]}]), "stands in two places"),
    "gltf index": (gltf(nodes=[{"mesh": 4}]), "a mesh 4 that is not there"),
    "gltf shear": (gltf(nodes=[{"mesh": 0, "matrix": [1, 0, 0, 0, 1, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1]}]), "sheared"),
    "gltf packed": (gltf(extensionsRequired=["KHR_draco_mesh_compression"]), "packed by KHR_draco_mesh_compression"),
    "gltf broken": (gltf(nodes=[{"mesh": "x"}]), "breaks the glTF format at nodes.0.mesh"),
    "gltf sparse": (gltf(accessors=[{"componentType": 5126, "count": 3, "type": "VEC3", "sparse": {"count": 1}}]), "sparse"),
    "gltf bomb": (b"[" * 100 + b"]" * 100, "in no format"),
    "gltf deep": (b'{"a":' * 90 + b"1" + b"}" * 90, "nested deeper"),
    "not json": (b"{nope", "not JSON")}


@pytest.mark.parametrize("case", BAD)
def test_what_cannot_be_taken_is_refused_with_a_reason(case):
    data, words = BAD[case]
    with pytest.raises(BadModel) as error:
        read_model(data)
    assert words in error.value.message


def test_too_large_a_file_is_refused_unread(monkeypatch):
    monkeypatch.setattr("rhytonic.core.files.read.LARGEST_BYTES", 10)
    with pytest.raises(BadModel, match="at most"):
        format_of(SQUARE)
    assert limits.LARGEST_BYTES > 10_000_000


@settings(max_examples=300, deadline=None)
@given(st.sampled_from([SQUARE + b"o A\nf 1 2 3 4\n", gltf(), PLY % b"ascii" + b"0 0 7 0\n1 0 7 0\n1 1 7 0\n0 1 7 2\n3 1 2 3 9\n"
                        b"1 3 0 1 2 0.5\n1 4 0 1 2 3 0.5\n", write_glb(as_model(mesh_of(box()))), write_stl(as_model(mesh_of(box())))]),
       st.lists(st.tuples(st.integers(0, 5000), st.integers(0, 255)), max_size=4), st.integers(0, 3000))
def test_damaged_files_are_read_or_refused(data, changes, cut):
    """Whatever is wrong with a file, it ends in a mesh that holds together or in a sentence."""
    broken = bytearray(data)
    for at, value in changes:
        broken[at % len(broken)] = value
    try:
        for _, mesh in read_model(bytes(broken[:len(broken) - cut % len(broken)])).placed():
            assert mesh.topology.faults() == [] and np.isfinite(mesh.points).all()
    except BadModel as error:
        assert error.message


def test_a_recipe_finds_its_file_beside_it(tmp_path):
    (tmp_path / "crate.obj").write_bytes(SQUARE + b"f 1 2 3 4\n")
    beside = Companions(tmp_path)
    assert only(beside("crate.obj")).topology.face_count == 1
    assert only(beside(hashlib.sha256(SQUARE + b"f 1 2 3 4\n").hexdigest())).topology.face_count == 1
    for name in ("nowhere.obj", "..", "f" * 64):
        with pytest.raises(StepError, match="there is no file"):
            beside(name)
    (tmp_path / "bad.obj").write_bytes(SQUARE + b"f 1 2 7\n")
    with pytest.raises(StepError, match=r"'bad.obj': line 5"):
        beside("bad.obj")
    with pytest.raises(Exception, match="file"):
        document({"id": "m", "kind": "mesh", "file": "../crate.obj"})


@pytest.mark.parametrize("mirrored", [False, True])
def test_a_part_is_mirrored_only_where_its_file_says_so(mirrored):
    model = read_model(gltf(nodes=[{"mesh": 0, "rotation": [0, 0.6, 0, 0.8], "scale": [-1 if mirrored else 1, 2, 1]}]))
    steps = taken(model, "crate.gltf", "Crate", {}, "cm").parts[0]["steps"]
    assert [s["kind"] for s in steps] == (["mesh", "transform", "flip"] if mirrored else ["mesh"])
