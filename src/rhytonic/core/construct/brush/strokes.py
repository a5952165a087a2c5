"""Strokes of a brush over a surface."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from threading import Lock
from typing import Literal

import numpy as np

from ...mesh.mesh import Floats
from ...mesh.topology import Ints
from ...step.draft import Roomy
from ...waiting import check
from ..falloff import soft_weight
from .canvas import Canvas, Ground, Normals
from .dabs import BY_START, DABS, Dab
from .layers import LAYERS, Layer, with_image

Tool = Literal["grab", "smooth", "relax", "inflate", "pinch", "flatten", "groove"]
#: so many lines of a stroke are gone along at once, and so many pairs of a line and a vertex at most
_AT_ONCE = 100
_MOST_PAIRS = 2_000_000


@dataclass(frozen=True)
class Settings:
    """What all strokes of a step share; ``radius`` in metres, ``mirror`` an axis or None."""

    tool: Tool
    radius: float
    strength: float
    fullness: float
    mirror: int | None


@dataclass(frozen=True, eq=False)
class StrokeSamples:
    """Samples (n, 4) of place in metres and pressure, and how far a grab goes (3,)."""

    samples: Floats
    move: Floats

    def goes_on(self, later: StrokeSamples) -> bool:
        """Whether a later stroke is this one, drawn further."""
        n = len(self.samples)
        return bool((self.move == later.move).all() and n <= len(later.samples) and
                    (self.samples == later.samples[:n]).all())


class _Run:
    """One stroke under way: where the points were as it began, and how far it is drawn."""

    def __init__(self, canvas: Canvas, settings: Settings) -> None:
        canvas.settle(settings.radius)
        self.start = canvas.points.copy()
        self.done = self.missed = 0
        self._canvas, self._settings = canvas, settings
        self._normals = Normals(self.start, canvas.ground.topology)
        s = settings
        self._layer = Layer(canvas, self._normals, s.tool, s.radius, s.strength, s.fullness) if s.tool in LAYERS else None

    def go(self, stroke: StrokeSamples) -> None:
        """As far as the stroke is drawn."""
        samples = stroke.samples
        if self._settings.tool == "grab":
            if not self.done:
                self._grab(samples[0, :3], stroke.move)
        elif self._layer is not None:
            some = min(max(_MOST_PAIRS // max(len(self.start), 1), 1), _AT_ONCE)
            for first in range(self.done, len(samples), some):
                check()
                self._lay(self._layer, samples, first, min(first + some, len(samples)))
        else:
            if self._settings.tool in BY_START and len(samples) - self.done > 1:
                places = np.concatenate([place for (place,) in self._images(samples[self.done:, :3])])
                self._normals.of(self._canvas.about(places, self._settings.radius))  # all at once, not sample by sample
            for sample in samples[self.done:]:
                check()
                self._dab(sample[:3], float(sample[3]))
        self.done = len(samples)

    def _images(self, *places: Floats) -> list[tuple[Floats, ...]]:
        """Places or ways as they are and, with a mirror, as they are in it."""
        out: list[tuple[Floats, ...]] = [places]
        if self._settings.mirror is not None:
            sign = np.ones(3)
            sign[self._settings.mirror] = -1.0
            out.append(tuple(p * sign for p in places))
        return out

    def _lay(self, layer: Layer, samples: Floats, first: int, end: int) -> None:
        places = samples[max(first - 1, 0):end, :3]
        begin = places[:-1] if first else np.concatenate([places[:1], places[:-1]])
        ends = self._images(begin, places[-len(begin):])
        self.missed += layer.lay([(a, b) for a, b in ends], samples[first:end, 3])

    def _grab(self, at: Floats, move: Floats) -> None:
        share = min(1.0, 2 * self._settings.strength)
        self._apply([(*self._reached(place, 1.0), share * way) for place, way in self._images(at, move)])

    def _dab(self, at: Floats, pressure: float) -> None:
        s = self._settings
        self._canvas.settle(s.radius)
        found = []
        for (place,) in self._images(at):
            vertices, weight = self._reached(place, pressure)
            dab = Dab(self._canvas, self._normals, place, vertices, weight)
            found.append((vertices, weight, s.strength * DABS[s.tool](dab) if vertices.size else np.zeros((0, 3))))
        self._apply(found)

    def _reached(self, at: Floats, pressure: float) -> tuple[Ints, Floats]:
        vertices, off = self._canvas.near(at, self._settings.radius)
        return vertices, soft_weight(off / self._settings.radius, self._settings.fullness) * pressure

    def _apply(self, found: list[tuple[Ints, Floats, Floats]]) -> None:
        """Move what was reached, from the place and from its mirror image."""
        if not any(vertices.size for vertices, _, _ in found):
            self.missed += 1
            return
        (vertices, weight, along), *image = ((v, w, np.broadcast_to(a, (v.size, 3))) for v, w, a in found)
        if image:
            vertices, weight, along = with_image(vertices, weight, along, *image[0])
        moves = self._canvas.ground.free[vertices] & (weight > 0)
        self._canvas.move(vertices[moves], weight[moves, None] * along[moves])


#: bytes for each vertex: points and where they were, the finder, weights and normals of a stroke
_HELD = 250


@dataclass
class Replay(Roomy):
    """Strokes over one mesh, gone through from the first; where the next call asks for the same ones drawn further, as a
    stroke under the pointer does, only what is new is gone through."""

    ground: Ground
    _lock: Lock = field(default_factory=Lock)
    _base: Floats | None = None
    _settings: Settings | None = None
    _strokes: list[StrokeSamples] = field(default_factory=list)
    _canvas: Canvas | None = None
    _run: _Run | None = None
    _missed: int = 0

    def __post_init__(self) -> None:
        self.room = _HELD * self.ground.topology.vertex_count

    def points(self, base: Floats, settings: Settings, strokes: Sequence[StrokeSamples]) -> tuple[Floats, int]:
        """(V, 3) points after all strokes, and how many samples found nothing in reach."""
        with self._lock:
            try:
                return self._go(base, settings, strokes)
            except BaseException:  # given up half-way: what is remembered is of no use
                self._base = self._canvas = self._run = None
                raise

    def _go(self, base: Floats, settings: Settings, strokes: Sequence[StrokeSamples]) -> tuple[Floats, int]:
        known = len(self._strokes)
        same = self._canvas is not None and self._base is base and self._settings == settings and 0 < known <= len(strokes) \
            and all(a.goes_on(b) and b.goes_on(a) for a, b in zip(self._strokes[:-1], strokes, strict=False))
        if not same:
            self._base, self._settings, self._strokes, self._missed, self._run = base, settings, [], 0, None
            self._canvas = Canvas(base, self.ground)
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
