"""Who is answered, and what cannot be made to take all memory or all time."""

import io
import json
import socket
import sys
import threading
import time

import numpy as np
import pytest
from PIL import Image

from rhytonic.core.forms.box import BoxKind
from rhytonic.core.picture import straighten
from rhytonic.core.recipe.cache import Budget, Cache
from rhytonic.web.app import create_app
from rhytonic.web.asker import Asker
from rhytonic.web.workroom import memory_limit
from tests.api.conftest import BOX, TOP, Api, part, png

OURS = {"Host": "localhost", "Origin": "http://localhost", "Sec-Fetch-Site": "same-origin", "X-Rhytonic": "1"}


def ask(app, method, path, headers, **more):
    """A request with these headers alone."""
    return app.test_client().open(path, method=method, headers=headers, **more)


@pytest.mark.parametrize("headers,code", [
    ({"Host": "prices.example"}, "foreign_host"), ({"Host": "localhost.example:8787"}, "foreign_host"),
    ({"Host": "127.0.0.1.example"}, "foreign_host"), ({"Host": ""}, "foreign_host"),
    ({"Origin": "http://elsewhere.example"}, "foreign_origin"), ({"Origin": "null"}, "foreign_origin"),
    ({"Origin": "http://localhost:9999"}, "foreign_origin"), ({"Sec-Fetch-Site": "cross-site"}, "foreign_origin"),
    ({"Sec-Fetch-Site": "same-site"}, "foreign_origin"), ({"X-Rhytonic": ""}, "header_missing")])
def test_strangers_change_nothing(app, api, headers, code):
    build = api.new(part(BOX))
    for method, path in (("POST", f"/api/builds/{build['id']}/duplicate"), ("DELETE", f"/api/builds/{build['id']}"),
                         ("POST", "/api/pictures"), ("POST", f"/api/builds/{build['id']}/preview")):
        answer = ask(app, method, path, OURS | headers, data=b"x")
        assert answer.status_code in (403, 421) and answer.get_json()["code"] == code
    assert api.get(f"/api/builds/{build['id']}")["revision"] == build["revision"]
    if code != "header_missing":  # nor do they read
        assert ask(app, "GET", "/api/builds", OURS | headers).get_json()["code"] == code
    page = ask(app, "GET", "/", {"Host": "localhost", "Sec-Fetch-Site": "cross-site"})
    assert page.status_code in (200, 404)  # a link from elsewhere opens the page; it may not be built here


@pytest.mark.parametrize("host", ["localhost", "localhost:8787", "127.0.0.1:80", "[::1]:8787", "LOCALHOST"])
def test_loopback_names_are_ours(app, host):
    assert ask(app, "GET", "/api/health", {"Host": host}).status_code == 200


def test_further_hosts_are_named_by_whoever_starts_it(database_url, monkeypatch):
    monkeypatch.setenv("RHYTONIC_HOSTS", "studio.example, build.example")
    app = create_app(database_url)
    assert ask(app, "GET", "/api/health", {"Host": "studio.example:80"}).status_code == 200
    assert ask(app, "GET", "/api/health", {"Host": "other.example"}).status_code == 421


def test_every_answer_says_how_to_treat_it_and_how_long_it_took(app, api):
    build = api.new(part(BOX))
    for path in ("/api/builds", f"/api/builds/{build['id']}/parts/part1/mesh", "/api/nowhere", "/.stamp"):
        headers = api.http.get(path).headers
        assert headers["Cross-Origin-Resource-Policy"] == headers["Cross-Origin-Opener-Policy"] == "same-origin"
        assert headers["Referrer-Policy"] == "same-origin" and "camera=()" in headers["Permissions-Policy"]
        assert float(headers["Server-Timing"].split("dur=")[1].split(",")[0]) >= 0
    assert api.http.get("/.stamp").status_code == api.http.get("/assets/.stamp").status_code == 404


def test_the_openapi_document_has_no_empty_schemes(api):
    assert "securitySchemes" not in api.get("/api/openapi.json")["components"]


def seconds(do):
    """How long something takes."""
    started = time.monotonic()
    do()
    return time.monotonic() - started


