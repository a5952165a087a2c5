"""Model files through the API: kept, guessed at, taken as parts, and models handed over."""

import io
import zipfile

import numpy as np
import pytest

from rhytonic.core.files.read import read_model

CRATE = b"o Crate\nv 0 0 0\nv 40 0 0\nv 40 30 0\nv 0 30 0\nv 0 0 20\nv 40 0 20\nv 40 30 20\nv 0 30 20\n" \
        b"f 1 4 3 2\nf 5 6 7 8\nf 1 2 6 5\nf 3 4 8 7\nf 1 5 8 4\nf 2 3 7 6\n"


def upload(api, data, name="crate.obj", status=201):
    answer = api.http.post(f"/api/models?name={name}", data=data, content_type="application/octet-stream")
    assert answer.status_code == status, answer.get_data(as_text=True)[:400]
    return answer.get_json()


def parts_of(api, sha, status=200, **query):
    return api.get(f"/api/models/{sha}/parts?" + "&".join(f"{k}={v}" for k, v in {"name": "Crate", **query}.items()), status)


def test_a_file_is_kept_once_and_guessed_at(api):
    told, again = upload(api, CRATE), upload(api, CRATE)
    assert told == again and (told["format"], told["unit"], told["faces"], told["vertices"]) == ("obj", "cm", 6, 8)
    assert told["low"] == [0, 0, 0] and told["high"] == [40, 30, 20] and told["doubled"] == 0 and told["pairs"] == 0
    assert told["nodes"] == [{"name": "Crate", "path": [], "faces": 6}]
    assert api.http.get(f"/api/models/{told['sha256']}").get_data() == CRATE
    api.get("/api/models/" + "0" * 64, 404)


def test_its_parts_stand_in_a_build_and_its_numbers_may_change(api):
    sha = upload(api, CRATE)["sha256"]
    fragment = parts_of(api, sha, unit="cm", to="mm")
    [part] = fragment["parts"]
    assert fragment["groups"] == [] and part["name"] == "Crate" and part["steps"][0]["file"] == sha
    build = api.new(part, unit="mm")
    [status] = build["parts"]
    assert status["faces"] == 6 and status["steps"][0]["error"] is None
    mesh = read_model(api.http.get(f"/api/builds/{build['id']}/export?format=obj").get_data()).placed()[0][1]
    assert np.allclose(mesh.points.max(axis=0), [0.4, 0.3, 0.2])
    after = api.change(build, {"op": "add", "path": "/parts/0/steps/0/unit", "value": "mm"})
    mesh = read_model(api.http.get(f"/api/builds/{after['id']}/export?format=ply").get_data()).placed()[0][1]
    assert np.allclose(mesh.points.max(axis=0), [0.04, 0.03, 0.02])


def test_a_file_that_is_not_here_is_told_with_what_would_work(api):
    build = api.new({"name": "Crate", "steps": [{"id": "m", "kind": "mesh", "file": "crate.obj"}]})
    assert "bring it in by New part, From a file" in build["parts"][0]["steps"][0]["error"]


def test_what_cannot_be_read_is_not_kept(api):
    assert "line 3" in upload(api, b"v 0 0 0\nv 1 0 0\nf 1 2 9\n", status=422)["message"]
    assert "in no format" in upload(api, b"PK\x03\x04" + b"\0" * 100, status=422)["message"]
    assert "has no face" in upload(api, b"v 0 0 0\n", status=422)["message"]


BENCH = {"parts": [
    {"id": "leg", "name": "Leg", "group": "frame", "pivot": [1, 2, 3], "placement": {"translate": [20, 0, 5], "rotate": [10, 30, -20]},
     "steps": [{"id": "b", "kind": "box", "size": [4, 40, 6]}]},
    {"id": "leg2", "name": "Leg 2", "group": "frame", "of": "leg", "mirrored": "z", "pivot": [1, 2, -3],
     "placement": {"translate": [-20, 0, 5], "scale": [1, 2, 1]}},
    {"id": "lid", "name": "Lid", "joint": {"kind": "turn", "axis": [0, 0, 1], "to": 90, "now": 30},
     "steps": [{"id": "c", "kind": "cylinder", "radius": 5, "height": 2, "sides": 8, "cap": "quads"}]}],
    "groups": [{"id": "frame", "name": "Frame", "placement": {"rotate": [0, 45, 0], "translate": [1, 2, 3]}, "pivot": [0, 1, 0]}]}


@pytest.mark.parametrize("format", ["glb", "gltf"])
def test_a_build_written_and_taken_in_again_stands_where_it_stood(api, format):
    build = api.new(*BENCH["parts"], groups=BENCH["groups"])
    data = api.http.get(f"/api/builds/{build['id']}/export?format={format}").get_data()
    told = upload(api, data, "bench.glb")
    assert (told["unit"], told["up"]) == ("m", "y") and told["pairs"] == 2 * 6 + 8 + 2 * 4
    fragment = parts_of(api, told["sha256"], name="Bench", quads="true", unit="m")
    names = {g["name"]: g for g in fragment["groups"]}
    assert {"Frame", "Lid hinge", "Bench"} <= set(names)
    copy = next(p for p in fragment["parts"] if p["name"].startswith("Leg 2"))
    assert copy["mirrored"] == "x" and copy["of"] == next(p for p in fragment["parts"] if p["name"] == "Leg")["id"]
    again = api.new(*fragment["parts"], groups=fragment["groups"], name="Again")
    assert all(s["error"] is None for p in again["parts"] for s in p["steps"])
    whole = [{path[-1].removesuffix("_surface"): m for path, m in
                  read_model(api.http.get(f"/api/builds/{b['id']}/export?format=obj").get_data()).placed()} for b in (build, again)]
    for name, mesh in whole[0].items():
        other = whole[1][name]
        assert sorted(other.topology.sides) == sorted(mesh.topology.sides)
        rows = [np.array(sorted(np.round(m.points, 5).tolist())) for m in (mesh, other)]
        assert np.allclose(*rows, atol=2e-5)
        assert np.allclose(mesh.area_vectors.sum(axis=0), other.area_vectors.sum(axis=0), atol=1e-6)


