"""The JSON report of a build."""

from __future__ import annotations

from typing import Any

import numpy as np

from ..curve.curve import Curve
from ..curve.figures import measure_curve
from ..mesh.measure import measure
from ..recipe.built import BuiltPart
from ..recipe.document import Document
from ..recipe.leaving import leaving
from ..recipe.part import Group
from ..units import METRES
from .findings import inspect
from .wrapping import layout_figures


def report(document: Document, parts: list[BuiltPart]) -> dict[str, Any]:
    """The report of ``./rhytonic build``, lengths in the document's unit."""
    metres = METRES[document.unit]
    out: dict[str, Any] = {"unit": document.unit, "parts": [_of_part(p, metres, document) for p in parts]}
    if document.groups:
        out["groups"] = [_of_group(document, g, parts, metres) for g in document.groups]
    if document.budget is not None:
        triangles = sum(p.mesh.topology.corner_count - 2 * p.mesh.topology.face_count for p in leaving(document, parts))
        if triangles > document.budget:
            out["findings"] = [over_budget(triangles, document.budget)]
    return out


def _of_group(document: Document, group: Group, parts: list[BuiltPart], metres: float) -> dict[str, Any]:
    """Triangles and reach of all that is in a group, at any depth."""
    inside = [p for p in parts if p.evaluation.surface.curve is None and
              any(g.id == group.id for g in document.groups_of(p.part))]
    points = [p.mesh.points for p in inside if len(p.mesh.points)]
    every = np.concatenate(points) / metres if points else None
    triangles = sum(p.mesh.topology.corner_count - 2 * p.mesh.topology.face_count for p in inside)
    out: dict[str, Any] = {"name": group.name, "triangles": triangles,
                           "min": None if every is None else every.min(axis=0).tolist(),
                           "max": None if every is None else every.max(axis=0).tolist()}
    if group.budget is not None and triangles > group.budget:
        out["findings"] = [over_budget(triangles, group.budget)]
    return out


def over_budget(triangles: int, budget: int) -> dict[str, Any]:
    """The finding of more triangles than there should be: by how many."""
    return {"kind": "over_budget", "count": triangles - budget, "ids": [], "step": ""}


def _of_part(built: BuiltPart, metres: float, document: Document) -> dict[str, Any]:
    m = measure(built.mesh)
    results = built.evaluation.results

    def triple(values: tuple[float, float, float] | None) -> list[float] | None:
        return None if values is None else [v / metres for v in values]

    size = None if m.minimum is None or m.maximum is None else \
        [(b - a) / metres for a, b in zip(m.minimum, m.maximum, strict=True)]
    out: dict[str, Any] = {
        "name": built.name, "vertices": m.vertices, "edges": m.edges, "faces": m.faces, "triangles": m.triangles,
        "tris": m.tris, "quads": m.quads, "ngons": m.ngons, "min": triple(m.minimum), "max": triple(m.maximum),
        "size": size, "area": m.area / metres**2, "volume": None if m.volume is None else m.volume / metres**3,
        "closed": m.closed, "manifold": m.manifold, "euler": m.euler, "genus": m.genus, "shells": m.shells,
        "findings": [f.plain() for f in inspect(results)],
        "unresolved": [{"step": r.step.id, "missing": r.missing} for r in results if r.missing],
        "notes": [{"step": r.step.id, "text": text} for r in results for text in r.notes],
        "seconds": round(built.evaluation.seconds, 6)}
    layout = layout_figures(built.mesh) if built.curve is None else None
    if layout is not None:
        out["uv"] = layout
    if built.curve is not None:
        _tell_curve(out, built.curve, metres)
    if built.part.budget is not None and m.triangles > built.part.budget:
        out["findings"].append(over_budget(m.triangles, built.part.budget))
    if built.part.of is not None:
        source = document.part(built.part.of)
        out["of"] = built.part.of if source is None else source.name
    if built.part.hidden:
        out["hidden"] = True
    return out


def _tell_curve(out: dict[str, Any], curve: Curve, metres: float) -> None:
    """What a stage that still is a curve tells instead of faces."""
    c, points = measure_curve(curve), curve.divided.points / metres
    low, high = points.min(axis=0), points.max(axis=0)
    out |= {"min": low.tolist(), "max": high.tolist(), "size": (high - low).tolist(), "findings": [],
            "curve": {"points": c.points, "length": c.length / metres, "closed": c.closed, "planar": c.planar,
                      "area": None if c.area is None else c.area / metres**2}}
