"""What went past the gate, or told more or less than it should."""

import pytest

from tests.api.conftest import BOX, part


@pytest.mark.parametrize("path", ["//api/builds", "/api//builds", "///api/builds", "/api/builds/", "//api"])
def test_slashes_in_a_row_do_not_lead_past_the_gate(api, path):
    raw = {"environ_overrides": {"PATH_INFO": path}}
    for headers in ({"Origin": "http://evil.example"}, {"Sec-Fetch-Site": "cross-site"}):
        assert api.http.get("/", headers=headers, **raw).status_code == 403
        assert api.http.post("/", json={"name": "x"}, headers=headers, **raw).status_code == 403
    api.http.environ_base.pop("HTTP_X_RHYTONIC")
    assert api.http.post("/", json={"name": "x"}, **raw).status_code == 403


@pytest.mark.parametrize("host", ["[::1].evil.example", "[::1]evil", "[::1]:80:80", "localhost.evil.example", "localhost:80:1", "[localhost]",
                                  "127.0.0.1.evil.example:80", "", "[]", "evil[::1]"])
def test_names_that_only_look_like_ours_are_no_names_of_ours(api, host):
    assert api.http.get("/api/builds", headers={"Host": host}).status_code == 421


@pytest.mark.parametrize("host", ["[::1]", "[::1]:8787", "localhost", "LOCALHOST:80", "localhost.", "127.0.0.1:1"])
def test_our_own_names_are(api, host):
    assert api.http.get("/api/builds", headers={"Host": host}).status_code == 200


def test_a_value_at_its_default_is_replaced_like_any_other(api):
    """It is dropped when a document is stored; who reads the kinds knows it is there."""
    build = api.new(part({**BOX, "anchor": "base"}))
    assert "anchor" not in build["document"]["parts"][0]["steps"][0]
    build = api.change(build, {"op": "replace", "path": "/parts/0/steps/0/anchor", "value": "centre"})
    assert build["document"]["parts"][0]["steps"][0]["anchor"] == "centre"
    told = api.change(build, {"op": "replace", "path": "/parts/0/steps/0/colour_of_it", "value": 1}, status=422)
    assert "colour_of_it" in told["message"]
    build = api.undo(build)
    assert "anchor" not in build["document"]["parts"][0]["steps"][0]


def test_what_does_not_fit_is_told_in_words_of_the_build(api):
    build = api.new(part(BOX))
    for operation in ({"op": "test", "path": "/parts/0/name", "value": {"a": [None, True]}}, {"op": "remove", "path": "/parts/7"},
                      {"op": "replace", "path": "/parts/7/name", "value": "x"}, {"op": "move", "from": "/nowhere", "path": "/name"}):
        told = api.change(build, operation, status=422)["message"]
        assert "Bollard" not in told and "None" not in told and "True" not in told and "{" not in told and "'/" in told, told
