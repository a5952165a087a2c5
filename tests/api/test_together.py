"""Parts among each other through the API: lined up, spread, clear of each other."""

import msgpack

from tests.helpers import box

DOOR = {"id": "door", "name": "Door", "joint": {"kind": "turn", "at": [-20, 0, 0], "axis": [0, -1, 0], "to": 90},
        "steps": [box((40, 80, 2))]}
WALL = {"id": "wall", "name": "Wall", "placement": {"translate": [0, -10, 35]}, "steps": [box((120, 100, 10))]}


def cube(id, at, **more):
    return {"id": id, "name": id, "placement": {"translate": at}, "steps": [box((2, 2, 2))], **more}


def put(api, build, status=200, **trial):
    return api.post(f"/api/builds/{build['id']}/line-up", {"revision": build["revision"], **trial}, status)


def moves(told):
    return {m["member"]: m["translate"] for m in told["moves"]}


def test_parts_and_groups_are_lined_up(api):
    build = api.new(cube("a", [0, 5, 0]), cube("b", [10, 1, 3]), cube("c", [4, 0, 0], group="g"),
                    groups=[{"id": "g", "name": "G", "placement": {"translate": [0, 7, 0]}}])
    assert moves(put(api, build, members=["p:a", "g:g"], how="floor")) == {"p:a": [0, 0, 0], "g:g": [0, 0, 0]}
    assert moves(put(api, build, members=["p:a", "p:b"], to="p:b", how="side", side="on")) == {"p:a": [0, 3, 0]}
    assert moves(put(api, build, members=["p:a"], to="p:b", how="align", axis="z", place="high")) == {"p:a": [0, 5, 3]}
    assert moves(put(api, build, members=["p:a", "p:b", "p:c"], how="spread", by="centres", axis="x"))["p:c"] == [5, 0, 0]
    assert moves(put(api, build, members=["p:b"], how="origin")) == {"p:b": [0, 0, 0]}
    assert moves(put(api, build, members=["p:b"], how="centre", axis="y")) == {"p:b": [10, -1, 3]}
    assert moves(put(api, build, members=["p:b"], how="grid", step=4)) == {"p:b": [9, 0, 1]}
    assert "choose what" in put(api, build, 422, members=["p:a"], how="side")["message"]
    assert "no group" in put(api, build, 404, members=["g:x"], how="floor")["message"]
    put(api, build, 422, members=["a"], how="floor")


def test_clearance_is_told_in_the_builds_unit(api):
    build = api.new(DOOR, WALL)
    found = api.post(f"/api/builds/{build['id']}/clearance", {"revision": build["revision"], "member": "door"})
    assert abs(found["touches_at"] - 47.14) < 1 and found["least"] == 0 and abs(found["where"][2] - 30) < 1e-3
    again = api.post(f"/api/builds/{build['id']}/clearance", {"revision": build["revision"], "member": "wall"}, 404)
    assert "has no joint" in again["message"]


def test_parts_that_follow_a_moved_one_are_told_as_they_would_be(api):
    hood = {"id": "hood", "name": "Hood", "steps": [box((40, 20, 30)), {"id": "cut", "kind": "boolean", "part": "peg", "operation": "subtract"}]}
    peg = {"id": "peg", "name": "Peg", "group": "g", "steps": [box((4, 60, 4))]}
    build = api.new(hood, peg, groups=[{"id": "g", "name": "G"}])
    at = f"/api/builds/{build['id']}/placed"

    def others(placements):
        answer = api.http.post(at, json={"revision": build["revision"], "placements": placements})
        assert answer.status_code == 200, answer.get_data(as_text=True)[:300]
        return msgpack.unpackb(answer.get_data())["others"]

    assert set(others({"p:peg": {"translate": [1, 0, 0]}})) == {"hood"} and others({"p:hood": {}}) == {}
    through, away = (others({"g:g": {"translate": [x, 0, 0]}})["hood"]["triangles"] for x in (5, 500))
    assert through > away == 12
    assert api.get(f"/api/builds/{build['id']}")["revision"] == build["revision"]


def test_gap_and_overlap_with_a_neighbour_are_told_with_their_place(api):
    build = api.new(cube("a", [0, 0, 0]), cube("b", [5, 0, 0]), cube("c", [0.5, 1, 0]),
                    {"id": "open", "name": "Open", "steps": [{"id": "p", "kind": "plane", "size": [9, 9]}]})

    def found(to):
        return api.post(f"/api/builds/{build['id']}/beside", {"revision": build["revision"], "member": "p:a", "to": f"p:{to}"})

    apart, into, flat = found("b"), found("c"), found("open")
    assert abs(apart["gap"] - 3) < 1e-9 and apart["overlap"] == 0 and apart["low"] is None
    assert sorted(round(e[0], 6) for e in apart["ends"]) == [1, 4]
    assert into["gap"] == 0 and abs(into["overlap"] - 1.5 * 1 * 2) < 1e-9
    assert [round(v, 9) for v in into["low"] + into["high"]] == [-0.5, 1, -1, 1, 2, 1]
    assert flat["gap"] == 0 and flat["overlap"] is None
