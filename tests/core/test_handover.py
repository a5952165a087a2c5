"""What leaves the house and what comes in: nodes about their pivots, shapes shared, guesses of units, pieces in other units."""

import io

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from rhytonic.core.files.limits import BadModel
from rhytonic.core.files.model import Model, Move, Node, Shape
from rhytonic.core.files.read import read_model
from rhytonic.core.files.writing.gltf import write_glb
from rhytonic.core.handover.from_model import guess, taken
from rhytonic.core.handover.piece import CannotKeep, piece_of
from rhytonic.core.handover.thumbnail import thumbnail
from rhytonic.core.handover.to_model import model_of
from rhytonic.core.inspect.report import report
from rhytonic.core.recipe.built import build
from rhytonic.core.recipe.change_unit import in_unit
from rhytonic.core.recipe.document import dump, read_document
from rhytonic.core.recipe.leaving import leaving
from tests.helpers import box, mesh_of, together

triples = st.tuples(*[st.floats(-20, 20)] * 3)


def standing(model):
    return {s.node.name: s for s in model.walk()}


def whole(model):
    """Every mesh through the matrices of its nodes alone, as a file's reader would have it."""
    out = {}
    for s in model.walk():
        if s.node.shape is not None:
            p = s.node.shape.mesh.points @ s.matrix[:3, :3].T + s.matrix[:3, 3]
            out[(s.path if s.node.inner else (*s.path, s.node.name))[-1]] = p
    return out


@settings(max_examples=30, deadline=None)
@given(triples, triples, triples, triples, st.floats(-170, 170), st.sampled_from(["turn", "slide"]), st.sampled_from([None, "x", "y", "z"]))
def test_nodes_put_every_part_where_it_stands(move, turn, pivot, at, now, kind, mirrored):
    """Through pivots, joints, uneven scales, groups and mirrors: the nodes' matrices give the placed points."""
    d = together(
        {"id": "a", "name": "Leaf", "group": "g", "pivot": pivot, "placement": {"translate": move, "rotate": turn, "scale": [1, 2, 3]},
         "joint": {"kind": kind, "at": at, "axis": [1, 2, 0.5], "from": -180, "to": 180, "now": now}, "steps": [box((2, 3, 4))]},
        {"id": "b", "name": "Copy", "of": "a", "pivot": at, "placement": {"translate": at}, **({"mirrored": mirrored} if mirrored else {})},
        groups=[{"id": "g", "name": "G", "pivot": pivot, "placement": {"rotate": turn, "translate": at},
                 "joint": {"kind": "turn", "axis": [0, 1, 0], "from": 0, "to": 90, "now": 30}}])
    parts = build(d)
    found = whole(model_of(d, parts))
    for p in parts:
        assert np.allclose(found[p.name], p.mesh.points, atol=1e-9), p.name


def test_a_nodes_origin_is_its_pivot_and_a_joints_node_stands_on_its_axis():
    d = together({"id": "lid", "name": "Lid", "pivot": [1, 2, 3], "placement": {"translate": [10, 0, 0]},
                  "joint": {"kind": "turn", "at": [0, 5, 0], "axis": [0, 0, 1], "to": 90, "now": 90}, "steps": [box((2, 2, 2))]})
    nodes = standing(model_of(d, build(d)))
    hinge, lid = nodes["Lid hinge"], nodes["Lid"]
    assert np.allclose(hinge.matrix[:3, 3], [0.1, 0.05, 0])
    # the pivot, a quarter turn about the axis: (1, 2−5) becomes (3, 1) beside it
    assert np.allclose(lid.matrix[:3, 3], [0.13, 0.06, 0.03])
    assert hinge.node.about["joint"]["axis"] == [0, 0, 1] and lid.path == ("Lid hinge",)


def test_copies_share_a_shape_as_long_as_they_show_the_same():
    d = together({"id": "a", "name": "A", "steps": [box((2, 3, 4)), {"id": "s", "kind": "subdivision", "levels": 1}]},
                 {"name": "B", "of": "a"}, {"name": "C", "of": "a", "mirrored": "y"}, {"name": "D", "steps": [box((2, 3, 4))]})
    shapes = [s.node.shape for s in model_of(d, build(d)).walk() if s.node.shape is not None]
    assert len(shapes) == 4 and len(set(map(id, shapes))) == 2
    cage = [s.node.shape for s in model_of(d, build(d, "cage")).walk() if s.node.shape is not None]
    assert cage[0] is not cage[1]  # the copy shows the surface, its source the cage


