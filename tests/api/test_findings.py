"""Findings, picks by rule, and what a trial tells: asked for beside the answers to changes."""

import json

import numpy as np
import pytest

from tests.api.conftest import BOX, TOP, part
from tests.api.test_meshes import preview


def findings(api, build, status=200, **query):
    asked = "&".join(f"{k}={v}" for k, v in {"part": "part1", **query}.items())
    return api.get(f"/api/builds/{build['id']}/findings?{asked}", status)


def told(answer):
    return [(f["kind"], f["elements"], f["count"], f["step"], f["surface"]) for f in answer["findings"]]


def test_an_extrude_left_at_nought_is_flagged_at_once(api):
    build = api.new(part(BOX))
    assert told(findings(api, build)) == []
    build = api.change(build, {"op": "add", "path": "/parts/0/steps/-", "value":
                               {"id": "up", "kind": "extrude", "depth": 0, "pick": TOP}})
    got = findings(api, build, revision=build["revision"])
    assert ("zero_area_face", "faces", 4, "up", False) in told(got) and got["key"] == build["parts"][0]["key"]
    assert "findings" not in build["parts"][0]  # never in front of the answer


def test_edges_are_told_by_their_ends_and_distances_are_typed(api):
    build = api.new(part({"id": "p", "kind": "plane", "size": [4, 4]}))
    border = findings(api, build)["findings"][0]
    assert border["kind"] == "open_border" and all(len(i.split("-")) == 2 for i in border["ids"])
    lid = api.new(part({"id": "b", "kind": "box", "size": [10, 0.05, 10]}))
    assert not any(f["kind"] == "thin_wall" for f in findings(api, lid)["findings"])
    assert any(f["kind"] == "thin_wall" for f in findings(api, lid, thin=0.001)["findings"])


def test_the_surface_is_inspected_where_the_cage_shows_nothing(api):
    bar = [{"id": "b", "kind": "box", "size": [10, 5, 5], "anchor": "centre"},
           {"id": "t", "kind": "transform", "pick": {"faces": "all"}, "translate": [2, 0, 0], "rotate": [0, 30, 0]}]
    build = api.new(part(*bar, {"id": "m", "kind": "mirror", "axis": "x", "clip": False}))
    assert ("self_crossing", "faces", "m", True) in [(a, b, d, e) for a, b, _, d, e in told(findings(api, build))]


@pytest.mark.parametrize("query, status", [({"revision": 99}, 409), ({"part": "nobody"}, 404), ({"thin": -1}, 422),
                                           ({"doubled": "wide"}, 422)])
def test_findings_say_what_was_wrong(api, query, status):
    assert findings(api, api.new(part(BOX)), status, **query)["message"]


def pick(api, build, rule, status=200, **more):
    return api.post(f"/api/builds/{build['id']}/pick", {"part": "part1", "pick": rule, **more}, status)


def test_a_rule_is_answered_in_elements_of_the_cage(api):
    build = api.new(part(BOX, {"id": "soft", "kind": "subdivision", "levels": 2}))
    assert len(pick(api, build, {"edges": "all"})["elements"]) == 12
    assert len(pick(api, build, {"faces": {"facing": "+y"}})["elements"]) == 1
    near = pick(api, build, {"vertices": {"nearest": [5, 20, 15]}})["elements"]
    assert np.allclose(np.frombuffer(api.mesh(build)["cage"]["positions"], "<f4").reshape(-1, 3)[near[0]], [0.05, 0.2, 0.15])


@pytest.mark.parametrize("rule, status", [({"faces": {"facing": "up"}}, 422), ({"faces": {"ids": ["00"]}}, 422),
                                          ({"faces": {"made_by": "nobody"}}, 422), ({"edges": {"sides": [4, 4]}}, 422),
                                          ({}, 422), ({"faces": "none"}, 422)])
def test_a_rule_that_cannot_be_answered_says_why(api, rule, status):
    assert pick(api, api.new(part(BOX)), rule, status)["message"]


def test_a_stale_pick_is_refused(api):
    assert pick(api, api.new(part(BOX)), {"faces": "all"}, 409, revision=7)["code"] == "stale_revision"


def test_a_trial_tells_its_notes_and_what_merges(api):
    build = api.new(part(BOX))
    bevel = preview(api, build, {"kind": "bevel", "width": 50, "pick": {"edges": "all"}})
    assert bevel["notes"] and "width limited to 5 cm" in bevel["notes"][0] and bevel["merges"] == 0
    weld = preview(api, build, {"kind": "weld", "distance": 10.5, "pick": {"vertices": "all"}})
    assert weld["merges"] == 4 and weld["faces_after"] < 6


def test_a_surface_tells_the_cage_elements_of_its_lines_and_vertices(api):
    build = api.new(part(BOX, {"id": "m", "kind": "mirror", "axis": "x"}, {"id": "soft", "kind": "subdivision", "levels": 1}))
    surface, cage = api.mesh(build)["surface"], api.mesh(build)["cage"]
    lines, of = np.frombuffer(surface["edges"], "<u4").reshape(-1, 2), np.frombuffer(surface["edge_cage"], "<i4")
    assert len(lines) == len(of) and set(of.tolist()) >= {-1} and of.max() < 12
    vertex = np.frombuffer(surface["vertex_cage"], "<i4")
    assert len(vertex) == surface["vertex_count"] and vertex.max() < cage["vertex_count"] == 8
    assert json.dumps(vertex.tolist()).count("-1") > 0
