"""``./rhytonic build`` and ``schema`` as a caller sees them: output, exit code, one line on standard error."""

import json

import pytest

from rhytonic.cli.__main__ import main

LANTERN = {"format": "rhytonic", "version": 1, "unit": "cm", "parts": [
    {"name": "Housing", "placement": {"translate": [0, 5, 0]}, "steps": [
        {"id": "body", "kind": "box", "size": [18, 26, 18]},
        {"id": "sink", "kind": "extrude", "pick": {"faces": {"facing": "+z"}}, "depth": -0.8},
        {"id": "soft", "kind": "subdivision", "levels": 1, "handover": 2}]},
    {"name": "Guide", "hidden": True, "steps": [{"id": "sheet", "kind": "plane", "size": [10, 10]}]}]}


@pytest.fixture
def file(tmp_path):
    path = tmp_path / "lantern.rhy.json"
    path.write_text(json.dumps(LANTERN))
    return path


def report_of(capsys, *argv):
    assert main(["build", *map(str, argv)]) == 0
    out = capsys.readouterr()
    assert out.err == ""
    return json.loads(out.out)


def test_the_report_has_every_key_of_the_contract(capsys, file):
    told = report_of(capsys, file)
    assert told["unit"] == "cm" and [p["name"] for p in told["parts"]] == ["Housing", "Guide"]
    assert {"name", "vertices", "edges", "faces", "triangles", "tris", "quads", "ngons", "min", "max", "size", "area", "volume",
            "closed", "manifold", "euler", "genus", "shells", "findings", "unresolved", "notes", "seconds"} <= told["parts"][0].keys()
    assert told["parts"][0]["faces"] == 10 * 16 and told["parts"][1]["volume"] is None and told["parts"][1]["genus"] is None


def test_stages(capsys, file):
    cage = report_of(capsys, file, "--stage", "cage", "--part", "Housing")["parts"]
    assert len(cage) == 1 and cage[0]["faces"] == 10
    assert cage[0]["size"] == pytest.approx([18, 26, 18]) and cage[0]["min"] == pytest.approx([-9, 5, -9])
    assert cage[0]["volume"] == pytest.approx(18 * 26 * 18 - 0.8 * 18 * 26)
    body = report_of(capsys, file, "--stage", "body")["parts"]
    assert [(p["name"], p["faces"]) for p in body] == [("Housing", 6)]


def test_models_leave_hidden_parts_at_home(capsys, file, tmp_path):
    report_of(capsys, file, "--out", tmp_path / "a.obj", "--stage", "cage")
    text = (tmp_path / "a.obj").read_text()
    assert "metre" in text.splitlines()[1] and "o Housing" in text and "Guide" not in text
    report_of(capsys, file, "--out", tmp_path / "a.glb")
    assert (tmp_path / "a.glb").read_bytes()[:4] == b"glTF"


@pytest.mark.parametrize("change, told", [
    (lambda d: d["parts"][0]["steps"][1].update(depht=1), "part 'Housing', step 'sink', depht: unknown key"),
    (lambda d: d["parts"][0]["steps"][1].update(pick={"faces": {"facing": [1, 1, 1]}}), "step 'sink', pick: the pick finds no faces"),
    (lambda d: d["parts"][0]["steps"][0].update(segments=[4000, 4000, 1]), "step 'body', segments: would make 32"),
    (lambda d: d["parts"][0]["steps"][0].update(size=[1, 1e12, 1]), "step 'body', size: 1e+12 is beyond the largest length")])
def test_what_cannot_be_built_ends_with_2_and_one_line(capsys, file, change, told):
    data = json.loads(json.dumps(LANTERN))
    change(data)
    file.write_text(json.dumps(data))
    assert main(["build", str(file)]) == 2
    out = capsys.readouterr()
    assert out.out == "" and out.err.count("\n") == 1 and told in out.err and out.err.startswith(str(file))


@pytest.mark.parametrize("argv, told", [
    (["--stage", "nowhere"], "there is no step 'nowhere'"), (["--part", "Roof"], "there is no part 'Roof'"),
    (["--out", "x.xyz"], "known extensions are .obj, .glb"), (["--out", "/nowhere/x.obj"], "cannot write /nowhere/x.obj")])
def test_words_of_the_command_that_do_not_fit(capsys, file, argv, told):
    assert main(["build", str(file), *argv]) == 2
    assert told in capsys.readouterr().err


def test_a_file_that_is_not_there(capsys, tmp_path):
    assert main(["build", str(tmp_path / "none.rhy.json")]) == 2
    assert "cannot be read" in capsys.readouterr().err


def test_schema_is_json(capsys):
    assert main(["schema"]) == 0
    assert json.loads(capsys.readouterr().out)["title"] == "Rhytonic build"
