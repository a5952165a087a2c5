"""Attributes of every domain ride through every edit without the edit knowing of them."""

from dataclasses import replace
from types import MappingProxyType

import numpy as np
import pytest

from rhytonic.core.mesh.attributes import Attribute
from rhytonic.core.recipe.evaluate import Evaluator
from rhytonic.core.step.kind import Context
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
    {"id": "d", "kind": "delete", "pick": facing("+x")}, {"id": "t", "kind": "transform", "pick": ALL, "translate": [1, 0, 0]},
    {"id": "x", "kind": "bevel", "pick": {"edges": "all"}, "width": 0.1, "segments": 3},
    {"id": "x", "kind": "bevel", "pick": {"vertices": "all"}, "width": 0.1, "segments": 2},
    {"id": "x", "kind": "ridge", "pick": {"edges": {"nearest": [1, 1.5, 1]}}, "width": 0.1, "height": 0.1},
    {"id": "x", "kind": "connect", "pick": {"edges": "all"}}, {"id": "x", "kind": "insert_loop", "through": {"nearest": [1, 1.5, 1]}},
    {"id": "x", "kind": "cut", "path": [{"edge": {"nearest": [1, 1.5, 1]}}, {"edge": {"nearest": [0, 1.5, 1]}}]},
    {"id": "x", "kind": "slice", "point": [0, 0.7, 0], "normal": [1, 2, 3], "cap": True},
    {"id": "x", "kind": "bridge", "pick": {"faces": {"any_of": [{"nearest": [0.5, 2, 0.5]}, {"nearest": [0.5, 0, 0.5]}]}}},
    {"id": "x", "kind": "extrude_edges", "pick": {"edges": {"nearest": [1, 1.5, 1]}}, "vector": [1, 0, 0]},
    {"id": "x", "kind": "mirror", "axis": "x", "at": 0.3}, {"id": "x", "kind": "shell", "thickness": 0.1},
    {"id": "x", "kind": "inset", "pick": facing("+y"), "width": 0.1}, {"id": "x", "kind": "dissolve", "pick": facing("+y")},
    {"id": "x", "kind": "weld", "pick": {"vertices": "all"}, "distance": 0.1},
    {"id": "x", "kind": "quad_cap", "pick": facing("+y")}, {"id": "x", "kind": "duplicate", "pick": ALL}])
def test_every_domain_is_carried(step):
    _, mesh = after(step)
    assert_sound(mesh)
    assert {"height", "material", "seam", "uv"} <= mesh.attributes.keys()
    if step["kind"] not in ("transform", "weld"):
        assert "passing" not in mesh.attributes


@pytest.mark.parametrize("step", [
    {"id": "x", "kind": "connect", "pick": {"edges": {"ring_through": {"nearest": [0.5, 2, 1]}}}, "shift": 0.4},
    {"id": "x", "kind": "slice", "point": [0.13, 0.71, 0], "normal": [1, 2, 3]},
    {"id": "x", "kind": "slice", "point": [0.13, 0.71, 0], "normal": [1, 2, 3], "keep": "above"},
    {"id": "x", "kind": "cut", "path": [{"edge": {"nearest": [1, 1.5, 1]}, "at": 0.3}, {"edge": {"nearest": [0, 1.5, 1]}, "at": 0.8}]},
    {"id": "x", "kind": "insert_loop", "through": {"nearest": [1, 1.5, 1]}, "at": [0.2]}])
def test_points_put_on_edges_interpolate(step):
    """The values follow the positions, so that they are those of the new points."""
    _, mesh = after(step)
    assert np.allclose(mesh.attributes["height"].values, mesh.points[:, 1])
    assert np.allclose(mesh.attributes["uv"].values, mesh.points[mesh.topology.corners][:, [0, 2]])


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