def calls(do):
    """How many functions are called while something is done, which no other program on the machine changes; and what came of it."""
    count = 0

    def called(frame, event, argument):
        nonlocal count
        count += event == "call"

    sys.setprofile(called)
    try:
        answer = do()
    finally:
        sys.setprofile(None)
    return count, answer


def send(api, build, patch, status=200, **more):
    return api.post(f"/api/builds/{build['id']}/changes", {"revision": build["revision"], "label": "Try", "key": "k" * 12,
                                                           "patch": patch, **more}, status)


def test_a_patch_cannot_copy_a_build_into_itself(api):
    build = api.new(part(BOX))
    one = seconds(lambda: send(api, build, [{"op": "copy", "from": "", "path": "/guides/-"}], 422))
    started = time.monotonic()
    told = send(api, build, [{"op": "copy", "from": "", "path": "/guides/-"}] * 22, 422)
    assert time.monotonic() - started < 1000 * one  # were each twice the last, it would be four million times as long
    assert "copy" in told["message"] or "op" in told["message"]
    assert send(api, build, [{"op": "move", "from": "", "path": "/guides/-"}], 422)["code"] == "bad_patch"
    assert api.get(f"/api/builds/{build['id']}")["revision"] == build["revision"]


def test_ten_thousand_mistakes_are_told_by_the_first_fifty(api):
    def refused(count):
        steps = [BOX, *({"kind": "inset", "pick": TOP, "width": "wide", "id": f"s{i}"} for i in range(count))]
        return api.post("/api/builds", {"name": "Bad", "document": {"format": "rhytonic", "version": 1, "parts": [part(*steps)]}},
                        422)

    refused(1)
    few, _ = calls(lambda: refused(999))
    many, told = calls(lambda: refused(9_999))
    assert many < 12 * few  # about ten times as many; it was the square of that
    assert len(told["problems"]) == 50 and told["more"] == 9_999 - 50
    assert "s49" in told["problems"][49] and "width" in told["problems"][49]


@pytest.mark.parametrize("text", ["a\0b", "\0", "a\ud800b"])
def test_characters_that_cannot_be_kept_are_refused(api, text):
    build = api.new(part(BOX))
    label = [{"op": "add", "path": "/parts/0/steps/0/label", "value": text}]
    assert api.post("/api/builds", {"name": text}, 422)["message"]
    assert send(api, build, label, 422)["message"]
    plain = [{"op": "replace", "path": "/parts/0/steps/0/size/0", "value": 11}]
    for key in ("label", "key", "group"):
        assert send(api, build, plain, 422, **{key: text * 12})["message"]
    assert api.post("/api/stock", {"build": build["id"], "revision": 1, "member": "p:part1", "name": text}, 422)["message"]
    quoted = json.dumps({"name": "a backslash: \\u0000"})  # told, not meant
    assert api.http.post("/api/builds", data=quoted, content_type="application/json").status_code == 201


def picture(width, height, **how):
    out = io.BytesIO()
    Image.new("1", (width, height)).save(out, "PNG", **how)
    return out.getvalue()


@pytest.mark.parametrize("data,told", [
    (picture(40_000_000, 1), "at most 20000"), (picture(1, 20_001), "at most 20000"),
    (png(300, 200)[:-20], "cut short"), (png(300, 200)[:-5], "cut short"), (png(30, 20)[:60], "damaged")])
def test_pictures_that_are_too_long_or_cut_short_are_refused(api, data, told):
    answer = api.http.post("/api/pictures", data=data, content_type="image/png")
    assert answer.status_code == 422 and told in answer.get_json()["message"]


def test_straightening_makes_a_picture_that_is_bounded(api, monkeypatch):
    monkeypatch.setattr(straighten, "_MOST_PIXELS", 500_000)
    noise = Image.fromarray(np.random.default_rng(1).random((625, 2000)) < 0.5)
    out = io.BytesIO()
    noise.convert("1").save(out, "PNG")
    kept = api.http.post("/api/pictures", data=out.getvalue(), content_type="image/png").get_json()
    made = api.post(f"/api/pictures/{kept['sha256']}/straighten", {"distortion": 0.1})["picture"]
    assert 490_000 < made["width"] * made["height"] <= 502_000
    assert made["width"] / made["height"] == pytest.approx(2000 / 625, rel=0.01)


