"""Random clean bodies with a random bevel or ridge at the end."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

import numpy as np

from rhytonic.core.errors import StepError
from rhytonic.core.mesh.crossing import crossing_faces
from rhytonic.core.mesh.measure import faces_without_area, measure
from rhytonic.core.mesh.mesh import Mesh
from rhytonic.core.recipe.evaluate import Evaluator
from tests.helpers import evaluate
from tests.random_recipes import Steps, ids_of

Random = np.random.Generator


def is_clean(mesh: Mesh) -> bool:
    """Closed, manifold, no face without area and none through another."""
    m = measure(mesh)
    return m.closed and m.manifold and not faces_without_area(mesh).size and not crossing_faces(mesh).size


def _is_body(mesh: Mesh) -> bool:
    """Clean, turned outward, and nowhere folded onto itself."""
    t = mesh.topology
    if not is_clean(mesh) or (measure(mesh).volume or 0) <= 0:
        return False
    order, starts = t.edge_corners
    n = mesh.normals[t.corner_face]
    one, two = order[starts[:-1]], order[starts[:-1] + 1]
    return bool((np.einsum("ij,ij->i", n[one], n[two]) > -0.99).all())


def _number(r: Random, low: float, high: float) -> float:
    return round(float(r.uniform(low, high)), 3)


def _form(r: Random) -> dict[str, Any]:
    def size(low: float = 0.5, high: float = 3.0) -> float:
        return _number(r, low, high)

    which = int(r.integers(0, 7))
    if which <= 1:
        return {"kind": "box", "size": [size(), size(), size()], "segments": r.integers(1, 4, 3).tolist()}
    if which <= 3:
        return {"kind": "cylinder", "radius": size(), "height": size(), "sides": int(r.integers(3, 13)),
                "height_segments": int(r.integers(1, 4)), "cap": str(r.choice(["ngon", "fan"])),
                "radius_top": float(r.choice([0, size(), size()]))}
    if which == 4:
        return {"kind": "sphere", "radius": size(), "sides": int(r.integers(3, 12)), "rings": int(r.integers(2, 7))}
    if which == 5:
        return {"kind": "torus", "radius": size(1.5), "tube_radius": size(0.3, 1), "sides": int(r.integers(3, 10)),
                "tube_sides": int(r.integers(3, 8))}
    return {"kind": "tube", "radius": size(1.5), "inner_radius": size(0.3, 1.2), "height": size(), "sides": int(r.integers(3, 10))}


def _some(r: Random, mesh: Mesh, kind: str) -> dict[str, Any]:
    return ids_of(mesh, kind, r.integers(0, 10_000, int(r.integers(1, 7))).tolist())


def _edit(r: Random, mesh: Mesh) -> dict[str, Any]:
    which = int(r.integers(0, 5))
    if which <= 1:
        return {"kind": "extrude", "pick": _some(r, mesh, "faces"), "depth": _number(r, 0.05, 0.6) * float(r.choice([1, 1, -0.5])),
                "as": str(r.choice(["region", "each"])), "along": str(r.choice(["average", "surface"]))}
    if which == 2:
        return {"kind": "inset", "pick": _some(r, mesh, "faces"), "width": _number(r, 0.02, 0.2)}
    if which == 3:
        return {"kind": "insert_loop", "through": _some(r, mesh, "edges")["edges"], "count": int(r.integers(1, 3))}
    return {"kind": "transform", "pick": _some(r, mesh, "vertices"), "translate": [_number(r, -0.2, 0.2) for _ in range(3)]}


def _last(r: Random, mesh: Mesh) -> dict[str, Any]:
    which = int(r.integers(0, 10))
    pick = [lambda: _some(r, mesh, "vertices"), lambda: _some(r, mesh, "vertices"), lambda: {"edges": "all"},
            lambda: {"edges": {"sharper_than": 30}}, lambda: {"edges": {"loop_through": _some(r, mesh, "edges")["edges"]}},
            *[lambda: _some(r, mesh, "edges")] * 5][which]()
    if which >= 2 and r.random() < 0.3:
        return {"kind": "ridge", "pick": pick, "width": _number(r, 0.02, 0.3), "height": _number(r, 0.01, 0.1) * float(r.choice([1, -1]))}
    return {"kind": "bevel", "pick": pick, "width": _number(r, 0.02, 0.5), "segments": int(r.integers(1, 7)),
            "roundness": float(r.choice([1, 1, 0.4, 0]))}


def random_case(seed: int) -> Steps:
    """A clean body of one to three steps, and a bevel or ridge of some of it."""
    r = np.random.default_rng(seed)
    evaluator = Evaluator()
    while True:
        steps: Steps = [{"id": "form", **_form(r)}]
        mesh = evaluate(*steps, evaluator=evaluator).surface.mesh
        if _is_body(mesh):
            break
    for i in range(int(r.integers(0, 3))):
        step = {"id": f"e{i}", **_edit(r, mesh)}
        try:
            after = evaluate(*steps, step, evaluator=evaluator).surface.mesh
        except StepError:
            continue
        if _is_body(after):
            steps, mesh = [*steps, step], after
    return [*steps, {"id": "last", **_last(r, mesh)}]


def sweep(seeds: Iterable[int]) -> tuple[int, list[int]]:
    """How many of the cases were refused with a sentence, and those that left faces which are not sound."""
    refused, unsound = 0, []
    for seed in seeds:
        try:
            mesh = evaluate(*random_case(seed)).surface.mesh
        except StepError:
            refused += 1
            continue
        if not is_clean(mesh):
            unsound.append(seed)
    return refused, unsound