def test_what_is_hidden_stays_home_unless_it_is_asked_for():
    d = together({"id": "a", "name": "A", "steps": [box()]}, {"id": "b", "name": "B", "hidden": True, "steps": [box()]},
                 {"id": "c", "name": "C", "group": "g", "steps": [box()]}, groups=[{"id": "g", "name": "G", "hidden": True}])
    parts = build(d)
    assert [p.name for p in leaving(d, parts)] == ["A"]
    assert [p.name for p in leaving(d, parts, {"b", "g"})] == ["B", "C"]


def scaled(size, base=(0, 0, 0)):
    mesh = mesh_of(box(size))
    return mesh.with_points(mesh.points - mesh.points.min(axis=0) + np.array(base, float))


def as_model(*meshes):
    return Model(tuple(Node(f"n{i}", shape=Shape(f"n{i}", m)) for i, m in enumerate(meshes)))


@pytest.mark.parametrize(("size", "format", "unit", "up"), [
    ((0.4, 0.3, 0.2), "glb", "m", "y"), ((400, 300, 200), "glb", "m", "y"), ((1.8, 0.7, 0.6), "obj", "m", "y"),
    ((40, 30, 20), "obj", "cm", "y"), ((1800, 700, 600), "ply", "mm", "y"), ((40, 30, 20), "stl", "mm", "z")])
def test_units_are_guessed_by_format_and_size(size, format, unit, up):
    found = guess(as_model(scaled(size, (-1, 0, -1))), format)
    assert (found.unit, found.up) == (unit, up) and np.allclose(found.high - found.low, size)


def test_up_is_the_axis_that_stands_on_zero_and_doubled_points_are_counted():
    assert guess(as_model(scaled((4, 3, 2), (-2, -1, 0))), "obj").up == "z"
    twice = guess(as_model(scaled((4, 3, 2)), scaled((4, 3, 2), (4, 0, 0))), "obj")
    assert twice.doubled == 4 and twice.faces == 12 and twice.pairs == 0
    with pytest.raises(BadModel, match="no faces"):
        guess(Model(), "obj")


def test_nodes_become_groups_parts_and_linked_copies():
    crate = Shape("crate", scaled((1, 1, 1)))
    model = Model((Node("Stack", Move(np.array([1.0, 0, 0])), children=(
        Node("Low", shape=crate), Node("High", Move(np.array([0, 1.0, 0]), scale=np.array([-2.0, 2, 2])), crate))),
        Node("Empty", children=(Node("Nothing"),)), Node("Alone", shape=Shape("x", scaled((2, 2, 2))))))
    found = taken(model, "f" * 64, "Harbour", {"unit": "m", "up": "y"}, "cm")
    assert [(g["name"], g.get("group")) for g in found.groups] == [("Harbour", None), ("Stack", "group1")]
    low, high, alone = found.parts
    assert low["group"] == "group2" and low["steps"][0] == {"id": "mesh1", "kind": "mesh", "file": "f" * 64, "unit": "m",
                                                            "up": "y", "object": "Low"}
    assert high["of"] == low["id"] and high["mirrored"] == "x" and high["placement"] == {"translate": [0, 100, 0], "scale": [2, 2, 2]}
    assert alone["group"] == "group1" and found.groups[1]["placement"] == {"translate": [100, 0, 0]}


def test_what_no_placement_can_say_is_refused():
    slanted = Node("Top", Move(scale=np.array([1.0, 3, 1])), children=(
        Node("In", Move(turn=np.array([[0.8, -0.6, 0], [0.6, 0.8, 0], [0, 0, 1.0]])), Shape("s", scaled((1, 1, 1)))),
        Node("By", shape=Shape("t", scaled((1, 1, 1))))))
    mirrored = Node("Far", Move(scale=np.array([-1.0, 3, 1])), children=(slanted.children[0], slanted.children[1]))
    assert len(taken(Model((slanted,)), "f", "N", {}, "m").parts) == 2  # groups say their own scale
    with pytest.raises(BadModel, match="sheared by what it stands in"):
        taken(Model((mirrored,)), "f", "N", {}, "m")
    with pytest.raises(BadModel, match="scaled to nothing"):
        taken(Model((Node("Flat", Move(scale=np.array([1.0, 0, 1])), Shape("s", scaled((1, 1, 1)))), slanted)), "f", "N", {}, "m")


