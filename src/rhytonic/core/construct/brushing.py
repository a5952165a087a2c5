"""Strokes of a brush over a surface, sample by sample."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from threading import Lock
from typing import Literal

import numpy as np
import scipy

from ..mesh.geometry import unit, vertex_normals
from ..mesh.mesh import Floats
from ..mesh.topology import Bools, Ints, Topology, ranges
from ..waiting import check
from .falloff import soft_weight

Tool = Literal["grab", "smooth", "relax", "inflate", "pinch", "flatten", "groove"]
#: tools of which a stroke lays one layer, however often it passes: the rest works on at each sample
_LAYERS = ("inflate", "groove")
#: of the radius, how high a layer is at full strength
_HEIGHT = 0.5
#: how much of the way to the middle of the stroke full strength pinches at a sample, and a groove in all
_PINCH = 0.3
_DRAW_IN = 0.5


@dataclass(frozen=True)
class Settings:
    """What all strokes of a step share; ``radius`` in metres, ``mirror`` an axis or None."""

    tool: Tool
    radius: float
    strength: float
    fullness: float
    mirror: int | None


@dataclass(frozen=True, eq=False)
class Stroke:
    """Samples (n, 4) of place in metres and pressure, and how far a grab goes (3,)."""

    samples: Floats
    move: Floats

    def goes_on(self, later: Stroke) -> bool:
        """Whether a later stroke is this one, drawn further."""
        n = len(self.samples)
        return bool((self.move == later.move).all() and n <= len(later.samples) and
                    (self.samples == later.samples[:n]).all())


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


class _Canvas:
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

    def near(self, begin: Floats, end: Floats, radius: float, points: Floats) -> tuple[Ints, Floats, Floats]:
        """Vertices that lie, or lay at ``points`` since the finder was made, nearer than ``radius`` to the line between two
        places, ascending; (n,) how near, and (n, 3) the nearest point of the line to each."""
        line = end - begin
        long = float(line @ line)
        pieces = max(int(np.ceil(np.sqrt(long) / radius)), 1)
        middles = begin + np.linspace(0.5 / pieces, 1 - 0.5 / pieces, pieces)[:, None] * line
        reach = radius + self._drift + np.sqrt(long) / (2 * pieces)
        lists = self._tree.query_ball_point(middles, reach)
        found = np.unique(np.concatenate([np.asarray(one, np.int64) for one in lists]))
        here = points[found]
        share = np.clip((here - begin) @ line / long, 0.0, 1.0) if long > 0 else np.zeros(found.size)
        nearest = begin + share[:, None] * line
        away = here - nearest
        off = np.sqrt(np.einsum("ij,ij->i", away, away))
        inside = off < radius
        return found[inside], off[inside], nearest[inside]

    def move(self, vertices: Ints, by: Floats) -> None:
        """Move vertices."""
        self.points[vertices] += by
        gone = self.points[vertices] - self._at[vertices]
        self._drift = max(self._drift, float(np.sqrt(np.einsum("ij,ij->i", gone, gone)).max(initial=0.0)))

    def restore(self, points: Floats) -> None:
        """Back to where the points were before."""
        self.points[:] = points
        gone = self.points - self._at
        self._drift = float(np.sqrt(np.einsum("ij,ij->i", gone, gone)).max(initial=0.0))


class _Run:
    """One stroke under way: where the points were as it began, and how much of its layer each has."""

    def __init__(self, canvas: _Canvas, settings: Settings) -> None:
        canvas.settle(settings.radius)
        self.canvas, self.settings = canvas, settings
        self.start = canvas.points.copy()
        self._layer = np.zeros(len(self.start))
        self._normals = np.zeros_like(self.start)
        self._known = np.zeros(len(self.start), bool)
        self._last: Floats | None = None
        self.done = 0
        self.missed = 0

    def normals(self, vertices: Ints) -> Floats:
        """(n, 3) of vertices as the stroke began."""
        new = vertices[~self._known[vertices]]
        if new.size:
            self._normals[new] = vertex_normals(self.start, self.canvas.ground.topology, new)
            self._known[new] = True
        return self._normals[vertices]

    def go(self, stroke: Stroke) -> None:
        """As far as the stroke is drawn."""
        samples = stroke.samples if self.settings.tool != "grab" else stroke.samples[:1]
        for sample in samples[self.done:]:
            check()
            self._sample(sample[:3], float(sample[3]), stroke.move)
            self._last = sample[:3]
        self.done = len(samples)

    def _sample(self, at: Floats, pressure: float, move: Floats) -> None:
        s, layers = self.settings, self.settings.tool in _LAYERS
        if not layers:
            self.canvas.settle(s.radius)
        begin = self._last if layers and self._last is not None else at
        images = [(begin, at, move)]
        if s.mirror is not None:
            sign = np.ones(3)
            sign[s.mirror] = -1.0
            images.append((begin * sign, at * sign, move * sign))
        found: list[tuple[Ints, Floats, Floats]] = []
        for start, end, by in images:
            # a layer goes by where the points were as its stroke began: it is the same however finely that is sampled
            at_points = self.start if layers else self.canvas.points
            vertices, off, nearest = self.canvas.near(start, end, s.radius, at_points)
            if not vertices.size:
                continue
            weight = soft_weight(off / s.radius, s.fullness) * (1.0 if s.tool == "grab" else pressure)
            if s.tool == "groove":
                weight = weight * weight
            if s.tool == "grab":
                along = np.broadcast_to(min(1.0, 2 * s.strength) * by, (vertices.size, 3))
            else:
                along = s.strength * _TOOLS[s.tool](_Dab(self, vertices, weight, nearest))
            found.append((vertices, weight, along))
        if not found:
            self.missed += 1
            return
        vertices, weight, along = found[0] if len(found) == 1 else _together(*found[0], *found[1])
        if layers:
            more = np.maximum(weight - self._layer[vertices], 0.0)
            self._layer[vertices] += more
            weight = more
        moves = self.canvas.ground.free[vertices] & (weight > 0)
        self.canvas.move(vertices[moves], weight[moves, None] * along[moves])


@dataclass(frozen=True, eq=False)
class _Dab:
    """What a tool sees at one sample: the vertices in reach, their weights, the nearest point of the stroke to each."""

    run: _Run
    vertices: Ints
    weight: Floats
    nearest: Floats

    @property
    def points(self) -> Floats:
        """(n, 3) as they are now."""
        return self.run.canvas.points[self.vertices]

    @cached_property
    def mean_normal(self) -> Floats:
        """(3,) of the surface in reach, by weight."""
        out: Floats = unit((self.run.normals(self.vertices) * self.weight[:, None]).sum(axis=0)[None])[0]
        return out


def _together(a: Ints, wa: Floats, va: Floats, b: Ints, wb: Floats, vb: Floats) -> tuple[Ints, Floats, Floats]:
    """A sample and its mirror image as one: each vertex has the larger weight, and goes the mean way by their weights."""
    every = np.union1d(a, b)
    w, v = np.zeros((2, every.size)), np.zeros((2, every.size, 3))
    for k, (some, weight, along) in enumerate(((a, wa, va), (b, wb, vb))):
        at = np.searchsorted(every, some)
        w[k, at], v[k, at] = weight, along
    total = w[0] + w[1]
    mean = (w[0][:, None] * v[0] + w[1][:, None] * v[1]) / np.where(total > 0, total, 1.0)[:, None]
    return every, w.max(axis=0), mean


def _across(vectors: Floats, normals: Floats) -> Floats:
    """Vectors without what of them runs along normals."""
    out: Floats = vectors - (vectors * normals).sum(axis=1)[:, None] * normals
    return out


def _smooth(dab: _Dab) -> Floats:
    out: Floats = dab.run.canvas.ground.towards_neighbours(dab.run.canvas.points, dab.vertices)
    return out


def _relax(dab: _Dab) -> Floats:
    """Along the surface alone, so that what it encloses stays."""
    points, t = dab.run.canvas.points, dab.run.canvas.ground.topology
    return _across(_smooth(dab), vertex_normals(points, t, dab.vertices))


def _inflate(dab: _Dab) -> Floats:
    return _HEIGHT * dab.run.settings.radius * dab.run.normals(dab.vertices)


def _pinch(dab: _Dab) -> Floats:
    return _PINCH * _across(dab.nearest - dab.points, np.broadcast_to(dab.mean_normal, dab.points.shape))


def _flatten(dab: _Dab) -> Floats:
    middle = np.average(dab.points, axis=0, weights=np.maximum(dab.weight, 1e-12))
    out: Floats = -((dab.points - middle) @ dab.mean_normal)[:, None] * dab.mean_normal
    return out


def _groove(dab: _Dab) -> Floats:
    """Inward, its sides drawn towards its middle."""
    normals = dab.run.normals(dab.vertices)
    inward = _DRAW_IN * _across(dab.nearest - dab.run.start[dab.vertices], normals)
    return inward - _HEIGHT * dab.run.settings.radius * normals


_TOOLS: dict[str, Callable[[_Dab], Floats]] = {
    "smooth": _smooth, "relax": _relax, "inflate": _inflate, "pinch": _pinch, "flatten": _flatten, "groove": _groove}


@dataclass
class Replay:
    """Strokes over one mesh, gone through from the first; where the next call asks for the same ones drawn further, as a
    stroke under the pointer does, only what is new is gone through."""

    ground: Ground
    _lock: Lock = field(default_factory=Lock)
    _base: Floats | None = None
    _settings: Settings | None = None
    _strokes: list[Stroke] = field(default_factory=list)
    _canvas: _Canvas | None = None
    _run: _Run | None = None
    _missed: int = 0

    def points(self, base: Floats, settings: Settings, strokes: Sequence[Stroke]) -> tuple[Floats, int]:
        """(V, 3) points after all strokes, and how many samples found nothing in reach."""
        with self._lock:
            try:
                return self._go(base, settings, strokes)
            except BaseException:  # given up half-way: what is remembered is of no use
                self._base = self._canvas = self._run = None
                raise

    def _go(self, base: Floats, settings: Settings, strokes: Sequence[Stroke]) -> tuple[Floats, int]:
        known = len(self._strokes)
        same = self._canvas is not None and self._base is base and self._settings == settings and 0 < known <= len(strokes) \
            and all(a.goes_on(b) and b.goes_on(a) for a, b in zip(self._strokes[:-1], strokes, strict=False))
        if not same:
            self._base, self._settings, self._strokes, self._missed, self._run = base, settings, [], 0, None
            self._canvas = _Canvas(base, self.ground)
            known = 0
        canvas = self._canvas
        assert canvas is not None
        if known and self._run is not None:
            if not self._strokes[-1].goes_on(strokes[known - 1]):
                canvas.restore(self._run.start)
                self._run = _Run(canvas, settings)
            self._run.go(strokes[known - 1])
        for stroke in strokes[known:]:
            self._missed += self._run.missed if self._run is not None else 0
            self._run = _Run(canvas, settings)
            self._run.go(stroke)
        self._strokes = list(strokes)
        return canvas.points.copy(), self._missed + (self._run.missed if self._run is not None else 0)
