"""The API's own description, and the types made from it."""

import json
import subprocess
import sys

import pytest

from rhytonic.core.recipe.registry import KINDS
from rhytonic.launch.machine import WEB


def test_kinds_are_told_from_their_declaration(api):
    told = {k["word"]: k for k in api.get("/api/kinds")["kinds"]}
    assert told.keys() == KINDS.keys()
    extrude = {p["name"]: p for p in told["extrude"]["parameters"]}
    assert extrude["depth"]["quantity"] == "length" and extrude["depth"]["required"]
    assert extrude["as"]["choices"] == ["region", "each"] and "surface" in extrude["along"]["choices"]
    assert extrude["segments"]["quantity"] == "count" and extrude["segments"]["default"] == 1
    assert (told["extrude"]["picks"], told["insert_loop"]["picks"], told["box"]["picks"]) == ("pick", "through", "nothing")
    assert told["box"]["form"] and told["subdivision"]["live"] and told["extrude"]["roles"] == ["cap", "side"]


@pytest.fixture(scope="module")
def document():
    """Written in a process of its own: a server is not put together for it."""
    told = subprocess.run([sys.executable, "-m", "rhytonic.cli", "openapi"], capture_output=True, check=True, timeout=120)
    return json.loads(told.stdout)


def test_the_openapi_document_kept_for_the_interface_is_this_one(document, api):
    """From it every build makes the TypeScript types; ``./rhytonic openapi > web/openapi.json`` when this fails."""
    assert json.loads((WEB / "openapi.json").read_text()) == document == api.get("/api/openapi.json")
    assert len(document["paths"]) > 30


def test_every_path_tells_its_refusals(document):
    assert document["openapi"].startswith("3.")
    for path, methods in document["paths"].items():
        for method, told in methods.items():
            assert told["summary"], (path, method)
            if "{build_id}" in path:
                assert {"404", "422"} <= told["responses"].keys(), (path, method)
