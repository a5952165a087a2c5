"""From one kind of element to another."""

from __future__ import annotations

from typing import Literal

import numpy as np

from ..mesh.topology import Ints, Topology

Kind = Literal["faces", "edges", "vertices"]


def vertices(t: Topology, kind: Kind, elements: Ints) -> Ints:
    """(n,) vertices of the given elements, ascending."""
    if kind == "vertices":
        return elements
    if kind == "edges":
        return np.unique(t.edges[elements])
    return np.unique(t.corners[t.corners_of(elements)])


def outline(t: Topology, faces: Ints) -> Ints:
    """(n,) edges with exactly one side among ``faces``."""
    edges, count = np.unique(t.corner_edge[t.corners_of(faces)], return_counts=True)
    out: Ints = edges[count == 1]
    return out


def touching(t: Topology, source: Kind, target: Kind, elements: Ints, how: Literal["all", "any"]) -> Ints:
    """Elements of kind ``target`` that touch ``elements`` of kind ``source``.

    From a larger kind to a smaller (faces to edges or vertices, edges to vertices) every piece counts with ``any``. From
    a smaller to a larger, ``any`` needs one of its pieces and ``all`` needs each of them.
    """
    if target == "vertices":
        return vertices(t, source, elements)
    if target == "edges" and source == "faces":
        return np.unique(t.corner_edge[t.corners_of(elements)])
    count = t.vertex_count if source == "vertices" else t.edge_count
    has = np.zeros(count, bool)
    has[elements] = True
    if target == "edges":
        ends = has[t.edges]
        return np.flatnonzero(ends.all(axis=1) if how == "all" else ends.any(axis=1))
    pieces = has[t.corners if source == "vertices" else t.corner_edge]
    if pieces.size == 0:
        return np.zeros(0, np.int64)
    hits = np.add.reduceat(pieces.astype(np.int64), t.offsets[:-1])
    return np.flatnonzero(hits == t.sides if how == "all" else hits > 0)
