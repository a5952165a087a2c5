"""What the square answers: where pieces are held, and how parts share it."""

from tests.api.conftest import BOX, part

LAID = [BOX, {"id": "u", "kind": "unwrap"}]
PACK = {"id": "p", "kind": "pack", "density": 5, "resolution": 1024}


def test_places_are_those_that_hold_the_pieces(api):
    build = api.new(part(*LAID, PACK))
    path = f"/api/builds/{build['id']}"
    found = api.post(f"{path}/held", {"part": "part1"}, 200)
    assert found["step"] == "p" and found["density"] == 5 and len(found["places"]) == 1
    patch = [{"op": "add", "path": "/parts/0/steps/2/places", "value": found["places"]}]
    api.post(f"{path}/changes", {"revision": build["revision"], "label": "Hold", "key": "h" * 12, "patch": patch}, 200)
    again = api.post(f"{path}/held", {"part": "part1"}, 200)
    assert again == found  # where they are held is where they are
    bare = api.new(part(*LAID))
    assert "pack its pieces" in api.post(f"/api/builds/{bare['id']}/held", {"part": "part1"}, 404)["message"]
    fit = api.new(part(*LAID, {**PACK, "density": "fit"}))
    told = api.post(f"/api/builds/{fit['id']}/held", {"part": "part1"}, 200)
    density = api.get(f"/api/builds/{fit['id']}/parts/part1/layout")["figures"]["density"]["mean"]
    assert abs(told["density"] - density) < 1e-6 * density


def test_parts_that_share_a_square_are_told_what_each_takes(api):
    build = api.new(part(*LAID, PACK), {**part(*LAID), "name": "Other", "id": "other"}, {**part(BOX), "name": "Bare", "id": "bare"})
    path = f"/api/builds/{build['id']}/shared-square"
    found = api.post(path, {"parts": ["part1", "other"], "resolution": 512, "margin": 2}, 200)
    assert [p["step"] for p in found["portions"]] == ["p", None] and found["resolution"] == 512
    assert abs(sum(p["area"][2] * p["area"][3] for p in found["portions"]) - 1) < 1e-9
    assert "Bare is not laid out yet" in api.post(path, {"parts": ["part1", "bare"]}, 422)["message"]
    assert api.post(path, {"parts": ["nothing"]}, 404)["message"]
    assert api.get(f"/api/builds/{build['id']}")["revision"] == build["revision"]
