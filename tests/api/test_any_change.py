"""The change log under any patches: whatever is stored can be undone to where it was, and nothing stored is lost."""

import uuid

from hypothesis import given, settings
from hypothesis import strategies as st

from rhytonic.web.app import create_app
from tests.api.conftest import BOX, TOP, Api, part

paths = st.sampled_from([
    "", "/", "/name", "/unit", "/parts", "/parts/0", "/parts/-", "/parts/0/name", "/parts/0/id", "/parts/0/steps",
    "/parts/0/steps/0", "/parts/0/steps/0/size", "/parts/0/steps/0/size/1", "/parts/0/steps/1", "/parts/0/steps/1/depth",
    "/parts/0/steps/-", "/parts/0/placement", "/parts/0/placement/translate", "/parts/0/mark", "/groups", "/groups/-", "/guides",
    "/guides/-", "/sizes/-", "/boards/-", "/format", "/version", "/nowhere", "/parts/7", "/parts/0/steps/99", "/parts/0/colour"])
values = st.sampled_from([
    None, True, 0, -1, 3, 2.5, 1e300, "", "x", "cm", "in", [], [1, 2, 3], {}, {"name": "Other", "steps": [BOX]}, [BOX],
    {"kind": "inset", "id": "in", "pick": TOP, "width": 1}, {"kind": "extrude", "id": "ext", "pick": TOP, "depth": 2},
    {"id": "g", "name": "Fence"}, {"name": "level", "kind": "level", "axis": "y", "at": [0, 1, 0]}, {"translate": [1, 2, 3]},
    "a\u0000b", "body", "#c9a24b", {"format": "rhytonic", "version": 1, "parts": []}])
operations = st.one_of(
    st.builds(lambda op, path, value: {"op": op, "path": path, "value": value}, st.sampled_from(["add", "replace", "test"]), paths,
              values),
    st.builds(lambda path: {"op": "remove", "path": path}, paths),
    st.builds(lambda op, a, b: {"op": op, "from": a, "path": b}, st.sampled_from(["move", "copy"]), paths, paths))
patches = st.lists(st.lists(operations, min_size=1, max_size=4), min_size=1, max_size=8)


def steady(document):
    """A document without what storing it writes down."""
    return {k: v for k, v in document.items() if v not in ([], None)}


@settings(max_examples=40, deadline=None)
@given(patches)
def test_whatever_is_stored_is_undone_and_done_again(app, tries):
    api = Api(app)
    build = api.new(part(BOX, {"kind": "extrude", "id": "up", "pick": TOP, "depth": 3}))
    log = [build["document"]]
    for patch in tries:
        answer = api.http.post(f"/api/builds/{build['id']}/changes", json={
            "revision": build["revision"], "label": "Try", "key": uuid.uuid4().hex, "patch": patch})
        assert answer.status_code < 500, (patch, answer.get_data(as_text=True)[:300])
        if answer.status_code == 200:
            build = answer.get_json()
            log.append(build["document"])
        stands = api.get(f"/api/builds/{build['id']}")
        assert stands["document"] == log[-1] and stands["revision"] == build["revision"]  # refused leaves all as it was
    for before in reversed(log[:-1]):
        build = api.post(f"/api/builds/{build['id']}/undo", {"revision": build["revision"]})
        assert steady(build["document"]) == steady(before)
    for after in log[1:]:
        build = api.post(f"/api/builds/{build['id']}/redo", {"revision": build["revision"]})
        assert steady(build["document"]) == steady(after)


def test_a_long_day_of_changes_holds_its_memory(database_url, monkeypatch):
    monkeypatch.setenv("RHYTONIC_MEMORY", "4M")
    api = Api(create_app(database_url))
    build = api.new(part({**BOX, "segments": [6, 6, 6]}, {"kind": "subdivision", "levels": 3}))
    for i in range(60):
        build = api.post(f"/api/builds/{build['id']}/changes", {
            "revision": build["revision"], "label": "Size", "key": uuid.uuid4().hex,
            "patch": [{"op": "replace", "path": "/parts/0/steps/0/size/1", "value": 20 + i}]})
        assert api.get("/api/health")["held"] < 4 * 2**20 + 12 * 2**20  # the budget, and what was wanted last
    assert build["revision"] == 61
