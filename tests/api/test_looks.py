"""What a build looks like, for the list of builds."""

import base64
import io

import numpy as np
import pytest
from PIL import Image

from tests.api.conftest import BOX, part


def look(api, build):
    return api.get(f"/api/builds/{build['id']}/look")


def picture(told):
    head, data = told["picture"].split(",")
    assert head == "data:image/png;base64"
    return np.asarray(Image.open(io.BytesIO(base64.b64decode(data))).convert("L"), int)


def test_a_build_is_known_by_its_model_and_size(api):
    build = api.new(part(BOX))
    told = look(api, build)
    assert told["revision"] == build["revision"] and told["size"] == pytest.approx([0.1, 0.2, 0.3]) and told["fit"] is None
    assert (picture(told) < 200).mean() > 0.05  # something stands on the paper


def test_hidden_parts_are_left_out_and_nothing_is_nothing(api):
    hidden = part({**BOX, "size": [90, 90, 90]}, name="Hidden", id="h", hidden=True)
    assert look(api, api.new(part(BOX), hidden))["size"] == pytest.approx([0.1, 0.2, 0.3])
    told = look(api, api.new())
    assert told["size"] == [0, 0, 0] and picture(told).min() > 200


def test_a_look_is_taken_anew_after_a_change(api):
    build = api.new(part(BOX))
    first = look(api, build)
    assert look(api, build) == first
    api.change(build, {"op": "replace", "path": "/parts/0/steps/0/size", "value": [50, 20, 30]})
    after = look(api, build)
    assert after["size"] == pytest.approx([0.5, 0.2, 0.3]) and after["revision"] > first["revision"]
    assert after["picture"] != first["picture"]


def test_no_build_no_look(api):
    api.get("/api/builds/abcdef/look", 404)
