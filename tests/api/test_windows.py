"""Several windows on one build: each undoes its own, and each is told what the others do."""

import copy
import threading
import time
import uuid

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rhytonic.store import undoing
from rhytonic.store.json_patch import apply
from rhytonic.store.models import ChangeRow
from tests.api.conftest import BOX, Api, part


@pytest.fixture
def windows(app):
    """Two windows of the interface."""
    return [seen_from(app) for _ in range(2)]


def seen_from(app):
    api = Api(app)
    api.name = f"w-{uuid.uuid4()}"
    api.http.environ_base["HTTP_X_RHYTONIC"] = api.name
    return api


def step(id, **more):
    return {"op": "add", "path": "/parts/0/steps/-", "value": {"id": id, "kind": "extrude", "depth": 1, "pick": {"faces": {"facing": "+y"}}, **more}}


def ids(build):
    return [s["id"] for s in build["document"]["parts"][0]["steps"]]


def now(api, build):
    return api.get(f"/api/builds/{build['id']}")


def test_each_window_takes_back_its_own(windows):
    a, b = windows
    build = a.new(part(BOX))
    build = a.change(build, step("a1"), label="Of a")
    build = b.change(build, step("b1"), label="Of b")
    assert (now(a, build)["undo"], now(b, build)["undo"]) == ("Of a", "Of b")
    build = a.undo(build)
    assert ids(build) == ["body", "b1"] and build["undo"] is None
    assert now(b, build)["redo"] is None and now(a, build)["redo"] == "Of a"
    build = b.undo(build)
    assert ids(build) == ["body"]
    a.undo(build, status=409)
    build = a.undo(build, "redo")
    build = b.undo(build, "redo")
    assert sorted(ids(build)) == ["a1", "b1", "body"]


def test_what_another_changed_since_is_not_taken_back_with_it(windows):
    a, b = windows
    build = a.change(a.new(part(BOX)), step("a1"))
    build = b.change(build, {"op": "replace", "path": "/parts/0/steps/1/depth", "value": 3})
    refused = a.undo(build, status=409)
    assert refused["code"] == "changed_elsewhere" and "step 2 of " in refused["message"]
    build = b.undo(build)
    assert ids(a.undo(build)) == ["body"]


def test_something_new_in_one_window_leaves_what_the_other_may_do_again(windows):
    a, b = windows
    build = a.undo(a.change(a.new(part(BOX)), step("a1")))
    build = b.change(build, step("b1"))
    build = a.undo(build, "redo")
    assert sorted(ids(build)) == ["a1", "b1", "body"]
    build = a.change(a.undo(build), step("a2"))
    assert now(a, build)["redo"] is None


def test_what_a_closed_window_did_is_anyones(windows):
    a, b = windows
    build = a.change(a.new(part(BOX)), step("a1"))
    b.undo(build, status=409)
    assert a.http.post(f"/api/windows/{a.name}/closed").status_code == 204
    assert ids(b.undo(build)) == ["body"]


def test_corrections_of_one_window_do_not_join_those_of_another(windows):
    a, b = windows
    build = a.change(a.new(part(BOX)), step("a1"), group="g")
    build = b.change(build, {"op": "replace", "path": "/parts/0/steps/1/depth", "value": 3}, group="g")
    assert b.undo(build)["document"]["parts"][0]["steps"][1]["depth"] == 1


moves = st.lists(st.tuples(st.sampled_from([0, 1]), st.sampled_from(["add", "add", "edit", "remove", "undo", "undo", "redo"]),
                           st.integers(0, 99)), min_size=3, max_size=14)


@given(moves)
@settings(max_examples=15, deadline=None)
def test_the_log_leads_to_the_build_whatever_two_windows_do(app, moves):
    """The patches of done entries, one after the other, make the build from what it was; those of each window's undone
    entries fit it; undo and redo in a row change nothing."""
    pair = [seen_from(app) for _ in range(2)]
    build = pair[0].new(part(BOX))
    first = copy.deepcopy(build["document"])
    database = app.extensions["workroom"].database
    for number, (who, what, value) in enumerate(moves):
        api, steps = pair[who], build["document"]["parts"][0]["steps"]
        at = 1 + value % max(len(steps) - 1, 1)
        if what == "add":
            build = api.change(build, {**step(f"s{number}"), "path": f"/parts/0/steps/{min(at, len(steps))}"})
        elif what in ("edit", "remove") and len(steps) > 1:
            path = f"/parts/0/steps/{at}"
            build = api.change(build, {"op": "remove", "path": path} if what == "remove"
                               else {"op": "replace", "path": path + "/depth", "value": 2 + number})
        elif what in ("undo", "redo"):
            before, other = build, "redo" if what == "undo" else "undo"
            answer = api.http.post(f"/api/builds/{build['id']}/{what}", json={"revision": build["revision"]})
            assert answer.status_code in (200, 409)
            if answer.status_code == 200:
                build = answer.get_json()
                back = api.undo(build, other)
                assert back["document"] == before["document"]
                build = api.undo(back, what)
        with database.session() as session:
            document = copy.deepcopy(first)
            for change in session.scalars(undoing.entries(build["id"], "done").order_by(ChangeRow.seq)):
                document = apply(document, change.forward)
            assert document == build["document"]
            for api in pair:
                document = build["document"]
                for change in session.scalars(undoing.entries(build["id"], "undone").where(
                        ChangeRow.window == api.name).order_by(ChangeRow.seq)):
                    document = apply(document, change.forward)


def test_windows_are_told_what_others_change(app, windows):
    a, b = windows
    build = a.new(part(BOX))
    heard = []
    stream = b.http.get("/api/events", buffered=False)
    assert stream.mimetype == "text/event-stream"
    listening = threading.Thread(target=lambda: [heard.append(piece.decode()) for piece in _until(stream, build["id"])])
    listening.start()
    while sum("look" in h for h in heard) < 1:
        time.sleep(0.02)
    for number in range(40):  # until the connection that listens is there
        build = a.change(build, step(f"s{number}"))
        listening.join(0.25)
        if not listening.is_alive():
            break
    assert f"event: changed\ndata: {build['id']} {build['revision']}\n\n" in heard
    stream.close()


def _until(stream, id):
    for piece in stream.response:
        yield piece
        if id in piece.decode():
            return


def test_no_more_streams_are_held_than_a_process_has_room_for(app, windows, monkeypatch):
    monkeypatch.setattr("rhytonic.web.events_api._open", threading.Semaphore(1))
    held = windows[0].http.get("/api/events", buffered=False)
    assert windows[1].http.get("/api/events").status_code == 503
    held.close()
    again = windows[1].http.get("/api/events", buffered=False)
    assert again.status_code == 200
    again.close()
