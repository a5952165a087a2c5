"""How far a pick reaches, and how long, large and turned it is: what handles and typed coordinates stand on."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..mesh.geometry import area_vectors, lengths, unit, vertex_normals
from ..mesh.mesh import Floats, Mesh
from .resolve import Picked


@dataclass(frozen=True)
class Extent:
    """Figures of a pick, in metres and the axes of the points given.

    Attributes:
        low, high: (3,) corners of its box.
        mean: (3,) mean of its vertices.
        normal: (3,) unit area-weighted normal; zero where the normals cancel out.
        length: of the picked edges, or of the edges round the picked faces; 0 for vertices.
        area: of the picked faces; 0 for others.
    """

    low: Floats
    high: Floats
    mean: Floats
    normal: Floats
    length: float
    area: float


def extent(mesh: Mesh, picked: Picked) -> Extent:
    """Figures of what is picked in a mesh; a pick is never empty."""
    t = mesh.topology
    vertices = picked.vertices(mesh)
    here = mesh.points[vertices]
    length = area = 0.0
    if picked.kind == "faces":
        vectors = area_vectors(mesh.points, t, picked.elements)
        area = float(lengths(vectors).sum())
        total = vectors.sum(axis=0)
        edges = t.corner_edge[t.corners_of(picked.elements)]
        count = np.bincount(edges, minlength=t.edge_count)
        length = _edge_length(mesh, np.flatnonzero(count == 1))
    else:
        total = vertex_normals(mesh.points, t, vertices).sum(axis=0)
        if picked.kind == "edges":
            length = _edge_length(mesh, picked.elements)
    return Extent(here.min(axis=0), here.max(axis=0), here.mean(axis=0), unit(total[None])[0], length, area)


def _edge_length(mesh: Mesh, edges: np.ndarray) -> float:
    ends = mesh.points[mesh.topology.edges[edges]]
    return float(lengths(ends[:, 1] - ends[:, 0]).sum())
