"""Pack: put islands beside each other into the square, all at one density."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from ..construct.charts.arranged import turned_by
from ..construct.charts.packed import NOTHING, Outlines, pack
from ..errors import StepError, no_more_than
from ..mesh.attributes import Attribute
from ..mesh.mesh import Floats, Mesh
from ..mesh.topology import Bools, Ints
from ..mesh.uv import RESOLUTION, Flat, islands_of, joined
from ..params import Flag, Quantity
from ..pick.rules import Pick
from ..step.draft import Draft
from ..step.kind import Context
from .common import LayoutKind, LaysOut, laid, needed_places


class Pack(LaysOut):
    kind: Literal["pack"]
    pick: Pick | None = Field(default=None, description="faces whose islands are packed; all of them where left out")
    resolution: Annotated[int, Field(strict=True, ge=16, le=32768), Quantity("count")] = 2048
    margin: Annotated[float, Field(strict=True, allow_inf_nan=False, ge=0, le=1024), Quantity("ratio")] = 8.0
    density: Annotated[float, Field(strict=True, allow_inf_nan=False, gt=0, le=1e6), Quantity("ratio")] | Literal["fit"] = \
        Field(default="fit", description="pixels to the centimetre, or the largest that fits")
    turn: Flag = True
    hold: Pick | None = Field(default=None, description="faces whose islands stay where they are")


class PackKind(LayoutKind[Pack]):
    """Islands are brought to one density and set beside each other, ``margin`` pixels apart and from the rim at
    ``resolution``; with ``turn`` by quarter turns. Islands of ``hold`` stay where they are, the others go round them."""

    word, title, model = "pack", "Pack", Pack
    numbers = frozenset({"resolution", "margin", "density", "turn"})
    follows = frozenset({"density"})
    typed = "density"
    summary = ("density", "resolution")

    def set_by_points(self, p: Pack, draft: Draft, made: Mesh, context: Context) -> dict[str, Attribute]:
        faces = draft.data
        held = np.zeros(0, np.int64) if p.hold is None else context.find(p.hold).elements
        uv = needed_places(made, faces)
        island = islands_of(made, uv)
        stay = np.isin(island, island[held][island[held] >= 0])
        going = np.zeros(made.topology.face_count, bool)
        going[np.isin(island, np.unique(island[faces]))] = True
        going &= ~stay & (island >= 0)
        edge = ~joined(made, uv)
        metres, number = _at_one_density(made, uv, island, going)
        margin = p.margin / p.resolution
        if margin >= 0.4:
            raise StepError(f"a margin of {p.margin:g} pixels leaves no room at {p.resolution}", "margin")
        outlines = _outlines(made, metres, number, edge)
        there = NOTHING if not stay.any() else _outlines(made, uv, np.where(stay, 0, -1), edge)
        wanted = None if p.density == "fit" else 100 * p.density / p.resolution
        found = pack(outlines, margin, p.turn, there, wanted)
        if found is None:
            largest = None if wanted is None else pack(outlines, margin, p.turn, there)
            if largest is None:
                raise StepError("the islands do not fit with this margin; make it smaller, or the resolution larger",
                                "margin")
            most = no_more_than(largest.scale * p.resolution / 100)
            raise StepError(f"at {p.density:g} pixels to the centimetre the islands do not fit; {most:.6g} does, or a "
                            "larger resolution", "density")
        t = made.topology
        of_corner = number[t.corner_face]
        mine = of_corner >= 0
        out = metres[mine] * found.scale
        quarter = found.quarter[of_corner[mine]]
        for k in range(4):
            out[quarter == k] = turned_by(out[quarter == k], k * np.pi / 2)
        low = np.full((found.quarter.size, 2), np.inf)
        np.minimum.at(low, of_corner[mine], out)
        uv[mine] = out + (found.corner - low)[of_corner[mine]]
        density = np.full(t.face_count, float(p.resolution))
        return laid(made, np.flatnonzero(going), uv) | {RESOLUTION: Attribute("face", density)}


def _at_one_density(mesh: Mesh, uv: Floats, island: Ints, going: Bools) -> tuple[Floats, Ints]:
    """(C, 2) places in metres, as large on the square as on the model, right side out, and (F,) the number of each island
    that is packed, −1 for others."""
    t = mesh.topology
    flat = Flat.of(mesh, uv)
    number = np.full(t.face_count, -1)
    number[going] = np.unique(island[going], return_inverse=True)[1].ravel()
    n = int(number.max(initial=-1)) + 1
    mine = number >= 0
    there = np.bincount(number[mine], flat.face_signed[mine], n)
    size = np.bincount(number[mine], np.abs(flat.face_signed[mine]), n)
    model = np.bincount(number[mine], flat.face_areas[mine], n)
    grow = np.sqrt(np.where(size > 0, model / np.where(size > 0, size, 1), 0))
    out = uv.copy()
    of_corner = number[t.corner_face]
    has = of_corner >= 0
    out[has] *= grow[of_corner[has]][:, None]
    back = has & (there < -0.5 * size)[np.maximum(of_corner, 0)]  # not one that is folded upon its image
    out[back, 0] *= -1  # an island that lay turned over as a whole is turned back
    return out, number


def _outlines(mesh: Mesh, uv: Floats, number: Ints, edge: Bools) -> Outlines:
    """The outlines of the islands that ``number`` (F,) counts."""
    t = mesh.topology
    half = np.flatnonzero(edge & (number[t.corner_face] >= 0))
    half = half[np.argsort(number[t.corner_face[half]], kind="stable")]
    of = number[t.corner_face[half]]
    n = int(number.max(initial=-1)) + 1
    segments = np.concatenate([uv[half], uv[t.next_corner[half]]], axis=1)
    return Outlines(np.ascontiguousarray(segments), np.searchsorted(of, np.arange(n + 1)))
