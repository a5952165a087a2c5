"""The texture square against things that are not ours: the geometry of developable surfaces, libigl's energies, Pillow's
rasterizer, the Khronos validator, trimesh, OpenUSD and Pillow as readers."""

import io

import igl
import numpy as np
import pytest
import trimesh
from PIL import Image, ImageDraw

from rhytonic.core.construct.charts.flattened import flattened, signed
from rhytonic.core.files.model import Model
from rhytonic.core.files.read import read_model
from rhytonic.core.files.write import model_files
from rhytonic.core.handover.layout_picture import drawn_parts, layout_png, layout_svg
from rhytonic.core.inspect.wrapping import layout_figures
from rhytonic.core.mesh.uv import Flat, uvs
from tests.helpers import facing, mesh_of
from tests.outside.test_files import validate, written

SEAMS = [{"id": "s1", "kind": "seam", "pick": {"edges": {"outline_of": {"any_of": [{"facing": "+y"}, {"facing": "-y"}]}}}}]
SIDE = {"faces": {"not": {"any_of": [{"facing": "+y"}, {"facing": "-y"}]}}}
UNWRAP = {"id": "u", "kind": "unwrap"}


# developable surfaces -------------------------------------------------------------------------------------------------
@pytest.mark.parametrize("sides", [3, 7, 24, 64])
@pytest.mark.parametrize("method", ["isometric", "conformal"])
def test_a_prisms_side_unrolls_to_perimeter_times_height(sides, method):
    """Perimeter of a regular n-gon 2 n r sin(π/n): common mensuration, no source."""
    form = {"id": "b", "kind": "cylinder", "radius": 0.5, "height": 1.3, "sides": sides}
    mesh = mesh_of(form, *SEAMS, {**UNWRAP, "pick": SIDE, "method": method})
    uv, flat = uvs(mesh), Flat.of(mesh, uvs(mesh))
    assert np.allclose(flat.stretch, 1, atol=1e-6)
    size = np.nanmax(uv, axis=0) - np.nanmin(uv, axis=0)
    assert np.allclose(np.sort(size / flat.face_density.max()), np.sort([2 * sides * 0.5 * np.sin(np.pi / sides), 1.3]), rtol=1e-6)


@pytest.mark.parametrize("top", [0.0, 0.4])
def test_a_cone_unrolls_to_a_sector_of_its_slant(top):
    """A cone is developable; the unrolled sector has the slant as its radius (M. do Carmo, Differential Geometry of Curves and
    Surfaces, 1976, section 3-5)."""
    form = {"id": "b", "kind": "cylinder", "radius": 1, "radius_top": top, "height": 1.5, "sides": 24}
    slant = {"id": "s2", "kind": "seam", "pick": {"edges": {"nearest": [(1 + top) / 2, 0.75, 0]}}}
    mesh = mesh_of(form, *SEAMS, slant, {**UNWRAP, "pick": SIDE, "iterations": 60})
    flat = Flat.of(mesh, uvs(mesh))
    assert np.allclose(flat.stretch, 1, atol=1e-6) and not flat.turned.any()
    side = np.abs(mesh.normals[:, 1]) < 0.99
    assert np.allclose(flat.face_density[side], flat.face_density[side][0], rtol=1e-4)


def test_a_bent_sheet_unrolls_to_the_sheet_it_was():
    sheet = [{"id": "s", "kind": "plane", "size": [2, 1], "segments": [24, 3]}, {"id": "b", "kind": "bend", "along": "x", "toward": "+y", "angle": 130}]
    mesh = mesh_of(*sheet, UNWRAP)
    flat = Flat.of(mesh, uvs(mesh))
    chord = 24 * 2 * (2 / np.radians(130)) * np.sin(np.radians(130) / 48)  # chords of the arc it was bent to
    size = np.sort(np.ptp(uvs(mesh), axis=0) / flat.face_density[0])
    assert np.allclose(flat.stretch, 1, atol=1e-5) and np.allclose(size, [1, chord], rtol=1e-3)


def test_a_cubes_six_squares_are_equal():
    mesh = mesh_of({"id": "b", "kind": "box", "size": [1, 1, 1]}, UNWRAP)
    uv = uvs(mesh).reshape(6, 4, 2)
    sides = np.linalg.norm(np.roll(uv, -1, axis=1) - uv, axis=2)
    across = np.linalg.norm(uv[:, 0] - uv[:, 2], axis=1)
    assert np.allclose(sides, sides[0, 0], rtol=1e-9) and np.allclose(across, sides[0, 0] * np.sqrt(2), rtol=1e-9)


# energies -------------------------------------------------------------------------------------------------------------
def cap(n=14):
    """Half a bumpy ball as points and triangles."""
    ball = trimesh.creation.icosphere(subdivisions=3)
    points = ball.vertices * (1 + 0.15 * np.sin(3 * ball.vertices[:, :1]))
    faces = ball.faces[(points[ball.faces][:, :, 1] > -0.05).all(axis=1)]
    used, index = np.unique(faces, return_inverse=True)
    return np.ascontiguousarray(np.asarray(points[used], float)), np.ascontiguousarray(index.reshape(-1, 3), np.int64)


