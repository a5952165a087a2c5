"""Booleans of bodies that nearly coincide, share planes, or stand in each other, against manifold3d of exact copies by
inclusion–exclusion of volumes; closed however near they come."""

import json

import manifold3d
import numpy as np
import pytest
import trimesh

from rhytonic.core.errors import StepError
from rhytonic.core.mesh.triangulate import triangulate
from rhytonic.core.recipe.built import build
from rhytonic.core.recipe.document import load
from rhytonic.core.recipe.evaluate import Evaluator
from tests.core.test_numbers_later import EXAMPLES

UNIT = 0.01


def body(r):
    def size():
        return float(np.round(r.choice([r.integers(1, 9), r.uniform(1, 9)]), 1))

    return [{"kind": "box", "size": [size(), size(), size()], "segments": r.integers(1, 4, 3).tolist()},
            {"kind": "cylinder", "radius": size() / 2, "height": size(), "sides": int(r.integers(3, 25))},
            {"kind": "tube", "radius": size() / 2 + 1.5, "inner_radius": 1.0, "height": size(), "sides": int(r.integers(3, 20))},
            {"kind": "sphere", "radius": size() / 2, "sides": int(r.integers(5, 17)), "rings": int(r.integers(4, 10))},
            {"kind": "quad_sphere", "radius": size() / 2, "segments": int(r.integers(2, 5))}][int(r.integers(5))]


def case(seed, hair=(-7.5, -4.3)):
    """Bodies on a coarse grid, some of them the same one, turned by 1e-7 to 5e-5 degrees or moved by a hair."""
    r = np.random.default_rng(seed)
    bodies = [body(r) for _ in range(3)]
    parts = []
    for i in range(int(r.integers(2, 6))):
        form = {"id": "form", **bodies[int(r.integers(3))]}
        if r.random() < 0.4:
            form["anchor"] = "centre"
        turn = np.zeros(3)
        k = r.integers(3)
        if k:
            turn[r.integers(3)] = 10.0 ** r.uniform(*hair) * r.choice([1, -1])
        if k == 2:
            turn = turn + 10.0 ** r.uniform(*hair, 3)
        move = np.round(r.choice([0, 0, 1, 2, -1, -2, 0.5], 3), 1) + (10.0 ** r.uniform(-9, -5, 3) if r.random() < 0.3 else 0)
        parts.append({"name": f"P{i}", "placement": {"translate": move.tolist(), "rotate": turn.tolist()}, "steps": [form]})
    return parts, [str(r.choice(["unite", "unite", "subtract", "intersect"])) for _ in parts[1:]]


def told(parts):
    return load(json.dumps({"format": "rhytonic", "version": 1, "unit": "cm", "parts": parts}))


def exact(mesh):
    return manifold3d.Manifold(manifold3d.Mesh64(mesh.points + 0.0, np.array(triangulate(mesh)[0], np.uint64)))


def outcome(parts, operations):
    """The first part after each operation, or why it could not be; and what volume each should have."""
    copies = [exact(p.mesh) for p in build(told([{**p, "steps": p["steps"][:1]} for p in parts]), evaluator=Evaluator())]
    out, truth = copies[0], []
    for operation, other in zip(operations, copies[1:], strict=True):
        shared, whole = (out ^ other).volume(), out.volume()
        volume = {"unite": whole + other.volume() - shared, "subtract": whole - shared, "intersect": shared}[operation]
        out = {"unite": out + other, "subtract": out - other, "intersect": out ^ other}[operation]
        truth.append(volume)
    steps = [{"id": f"b{i}", "kind": "boolean", "part": f"P{i + 1}", "operation": o} for i, o in enumerate(operations)]
    document = told([{**parts[0], "steps": [*parts[0]["steps"], *steps]}, *parts[1:]])
    evaluation = Evaluator().run(document.parts[0], "cm", within=document, tolerant=True)
    return evaluation.results[1:], truth


def assert_closed(mesh):
    """By another library: watertight, wound one way, finite."""
    t = mesh.topology
    assert (t.edge_face_count == 2).all() and (t.twin >= 0).all() and np.isfinite(mesh.points).all()
    triangles = triangulate(mesh)[0]
    other = trimesh.Trimesh(mesh.points, triangles, process=False)
    assert other.is_watertight and other.is_winding_consistent


def volume_of(mesh):
    p = mesh.points[triangulate(mesh)[0]] - mesh.points.mean(axis=0)
    return float(np.einsum("ij,ij->", p[:, 0], np.cross(p[:, 1], p[:, 2]))) / 6


