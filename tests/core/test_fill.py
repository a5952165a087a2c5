"""Fill and quad cap."""

import numpy as np
import pytest

from rhytonic.core.errors import StepError
from rhytonic.core.mesh.measure import measure
from tests.core.test_attributes import after
from tests.core.test_extrude import mesh_pick
from tests.helpers import assert_sound, box, evaluate, facing, made, mesh_of

OPEN = [box((2, 2, 2)), {"id": "del", "kind": "delete", "pick": facing("+y")}]
BORDER = {"edges": {"border": True}}


def drum(sides, **more):
    return {"id": "c", "kind": "cylinder", "radius": 1, "height": 1, "sides": sides, **more}


def fill(style="ngon", pick=None):
    return {"id": "f", "kind": "fill", "pick": pick or BORDER, "style": style}


@pytest.mark.parametrize("style, faces, vertices", [("ngon", 6, 8), ("fan", 9, 9), ("quads", 6, 8)])
def test_a_hole_is_closed(style, faces, vertices):
    m = mesh_of(*OPEN, fill(style))
    assert_sound(m)
    told = measure(m)
    assert (told.faces, told.vertices) == (faces, vertices) and told.closed and told.manifold and m.topology.is_oriented
    assert told.volume == pytest.approx(8)


def test_several_holes_at_once():
    m = mesh_of(drum(12, cap="none"), fill("quads"))
    assert_sound(m)
    told = measure(m)
    assert told.closed and told.manifold and m.topology.is_oriented and told.quads == told.faces == 12 + 2 * 9
    assert told.volume == pytest.approx(12 / 2 * np.sin(2 * np.pi / 12))
    e = evaluate(drum(12, cap="none"), fill("quads"))
    assert mesh_pick(e, made("f", "patch")) == 18 and mesh_pick(e, made("f", "patch", "edges")) == 2 * 12


def test_a_hole_next_to_another_at_one_vertex():
    plane = {"id": "p", "kind": "plane", "size": [4, 4], "segments": [4, 4]}
    holes = {"id": "d", "kind": "delete", "pick": {"faces": {"any_of": [{"nearest": [-0.5, 0, -0.5]}, {"nearest": [0.5, 0, 0.5]}]}}}
    inner = {"edges": {"all_of": [{"border": True}, {"in_box": [[-1, None, -1], [1, None, 1]]}]}}
    m = mesh_of(plane, holes, fill("ngon", inner))
    assert_sound(m)
    assert m.topology.face_count == 16 and m.topology.is_manifold and m.topology.is_oriented


@pytest.mark.parametrize("pick, told", [({"edges": "all"}, "have two faces"), ({"edges": {"nearest": [1, 2, 0]}}, "do not close")])
def test_what_is_no_hole(pick, told):
    with pytest.raises(StepError, match=told):
        mesh_of(*OPEN, fill("ngon", pick))


@pytest.mark.parametrize("sides, quads", [(4, 1), (6, 2), (8, 4), (16, 16), (18, 20)])
def test_an_even_cap_becomes_quads_without_new_border_points(sides, quads):
    before = mesh_of(drum(sides))
    m = mesh_of(drum(sides), {"id": "q", "kind": "quad_cap", "pick": facing("+y")})
    assert_sound(m)
    told = measure(m)
    assert told.faces == sides + 1 + quads and told.closed and told.manifold and m.topology.is_oriented
    assert told.volume == pytest.approx(measure(before).volume)
    rim = np.hypot(m.points[:, 0], m.points[:, 2]) > 1 - 1e-9
    assert rim.sum() == 2 * sides


def test_an_odd_cap_says_why_not():
    with pytest.raises(StepError, match="7 corners cannot become quads alone"):
        mesh_of(drum(7), {"id": "q", "kind": "quad_cap", "pick": facing("+y")})


def test_the_grid_starts_where_its_edges_are_shortest():
    """A long rectangle of six corners is cut across, not along."""
    loop = {"id": "l", "kind": "insert_loop", "through": {"nearest": [0, 2, 1]}}
    around = {"id": "d", "kind": "dissolve", "pick": {"edges": {"all_of": [{"made_by": "l", "role": "loop"}, {"in_box": [[None, 2, None], [None, 2, None]]}]}},
              "keep_points": True}
    m = mesh_of(box((6, 2, 2)), loop, around, {"id": "q", "kind": "quad_cap", "pick": {"faces": {"sides": [6, 6]}}})
    assert_sound(m)
    top = np.flatnonzero(m.normals[:, 1] > 0.9)
    assert np.allclose(np.linalg.norm(m.area_vectors[top], axis=1), 6)


def test_ids_stay_and_attributes_come_along():
    _, mesh = after({"id": "q", "kind": "quad_cap", "pick": facing("+y")})
    assert_sound(mesh)
    a = mesh_of(drum(16), {"id": "q", "kind": "quad_cap", "pick": facing("+y")})
    b = mesh_of({**drum(16), "radius": 2}, {"id": "q", "kind": "quad_cap", "pick": facing("+y")})
    assert (a.names.face == b.names.face).all() and (a.names.vertex == b.names.vertex).all()
