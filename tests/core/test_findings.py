from dataclasses import replace

import numpy as np
import pytest

from rhytonic.core.inspect.findings import INSPECTIONS, inspect, inspect_surface
from rhytonic.core.inspect.thresholds import DEFAULT, Limits
from rhytonic.core.mesh.names import hex_of
from rhytonic.core.mesh.topology import Topology
from rhytonic.core.recipe.evaluate import Evaluator
from tests.helpers import ALL, box, document, evaluate, extrude, facing, made


def every(*steps, limits=DEFAULT):
    return [(f.kind, f.count, f.step) for f in inspect(evaluate(*steps).results, limits)]


def found(*steps, kind="zero_area_face"):
    return [f for f in every(*steps) if f[0] == kind]


def test_a_clean_part_has_none():
    assert found(box(), extrude(facing("+y"), 1)) == []
    assert inspect([]) == []


def test_each_finding_is_blamed_on_the_step_that_brought_it():
    assert found(box(), extrude(facing("+y"), 0), extrude(facing("+x"), 0, "other")) == [
        ("zero_area_face", 4, "ext"), ("zero_area_face", 4, "other")]


def test_a_later_step_can_mend_or_bring_it():
    lift = {"id": "lift", "kind": "transform", "pick": made("ext", "cap"), "translate": [0, 1, 0]}
    assert found(box(), extrude(facing("+y"), 0), lift) == []
    flat = {"id": "flat", "kind": "transform", "pick": ALL, "scale": [1, 0, 1]}
    assert found(box(), flat) == [("zero_area_face", 4, "flat")]


def test_slivers_are_judged_by_their_own_size():
    assert found(box((1e-5, 1e-5, 1e-5))) == []  # tiny, but square
    assert found({"id": "p", "kind": "plane", "size": [1000, 1e-9]}) == [("zero_area_face", 1, "p")]


COPY = {"id": "copy", "kind": "duplicate", "pick": ALL, "translate": [0.5, 0.5, 0.5]}


def test_each_kind_is_found_where_it_is_and_nowhere_else():
    assert every(box()) == every({"id": "t", "kind": "torus", "radius": 2, "tube_radius": 1}) == []
    assert every({"id": "c", "kind": "cylinder", "radius": 1, "height": 2}) == [("ngon", 2, "c")]
    assert every({"id": "c", "kind": "cylinder", "radius": 1, "height": 2, "cap": "fan"}) == [("triangle", 32, "c")]
    assert every({"id": "p", "kind": "plane", "size": [10, 1]}) == [("open_border", 4, "p"), ("long_face", 1, "p")]
    assert every({"id": "p", "kind": "plane", "size": [8, 1]}) == [("open_border", 4, "p")]
    assert every(box((2, 2, 2)), COPY) == [("self_crossing", 6, "copy")]
    assert every(box((2, 2, 2)), {**COPY, "translate": [0, 0, 0]}) == [("doubled_vertex", 16, "copy"), ("coincident_faces", 12, "copy")]
    assert every(box((2, 2, 2)), {**COPY, "translate": [2, 0, 0]}) == [("doubled_vertex", 8, "copy"), ("coincident_faces", 2, "copy")]


def test_a_partition_inside_is_found():
    wall = {"id": "wall", "kind": "duplicate", "pick": facing("+x"), "translate": [-1, 0, 0]}
    weld = {"id": "weld", "kind": "weld", "pick": {"vertices": "all"}, "distance": 0.01}
    assert every(box((2, 1, 2), (2, 1, 1)), wall, weld) == [("non_manifold_edge", 4, "weld"), ("inner_face", 1, "weld")]


@pytest.mark.parametrize("pick, count", [(facing("+y"), 1), (ALL, 6)])
def test_turned_faces(pick, count):
    assert every(box(), {"id": "f", "kind": "flip", "pick": pick}) == [("turned_face", count, "f")]


def test_a_hollow_is_not_turned_inside_out():
    hollow = [box((2, 2, 2)), {"id": "h", "kind": "shell", "thickness": -0.1}]
    assert every(*hollow) == []
    assert every(*hollow, {"id": "f", "kind": "flip", "pick": made("h", "outer")}) == [("turned_face", 6, "f")]


def test_typed_distances_say_what_is_doubled_and_what_is_thin():
    lid = box((1, 0.01, 1))
    assert [f for f in every(lid, limits=Limits(thin=0.02)) if f[0] == "thin_wall"] == [("thin_wall", 2, "body")]
    assert [f for f in every(lid, limits=Limits(thin=0.009)) if f[0] == "thin_wall"] == []
    near = [box(), {"id": "copy", "kind": "duplicate", "pick": facing("+y"), "translate": [0, 0.001, 0]}]
    assert [f for f in every(*near, limits=Limits(doubled=0.0011)) if f[0] == "doubled_vertex"] == [("doubled_vertex", 8, "copy")]
    assert [f for f in every(*near) if f[0] == "doubled_vertex"] == []


def test_loose_vertices():
    """No step leaves one; an imported mesh may have some."""
    m = evaluate(box()).surface.mesh
    t = m.topology
    loose = replace(m, points=np.concatenate([m.points, [[5.0, 5, 5]]]), topology=Topology.of(9, t.offsets, t.corners))
    assert INSPECTIONS["loose_vertex"][1](loose, DEFAULT).tolist() == [8]


def test_the_surface_tells_what_the_cage_does_not_show():
    """A bar that stands on both sides of the plane crosses its own image."""
    d = document(box((2, 1, 1), anchor="centre"), {"id": "t", "kind": "transform", "pick": ALL, "translate": [0.5, 0, 0],
                                                   "rotate": [0, 30, 0]}, {"id": "m", "kind": "mirror", "axis": "x", "clip": False})
    e = Evaluator().run(d.parts[0], "m")
    told = inspect_surface(e, DEFAULT, inspect(e.results[:2]))
    assert [(f.kind, f.elements, f.step) for f in told] == [("self_crossing", "faces", "m")]
    assert set(told[0].ids) <= set(hex_of(e.cage.mesh.names.face)) and told[0].count == len(told[0].ids) >= 3