def conformal_energy(points, triangles, flat):
    """Least squares conformal energy as libigl's matrix tells it (B. Lévy et al., 2002)."""
    border = igl.boundary_loop(triangles)
    ends = np.array([border[0], border[len(border) // 2]], np.int64)
    _, q = igl.lscm(points, triangles, ends, np.array([[0.0, 0.0], [1.0, 0.0]]))
    x = np.concatenate([flat[:, 0], flat[:, 1]])
    return float(x @ (q @ x)) / np.abs(signed(flat, triangles).sum())


def rigid_energy(points, triangles, flat):
    """Σ area · |J − nearest rotation|² over triangles (L. Liu et al., A Local/Global Approach to Mesh Parameterization, 2008)."""
    p = points[triangles]
    e, f = p[:, 1] - p[:, 0], p[:, 2] - p[:, 0]
    long = np.linalg.norm(e, axis=1)
    x, y = np.einsum("ij,ij->i", e, f) / long, np.linalg.norm(np.cross(e, f), axis=1) / long
    own = np.stack([np.stack([long, x], axis=1), np.stack([0 * long, y], axis=1)], axis=1)
    there = np.stack([flat[triangles[:, 1]] - flat[triangles[:, 0]], flat[triangles[:, 2]] - flat[triangles[:, 0]]], axis=2)
    s = np.linalg.svd(there @ np.linalg.inv(own), compute_uv=False)
    return float((long * y / 2 * ((s - 1) ** 2).sum(axis=1)).sum())


def test_conformal_maps_are_no_worse_than_libigls_own():
    points, triangles = cap()
    ours = flattened(points, triangles, "conformal", 10)
    border = igl.boundary_loop(triangles)
    ends = np.array([border[0], border[len(border) // 2]], np.int64)
    theirs, _ = igl.lscm(points, triangles, ends, np.array([[0.0, 0.0], [1.0, 0.0]]))
    assert conformal_energy(points, triangles, ours) <= conformal_energy(points, triangles, theirs) * 1.05
    assert signed(ours, triangles).min() > 0


def test_isometric_maps_are_no_worse_than_libigls_own():
    points, triangles = cap()
    ours = flattened(points, triangles, "isometric", 10)
    start = flattened(points, triangles, "conformal", 10)
    data = igl.ARAPData()
    data.max_iter = 10
    igl.arap_precomputation(points, triangles, 2, np.zeros(1, np.int32), data)
    theirs = igl.arap_solve(start[:1].copy(), data, start)
    assert rigid_energy(points, triangles, ours) <= rigid_energy(points, triangles, theirs) * 1.02
    assert rigid_energy(points, triangles, ours) < rigid_energy(points, triangles, start) and signed(ours, triangles).min() > 0


# coverage and density -------------------------------------------------------------------------------------------------
@pytest.mark.parametrize("form", [{"kind": "box", "size": [1, 2, 3]}, {"kind": "sphere", "radius": 1}, {"kind": "tube", "radius": 1, "inner_radius": 0.5, "height": 1}])
def test_coverage_is_what_pillow_draws(form):
    mesh = mesh_of({"id": "b", **form}, UNWRAP, {"id": "p", "kind": "pack"})
    flat = Flat.of(mesh, uvs(mesh))
    image = Image.new("L", (2048, 2048))
    pen = ImageDraw.Draw(image)
    for triangle in flat.places:
        pen.polygon([tuple(p) for p in (triangle * [2048, -2048] + [0, 2048]).tolist()], fill=255)
    assert layout_figures(mesh)["coverage"] == pytest.approx((np.asarray(image) > 0).mean(), abs=0.004)


def test_density_is_that_of_the_edges():
    mesh = mesh_of({"id": "b", "kind": "box", "size": [0.1, 0.2, 0.3]}, UNWRAP, {"id": "p", "kind": "pack", "resolution": 1024})
    t, uv = mesh.topology, uvs(mesh)
    square = np.linalg.norm(uv[t.next_corner] - uv, axis=1) * 1024
    model = np.linalg.norm(mesh.points[t.corners[t.next_corner]] - mesh.points[t.corners], axis=1) * 100
    told = layout_figures(mesh)["density"]
    assert np.allclose(square / model, told["mean"]) and told["min"] == pytest.approx(told["max"])


# files ----------------------------------------------------------------------------------------------------------------
BODY = [{"id": "b", "kind": "box", "size": [1, 2, 3]}, {"id": "i", "kind": "inset", "pick": facing("+z"), "width": 0.2}, UNWRAP, {"id": "p", "kind": "pack"}]


def corner_places(mesh):
    """{rounded corner of the model and its face's middle: place}."""
    t, uv = mesh.topology, uvs(mesh)
    return {(*np.round(mesh.points[v], 5), *np.round(mesh.face_centres[f], 4)): uv[c] for c, (v, f) in enumerate(zip(t.corners, t.corner_face))}


def test_the_glb_carries_uvs_and_validates(tmp_path):
    [(_, mesh)] = written(tmp_path / "m.glb", *BODY)
    issues = validate(tmp_path / "m.glb")
    assert issues["numErrors"] == issues["numWarnings"] == 0, issues["messages"]
    read = trimesh.load(tmp_path / "m.glb").to_geometry()
    ours = Flat.of(mesh, uvs(mesh))
    theirs = np.sort(np.linalg.norm(np.cross(*np.split(np.pad(read.visual.uv[read.faces][:, 1:] - read.visual.uv[read.faces][:, :1], ((0, 0), (0, 0), (0, 1))), 2, axis=1))[:, 0], axis=1)) / 2
    assert np.allclose(theirs, np.sort(np.abs(ours.signed)), atol=1e-6)
    back = read_model((tmp_path / "m.glb").read_bytes())
    [(_, again)] = back.placed()
    flat = Flat.of(again, uvs(again))
    assert not flat.turned.any() and np.isclose(flat.signed.sum(), ours.signed.sum(), atol=1e-5)


def test_the_obj_is_read_with_its_uvs_by_trimesh_and_by_us(tmp_path):
    [(_, mesh)] = written(tmp_path / "m.obj", *BODY)
    read = trimesh.load(tmp_path / "m.obj", process=False)
    u, v = read.visual.uv.T
    assert np.isclose(u.max(), np.nanmax(uvs(mesh)[:, 0])) and np.isclose(v.max(), np.nanmax(uvs(mesh)[:, 1]))
    [(_, again)] = read_model((tmp_path / "m.obj").read_bytes()).placed()
    one, two = corner_places(mesh), corner_places(again)
    assert one.keys() == two.keys() and max(np.abs(one[k] - two[k]).max() for k in one) < 1e-12


def test_usd_carries_st(tmp_path):
    from pxr import Usd, UsdGeom

    [(_, mesh)] = written(tmp_path / "m.usda", *BODY)
    stage = Usd.Stage.Open(str(tmp_path / "m.usda"))
    [found] = [UsdGeom.Mesh(p) for p in stage.Traverse() if p.IsA(UsdGeom.Mesh)]
    st = UsdGeom.PrimvarsAPI(found).GetPrimvar("st")
    assert st.GetInterpolation() == "faceVarying" and st.GetTypeName().type.typeName == "VtArray<GfVec2f>"
    assert np.allclose(np.array(st.Get()), uvs(mesh), atol=1e-6)


def test_an_imported_files_places_stay(tmp_path):
    [(_, mesh)] = written(tmp_path / "m.obj", *BODY)
    from rhytonic.core.files.companions import Companions
    from rhytonic.core.recipe.evaluate import Evaluator

    for more in ({}, {"quads": True}, {"weld": 1e-6}):
        again = mesh_of({"id": "m", "kind": "mesh", "file": "m.obj", **more}, evaluator=Evaluator(files=Companions(tmp_path)))
        one, two = corner_places(mesh), corner_places(again)
        assert one.keys() == two.keys() and max(np.abs(one[k] - two[k]).max() for k in one) < 1e-9


def test_a_model_without_uvs_has_none_in_files():
    mesh = mesh_of(BODY[0])
    from rhytonic.core.files.model import Node, Shape

    files = model_files(Model((Node("Box", shape=Shape("Box", mesh), placed=mesh),)), "m.gltf")
    assert b"TEXCOORD" not in files["m.gltf"]


# the layout as a picture ----------------------------------------------------------------------------------------------
@pytest.mark.parametrize("depth", [8, 16])
def test_the_layout_is_read_back_by_pillow(depth):
    mesh = mesh_of(*BODY)
    image = Image.open(io.BytesIO(layout_png([("Box", mesh)], 1024, depth, fill=True, names=False)))
    values = np.asarray(image)
    assert image.size == (1024, 1024) and values.dtype == (np.uint16 if depth == 16 else np.uint8)
    white = 65535 if depth == 16 else 255
    assert (values < white).mean() == pytest.approx(layout_figures(mesh)["coverage"], abs=0.01)
    flat = Flat.of(mesh, uvs(mesh))
    middle = flat.places.mean(axis=1)
    assert (values[np.clip(((1 - middle[:, 1]) * 1024).astype(int), 0, 1023), (middle[:, 0] * 1024).astype(int)] < white).all()


def test_the_svg_has_every_part_and_island():
    import xml.etree.ElementTree as Tree

    mesh = mesh_of(BODY[0], {"id": "p", "kind": "project", "how": "box"})
    root = Tree.fromstring(layout_svg([("Crate & lid", mesh)], 512, fill=True))
    space = "{http://www.w3.org/2000/svg}"
    [group] = root.findall(f"{space}g")
    assert group.get("data-part") == "Crate & lid" and len(group.findall(f"{space}text")) == 6
    assert len([p for p in group.findall(f"{space}path") if p.get("data-island")]) == 6
    assert len(drawn_parts([("Crate", mesh)])[0].middle) == 6