def test_memory_is_one_budget_for_all_that_is_kept_warm():
    budget = Budget(1000)
    one, two = Cache(budget), Cache(budget)
    one.put(b"a", "a", 400)
    two.put(b"b", "b", 400)
    assert one.get(b"a") == "a"
    two.put(b"c", "c", 400)  # the least recently used goes, from whichever
    assert two.get(b"b") is None and one.get(b"a") == "a" and two.get(b"c") == "c" and budget.held == 800
    one.put(b"a", "A", 100)
    assert budget.held == 500 and one.get(b"a") == "A"
    two.put(b"d", "d", 5000)  # what is wanted now is kept, whatever its size
    assert two.get(b"d") == "d" and one.get(b"a") is None and budget.held == 5000
    two.clear()
    assert budget.held == 0 and two.get(b"d") is None


def test_many_builds_stay_within_the_budget_and_health_tells_it(database_url, monkeypatch):
    monkeypatch.setenv("RHYTONIC_MEMORY", "8M")
    api = Api(create_app(database_url))
    smooth = {"kind": "subdivision", "levels": 4}
    for i in range(12):
        build = api.new(part({**BOX, "segments": [4, 4, 4]}, smooth), name=f"Buoy {i}")
        api.http.get(f"/api/builds/{build['id']}/parts/part1/mesh")
        health = api.get("/api/health")
        assert health["budget"] == 8 * 2**20
        assert 0 < health["held"] <= 8 * 2**20 + 30 * 2**20  # never more than the budget and what is wanted now
    assert health["held"] < 12 * 5 * 2**20


@pytest.mark.parametrize("text,held", [("", 2 * 2**30), ("512M", 512 * 2**20), ("1.5G", 3 * 2**29), ("9000000", 9_000_000)])
def test_the_budget_is_said_in_bytes(text, held):
    assert memory_limit(text) == held


def test_a_budget_that_is_no_number_says_so():
    with pytest.raises(ValueError, match="512M"):
        memory_limit("plenty")


def test_a_build_that_is_held_by_another_is_told_as_busy(api, app):
    build = api.new(part(BOX))
    room = app.extensions["workroom"]
    held, let_go = threading.Event(), threading.Event()

    def hold():
        from rhytonic.store import builds
        with room.database.session() as session:
            builds.get(session, build["id"], lock=True)
            held.set()
            let_go.wait(30)

    holder = threading.Thread(target=hold)
    holder.start()
    held.wait(10)
    try:
        told = send(api, build, [{"op": "replace", "path": "/parts/0/steps/0/size/0", "value": 11}], 503)
    finally:
        let_go.set()
        holder.join()
    assert told["code"] == "busy" and "sent again" in told["message"]
    assert send(api, build, [{"op": "replace", "path": "/parts/0/steps/0/size/0", "value": 11}])["revision"] == 2


@pytest.mark.parametrize("replace,step", [
    ("body", {"kind": "shade"}), ("body", {"kind": "inset", "pick": TOP, "width": 1}), ("s", {"kind": "box", "size": [1, 1, 1]}),
    (None, {"kind": "box", "size": [1, 1, 1]})])
def test_a_trial_keeps_the_rules_of_a_part(api, replace, step):
    build = api.new(part(BOX, {"kind": "shade", "id": "s"}))
    answer = api.http.post(f"/api/builds/{build['id']}/preview", json={
        "revision": build["revision"], "part": "part1", "step": step, "replace": replace})
    assert answer.status_code == 422 and "base form" in answer.get_json()["message"]


