"""Tools of which a stroke lays one layer, however often it passes and however finely it is sampled."""

from __future__ import annotations

import numpy as np

from ...mesh.mesh import Floats
from ...mesh.topology import Ints
from ..falloff import soft_weight
from .canvas import Canvas, Normals
from .dabs import without_normal

LAYERS = ("inflate", "groove")
#: of the radius, how high a layer is at full strength, and how far a groove draws its sides to its middle
_HEIGHT = 0.5
_DRAW_IN = 0.5


class Layer:
    """The layer of one stroke: how much of it each vertex has so far. Distances and directions go by where the points were
    as the stroke began."""

    def __init__(self, canvas: Canvas, normals: Normals, tool: str, radius: float, strength: float, fullness: float) -> None:
        self._canvas, self._normals, self._tool = canvas, normals, tool
        self._radius, self._strength, self._fullness = radius, strength, fullness
        self._start = canvas.points.copy()
        self._have = np.zeros(len(self._start))

    def lay(self, images: list[tuple[Floats, Floats]], pressure: Floats) -> int:
        """Go along lines (k, 3) – (k, 3), with each image of them, with (k,) pressures; how many found nothing in reach."""
        found = [self._reached(begin, end, pressure) for begin, end in images]
        key, weight, along = found[0] if len(found) == 1 else with_image(*found[0], *found[1])
        count = len(self._start)
        line, vertex = key // count, key % count
        missed = len(pressure) - np.unique(line).size
        more = self._more(line, vertex, weight)
        moves = self._canvas.ground.free[vertex] & (more > 0)
        self._canvas.move(vertex[moves], more[moves, None] * along[moves])
        return missed

    def _reached(self, begin: Floats, end: Floats, pressure: Floats) -> tuple[Ints, Floats, Floats]:
        """Line and vertex of each pair in one number, its weight, and (n, 3) the way it goes at full weight."""
        line, vertex, off, nearest = self._canvas.near_lines(begin, end, self._radius, self._start)
        weight = soft_weight(off / self._radius, self._fullness) * pressure[line]
        normals = self._normals.of(vertex)
        if self._tool == "inflate":
            along = self._strength * (_HEIGHT * self._radius * normals)
        else:  # inward, the sides drawn to the middle; narrower than soft selection
            weight = weight * weight
            inward = _DRAW_IN * without_normal(nearest - self._start[vertex], normals)
            along = self._strength * (inward - _HEIGHT * self._radius * normals)
        return line * len(self._start) + vertex, weight, along

    def _more(self, line: Ints, vertex: Ints, weight: Floats) -> Floats:
        """(n,) by how much each pair raises the largest weight its vertex had, line after line."""
        order = np.lexsort((line, vertex))
        v, w = vertex[order], np.maximum(weight[order], self._have[vertex[order]])
        begins = np.ones(v.size, bool)
        begins[1:] = v[1:] != v[:-1]
        group = np.cumsum(begins) - 1
        # running maxima within groups, by rank: whole numbers can be set apart without losing a bit
        values, rank = np.unique(w, return_inverse=True)
        most = np.maximum.accumulate(rank + group * values.size) - group * values.size
        now = values[most] if values.size else w
        before = np.empty_like(now)
        before[1:] = now[:-1]
        before[begins] = self._have[v[begins]]
        ends = np.append(begins[1:], True) if v.size else begins
        self._have[v[ends]] = now[ends]
        out = np.empty_like(now)
        out[order] = now - before
        return out


def with_image(a: Ints, wa: Floats, va: Floats, b: Ints, wb: Floats, vb: Floats) -> tuple[Ints, Floats, Floats]:
    """(n,), (n,) and (n, 3): what is reached and what its mirror image reaches as one: each has the larger weight, and goes
    the mean way by their weights."""
    every = np.union1d(a, b)
    w, v = np.zeros((2, every.size)), np.zeros((2, every.size, 3))
    for k, (some, weight, along) in enumerate(((a, wa, va), (b, wb, vb))):
        at = np.searchsorted(every, some)
        w[k, at], v[k, at] = weight, along
    total = w[0] + w[1]
    mean = (w[0][:, None] * v[0] + w[1][:, None] * v[1]) / np.where(total > 0, total, 1.0)[:, None]
    return every, w.max(axis=0), mean
