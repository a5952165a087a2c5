"""Pieces of a surface between cuts, each with vertices of its own: where a cut is, both sides have theirs."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ...mesh.mesh import Mesh
from ...mesh.topology import Bools, Ints, components


@dataclass(frozen=True)
class Charts:
    """Some faces of a mesh, parted along cuts.

    Attributes:
        faces: (n,) the faces.
        chart: (F,) number of each face's chart, −1 for faces that are in none.
        node: (C,) vertex of the chart each corner stands at, from 0 on; −1 for corners of other faces.
        whole: (C,) half-edges that join two faces of one chart.
    """

    faces: Ints
    chart: Ints
    node: Ints
    whole: Bools

    @property
    def count(self) -> int:
        """How many charts there are."""
        return int(self.chart.max()) + 1 if self.chart.size else 0


def charts_between(mesh: Mesh, faces: Ints, cut: Bools) -> Charts:
    """The pieces of ``faces`` (n,) between ``cut`` edges (E,), borders, and edges of more than two faces."""
    t = mesh.topology
    inside = np.zeros(t.face_count, bool)
    inside[faces] = True
    twin = t.twin
    half = np.flatnonzero((twin >= 0) & ~cut[t.corner_edge] & inside[t.corner_face])
    half = half[inside[t.corner_face[twin[half]]]]
    whole = np.zeros(t.corner_count, bool)
    whole[half] = True
    once = half[half < twin[half]]
    there = twin[once]
    label = components(t.corner_count, np.concatenate([once, t.next_corner[once]]),
                       np.concatenate([t.next_corner[there], there]))
    mine = inside[t.corner_face]
    node = np.full(t.corner_count, -1)
    node[mine] = np.unique(label[mine], return_inverse=True)[1].ravel()
    group = components(t.face_count, t.corner_face[once], t.corner_face[there])
    chart = np.full(t.face_count, -1)
    chart[inside] = np.unique(group[inside], return_inverse=True)[1].ravel()
    return Charts(np.flatnonzero(inside), chart, node, whole)


def euler(mesh: Mesh, charts: Charts) -> Ints:
    """(n,) vertices − edges + faces of each chart: 1 for a disc, 2 for what is closed, 0 for a ring."""
    t, n = mesh.topology, charts.count
    mine = charts.chart[t.corner_face] >= 0
    corner = np.flatnonzero(mine)
    _, first = np.unique(charts.node[corner], return_index=True)
    vertices = np.bincount(charts.chart[t.corner_face[corner[first]]], minlength=n)
    half = charts.chart[t.corner_face[corner]]
    joined = charts.whole[corner]
    edges = np.bincount(half[~joined], minlength=n) + np.bincount(half[joined], minlength=n) // 2
    return vertices - edges + np.bincount(charts.chart[charts.faces], minlength=n)
