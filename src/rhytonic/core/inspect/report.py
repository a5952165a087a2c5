"""The JSON report of a build."""

from __future__ import annotations

from typing import Any

from ..mesh.measure import measure
from ..recipe.built import BuiltPart
from ..recipe.document import Document
from ..units import METRES
from .findings import inspect


def report(document: Document, parts: list[BuiltPart]) -> dict[str, Any]:
    """The report of ``./rhytonic build``, lengths in the document's unit."""
    return {"unit": document.unit, "parts": [_of_part(p, METRES[document.unit]) for p in parts]}


def _of_part(built: BuiltPart, metres: float) -> dict[str, Any]:
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
    if built.part.hidden:
        out["hidden"] = True
    return out
