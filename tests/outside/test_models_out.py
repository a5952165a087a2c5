"""Hierarchy, pivots, copies and joints in files, as others read them: OpenUSD (usd-core), trimesh, the Khronos validator."""

import io
import json
import struct
import zipfile

import numpy as np
import pytest
import trimesh
from pxr import Gf, Usd, UsdGeom, UsdValidation

from rhytonic.core.files.write import WRITERS, write_model
from rhytonic.core.handover.to_model import model_of
from rhytonic.core.mesh.measure import measure
from rhytonic.core.recipe.built import build
from rhytonic.core.recipe.leaving import leaving
from tests.helpers import box, together
from tests.outside.test_files import validate

PARTS = [
    {"id": "leg", "name": "Leg", "group": "frame", "pivot": [0, 5, 0], "placement": {"translate": [20, 0, 0], "rotate": [0, 30, 0]},
     "steps": [box((4, 40, 4)), {"id": "b", "kind": "bevel", "pick": {"edges": "all"},
                                 "width": 0.5}]},
    {"id": "leg2", "name": "Leg 2", "group": "frame", "of": "leg", "pivot": [0, 5, 0], "placement": {"translate": [-20, 0, 0]}},
    {"id": "leg3", "name": "Leg 3", "group": "frame", "of": "leg", "mirrored": "x", "placement": {"translate": [0, 0, 30]}},
    {"id": "lid", "name": "Lid", "group": "top", "pivot": [0, 1, 0],
     "placement": {"translate": [0, 40, 0], "rotate": [0, 0, 10], "scale": [1, 1, 2]},
     "joint": {"kind": "turn", "at": [0, 0, -10], "axis": [1, 0, 0], "from": -100, "to": 0, "now": -40}, "steps": [box((60, 2, 20))]},
    {"id": "tray", "name": "Tray", "joint": {"kind": "slide", "at": [0, 0, 0], "axis": [0, 0, 2], "from": 0, "to": 30, "now": 12},
     "steps": [{"id": "c", "kind": "cylinder", "radius": 5, "height": 2, "sides": 7}]},
    {"id": "off", "name": "Spare", "hidden": True, "steps": [box()]}]
GROUPS = [{"id": "frame", "name": "Frame", "group": "bench", "placement": {"rotate": [0, 45, 0]}, "pivot": [0, 10, 0]},
          {"id": "top", "name": "Top", "group": "bench"}, {"id": "bench", "name": "Net bench", "placement": {"translate": [100, 0, 0]}},
          {"id": "none", "name": "Nothing in it"}]
ABOVE = {"Leg": ["Net bench", "Frame"], "Leg 2": ["Net bench", "Frame"], "Leg 3": ["Net bench", "Frame"],
         "Lid": ["Net bench", "Top"], "Tray": []}


@pytest.fixture(scope="module")
def bench():
    d = together(*PARTS, groups=GROUPS)
    return d, build(d)


def written(bench, path):
    d, parts = bench
    write_model(model_of(d, leaving(d, parts)), path)
    return {p.name: p for p in parts if p.name != "Spare"}


@pytest.mark.parametrize("extension", [".usda", ".usdz"])
def test_usd_reads_hierarchy_names_counts_and_places(bench, tmp_path, extension):
    """OpenUSD (usd-core): composed prims, their meshes in the world's axes, polygon counts; all its validators are silent."""
    path = tmp_path / f"m{extension}"
    parts = written(bench, path)
    stage = Usd.Stage.Open(str(path))
    registry = UsdValidation.ValidationRegistry()
    validators = registry.GetOrLoadValidatorsByName([m.name for m in registry.GetAllValidatorMetadata()])
    found_wrong = UsdValidation.ValidationContext(validators).Validate(stage)
    assert len(validators) > 20 and [e.GetErrorAsString() for e in found_wrong] == []
    assert UsdGeom.GetStageMetersPerUnit(stage) == 1 and UsdGeom.GetStageUpAxis(stage) == "Y" and stage.GetDefaultPrim()
    found = {}
    for prim in stage.Traverse():
        if prim.IsA(UsdGeom.Mesh):
            owner = prim.GetParent()
            while owner.GetDisplayName() not in parts:
                owner = owner.GetParent()
            found[owner.GetDisplayName()] = (prim, owner)
    assert set(found) == set(parts)
    for name, (prim, owner) in found.items():
        mesh, geom = parts[name].mesh, UsdGeom.Mesh(prim)
        matrix = UsdGeom.Xformable(prim).ComputeLocalToWorldTransform(Usd.TimeCode.Default())
        points = np.array([matrix.Transform(Gf.Vec3d(*map(float, p))) for p in geom.GetPointsAttr().Get()])
        assert np.allclose(points, mesh.points, atol=1e-6)
        assert sorted(geom.GetFaceVertexCountsAttr().Get()) == sorted(mesh.topology.sides)
        names, at = [], owner.GetParent()
        while at.GetPath() != "/Model":
            names.insert(0, at.GetDisplayName())
            at = at.GetParent()
        assert [n for n in names if n in ("Net bench", "Frame", "Top")] == ABOVE[name]
    assert len({str(p.GetPrimStack()[-1].path) for n, (p, _) in found.items() if n.startswith("Leg")}) == 1  # one shape, referred to


