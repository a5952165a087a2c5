"""Attributes of every domain ride through every edit without the edit knowing of them."""

from dataclasses import replace
from types import MappingProxyType

import numpy as np
import pytest

from rhytonic.core.mesh.attributes import Attribute
from rhytonic.core.recipe.evaluate import Evaluator
from rhytonic.core.recipe.kind import Context
from tests.helpers import ALL, assert_sound, box, document, extrude, facing


def marked(mesh):
    """A mesh with one attribute of each domain."""
    t = mesh.topology
    return replace(mesh, attributes=MappingProxyType({
        "height": Attribute("vertex", mesh.points[:, 1].copy(), "interpolate"),
        "material": Attribute("face", np.arange(t.face_count)),
        "seam": Attribute("edge", (np.arange(t.edge_count) % 3 == 0)),
        "uv": Attribute("corner", mesh.points[t.corners][:, [0, 2]].copy(), "interpolate"),
        "passing": Attribute("face", np.ones(t.face_count), "drop")}))


def after(step, segments=(2, 2, 2)):
    d = document(box((2, 2, 2), segments), step)
    evaluator = Evaluator()
    above = evaluator.run(d.parts[0], "m", upto=1).surface
    above = replace(above, mesh=marked(above.mesh), key=b"marked", structure=b"marked")
    return above.mesh, evaluator.step(above, d.parts[0].steps[1], 1.0, Context("ext")).mesh


@pytest.mark.parametrize("step", [
    extrude(facing("+y"), 1, segments=2), extrude(ALL, 0.1, **{"as": "each"}), {"id": "s", "kind": "subdivision", "levels": 2},
    {"id": "d", "kind": "delete", "pick": facing("+x")}, {"id": "t", "kind": "transform", "pick": ALL, "translate": [1, 0, 0]}])
def test_every_domain_is_carried(step):
    _, mesh = after(step)
    assert_sound(mesh)
    assert {"height", "material", "seam", "uv"} <= mesh.attributes.keys()
    if step["kind"] != "transform":
        assert "passing" not in mesh.attributes


def test_walls_take_what_the_face_had():
    before, mesh = after(extrude({"faces": {"nearest": [0.5, 2, 0.5]}}, 1), (2, 1, 2))
    face = int(np.flatnonzero(np.isclose(before.face_centres, [0.5, 2, 0.5]).all(axis=1))[0])
    assert (mesh.attributes["material"].values == face).sum() == 5


def test_pieces_of_an_edge_keep_its_mark_and_new_ones_have_none():
    before, mesh = after({"id": "s", "kind": "subdivision", "levels": 1}, (1, 1, 1))
    marks = mesh.attributes["seam"].values
    assert marks.sum() == 2 * before.attributes["seam"].values.sum()


def test_corner_values_interpolate_within_their_face():
    before, mesh = after({"id": "s", "kind": "subdivision", "levels": 1}, (1, 1, 1))
    t, uv = mesh.topology, mesh.attributes["uv"].values
    centre = uv[t.offsets[:-1] + 2]  # each new face's third corner is its old face's middle
    expected = before.attributes["uv"].values.reshape(6, 4, 2).mean(axis=1)
    assert np.allclose(centre, np.repeat(expected, 4, axis=0))
    assert np.allclose(uv[t.offsets[:-1]], before.attributes["uv"].values)


def test_vertex_values_follow_the_rule_of_the_points():
    _, mesh = after({"id": "s", "kind": "subdivision", "levels": 2}, (1, 1, 1))
    assert np.allclose(mesh.attributes["height"].values, mesh.points[:, 1])
