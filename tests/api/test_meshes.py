import numpy as np
import pytest

from rhytonic.web.gate import Gate
from tests.api.conftest import BOX, TOP, part, points

SOFT = {"id": "soft", "kind": "subdivision", "levels": 1}


@pytest.fixture
def build(api):
    return api.new(part(BOX, SOFT))


def preview(api, build, step, status=200, **more):
    return api.packed(f"/api/builds/{build['id']}/preview", {"revision": build["revision"], "part": "part1", "step": step, **more}, status)


def test_cage_and_surface(api, build):
    mesh = api.mesh(build)
    assert mesh["cage"]["face_count"] == 6 and mesh["surface"]["face_count"] == 24 and mesh["triangles"] == 48
    assert np.allclose(points(mesh["cage"]).max(axis=0), [0.05, 0.2, 0.15])
    assert len(mesh["cage"]["vertex_ids"]) == 8 * 8 and mesh["surface"]["vertex_ids"] is None
    faces = np.frombuffer(mesh["surface"]["triangle_face"], "<u4")
    assert np.bincount(faces).tolist() == [8] * 6
    assert len(np.frombuffer(mesh["surface"]["edges"], "<u4")) == 12 * 2 * 2


def test_a_part_without_live_steps_has_no_surface(api):
    assert api.mesh(api.new(part(BOX)))["surface"] is None


def test_a_preview_stores_nothing(api, build):
    step = {"kind": "extrude", "depth": 3, "pick": TOP}
    mesh = preview(api, build, step)
    assert mesh["cage"]["face_count"] == 10 and (mesh["faces_before"], mesh["faces_after"]) == (6, 10)
    assert points(mesh["cage"])[:, 1].max() == pytest.approx(0.23)
    assert api.get(f"/api/builds/{build['id']}")["revision"] == build["revision"]


def test_index_buffers_travel_once(api, build):
    step = {"kind": "extrude", "depth": 3, "pick": TOP}
    first = preview(api, build, step)
    have = [first["cage"]["digest"], first["surface"]["digest"]]
    again = preview(api, build, {**step, "depth": 4}, have=have)
    assert again["cage"]["triangles"] is None and again["surface"]["triangles"] is None
    assert [again[k]["digest"] for k in ("cage", "surface")] == have
    assert points(again["cage"])[:, 1].max() == pytest.approx(0.24)


def test_a_stored_step_can_be_tried_with_other_numbers(api):
    build = api.new(part(BOX, {"id": "up", "kind": "extrude", "depth": 2, "pick": TOP}, {"id": "more", "kind": "extrude", "depth": 1, "pick": TOP}))
    mesh = preview(api, build, {"kind": "extrude", "depth": 7, "pick": TOP}, replace="up")
    assert points(mesh["cage"])[:, 1].max() == pytest.approx(0.28) and mesh["faces_after"] == 10


def test_the_surface_can_be_left_out(api, build):
    assert preview(api, build, {"kind": "extrude", "depth": 3, "pick": TOP}, surface=False)["surface"] is None


@pytest.mark.parametrize("step, told", [
    ({"kind": "extrude", "depth": "far", "pick": TOP}, "depth: must be a number"),
    ({"kind": "extrude", "depth": 1, "pick": {"faces": {"facing": [1, 1, 1]}}}, "finds no faces"),
    ({"kind": "subdivision", "levels": 12}, "levels: would make"), ({"kind": "melt"}, "unknown kind 'melt'"),
    ({"depth": 1}, "a step needs a kind"), ({"kind": ["extrude"], "depth": 1}, "kind")])
def test_trials_that_cannot_be_say_why(api, build, step, told):
    assert told in preview(api, build, step, 422)["message"]


def test_a_trial_against_an_old_revision_or_a_part_that_is_not_there(api, build):
    api.change(build, {"op": "replace", "path": "/parts/0/name", "value": "Post"})
    assert preview(api, build, SOFT, 409)["code"] == "stale_revision"
    answer = api.http.post(f"/api/builds/{build['id']}/preview", json={"revision": build["revision"] + 1, "part": "x", "step": SOFT})
    assert answer.status_code == 404


def test_a_body_that_is_no_trial(api, build):
    for body in (b"", b"{", b"[]", b'{"revision": "x"}', b'{"revision": 1, "part": "part1", "step": {}, "colour": 1}'):
        answer = api.http.post(f"/api/builds/{build['id']}/preview", data=body, content_type="application/json")
        assert answer.status_code == 422 and answer.get_json()["code"] == "bad_request"


def test_the_face_count_is_told_before_it_is_made(api, build):
    body = {"revision": build["revision"], "part": "part1", "step": {"kind": "subdivision", "levels": 6}}
    assert api.post(f"/api/builds/{build['id']}/estimate", body | {"replace": "soft"}) == {"faces": 24 * 4**5, "triangles": 2 * 24 * 4**5}
    # one more stands below the one that is there
    assert api.post(f"/api/builds/{build['id']}/estimate", body) == {"faces": 24 * 4**6, "triangles": 2 * 24 * 4**6}


def test_what_a_step_picked_is_followed_to_the_cage(api):
    build = api.new(part(BOX, {"id": "up", "kind": "extrude", "depth": 2, "pick": TOP},
                         {"id": "rim", "kind": "transform", "translate": [0, 1, 0], "pick": {"edges": {"of_faces": {"made_by": "up", "role": "cap"}}}},
                         {"id": "more", "kind": "extrude", "depth": 1, "pick": {"faces": {"made_by": "up", "role": "cap"}}}))
    path = f"/api/builds/{build['id']}/picked?part=part1&revision={build['revision']}&step="
    for step, kind, count in (("body", None, 0), ("up", "faces", 1), ("rim", "edges", 4), ("more", "faces", 1)):
        told = api.get(path + step)
        assert (told["kind"], len(told["elements"])) == (kind, count)
    assert api.get(path + "nowhere", 404)["code"] == "unknown_name"


def test_both_ways_to_a_preview_answer_alike(api, build, app):
    """The short way and the application's own, for what can be and for what cannot."""
    inner = app.wsgi_app.inner.inner
    for step in ({"kind": "extrude", "depth": 3, "pick": TOP}, {"kind": "extrude", "depth": 3, "pick": {"faces": {"facing": [1, 1, 1]}}}):
        body = {"revision": build["revision"], "part": "part1", "step": step}
        short = api.http.post(f"/api/builds/{build['id']}/preview", json=body)
        try:
            door, app.wsgi_app = app.wsgi_app, Gate(inner)
            long = api.http.post(f"/api/builds/{build['id']}/preview", json=body)
        finally:
            app.wsgi_app = door
        assert (short.status_code, short.mimetype) == (long.status_code, long.mimetype)
        assert short.get_json() == long.get_json() if short.mimetype == "application/json" else short.data == long.data
        assert short.headers["X-Content-Type-Options"] == long.headers["X-Content-Type-Options"] == "nosniff"