def test_pivots_are_origins_and_joints_are_nodes_with_data_in_usd(bench, tmp_path):
    written(bench, tmp_path / "m.usda")
    stage = Usd.Stage.Open(str(tmp_path / "m.usda"))
    prims = {p.GetDisplayName(): p for p in stage.Traverse()}
    leg = UsdGeom.Xformable(prims["Leg"]).ComputeLocalToWorldTransform(Usd.TimeCode.Default())
    turn = np.radians(45)
    expected = np.array([0.2 * np.cos(turn) + 1, 0.05, -0.2 * np.sin(turn)])  # moved, turned about y by its group, moved
    assert np.allclose(leg.ExtractTranslation(), expected, atol=1e-12)
    hinge = prims["Lid hinge"]
    assert prims["Lid"].GetParent() == hinge
    told = hinge.GetCustomDataByKey("joint")
    assert told["kind"] == "turn" and list(told["axis"]) == [1, 0, 0] and (told["from"], told["to"], told["now"]) == (-100, 0, -40)
    at = UsdGeom.Xformable(hinge).ComputeLocalToWorldTransform(Usd.TimeCode.Default()).ExtractTranslation()
    assert np.allclose(at, [1, 0.4, -0.2], atol=1e-12)  # 10 cm behind, scaled by 2
    assert prims["Tray slide"].GetCustomDataByKey("joint")["unit"] == "cm"
    assert "Nothing in it" not in prims and "Spare" not in prims


@pytest.mark.parametrize("extension", [".glb", ".gltf"])
def test_gltf_is_valid_and_trimesh_reads_it_back(bench, tmp_path, extension):
    """Khronos glTF Validator 2.0; trimesh: nodes, parents, bounds and triangles. Linked copies use one mesh (glTF 2.0, 3.5.1)."""
    path = tmp_path / f"m{extension}"
    parts = written(bench, path)
    issues = validate(path)
    assert issues["numErrors"] == issues["numWarnings"] == 0, issues["messages"]
    raw = path.read_bytes()
    document = json.loads(raw if extension == ".gltf" else raw[20:20 + struct.unpack("<I", raw[12:16])[0]])
    assert [m["name"] for m in document["meshes"]] == ["Leg", "Lid", "Tray"]
    nodes = {n["name"]: n for n in document["nodes"]}
    assert nodes["Lid hinge"]["extras"]["joint"]["to"] == 0 and nodes["Leg 2"]["mesh"] == nodes["Leg"]["mesh"]
    scene = trimesh.load(path)
    for name, part in parts.items():
        node = name if "mesh" in nodes[name] else f"{name} surface"
        transform, geometry = scene.graph[node]
        mesh = scene.geometry[geometry].copy().apply_transform(transform)
        assert np.allclose(mesh.bounds, [part.mesh.points.min(axis=0), part.mesh.points.max(axis=0)], atol=1e-6)
        assert len(mesh.faces) == measure(part.mesh).triangles
        mesh.merge_vertices(merge_norm=True, merge_tex=True)
        assert mesh.volume == pytest.approx(measure(part.mesh).volume, rel=1e-5)
        above = [n for n in ("Net bench", "Frame", "Top") if n in scene.graph.transforms.shortest_path("world", node)]
        assert above == ABOVE[name]


@pytest.mark.parametrize("extension", [".obj", ".ply", ".stl"])
def test_flat_formats_hold_everything_where_it_stands(bench, tmp_path, extension):
    parts = written(bench, tmp_path / f"m{extension}")
    read = trimesh.load(tmp_path / f"m{extension}", process=False, force="mesh")
    whole = np.concatenate([p.mesh.points for p in parts.values()])
    assert np.allclose(read.bounds, [whole.min(axis=0), whole.max(axis=0)], atol=1e-6)
    assert len(read.faces) == sum(measure(p.mesh).triangles for p in parts.values())
    read.merge_vertices()
    assert read.volume == pytest.approx(sum(measure(p.mesh).volume for p in parts.values()), rel=1e-5)


def test_an_obj_names_its_groups_and_its_materials_lie_beside_it(bench, tmp_path):
    written(bench, tmp_path / "net bench.obj")
    text = (tmp_path / "net bench.obj").read_text()
    assert "mtllib net_bench.mtl" in text and "g Net_bench Frame Leg\n" in text and "usemtl model" in text
    assert (tmp_path / "net_bench.mtl").read_text().splitlines()[1] == "newmtl model"


def test_a_package_stores_its_file_on_a_multiple_of_64(bench, tmp_path):
    """OpenUSD, USDZ File Format Specification: no compression, data on 64-byte boundaries."""
    written(bench, tmp_path / "m.usdz")
    data = (tmp_path / "m.usdz").read_bytes()
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        [info] = archive.infolist()
        assert archive.testzip() is None and info.compress_type == zipfile.ZIP_STORED
        names, extra = struct.unpack_from("<HH", data, info.header_offset + 26)
        assert (info.header_offset + 30 + names + extra) % 64 == 0


def test_the_same_model_gives_the_same_bytes(bench, tmp_path):
    d, parts = bench
    for extension, writer in WRITERS.items():
        assert writer(model_of(d, parts)) == writer(model_of(d, parts)), extension
