"""What strokes of a brush are drawn on: points as far as they are brushed, and what finds those near a place."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
import scipy

from ...mesh.geometry import vertex_normals
from ...mesh.mesh import Floats
from ...mesh.topology import Bools, Ints, Topology, ranges

#: a line is looked along in so many pieces at most
_MOST_PIECES = 256


@dataclass(frozen=True, eq=False)
class Ground:
    """What of a mesh brushes go by: its connectivity, and which vertices may move (V,)."""

    topology: Topology
    free: Bools

    @cached_property
    def _neighbours(self) -> tuple[Ints, Ints]:
        a, b = self.topology.edges.T
        ends = np.concatenate([a, b])
        order = np.argsort(ends, kind="stable")
        return np.concatenate([b, a])[order], np.searchsorted(ends[order], np.arange(self.topology.vertex_count + 1))

    def towards_neighbours(self, points: Floats, vertices: Ints) -> Floats:
        """(n, 3) from vertices to the mean of their neighbours along edges; nothing for those without any."""
        others, starts = self._neighbours
        count = starts[vertices + 1] - starts[vertices]
        some = count > 0
        out = np.zeros((vertices.size, 3))
        if some.any():
            total = np.add.reduceat(points[others[ranges(starts[vertices[some]], count[some])]],
                                    np.cumsum(count[some]) - count[some], axis=0)
            out[some] = total / count[some][:, None] - points[vertices[some]]
        return out


class Canvas:
    """Points as far as they are brushed, and what finds those near a place."""

    def __init__(self, points: Floats, ground: Ground) -> None:
        self.points, self.ground = points.copy(), ground
        self._settle()

    def _settle(self) -> None:
        self._at = self.points.copy()
        self._tree = scipy.spatial.cKDTree(self._at)
        self._drift = 0.0

    def settle(self, radius: float) -> None:
        """Make the finder anew where what moved since slows it down."""
        if self._drift > radius / 2:
            self._settle()

    def near(self, at: Floats, radius: float) -> tuple[Ints, Floats]:
        """Vertices nearer than ``radius`` to a place, ascending, and (n,) how near they are."""
        found = np.sort(np.asarray(self._tree.query_ball_point(at, radius + self._drift), np.int64))
        away = self.points[found] - at
        off = np.sqrt(np.einsum("ij,ij->i", away, away))
        inside = off < radius
        return found[inside], off[inside]

    def about(self, places: Floats, radius: float) -> Ints:
        """Vertices that may be near any of places (k, 3), ascending."""
        lists = self._tree.query_ball_point(places, radius + self._drift)
        return np.unique(np.concatenate([np.asarray(one, np.int64) for one in lists]))

    def near_lines(self, begin: Floats, end: Floats, radius: float, points: Floats) -> tuple[Ints, Ints, Floats, Floats]:
        """Vertices that lay, at ``points`` since the finder was made, nearer than ``radius`` to lines (k, 3) – (k, 3).

        Returns:
            (n,) the line and (n,) the vertex of each pair, ascending, (n,) how near, (n, 3) the nearest point of the line.
        """
        line = end - begin
        long = np.sqrt(np.einsum("ij,ij->i", line, line))
        pieces = np.clip(np.ceil(long / radius), 1, _MOST_PIECES).astype(np.int64)
        of = np.repeat(np.arange(len(line)), pieces)
        share = (ranges(np.zeros(len(line), np.int64), pieces) + 0.5) / pieces[of]
        reach = radius + self._drift + long[of] / (2 * pieces[of])
        lists = self._tree.query_ball_point(begin[of] + share[:, None] * line[of], reach)
        counts = np.array([len(one) for one in lists], np.int64)
        vertex = np.concatenate([np.asarray(one, np.int64) for one in lists])
        count = len(points)
        pairs = np.unique(np.repeat(of, counts) * count + vertex)
        which, vertex = pairs // count, pairs % count
        away = points[vertex] - begin[which]
        along = np.einsum("ij,ij->i", away, line[which])
        share = np.clip(along / np.maximum(long[which] ** 2, 1e-300), 0.0, 1.0)
        nearest = begin[which] + share[:, None] * line[which]
        away = points[vertex] - nearest
        off = np.sqrt(np.einsum("ij,ij->i", away, away))
        inside = off < radius
        return which[inside], vertex[inside], off[inside], nearest[inside]

    def move(self, vertices: Ints, by: Floats) -> None:
        """Move vertices; one that is told several times goes all of the ways, one after the other."""
        np.add.at(self.points, vertices, by)
        gone = self.points[vertices] - self._at[vertices]
        self._drift = max(self._drift, float(np.sqrt(np.einsum("ij,ij->i", gone, gone)).max(initial=0.0)))

    def restore(self, points: Floats) -> None:
        """Back to where the points were before."""
        self.points[:] = points
        gone = self.points - self._at
        self._drift = float(np.sqrt(np.einsum("ij,ij->i", gone, gone)).max(initial=0.0))


class Normals:
    """Normals of vertices as a stroke began, worked out where they are asked for."""

    def __init__(self, points: Floats, topology: Topology) -> None:
        self._points, self._topology = points, topology
        self._normals = np.zeros_like(points)
        self._known = np.zeros(len(points), bool)

    def of(self, vertices: Ints) -> Floats:
        """(n, 3) unit normals."""
        new = np.unique(vertices[~self._known[vertices]])
        if new.size:
            self._normals[new] = vertex_normals(self._points, self._topology, new)
            self._known[new] = True
        return self._normals[vertices]