def test_a_piece_stands_at_the_origin_and_takes_its_group_along():
    d = together({"id": "a", "name": "A", "group": "g", "placement": {"translate": [9, 0, 0]}, "steps": [box()]},
                 {"id": "b", "name": "B", "group": "h", "steps": [box(), {"id": "c", "kind": "boolean", "part": "a", "operation": "unite"}]},
                 {"id": "z", "name": "Z", "steps": [box()]},
                 groups=[{"id": "g", "name": "G", "placement": {"translate": [5, 5, 5], "scale": [2, 2, 2]}}, {"id": "h", "name": "H", "group": "g"}])
    piece = piece_of(d, d.groups[0], "Kept")
    assert [p.name for p in piece.parts] == ["A", "B"] and [g.id for g in piece.groups] == ["g", "h"] and piece.name == "Kept"
    assert piece.groups[0].placement.translate == (0, 0, 0) and piece.groups[0].placement.scale == (2, 2, 2)
    assert piece.parts[0].placement.translate == (9, 0, 0)
    assert read_document(dump(piece)) == piece
    with pytest.raises(CannotKeep, match="'B' needs 'A'"):
        piece_of(d, d.parts[1], "B")
    with pytest.raises(CannotKeep, match="no parts"):
        piece_of(d.model_copy(update={"parts": []}), d.groups[0], "Nothing")


@pytest.mark.parametrize("unit", ["mm", "in", "m"])
def test_a_document_in_another_unit_makes_the_same_thing(unit):
    d = together({"id": "a", "name": "A", "pivot": [1, 2, 3], "placement": {"translate": [4, 5, 6], "rotate": [0, 30, 0]},
                  "joint": {"kind": "slide", "at": [0, 1, 0], "axis": [0, 0, 1], "from": 0, "to": 12, "now": 6},
                  "steps": [box((7, 8, 9)), {"id": "b", "kind": "bevel", "pick": {"edges": "all"}, "width": 0.6},
                            {"id": "t", "kind": "transform", "pick": {"vertices": {"in_box": [[None, 4, None], [None, None, None]]}},
                             "translate": [1, 0, 0]}]},
                 {"name": "B", "joint": {"kind": "turn", "axis": [0, 0, 1], "to": 90, "now": 45}, "steps": [box((1, 1, 1))]})
    other = in_unit(d, unit)
    assert other.unit == unit and other.parts[1].joint.now == 45
    for one, two in zip(build(d), build(other), strict=True):
        assert np.allclose(one.mesh.points, two.mesh.points, atol=1e-12) and (one.mesh.names.face == two.mesh.names.face).all()


def test_a_thumbnail_shows_the_nearest_last():
    """A small dark box before a large one: where both would be seen, its shade is there."""
    far, near = scaled((4, 4, 1), (-2, -2, -4)), scaled((1, 1, 1), (-0.5, -0.5, 2))
    pictures = [np.asarray(Image.open(io.BytesIO(thumbnail(m, 64))).convert("L"), float) for m in ([far], [far, near], [])]
    assert pictures[0].shape == (64, 64) and (pictures[0] != pictures[1]).sum() > 50
    assert np.ptp(pictures[2]) == 0  # nothing but paper


def test_a_tree_read_from_glb_keeps_names_apart():
    model = Model((Node("Leg", shape=Shape("Leg", scaled((1, 1, 1)))), Node("Leg", shape=Shape("Leg", scaled((1, 2, 1))))))

    assert [n.name for n in read_model(write_glb(model)).nodes] == ["Leg", "Leg 2"]


def test_what_lies_behind_a_large_face_is_not_seen_through_it():
    """A door before shelves whose middles lie nearer the eye than its own: the picture is that of door and box alone."""
    shut = [scaled((4, 4, 0.2), (0, 0, 3.8)), scaled((4, 4, 3.8), (0, 0, 0))]
    shelves = [scaled((3.6, 0.2, 2.9), (0.2, y, 0.8)) for y in (1, 2, 3)]
    alone, whole = (np.asarray(Image.open(io.BytesIO(thumbnail(m, 64))), int) for m in (shut, [*shut, *shelves]))
    assert np.array_equal(alone, whole)
    for order in ([1, 0], [0, 1]):
        assert np.array_equal(np.asarray(Image.open(io.BytesIO(thumbnail([shut[i] for i in order], 64))), int), alone)


def test_a_build_over_its_budget_is_a_finding_and_what_stays_home_does_not_count():
    plain = {"steps": [box((1, 1, 1))]}
    d = together({"name": "A", **plain}, {"name": "B", **plain, "hidden": True}, {"name": "C", **plain, "template": True})
    for budget, over in ((11, 1), (12, None), (5, 7)):
        told = report(d.model_copy(update={"budget": budget}), build(d))
        assert told.get("findings", [{"count": None}])[0]["count"] == over
