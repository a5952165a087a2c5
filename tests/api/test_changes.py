"""The change log: forward and inverse patches, undo, redo, revisions, and what survives."""

import threading
import uuid

import pytest
from sqlalchemy import create_engine, text

from rhytonic.web.app import create_app
from tests.api.conftest import BOX, TOP, Api, part

DEEPER = {"op": "replace", "path": "/parts/0/steps/1/depth", "value": 5}
EXTRUDE = {"op": "add", "path": "/parts/0/steps/1", "value": {"id": "up", "kind": "extrude", "depth": 2, "pick": TOP}}


@pytest.fixture
def build(api):
    return api.new(part(BOX))


def depth(build):
    return build["document"]["parts"][0]["steps"][1]["depth"]


def test_undo_and_redo_go_back_and_forth(api, build):
    one = api.change(build, EXTRUDE, label="Extrude")
    two = api.change(one, DEEPER, label="Change depth")
    assert two["undo"] == "Change depth" and two["revision"] == build["revision"] + 2
    back = api.undo(two)
    assert depth(back) == 2 and (back["undo"], back["redo"]) == ("Extrude", "Change depth")
    start = api.undo(back)
    assert start["document"] == build["document"] and start["undo"] is None
    assert api.undo(start, status=409)["code"] == "nothing_to_undo"
    again = api.undo(api.undo(start, "redo"), "redo")
    assert again["document"] == two["document"] and again["redo"] is None


def test_a_new_change_ends_what_could_be_redone(api, build):
    undone = api.undo(api.change(build, EXTRUDE))
    other = api.change(undone, {"op": "replace", "path": "/parts/0/name", "value": "Post"})
    assert other["redo"] is None and api.undo(other, "redo", 409)["code"] == "nothing_to_undo"


def test_undo_survives_a_restart(api, build, database_url):
    changed = api.change(build, EXTRUDE, label="Extrude")
    fresh = Api(create_app(database_url))
    found = fresh.get(f"/api/builds/{build['id']}")
    assert found["undo"] == "Extrude"
    assert fresh.undo(changed)["document"] == build["document"]


def test_both_patches_are_stored(api, build, database_url):
    api.change(build, EXTRUDE)
    with create_engine(database_url).connect() as connection:
        forward, inverse = connection.execute(text("select forward, inverse from changes where build_id = :b"), {"b": build["id"]}).one()
    assert forward[0]["op"] == "add" and inverse == [{"op": "remove", "path": "/parts/0/steps/1"}]


def test_a_stale_revision_is_refused_and_tells_the_present_one(api, build):
    changed = api.change(build, EXTRUDE)
    told = api.change(build, DEEPER, status=409)
    assert told["code"] == "stale_revision" and told["revision"] == changed["revision"]
    assert api.undo(build, status=409)["code"] == "stale_revision"


def test_a_change_sent_twice_is_stored_once(api, build):
    body = {"revision": build["revision"], "label": "Extrude", "key": uuid.uuid4().hex, "patch": [EXTRUDE]}
    path = f"/api/builds/{build['id']}/changes"
    first, second = api.post(path, body), api.post(path, body)
    assert first["revision"] == second["revision"] and len(second["document"]["parts"][0]["steps"]) == 2


def test_corrections_of_one_group_are_one_undo_entry(api, build):
    now = api.change(build, EXTRUDE, group="part1/up")
    for value in (3, 4, 5):
        now = api.change(now, {**DEEPER, "value": value}, group="part1/up")
    assert depth(now) == 5
    assert api.undo(now)["document"] == build["document"]


def test_undo_hands_back_what_was_picked(api, build):
    pick = {"part": "part1", "kind": "faces", "elements": [2], "ids": ["00000000000000ff"]}
    changed = api.change(build, EXTRUDE, pick=pick)
    assert api.undo(changed)["pick"] == pick


@pytest.mark.parametrize("patch, code", [
    ({"op": "remove", "path": "/parts/7"}, "bad_patch"), ({"op": "replace", "path": "/nothing/here", "value": 1}, "bad_patch"),
    ({"op": "replace", "path": "/format", "value": "other"}, "invalid_document"),
    ({"op": "add", "path": "/parts/0/steps/1", "value": {"id": "up", "kind": "extrude", "pick": TOP}}, "invalid_document"),
    ({"op": "add", "path": "/parts/0/steps/1", "value": {"id": "up", "kind": "extrude", "depth": 1, "pick": {"faces": {"facing": [1, 1, 1]}}}},
     "pick_found_nothing"),
    ({"op": "replace", "path": "/parts/0/steps/0/size/1", "value": -1}, "invalid_document"),
    ({"op": "add", "path": "/parts/0/steps/0/segments", "value": [4000, 4000, 1]}, "too_large"),
    ({"op": "add", "path": "/parts/0/steps/1", "value": {"id": "s", "kind": "subdivision", "levels": 1, "handover": 12}}, "too_large")])
