"""Booleans against inclusion–exclusion, manifold3d on the bare triangles, and shapely for prisms."""

import json

import manifold3d
import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from rhytonic.core.errors import StepError
from rhytonic.core.inspect.report import report
from rhytonic.core.mesh.measure import measure
from rhytonic.core.mesh.triangulate import triangulate
from rhytonic.core.recipe.built import build
from rhytonic.core.recipe.document import load
from rhytonic.core.recipe.evaluate import Evaluator
from rhytonic.core.recipe.place import placed
from tests.helpers import assert_sound

CUBE = {"kind": "box", "size": [1, 1, 1], "anchor": "centre"}


def pair(a, b, operation, unit="m", **placement):
    return load(json.dumps({"format": "rhytonic", "version": 1, "unit": unit, "parts": [
        {"name": "Hood", "steps": [{"id": "body", **a}, {"id": "cut", "kind": "boolean", "part": "Cutter", "operation": operation}]},
        {"name": "Cutter", "placement": placement, "steps": [{"id": "tool", **b}]}]}))


def result(document):
    (part,) = build(document, only="Hood")
    assert_sound(part.evaluation.surface.mesh)
    return report(document, [part])["parts"][0], part.evaluation


@pytest.mark.parametrize(("operation", "volume", "faces"), [("unite", 15 / 8, 12), ("intersect", 1 / 8, 6), ("subtract", 7 / 8, 9)])
def test_two_unit_cubes_shifted_by_half(operation, volume, faces):
    """By hand: eight octants of a cube of side 1/2; the union has six L-shaped faces."""
    told, evaluation = result(pair(CUBE, CUBE, operation, translate=[0.5, 0.5, 0.5]))
    assert (told["faces"], told["closed"], told["manifold"], told["genus"]) == (faces, True, True, 0)
    assert told["volume"] == pytest.approx(volume, rel=1e-12)
    if operation == "unite":
        assert np.bincount(evaluation.surface.mesh.topology.sides).tolist()[4:] == [6, 0, 6]


def test_a_drum_through_a_slab_leaves_two_faces_above_and_two_below():
    """V of a 16-sided prism: n/2 · r² sin(2π/n) · h."""
    slab, drum = {"kind": "box", "size": [2, 1, 2], "anchor": "centre"}, {"kind": "cylinder", "radius": 0.5, "height": 3, "sides": 16, "anchor": "centre"}
    told, evaluation = result(pair(slab, drum, "subtract"))
    assert told["volume"] == pytest.approx(4 - 8 * 0.25 * np.sin(np.pi / 8), rel=1e-12)
    assert (told["faces"], told["vertices"], told["genus"]) == (4 + 4 + 16, 40, 1)
    mesh = evaluation.surface.mesh
    assert (np.abs(mesh.normals[:, 1]) > 0.9).sum() == 4
    assert told["area"] == pytest.approx(8 + 2 * (4 - 8 * 0.25 * np.sin(np.pi / 8)) + 16 * np.sin(np.pi / 16), rel=1e-12)


def test_an_untouched_face_keeps_its_id_its_corners_and_its_marks():
    document = pair({"kind": "box", "size": [4, 4, 4], "segments": [2, 2, 2]}, CUBE, "subtract", translate=[1.2, 4, 1.2])
    before = Evaluator().run(document.parts[0], "m", upto=1, within=document).surface.mesh
    mesh = result(document)[1].surface.mesh
    same = np.intersect1d(before.names.face, mesh.names.face)
    assert same.size == before.topology.face_count - 1
    for i in same:
        corners = []
        for m in (before, mesh):
            f = int(m.names.find("face", np.array([i]))[0])
            corners.append(m.names.vertex[m.topology.corners[m.topology.corners_of(np.array([f]))]].tolist())
        assert corners[0] == corners[1]


DRUM = {"kind": "cylinder", "height": 3, "sides": 7, "anchor": "centre"}


@settings(max_examples=25, deadline=None)
@given(st.floats(0.15, 0.32), st.floats(-0.04, 0.04), st.floats(-0.04, 0.04), st.floats(2, 6), st.floats(0.95, 1.05),
       st.sampled_from(["subtract", "unite", "intersect"]))
