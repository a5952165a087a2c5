"""What the workbench asks of the API: extents, soft weights, points of shading; what a part keeps beside its recipe."""

import numpy as np
import pytest

from tests.api.conftest import BOX, TOP, part, points


def extent(api, build, pick, status=200, **more):
    return api.post(f"/api/builds/{build['id']}/extent", {"part": build["document"]["parts"][0]["id"], "pick": pick, **more}, status)


def test_extents_are_exact_in_the_builds_unit(api):
    build = api.new(part({**BOX, "size": [10.1, 20.3, 30]}, placement={"translate": [1, 2, 3], "rotate": [0, 90, 0]}))
    own = extent(api, build, TOP)
    assert own["low"] == [-5.05, 20.3, -15] and own["high"] == [5.05, 20.3, 15] and own["area"] == 303 and own["normal"] == [0, 1, 0]
    placed = extent(api, build, {"vertices": "all"}, space="build")
    assert placed["low"] == [-14, 2, -2.05] and placed["high"] == [16, 22.3, 8.05]


def test_an_extent_of_nothing_is_refused(api):
    build = api.new(part(BOX))
    assert "finds no faces" in extent(api, build, {"faces": {"sides": [7, 7]}}, 422)["message"]
    extent(api, build, {"faces": "all"}, 422, space="elsewhere")
    extent(api, build, {"faces": "all"}, 409, revision=99)


def test_a_trial_with_soft_selection_tells_its_weights(api):
    grid = {"id": "grid", "kind": "plane", "size": [10, 10], "segments": [10, 10]}
    build = api.new(part(grid))
    step = {"kind": "transform", "translate": [0, 1, 0], "pick": {"vertices": {"nearest": [0, 0, 0]}}, "falloff": {"radius": 3, "fullness": 0.8}}
    trial = {"revision": build["revision"], "part": build["document"]["parts"][0]["id"], "step": step}
    packet = api.packed(f"/api/builds/{build['id']}/preview", trial)
    vertex, weight = np.frombuffer(packet["soft"]["vertex"], "<u4"), np.frombuffer(packet["soft"]["weight"], "<f4")
    moved = points(packet["cage"])[:, 1]
    assert np.allclose(moved[vertex], 0.01 * weight, atol=1e-8) and np.count_nonzero(moved) == np.count_nonzero(weight)
    assert weight.max() == 1 and vertex.size > 20
    # the formula of the contract
    at = points(packet["cage"])[vertex]
    t = np.hypot(at[:, 0], at[:, 2]) / 0.03
    assert np.allclose(weight, 1 - (3 * t**2 - 2 * t**3) ** (4 ** 0.6), atol=1e-6)
    plain = {**trial, "step": {k: v for k, v in step.items() if k != "falloff"}}
    assert api.packed(f"/api/builds/{build['id']}/preview", plain)["soft"] is None


def test_points_of_shading_travel_where_edges_are_hard(api):
    drum = {"id": "drum", "kind": "cylinder", "radius": 5, "height": 10, "sides": 12}
    flat = api.mesh(api.new(part(drum)))["cage"]
    assert flat["shading_vertex"] is None
    round_ = api.mesh(api.new(part(drum, {"id": "shade", "kind": "shade", "angle": 40})))["cage"]
    vertex = np.frombuffer(round_["shading_vertex"], "<u4")
    triangles = np.frombuffer(round_["shading_triangles"], "<u4")
    assert vertex.size == 48 and round_["digest"] != flat["digest"]
    assert np.array_equal(vertex[triangles], np.frombuffer(round_["triangles"], "<u4"))


def test_a_surface_with_hard_edges_is_broken_there(api):
    steps = [BOX, {"id": "edge", "kind": "hard", "pick": {"edges": {"outline_of": TOP["faces"]}}}, {"id": "soft", "kind": "subdivision", "levels": 2}]
    surface = api.mesh(api.new(part(*steps)))["surface"]
    broken = np.frombuffer(surface["shading_vertex"], "<u4").size - surface["vertex_count"]
    assert broken == 16  # the ring of four edges, each in four pieces, stands twice
    assert api.mesh(api.new(part(BOX, steps[2])))["surface"]["shading_vertex"] is None


def test_pivot_sets_ghost_and_stand_are_kept_with_the_build(api):
    whole = part(BOX, pivot=[1, 2, 3], ghosted=True, sets=[{"name": "lid", "pick": TOP}])
    build = api.new(whole)
    held = api.get(f"/api/builds/{build['id']}")["document"]["parts"][0]
    assert held["pivot"] == [1, 2, 3] and held["ghosted"] is True and held["sets"] == [{"name": "lid", "pick": TOP}]
    found = api.post(f"/api/builds/{build['id']}/pick", {"part": held["id"], "pick": held["sets"][0]["pick"]})
    assert found["kind"] == "faces" and len(found["elements"]) == 1


@pytest.mark.parametrize("bad, told", [
    ({"sets": [{"name": "lid", "pick": TOP}] * 2}, "two pick sets are called 'lid'"),
    ({"sets": [{"name": "lid", "pick": {"faces": {"near": 1}}}]}, "not a pick rule"),
    ({"pivot": [0, 1]}, "pivot.2: is required"),
    ({"ghosted": "yes"}, "ghosted"),
])
def test_what_does_not_fit_says_why(api, bad, told):
    answer = api.post("/api/builds", {"name": "Bad", "document": {"format": "rhytonic", "version": 1, "parts": [part(BOX, **bad)]}}, 422)
    assert told in answer["message"]
