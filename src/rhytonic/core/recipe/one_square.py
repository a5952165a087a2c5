"""Several parts on one texture square: each has its own portion of it, all at one density."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..construct.charts.held import held_places
from ..construct.charts.portions import Rectangle, portions
from ..errors import StepError
from ..mesh.mesh import EMPTY, Mesh
from ..mesh.uv import Flat, uvs, world_sized
from ..wrap.pack import Pack
from .document import Document
from .evaluate import Evaluator
from .part import Part

#: what a density gives way by where a part does not fit into its portion at it after all, and how often
_LESS, _TIMES = 0.98, 12


@dataclass(frozen=True)
class Portion:
    """How one part is packed: ``step`` is the step that does so already, else None; ``area`` its part of the square."""

    part: str
    step: str | None
    area: Rectangle
    density: float


@dataclass(frozen=True)
class _Packing:
    """A part up to where it is packed, the mesh there, and how."""

    part: Part
    mesh: Mesh
    by: Pack

    def at(self, area: Rectangle, density: float | None) -> Part:
        """The part, packed into an area at a density in pixels to the centimetre, or as large as fits."""
        step = self.by.model_copy(update={"area": area, "density": density or "fit", "places": []})
        return self.part.model_copy(update={"steps": [*self.part.steps, step], "mark": None})


def share_square(document: Document, parts: Sequence[Part], evaluator: Evaluator, resolution: int,
                 margin: float) -> list[Portion]:
    """Packs for ``parts`` so that all lie on one square, none over another, at one density.

    Raises:
        StepError: a part is not laid out yet, or does not fit into its portion with this margin.
    """
    packings = [_packing(document, part, evaluator, resolution, margin) for part in parts]
    areas = portions(np.array([_size(p.mesh) for p in packings]))

    def packed(one: _Packing, area: Rectangle, density: float | None) -> float:
        run = evaluator.run(one.at(area, density), document.unit, within=document)
        return held_places(one.mesh, run.surface.mesh)[0] * resolution / 100

    least = min(packed(p, a, None) for p, a in zip(packings, areas))
    for _ in range(_TIMES):
        try:
            for p, a in zip(packings, areas):
                packed(p, a, least)
            break
        except StepError:
            least *= _LESS
    else:
        raise StepError("the pieces do not fit into portions of one square at one density; make the margin smaller, or the "
                        "resolution larger", "margin")
    return [Portion(one.part.id or "", _packs(part), area, least) for part, one, area in zip(parts, packings, areas)]


def _packs(part: Part) -> str | None:
    """The id of the last step that packs a part."""
    return next((s.id for s in reversed(part.steps) if isinstance(s, Pack) and s.enabled), None)


def _packing(document: Document, part: Part, evaluator: Evaluator, resolution: int, margin: float) -> _Packing:
    last = _packs(part)
    at = part.cage_end() if last is None else next(i for i, s in enumerate(part.steps) if s.id == last)
    start = part.model_copy(update={"steps": part.steps[:at], "mark": None})
    mesh = evaluator.run(start, document.unit, within=document).surface.mesh if at else EMPTY
    if uvs(mesh) is None or not _size(mesh):
        raise StepError(f"{part.name} is not laid out yet; unwrap it, or leave it out", "parts")
    held = None if last is None else part.steps[at]
    by = held if isinstance(held, Pack) else Pack(kind="pack", id="pack-for-the-square")
    return _Packing(start, mesh, by.model_copy(update={"resolution": resolution, "margin": margin}))


def _size(mesh: Mesh) -> float:
    """Square metres of what is laid out and does not repeat the square."""
    uv = uvs(mesh)
    return 0.0 if uv is None else float(Flat.of(mesh, uv).face_areas[~world_sized(mesh)].sum())