def test_names_stay_while_the_cut_stays_the_same(radius, x, z, turn, size, operation):
    """The cutter's numbers and what is cut change, the connectivity of the cut does not: every vertex is named as it was, and
    every face too unless the edges that open a holed face were drawn elsewhere."""
    names, edges = [], []
    for r, dx, dz, t, s in ((0.25, 0.0, 0.0, 4.0, 1.0), (radius, x, z, turn, size)):
        cube = {**CUBE, "size": [v * s for v in CUBE["size"]]}
        mesh = result(pair(cube, {**DRUM, "radius": r}, operation, translate=[dx, 0, dz], rotate=[0, t, 0]))[1].surface.mesh
        names.append((set(mesh.names.vertex.tolist()), set(mesh.names.face.tolist())))
        edges.append({frozenset(e) for e in mesh.names.vertex[mesh.topology.edges].tolist()})
    assert names[0][0] == names[1][0]
    if edges[0] == edges[1]:
        assert names[0][1] == names[1][1]
    else:
        assert len(edges[0] ^ edges[1]) <= 8 and len(names[0][1] ^ names[1][1]) <= 8  # two holed faces, two edges each


def test_edges_keep_their_marks_when_they_are_cut():
    document = load(json.dumps({"format": "rhytonic", "version": 1, "unit": "m", "parts": [
        {"name": "Hood", "steps": [{"id": "body", **CUBE}, {"id": "c", "kind": "crease", "sharpness": 3, "pick": {"edges": {"of_faces": {"facing": "+y"}}}},
                                   {"id": "cut", "kind": "boolean", "part": "Cutter", "operation": "subtract"}]},
        {"name": "Cutter", "placement": {"translate": [0.5, 0.5, 0]}, "steps": [{"id": "t", "kind": "box", "size": [0.4, 0.4, 0.4], "anchor": "centre"}]}]}))
    mesh = result(document)[1].surface.mesh
    edges = mesh.topology.edges[mesh.attributes["crease"].values > 0]
    ends = mesh.points[edges]
    assert len(edges) == 5 and np.allclose(ends[:, :, 1], 0.5)
    assert np.linalg.norm(ends[:, 1] - ends[:, 0], axis=1).sum() == pytest.approx(4 - 0.4)


def test_prisms_against_shapely():
    """Upright prisms: volumes are areas of their plans (shapely) times the height they share."""
    a = {"kind": "cylinder", "radius": 1, "height": 1, "sides": 5}
    b = {"kind": "cylinder", "radius": 0.8, "height": 1, "sides": 7}
    plan = [shapely.Polygon([(r * np.cos(2 * np.pi * k / n) + x, r * np.sin(2 * np.pi * k / n)) for k in range(n)])
            for r, n, x in ((1, 5, 0), (0.8, 7, 0.7))]
    for operation, area in (("unite", plan[0].union(plan[1]).area), ("intersect", plan[0].intersection(plan[1]).area),
                            ("subtract", plan[0].difference(plan[1]).area)):
        told, _ = result(pair(a, b, operation, translate=[0.7, 0, 0]))
        assert told["volume"] == pytest.approx(area, rel=1e-9)


def test_several_cutters_at_once():
    document = load(json.dumps({"format": "rhytonic", "version": 1, "unit": "m", "parts": [
        {"name": "Hood", "steps": [{"id": "b", "kind": "box", "size": [10, 1, 1]}, {"id": "cut", "kind": "boolean", "parts": ["A", "B"], "operation": "subtract"}]},
        *({"name": n, "placement": {"translate": [x, -1, 0]}, "steps": [{"id": "b", "kind": "box", "size": [1, 3, 0.5]}]} for n, x in (("A", -2), ("B", 3)))]}))
    told, evaluation = result(document)
    assert (told["volume"], told["genus"]) == (pytest.approx(9), 2)
    assert np.bincount(evaluation.surface.mesh.topology.sides)[3] == 0


