"""Tools that work on at each sample of a stroke."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from ...mesh.geometry import unit, vertex_normals
from ...mesh.mesh import Floats
from ...mesh.topology import Ints
from .canvas import Canvas, Normals

#: how much of the way to the middle of the stroke full strength pinches at a sample
_PINCH = 0.3


@dataclass(frozen=True, eq=False)
class Dab:
    """What a tool sees at one sample: the place, the vertices in reach and their weights, normals as the stroke began."""

    canvas: Canvas
    normals: Normals
    at: Floats
    vertices: Ints
    weight: Floats

    @property
    def points(self) -> Floats:
        """(n, 3) as they are now."""
        return self.canvas.points[self.vertices]

    @cached_property
    def mean_normal(self) -> Floats:
        """(3,) of the surface in reach, by weight."""
        out: Floats = unit((self.normals.of(self.vertices) * self.weight[:, None]).sum(axis=0)[None])[0]
        return out


def without_normal(vectors: Floats, normals: Floats) -> Floats:
    """(n, 3) vectors without what of them runs along normals."""
    out: Floats = vectors - (vectors * normals).sum(axis=1)[:, None] * normals
    return out


def _smooth(dab: Dab) -> Floats:
    out: Floats = dab.canvas.ground.towards_neighbours(dab.canvas.points, dab.vertices)
    return out


def _relax(dab: Dab) -> Floats:
    """Along the surface alone, so that what it encloses stays."""
    return without_normal(_smooth(dab), vertex_normals(dab.canvas.points, dab.canvas.ground.topology, dab.vertices))


def _pinch(dab: Dab) -> Floats:
    return _PINCH * without_normal(dab.at - dab.points, np.broadcast_to(dab.mean_normal, dab.points.shape))


def _flatten(dab: Dab) -> Floats:
    middle = np.average(dab.points, axis=0, weights=np.maximum(dab.weight, 1e-12))
    out: Floats = -((dab.points - middle) @ dab.mean_normal)[:, None] * dab.mean_normal
    return out


#: tools that go by normals as the stroke began
BY_START = ("pinch", "flatten")
#: (n, 3) the way vertices go at full strength and weight
DABS: dict[str, Callable[[Dab], Floats]] = {"smooth": _smooth, "relax": _relax, "pinch": _pinch, "flatten": _flatten}
