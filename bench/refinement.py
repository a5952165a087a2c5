"""Catmull–Clark beside COMPAS and beside libigl's Loop subdivision."""

from __future__ import annotations

from collections.abc import Iterator

import igl
import numpy as np
from compas.datastructures import Mesh as CompasMesh

from rhytonic.core.construct.refining.refine import Refinement
from rhytonic.core.mesh.topology import Topology

from .clock import Row, turn_by_turn
from .shapes import torus, triangles


def _from_scratch(points: np.ndarray, quads: np.ndarray) -> tuple[np.ndarray, Topology]:
    """Faces and points in, faces and points out, nothing known before."""
    t = Topology(len(points), np.arange(0, quads.size + 1, 4), quads.ravel())
    chain = Refinement(t, "edge")
    return chain.apply(points, 1), chain.result(1)


def rows() -> Iterator[Row]:
    points, quads = torus(100, 50)
    mesh = CompasMesh.from_vertices_and_faces(points.tolist(), quads.tolist())
    ours, other = turn_by_turn(lambda: _from_scratch(points, quads), lambda: mesh.subdivided(scheme="catmullclark", k=1),
                               times=5)
    yield Row("Catmull–Clark, 5 000 quads, one level from scratch", ours, other, "COMPAS", other / ours, "≥ 80",
              other / ours >= 80)

    points, quads = torus(200, 100)
    tris = triangles(quads)
    ours, other = turn_by_turn(lambda: _from_scratch(points, quads), lambda: igl.loop(points, tris, 1))
    per_face = (other / (4 * len(tris))) / (ours / (4 * len(quads)))
    yield Row("Catmull–Clark, 20 000 quads, one level from scratch, per output face", ours / (4 * len(quads)),
              other / (4 * len(tris)), "libigl Loop", per_face, "≥ 1", per_face >= 1)

    for levels in (1, 2, 3):
        t = Topology(len(points), np.arange(0, quads.size + 1, 4), quads.ravel())
        chain = Refinement(t, "edge")
        chain.apply(points, levels)
        moved = points + 0.01
        ours, other = turn_by_turn(lambda c=chain, p=moved, k=levels: c.apply(p, k),
                                   lambda p=moved, k=levels: igl.loop(p, tris, k), times=15 if levels == 1 else 5, warm=2)
        out = 4.0 ** levels
        each, beside = ours / (len(quads) * out), other / (len(tris) * out)
        yield Row(f"the same after a move, level {levels}, per output face", each, beside, "libigl Loop", beside / each,
                  "≤ 20 ns", each <= 20e-9)