def forms(random):
    def size():
        return float(random.choice([0.5, 1.0, 1.5]))

    kind = random.integers(0, 5)
    if kind == 0:
        return {"kind": "box", "size": [size(), size(), size()], "segments": [int(s) for s in random.integers(1, 3, 3)], "anchor": "centre"}
    if kind == 1:
        return {"kind": "cylinder", "radius": size() / 2, "height": size(), "sides": int(random.integers(3, 9)), "anchor": "centre",
                "cap": str(random.choice(["ngon", "fan"]))}
    if kind == 2:
        return {"kind": "sphere", "radius": size() / 2, "sides": int(random.integers(3, 8)), "rings": int(random.integers(2, 5)), "anchor": "centre"}
    if kind == 3:
        return {"kind": "tube", "radius": size(), "inner_radius": 0.3, "height": size(), "sides": int(random.integers(3, 8)), "anchor": "centre"}
    return {"kind": "torus", "radius": 0.8, "tube_radius": 0.25, "sides": int(random.integers(4, 9)), "tube_sides": int(random.integers(3, 6)), "anchor": "centre"}


def bare(a, b, operation):
    """manifold3d on the triangles alone."""
    def solid(mesh):
        triangles = triangulate(mesh)[0]
        return manifold3d.Manifold(manifold3d.Mesh64(np.array(mesh.points), np.array(triangles, np.uint64)))
    one, two = solid(a), solid(b)
    return {"unite": one + two, "subtract": one - two, "intersect": one ^ two}[operation].volume()


@pytest.mark.parametrize("block", range(10))
def test_random_pairs_are_closed_and_right_or_refused(block):
    """A thousand pairs: apart, crossing, nested, touching, coplanar and the same; volumes as manifold3d's to 1e-9."""
    random = np.random.default_rng(block)
    refused = 0
    for _ in range(100):
        a = forms(random)
        b = a if random.random() < 0.1 else forms(random)
        exact = random.random() < 0.5  # shifts by halves of sizes, so that faces lie in one plane or touch
        shift = random.choice([-1.0, -0.5, -0.25, 0.0, 0.25, 0.5, 1.0], 3) if exact else random.uniform(-0.8, 0.8, 3)
        turn = [0.0, float(random.choice([0, 90, 180])), 0.0] if exact else random.uniform(-180, 180, 3).tolist()
        operation = str(random.choice(["unite", "subtract", "intersect"]))
        document = pair(a, b, operation, translate=shift.tolist(), rotate=turn)
        evaluator = Evaluator()
        one = evaluator.run(document.parts[0], "m", upto=1, within=document).surface.mesh
        two = evaluator.run(document.parts[1], "m", within=document).surface.mesh
        wanted = bare(one, placed(two, document, document.parts[1]), operation)
        scale = measure(one).volume + measure(two).volume
        try:
            mesh = evaluator.run(document.parts[0], "m", within=document).surface.mesh
        except StepError as error:
            refused += 1
            assert abs(wanted) < 1e-9 * scale and "nothing is left" in str(error), (a, b, operation, shift, turn, str(error))
            continue
        assert_sound(mesh)
        told = measure(mesh)
        assert told.closed and told.manifold, (a, b, operation, shift.tolist(), turn)
        assert told.volume == pytest.approx(wanted, abs=1e-9 * scale), (a, b, operation, shift.tolist(), turn)
    assert refused < 60


@pytest.mark.parametrize("operation", ["unite", "intersect"])
def test_a_part_set_against_its_like_stays_as_it_is(operation):
    """A ∪ A = A ∩ A = A: every face is there once, with its own id and corners."""
    told, evaluation = result(pair(CUBE, CUBE, operation))
    before, after = evaluation.after(1).mesh, evaluation.surface.mesh
    assert told["faces"] == 6 and told["volume"] == pytest.approx(1, rel=1e-12)
    assert set(after.names.face.tolist()) == set(before.names.face.tolist())
    assert set(after.names.vertex.tolist()) == set(before.names.vertex.tolist())


def test_a_lid_of_the_same_size_makes_one_box_of_ten_faces():
    """Two cubes one on the other: top, bottom and four sides of each; what lies between them is gone."""
    told, _ = result(pair(CUBE, CUBE, "unite", translate=[0, 1, 0]))
    assert (told["faces"], told["quads"], told["genus"]) == (10, 10, 0) and told["volume"] == pytest.approx(2, rel=1e-12)


def test_what_only_touches_cuts_nothing_off():
    told, evaluation = result(pair(CUBE, CUBE, "subtract", translate=[0, 1, 0]))
    before, after = evaluation.after(1).mesh, evaluation.surface.mesh
    assert told["faces"] == 6 and set(after.names.face.tolist()) == set(before.names.face.tolist())
