"""Move, turn, scale and turn over what lies on the texture square."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from ..construct.charts.arranged import boxes, turned_by
from ..mesh.attributes import Attribute
from ..mesh.mesh import Floats, Mesh
from ..mesh.topology import Ints
from ..mesh.uv import Flat, islands_of, resolution
from ..params import Angle, Quantity, Ratio
from ..step.draft import Draft
from ..step.facts import Offer
from ..step.kind import Context
from .common import LayoutKind, LaysOut, laid, needed_places

Pair = tuple[Ratio, Ratio]


class UvTransform(LaysOut):
    kind: Literal["uv_transform"]
    move: Pair = (0.0, 0.0)
    turn: Angle = 0.0
    scale: Pair = (1.0, 1.0)
    flip: Literal["none", "u", "v"] = "none"
    about: Literal["island"] | Pair = "island"
    align: Literal["none", "left", "centre", "right", "bottom", "middle", "top"] = \
        Field(default="none", description="bring the boxes of several islands into line")
    density: Annotated[float, Field(strict=True, allow_inf_nan=False, gt=0, le=1e6), Quantity("ratio")] | Literal["own"] = \
        Field(default="own", description="pixels to the centimetre of each island at the resolution packed for")


#: along which axis, and by which place of the box, from its lower end
_ALIGNS = {"left": (0, 0.0), "centre": (0, 0.5), "right": (0, 1.0), "bottom": (1, 0.0), "middle": (1, 0.5), "top": (1, 1.0)}


class UvTransformKind(LayoutKind[UvTransform]):
    """Picked faces are turned over, scaled, turned counter-clockwise, then moved, about the middle of each island's box or
    about one place of the square. Before that ``density`` brings each island to so many pixels to the centimetre about its
    own middle, and after it ``align`` sets their boxes in line: by the side of the outermost, or the middle of them all."""

    word, title, model = "uv_transform", "Move on the square", UvTransform
    numbers = frozenset({"move", "turn", "scale", "flip", "about", "align", "density"})
    follows = frozenset({"density"})
    proposal = (Offer("turn", 90.0),)
    typed = "turn"

    def set_by_points(self, p: UvTransform, draft: Draft, made: Mesh, context: Context) -> dict[str, Attribute]:
        faces, t = draft.data, made.topology
        uv = needed_places(made, faces)
        corners = t.corners_of(faces)
        mine = np.full(t.face_count, -1)
        mine[faces] = np.unique(islands_of(made, uv)[faces], return_inverse=True)[1].ravel()
        of = mine[t.corner_face[corners]]
        low, high = boxes(uv, mine[t.corner_face])
        middle = ((low + high) / 2)[of]
        if p.density != "own":
            grow = 100 * p.density / resolution(made) / _densities(Flat.of(made, uv), mine)
            uv[corners] = (uv[corners] - middle) * grow[of][:, None] + middle
        about = middle if p.about == "island" else np.array(p.about)
        out = (uv[corners] - about) * [-1.0 if p.flip == "u" else 1.0, -1.0 if p.flip == "v" else 1.0] * np.array(p.scale)
        uv[corners] = turned_by(out, np.radians(p.turn)) + about
        if p.align != "none":
            low, high = boxes(uv, mine[t.corner_face])
            uv[corners] += _into_line(low, high, p.align)[of]
        uv[corners] += np.array(p.move)
        return laid(made, faces, uv)


def _densities(flat: Flat, island: Ints) -> Floats:
    """(n,) squares a metre of each island; 1 for those without a size here or there."""
    there = flat.face_areas[island >= 0]
    here = np.abs(flat.face_signed[island >= 0])
    of = island[island >= 0]
    model, square = np.bincount(of, there), np.bincount(of, here)
    good = (model > 0) & (square > 0)
    out: Floats = np.where(good, np.sqrt(np.where(good, square, 1) / np.where(good, model, 1)), 1.0)
    return out


def _into_line(low: Floats, high: Floats, align: str) -> Floats:
    """(n, 2) by how much islands with boxes from ``low`` to ``high`` (n, 2) go to stand in line."""
    axis, place = _ALIGNS[align]
    out = np.zeros_like(low)
    here = low[:, axis] * (1 - place) + high[:, axis] * place
    out[:, axis] = low[:, axis].min() * (1 - place) + high[:, axis].max() * place - here
    return out