@pytest.mark.parametrize("batch", range(4))
def test_bodies_that_nearly_coincide(batch):
    refused = total = 0
    for seed in range(9000 + batch, 9000 + batch + 6 * EXAMPLES, 4):
        results, truth = outcome(*case(seed))
        for result, volume in zip(results, truth, strict=True):
            total += 1
            if result.error is not None:
                assert "nothing is left" in result.error.message or "too thin" in result.error.message or \
                    "passes through itself" in result.error.message, (seed, result.error)
                refused += "nothing is left" not in result.error.message
                if "nothing is left" in result.error.message:
                    assert volume < 1e-4 * UNIT**3, seed  # a sliver at most
                break
            assert_closed(result.state.mesh)
            assert volume_of(result.state.mesh) == pytest.approx(volume, rel=3e-5, abs=1e-6 * UNIT**3), seed
    assert refused <= max(0.01 * total, 1)


def test_what_does_not_nearly_coincide_is_exact():
    for seed in range(200, 200 + 2 * EXAMPLES):
        parts, operations = case(seed, hair=(0.5, 2))
        for result, volume in zip(*outcome(parts, operations), strict=True):
            if result.error is not None:
                assert "nothing is left" in result.error.message, (seed, result.error)
                break
            assert_closed(result.state.mesh)
            assert volume_of(result.state.mesh) == pytest.approx(volume, rel=1e-7, abs=1e-9 * UNIT**3), seed
            assert not result.notes


def test_a_sphere_a_box_and_a_tube_united_and_cut_to_a_tube():
    for hair in (0.0, 1e-7, 1e-6, 1e-5, 3e-5):
        parts = [{"name": "P0", "steps": [{"id": "form", "kind": "sphere", "radius": 3, "sides": 16, "rings": 8}]},
                 {"name": "P1", "steps": [{"id": "form", "kind": "box", "size": [4, 6, 4]}], "placement": {"rotate": [hair, 0, hair]}},
                 {"name": "P2", "steps": [{"id": "form", "kind": "tube", "radius": 3, "inner_radius": 2, "height": 6, "sides": 16}]},
                 {"name": "P3", "steps": [{"id": "form", "kind": "tube", "radius": 3, "inner_radius": 1, "height": 5, "sides": 16}], "placement": {"rotate": [0, hair, hair]}}]
        results, truth = outcome(parts, ["unite", "unite", "intersect"])
        for result, volume in zip(results, truth, strict=True):
            assert result.error is None, hair
            assert_closed(result.state.mesh)
            assert volume_of(result.state.mesh) == pytest.approx(volume, rel=3e-6), hair


@pytest.mark.parametrize("operation", ["unite", "subtract", "intersect"])
def test_shells_of_one_part_that_overlap_in_their_planes_count_once(operation):
    """Two boxes 10 × 5 × 2, one moved by 7 along x, joined: 20 · … told by hand: 17 × 5 × 2 = 170 cm³ in all; a cutter takes 5."""
    bar = {"kind": "box", "size": [10, 5, 2]}
    parts = [{"name": "Work", "steps": [{"id": "form", **bar}, {"id": "more", "kind": "join", "parts": ["More"]},
                                        {"id": "cut", "kind": "boolean", "part": "Tool", "operation": operation}]},
             {"name": "More", "steps": [{"id": "form", **bar}], "placement": {"translate": [7, 0, 0]}},
             {"name": "Tool", "steps": [{"id": "form", "kind": "box", "size": [0.5, 5, 2]}], "placement": {"translate": [3, 0, 0]}}]
    mesh = build(told(parts), only="Work", evaluator=Evaluator())[0].evaluation.surface.mesh
    assert_closed(mesh)
    assert volume_of(mesh) / UNIT**3 == pytest.approx({"unite": 170, "subtract": 165, "intersect": 5}[operation], rel=1e-9)


def test_bodies_that_stand_in_each_other():
    """A cavity by subtraction, a stone within the cavity, and the stone alone by intersection: spheres by their own volumes."""
    parts = [{"name": f"P{i}", "steps": [{"id": "form", "kind": "quad_sphere", "radius": v, "segments": 3, "anchor": "centre"}]} for i, v in enumerate((9, 6, 3, 4))]
    results, truth = outcome(parts, ["subtract", "unite", "intersect"])
    for result, volume in zip(results, truth, strict=True):
        assert result.error is None
        assert_closed(result.state.mesh)
        assert volume_of(result.state.mesh) == pytest.approx(volume, rel=1e-12)
    assert [r.state.mesh.topology.shells.max() + 1 for r in results] == [2, 3, 1]


def test_a_touch_leaves_nothing_and_says_so():
    parts = [{"name": f"P{i}", "steps": [{"id": "form", "kind": "box", "size": [2, 2, 2]}], "placement": {"translate": [2 * i - 1e-9 * i, 0, 0]}} for i in range(2)]
    (result,), _ = outcome(parts, ["intersect"])
    assert isinstance(result.error, StepError) and "nothing is left" in result.error.message