def test_what_is_refused_stores_nothing(api, build, patch, code):
    told = api.change(build, patch, status=422)
    assert told["code"] == code and len(told["message"]) > 10
    now = api.get(f"/api/builds/{build['id']}")
    assert now["document"] == build["document"] and now["revision"] == build["revision"] and now["undo"] is None


def test_a_step_that_breaks_further_down_is_stored_and_flagged(api, build):
    pick = {"faces": {"in_box": [[None, 12, None], [None, None, None]]}}
    one = api.change(build, {"op": "add", "path": "/parts/0/steps/1", "value": {"id": "up", "kind": "extrude", "depth": 2, "pick": pick}})
    assert one["parts"][0]["steps"][1]["error"] is None
    low = api.change(one, {"op": "replace", "path": "/parts/0/steps/0/size/1", "value": 3})
    assert "finds no faces" in low["parts"][0]["steps"][1]["error"] and low["parts"][0]["faces"] == 6


def test_many_at_once_lose_nothing(api, build, app):
    """Eight writers add a part each; a refused one fetches the build and tries again, as the interface does."""
    def write(number):
        mine = Api(app)
        for _ in range(50):
            now = mine.get(f"/api/builds/{build['id']}")
            answer = mine.http.post(f"/api/builds/{build['id']}/changes", json={
                "revision": now["revision"], "label": "Part", "key": uuid.uuid4().hex,
                "patch": [{"op": "add", "path": "/parts/-", "value": part(BOX, name=f"Post {number}")}]})
            if answer.status_code == 200:
                return
            assert answer.status_code == 409
    threads = [threading.Thread(target=write, args=(i,)) for i in range(8)]
    for t in threads:
        t.start()
    for t in threads:
        t.join()
    parts = api.get(f"/api/builds/{build['id']}")["document"]["parts"]
    assert {p["name"] for p in parts} == {"Bollard", *(f"Post {i}" for i in range(8))}
    assert len({p["id"] for p in parts}) == 9


def test_answers_speak_of_their_own_revision_while_others_ask(api, build, app):
    """Previews against the old revision, in the middle of a change, must not show through in its answer."""
    stop = threading.Event()

    def ask():
        mine = Api(app)
        revision = build["revision"]
        while not stop.is_set():
            answer = mine.http.get(f"/api/builds/{build['id']}/picked?part=part1&step=body&revision={revision}")
            if answer.status_code == 409:
                revision = answer.get_json()["revision"]
    threads = [threading.Thread(target=ask) for _ in range(3)]
    for t in threads:
        t.start()
    try:
        now = build
        for number in range(12):
            now = api.change(now, {"op": "add", "path": "/parts/0/steps/-", "value":
                                   {"id": f"up{number}", "kind": "extrude", "depth": 1, "pick": TOP}})
            assert [s["id"] for s in now["parts"][0]["steps"]] == [s["id"] for s in now["document"]["parts"][0]["steps"]]
            assert now["parts"][0]["faces"] == 10 + 4 * number
    finally:
        stop.set()
        for t in threads:
            t.join()


@pytest.mark.faults
def test_a_commit_that_fails_leaves_nothing_behind(api, build, app, monkeypatch):
    room = app.extensions["workroom"]
    kept = []
    monkeypatch.setattr(room, "keep", lambda standing, revision: kept.append(revision))
    from rhytonic.store import builds as store
    real = store.undoable

    def broken(session, build_id):
        session.connection().exec_driver_sql("select 1 / 0")
        return real(session, build_id)
    monkeypatch.setattr(store, "undoable", broken)
    told = api.change(build, EXTRUDE, status=500)
    assert told["code"] == "fault" and kept == []
    monkeypatch.undo()
    other = api.change(build, {"op": "replace", "path": "/parts/0/name", "value": "Post"})
    assert other["revision"] == build["revision"] + 1 and len(other["parts"][0]["steps"]) == 1