@pytest.mark.parametrize("up", ["y", "z"])
def test_a_mirrored_node_alone_and_z_up(api, up):
    from tests.core.test_models_in import gltf
    told = upload(api, gltf(nodes=[{"name": "Sail", "mesh": 0, "scale": [1, -2, 3], "translation": [1, 2, 3]}]), "sail.gltf")
    fragment = parts_of(api, told["sha256"], up=up, to="m", unit="m")
    build = api.new(*fragment["parts"], unit="m")
    mesh = read_model(api.http.get(f"/api/builds/{build['id']}/export?format=obj").get_data()).placed()[0][1]
    points = np.array([[1, 2, 3], [2, 2, 3], [2, 0, 3]], float)
    if up == "z":
        points = np.stack([points[:, 0], points[:, 2], -points[:, 1]], axis=1)
    assert np.allclose(sorted(mesh.points.tolist()), sorted(points.tolist()))
    normal = mesh.area_vectors[0]
    assert (normal[2] > 0) if up == "y" else (normal[1] > 0)


def test_some_parts_or_a_group_are_handed_over(api):
    build = api.new(*BENCH["parts"], groups=BENCH["groups"])
    def names(query):
        model = read_model(api.http.get(f"/api/builds/{build['id']}/export?{query}").get_data())
        return {path[-1] for path, _ in model.placed()}
    assert names("format=obj&of=frame") == {"Leg", "Leg_2"} and names("format=obj&of=lid") == {"Lid"}
    assert names("format=obj") == {"Leg", "Leg_2", "Lid"}


def test_every_format_comes_with_its_media_type(api):
    build = api.new(*BENCH["parts"], groups=BENCH["groups"])
    for format, kind in (("obj", "model/obj"), ("stl", "model/stl"), ("usdz", "model/vnd.usdz+zip"), ("gltf", "model/gltf+json")):
        answer = api.http.get(f"/api/builds/{build['id']}/export?format={format}")
        assert answer.status_code == 200 and answer.mimetype == kind and f".{format}" in answer.headers["Content-Disposition"]
    data = api.http.get(f"/api/builds/{build['id']}/export?format=zip").get_data()
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        assert sorted(n.rsplit(".")[1] for n in archive.namelist()) == ["mtl", "obj"]


FRAME = b'<svg xmlns="http://www.w3.org/2000/svg" width="80mm" height="60mm" viewBox="0 0 80 60">' \
        b'<path id="frame" d="M0 0h80v60h-80z M10 10v40h60v-40z"/></svg>'


def drawing(api, data, name="frame.svg", status=200, to="cm"):
    answer = api.http.post(f"/api/models/drawing?name={name}&to={to}", data=data, content_type="application/octet-stream")
    assert answer.status_code == status, answer.get_data(as_text=True)[:400]
    return answer.get_json()


def test_a_drawing_comes_in_as_curves_and_goes_out_again(api):
    fragment = drawing(api, FRAME)
    assert [p["name"] for p in fragment["parts"]] == ["Frame", "Frame 2"] and fragment["notes"] == []
    solid = {**fragment["parts"][0], "name": "Plate", "id": "plate",
             "steps": [*fragment["parts"][0]["steps"], {"kind": "extrude_curve", "depth": 2}]}
    build = api.new(*fragment["parts"], solid, unit="cm")
    assert [s["error"] for p in build["parts"] for s in p["steps"]] == [None] * 6
    assert build["parts"][2]["faces"] > 0 and build["parts"][0]["faces"] == 0
    for kind in ("svg", "dxf"):
        answer = api.http.get(f"/api/builds/{build['id']}/export?format={kind}&of={build['document']['parts'][0]['id']}")
        assert answer.status_code == 200 and answer.headers["Content-Disposition"].endswith(f'.{kind}"')
        again = drawing(api, answer.get_data(), f"again.{kind}")["parts"]
        corners = np.array([p["at"] if isinstance(p, dict) else p for p in again[0]["steps"][0]["points"]])
        assert np.ptp(corners, axis=0) == pytest.approx([8, 6, 0])


def test_drawings_that_are_none_are_refused_and_models_are_no_drawings(api):
    assert "no SVG" in drawing(api, b"<svg", status=422)["message"]
    assert "known are SVG and DXF" in drawing(api, CRATE, "crate.obj", 422)["message"]
    build = api.new({"name": "Crate", "steps": [{"kind": "box", "size": [1, 1, 1]}]})
    assert "no part is a curve" in api.get(f"/api/builds/{build['id']}/export?format=svg", 422)["message"]