def test_a_row_is_held_for_the_write_alone(api, app, monkeypatch):
    """While a change is evaluated, another person reads and writes the same build's row."""
    build = api.new(part(BOX))
    room = app.extensions["workroom"]
    seen = []
    from rhytonic.web import builds_api

    def slow(standing, before, sure):
        from rhytonic.store import builds
        with room.database.session() as session:
            seen.append(builds.get(session, build["id"], lock=True).revision)

    monkeypatch.setattr(builds_api, "refuse_broken", slow)
    send(api, build, [{"op": "replace", "path": "/parts/0/steps/0/size/0", "value": 11}])
    assert seen == [1]


DENSE = {"id": "body", "kind": "box", "size": [10, 10, 10], "segments": [300, 300, 300]}


def test_what_takes_long_is_told_before_and_done_when_asked_again(api):
    build = api.new(part(BOX))
    body = {"revision": build["revision"], "part": "part1", "replace": "body", "step": DENSE}
    told = api.post(f"/api/builds/{build['id']}/preview", body, 422)
    assert told["code"] == "takes_long" and "540 000 faces" in told["message"] and "anyway" in told["message"]
    patch = [{"op": "replace", "path": "/parts/0/steps/0", "value": DENSE}]
    assert send(api, build, patch, 422)["code"] == "takes_long"
    assert api.http.post(f"/api/builds/{build['id']}/preview", json={**body, "sure": True}).status_code == 200
    # what is known by now is no wait
    assert api.http.post(f"/api/builds/{build['id']}/preview", json=body).status_code == 200
    assert send(api, build, patch, sure=True)["parts"][0]["faces"] == 540_000


def test_what_a_window_asks_next_takes_the_place_of_what_it_asked(app, api):
    build = api.new(part(BOX))
    path = f"/api/builds/{build['id']}/preview"
    big = {"revision": build["revision"], "part": "part1", "replace": "body", "step": {**DENSE, "segments": [350, 350, 350]},
           "sure": True, "window": "w"}
    answers = []
    slow = threading.Thread(target=lambda: answers.append(Api(app).http.post(path, json=big)))
    slow.start()
    time.sleep(0.3)
    started = time.monotonic()
    small = {**big, "step": {**BOX, "size": [1, 2, 3]}}
    assert api.http.post(path, json=small).status_code == 200
    waited = time.monotonic() - started
    slow.join()
    assert answers[0].status_code == 409 and answers[0].get_json()["code"] == "cancelled"
    alone = time.monotonic()
    assert api.http.post(path, json={**big, "window": "other", "step": {**big["step"], "segments": [349, 350, 350]}}).status_code == 200
    assert waited < (time.monotonic() - alone) / 2  # in one run: far sooner than the whole would have taken


def test_what_nobody_waits_for_holds_nobody_up(app, api, monkeypatch):
    """A step in one call that cannot be interrupted: its asker is answered at once, and so is the next one."""
    build = api.new(part(BOX))
    path = f"/api/builds/{build['id']}/preview"
    body = {"revision": build["revision"], "part": "part1", "replace": "body", "step": {**BOX, "size": [7, 7, 7]}, "window": "w"}
    inside, go_on, ended = threading.Event(), threading.Event(), threading.Event()
    plain = BoxKind.plan

    def stuck(self, p, *more):
        if p.segments == (9, 9, 9):
            inside.set()
            go_on.wait(30)
            ended.set()
        return plain(self, p, *more)

    monkeypatch.setattr(BoxKind, "plan", stuck)
    answers = []
    held = {**body, "step": {**BOX, "segments": [9, 9, 9]}, "sure": True}
    slow = threading.Thread(target=lambda: answers.append(Api(app).http.post(path, json=held)))
    slow.start()
    assert inside.wait(10)
    assert api.http.post(path, json=body).status_code == 200  # while the other is still in its call
    slow.join(10)
    assert answers[0].get_json()["code"] == "cancelled" and not ended.is_set()
    go_on.set()
    assert api.http.post(path, json=held | {"window": "v"}).status_code == 200


def test_a_connection_that_is_closed_is_waited_for_no_more():
    here, there = socket.socketpair()
    asker = Asker(here)
    assert not asker.gone()
    there.send(b"GET")  # a further request on the same connection
    time.sleep(0.05)
    assert not asker.gone()
    here.recv(3)
    there.close()
    time.sleep(0.05)
    assert asker.gone()
