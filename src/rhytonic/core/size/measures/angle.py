"""Angles: between two faces, measured inside; between two edges; at the second of three vertices."""

from __future__ import annotations

import numpy as np

from ...mesh.geometry import area_vectors, unit
from ...mesh.mesh import Floats
from ..scene import Named, NotMeasured
from .measured import Measured


def between(u: Floats, v: Floats) -> float:
    """Degrees between two directions (3,), exact near 0 and 180 too (W. Kahan, How Futile are Mindless Assessments of
    Roundoff, 2006, section 12)."""
    u, v = unit(u[None])[0], unit(v[None])[0]
    a, b = float(np.linalg.norm(u - v)), float(np.linalg.norm(u + v))
    return float(np.degrees(2 * np.arctan2(a, b)))


def angle(found: list[Named]) -> Measured:
    """Angle in degrees between two faces, two edges or at the middle one of three vertices. Raises NotMeasured."""
    kinds = {f.picked.kind for f in found if f.picked is not None}
    if len(found) == 3:
        a, at, b = (f.place for f in found)
        return Measured(between(a - at, b - at), "angle", np.stack([a, at, b]))
    if kinds == {"faces"}:
        return _of_faces(*found)
    if kinds == {"edges"}:
        return _of_edges(*found)
    raise NotMeasured("an angle lies between two faces, two edges, or at the second of three vertices")


def _of_faces(one: Named, two: Named) -> Measured:
    assert one.picked is not None and two.picked is not None
    n, m = (area_vectors(f.mesh.points, f.mesh.topology, f.picked.elements).sum(axis=0) for f in (one, two) if f.picked)
    if not n.any() or not m.any():
        raise NotMeasured("a face without area has no direction")
    return Measured(180.0 - between(n, m), "angle", np.stack([one.place, (one.place + two.place) / 2, two.place]))


def _of_edges(one: Named, two: Named) -> Measured:
    ends = []
    for f in (one, two):
        if f.picked is None or f.picked.elements.size != 1:
            raise NotMeasured("an angle lies between two single edges")
        ends.append(f.mesh.points[f.mesh.topology.edges[f.picked.elements[0]]])
    (a, b), (c, d) = ends
    near = [(a, b, c, d), (a, b, d, c), (b, a, c, d), (b, a, d, c)]
    at, out, other, out2 = min(near, key=lambda k: float(np.linalg.norm(k[0] - k[2])))
    value = between(out - at, out2 - other)
    size = max(float(np.linalg.norm(b - a)), float(np.linalg.norm(d - c)))
    if np.linalg.norm(at - other) > 1e-6 * size:  # edges apart have no side the angle opens to
        value = min(value, 180.0 - value)
    return Measured(value, "angle", np.stack([out, at, out2 + (at - other)]))
