"""Files as others read them: the Khronos glTF validator, trimesh, and the text of the OBJ itself."""

import json
import shutil
import subprocess

import numpy as np
import pytest
import trimesh

from rhytonic.core.files.write import write_model
from rhytonic.core.handover.to_model import model_of
from rhytonic.core.mesh.measure import measure
from rhytonic.core.recipe.built import build
from rhytonic.demo import lantern
from rhytonic.launch.machine import WEB
from tests.helpers import box, document, extrude, facing, together

SOFT = {"id": "s", "kind": "subdivision", "levels": 1}
CASES = {
    "box": [box((2, 3, 4))],
    "n-gons": [{"id": "c", "kind": "cylinder", "radius": 1, "height": 2, "sides": 7}],
    "open": [{"id": "p", "kind": "plane", "size": [2, 2], "segments": [3, 3]}],
    "smooth": [box(), extrude(facing("+y"), 1), SOFT],
    "faces without area": [box(), extrude(facing("+y"), 0)],
    "nothing left": [box(), {"id": "d", "kind": "delete", "pick": {"faces": "all"}}],
    "far away": [box(), {"id": "t", "kind": "transform", "pick": {"faces": "all"}, "translate": [50000, 0, 0]}],
    "tiny": [box((1e-4, 1e-4, 1e-4))]}


def written(path, *steps, **part):
    d = document(*steps, **part)
    parts = build(d)
    write_model(model_of(d, parts), path)
    return [(p.name, p.mesh) for p in parts]


def validate(path):
    """Khronos glTF Validator 2.0 (npm gltf-validator, Apache-2.0), run by Node."""
    script = ("const v=require('gltf-validator'),fs=require('fs');"
              "v.validateBytes(new Uint8Array(fs.readFileSync(process.argv[1])),{maxIssues:50})"
              ".then(r=>console.log(JSON.stringify(r.issues)))")
    done = subprocess.run([shutil.which("node"), "-e", script, str(path)], cwd=WEB, capture_output=True, text=True, check=True)
    return json.loads(done.stdout)


@pytest.mark.parametrize("case", CASES)
def test_the_gltf_validator_is_silent(tmp_path, case):
    written(tmp_path / "m.glb", *CASES[case])
    issues = validate(tmp_path / "m.glb")
    assert issues["numErrors"] == issues["numWarnings"] == 0, issues["messages"]


def test_the_demo_lantern_validates(tmp_path):
    from rhytonic.core.recipe.document import read_document
    d = read_document({"format": "rhytonic", "version": 1, "unit": "cm", "parts": lantern.parts()})
    write_model(model_of(d, build(d)), tmp_path / "m.glb")
    issues = validate(tmp_path / "m.glb")
    assert issues["numErrors"] == issues["numWarnings"] == 0, issues["messages"]


def test_trimesh_reads_the_glb_at_true_scale(tmp_path):
    placed = {"placement": {"translate": [0, 1, 0]}}
    [(_, mesh)] = written(tmp_path / "m.glb", box((2, 3, 4)), extrude(facing("+y"), 0.5), **placed)
    scene = trimesh.load(tmp_path / "m.glb")
    assert np.allclose(scene.bounds, [[-1, 1, -2], [1, 4.5, 2]])
    joined = scene.to_geometry()
    joined.merge_vertices(merge_norm=True)
    assert joined.volume == pytest.approx(measure(mesh).volume, rel=1e-6) and len(joined.faces) == measure(mesh).triangles


@pytest.mark.parametrize("case", ["box", "n-gons", "open", "smooth"])
def test_trimesh_reads_the_obj_with_the_same_counts(tmp_path, case):
    [(_, mesh)] = written(tmp_path / "m.obj", *CASES[case])
    read = trimesh.load(tmp_path / "m.obj", process=False, maintain_order=True)
    told = measure(mesh)
    assert len(read.faces) == told.triangles and len(read.vertices) == told.vertices
    assert np.allclose(read.bounds, [told.minimum, told.maximum])


def test_quads_stay_quads_in_the_text(tmp_path):
    """Wavefront, Advanced Visualizer manual, appendix B1 (object files): an f line has one number for each corner."""
    written(tmp_path / "m.obj", *CASES["n-gons"])
    lines = (tmp_path / "m.obj").read_text().splitlines()
    corners = [len(line.split()) - 1 for line in lines if line.startswith("f ")]
    assert sorted(corners) == [4] * 7 + [7, 7]


def test_groups_and_units_are_told(tmp_path):
    d = together({"name": "Net mender's bench", "steps": [box((100, 100, 100))]}, {"name": "Foot", "steps": [box((100, 100, 100))]})
    write_model(model_of(d, build(d)), tmp_path / "m.obj")
    lines = (tmp_path / "m.obj").read_text().splitlines()
    assert any("metre" in line for line in lines if line.startswith("#"))
    assert [line for line in lines if line[0] in "og"] == ["o Net_mender's_bench", "g Net_mender's_bench", "o Foot", "g Foot"]
    numbers = [int(n) for line in lines if line.startswith("f ") for n in line.split()[1:]]
    assert min(numbers[:24]) == 1 and min(numbers[24:]) == 9 and max(numbers) == 16
    ys = {float(line.split()[2]) for line in lines if line.startswith("v ")}
    assert ys == {0.0, 1.0}  # a box of 100 cm is one metre high
