"""Replay of long recipes: a number at the top changes, and everything below runs again."""

from __future__ import annotations

import copy
import json
import time
from typing import Any

import numpy as np

from rhytonic.core.errors import StepError
from rhytonic.core.mesh.mesh import Mesh
from rhytonic.core.mesh.names import hex_of
from rhytonic.core.recipe.document import Document, load
from rhytonic.core.recipe.evaluate import Evaluator
from rhytonic.core.recipe.meanings import with_meanings
from rhytonic.core.recipe.sharing import sharing
from rhytonic.web.process import load_what_is_slow

Steps = list[dict[str, Any]]


def document(steps: Steps) -> Document:
    """One part of these steps, in metres."""
    return load(json.dumps({"format": "rhytonic", "version": 1, "unit": "m", "parts": [{"name": "Part", "steps": steps}]}))


def ids_of(mesh: Mesh, kind: str, at: np.ndarray) -> dict[str, Any]:
    """A pick of elements by their ids."""
    t, names = mesh.topology, mesh.names
    if kind == "edges":
        return {"edges": {"ids": [hex_of(names.vertex[t.edges[e]]) for e in at]}}
    return {kind: {"ids": hex_of((names.face if kind == "faces" else names.vertex)[at])}}


def long_recipe(count: int, segments: int = 16, seed: int = 3) -> Steps:
    """A box of ``segments`` each way and edits of a few elements each, all picked by id."""
    r = np.random.default_rng(seed)
    steps: Steps = [{"id": "form", "kind": "box", "size": [4, 3, 2], "segments": [segments] * 3}]
    evaluator = Evaluator()
    mesh = evaluator.run(document(steps).parts[0], "m").surface.mesh
    while len(steps) < count:
        t = mesh.topology
        kind = str(r.choice(["extrude", "inset", "transform", "transform", "bevel", "crease", "relax"]))
        step: dict[str, Any] = {"id": f"s{len(steps)}", "kind": kind}
        near = int(r.integers(t.face_count))
        faces = np.unique(np.concatenate([[near], r.choice(t.face_count, 2)]))
        if kind == "extrude":
            step |= {"pick": ids_of(mesh, "faces", faces), "depth": 0.03}
        elif kind == "inset":
            step |= {"pick": ids_of(mesh, "faces", faces), "width": 0.01}
        elif kind == "transform":
            step |= {"pick": ids_of(mesh, "vertices", r.choice(t.vertex_count, 6, replace=False)),
                     "translate": [0.01, 0.005, 0.0]}
        elif kind == "relax":
            step |= {"pick": ids_of(mesh, "vertices", r.choice(t.vertex_count, 4, replace=False)), "iterations": 2}
        else:
            step |= {"pick": ids_of(mesh, "edges", r.choice(t.edge_count, 3, replace=False))}
            step |= {"width": 0.004} if kind == "bevel" else {"sharpness": 2}
        try:
            mesh = evaluator.run(document([*steps, step]).parts[0], "m").surface.mesh
        except StepError:
            continue
        steps.append(step)
    return steps


def stored(steps: Steps) -> Steps:
    """The recipe as a server keeps it: with what picks mean beside their ids."""
    part = document(steps).parts[0]
    kept = with_meanings(part, Evaluator().run(part, "m", tolerant=True))
    return [{"kind": s.kind, **json.loads(s.model_dump_json(by_alias=True, exclude_unset=True))} for s in kept.steps]


def early_count(steps: Steps, segments: int) -> Steps:
    """The recipe with other segments in its first extrusion."""
    out = copy.deepcopy(steps)
    next(s for s in out if s["kind"] == "extrude")["segments"] = segments
    return out


def changed(steps: Steps, **numbers: Any) -> Steps:
    """The recipe with other numbers in its form."""
    out = copy.deepcopy(steps)
    out[0] |= numbers
    return out


def seconds(evaluator: Evaluator, steps: Steps, before: Steps | None = None) -> float:
    """How long a replay takes; after another recipe, with the steps that stayed, as the application has them."""
    held = document(before) if before is not None else None
    if held is not None:
        evaluator.run(held.parts[0], "m", tolerant=True)
    part = sharing(document(steps), held).parts[0]
    started = time.perf_counter()
    evaluator.run(part, "m", tolerant=True)
    return time.perf_counter() - started


def main() -> None:
    load_what_is_slow()  # as a server has
    for count in (100, 300):
        steps = stored(long_recipe(count))
        warm = Evaluator()
        cold = seconds(warm, steps)
        faces = warm.run(document(steps).parts[0], "m").surface.mesh.topology.face_count
        print(f"{count} steps, {faces} faces: cold {cold * 1e3:.0f} ms", end="; ")
        print(f"positions {seconds(warm, changed(steps, size=[4.1, 3, 2]), steps) * 1e3:.0f} ms", end="; ", flush=True)
        print(f"early count {seconds(warm, early_count(steps, 2), steps) * 1e3:.0f} ms", end="; ", flush=True)
        print(f"all counts {seconds(warm, changed(steps, segments=[17, 17, 17]), steps) * 1e3:.0f} ms", flush=True)


if __name__ == "__main__":
    main()
