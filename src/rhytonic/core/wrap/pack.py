"""Pack: put islands beside each other into the square, all at one density."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field, model_validator

from ..construct.charts.alike import at_one_density, outlines_of
from ..construct.charts.held import Held, found_again, set_down
from ..construct.charts.packed import NOTHING, pack, rest_of_square
from ..errors import StepError, no_more_than
from ..mesh.attributes import Attribute
from ..mesh.mesh import Floats, Mesh
from ..mesh.topology import Bools, Ints
from ..mesh.uv import RESOLUTION, islands_of, joined
from ..params import Flag, Quantity, Ratio, Strict
from ..pick.rules import HexId, Pick
from ..step.draft import Draft
from ..step.kind import Context
from .common import LayoutKind, LaysOut, laid, needed_places

_Side = Annotated[float, Field(strict=True, allow_inf_nan=False, ge=0, le=1), Quantity("ratio")]
Area = tuple[_Side, _Side, _Side, _Side]


class HeldPlace(Strict):
    """Where the island of a face stands: the lower left of its box, after quarter turns."""

    face: HexId
    at: tuple[Ratio, Ratio]
    quarter: Annotated[int, Field(strict=True, ge=0, le=3)] = 0


class Pack(LaysOut):
    kind: Literal["pack"]
    pick: Pick | None = Field(default=None, description="faces whose islands are packed; all of them where left out")
    resolution: Annotated[int, Field(strict=True, ge=16, le=32768), Quantity("count")] = 2048
    margin: Annotated[float, Field(strict=True, allow_inf_nan=False, ge=0, le=1024), Quantity("ratio")] = 8.0
    density: Annotated[float, Field(strict=True, allow_inf_nan=False, gt=0, le=1e6), Quantity("ratio")] | Literal["fit"] = \
        Field(default="fit", description="pixels to the centimetre, or the largest that fits")
    turn: Flag = True
    hold: Pick | None = Field(default=None, description="faces whose islands stay where they are")
    places: Annotated[list[HeldPlace], Field(max_length=100_000)] = \
        Field(default=[], description="where islands go, each told by one of its faces; all others go round them")
    area: Area | None = Field(default=None, description="the part of the square that islands are packed into, its lower "
                              "left and its size; other parts may have the rest")

    @model_validator(mode="after")
    def _held_at_one_size(self) -> Pack:
        if self.places and self.density == "fit":
            raise ValueError("islands are held at places at one density; give density a number beside places")
        if self.area is not None and (min(self.area[2:]) <= 0 or self.area[0] + self.area[2] > 1 + 1e-9
                                      or self.area[1] + self.area[3] > 1 + 1e-9):
            raise ValueError("area lies within the square and has a size: [left, below, width, height], each 0 to 1")
        return self


class PackKind(LayoutKind[Pack]):
    """Islands are brought to one density and set beside each other, ``margin`` pixels apart and from the rim at
    ``resolution``; with ``turn`` by quarter turns. Islands of ``hold`` stay where they are and those of ``places`` come to
    where they were packed once; the others go round them, within ``area``."""

    word, title, model = "pack", "Pack", Pack
    numbers = frozenset({"resolution", "margin", "density", "turn", "places", "area"})
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
        moved = going.copy()
        wanted = None if p.density == "fit" else 100 * p.density / p.resolution
        metres, number = at_one_density(made, uv, island, going)
        if p.places and wanted is not None and going.any():
            back = _put_back(p, made, uv, metres, number, wanted)
            stay |= back
            going &= ~back
            metres, number = at_one_density(made, uv, island, going)
        margin = p.margin / p.resolution
        if margin >= 0.4:
            raise StepError(f"a margin of {p.margin:g} pixels leaves no room at {p.resolution}", "margin")
        outlines = outlines_of(made, metres, number, edge)
        there = NOTHING if not stay.any() else outlines_of(made, uv, np.where(stay, 0, -1), edge)
        if p.area is not None:
            there = there.beside(rest_of_square(*p.area))
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
        set_down(uv, metres, number[t.corner_face], found.scale, found.quarter, found.corner)
        density = np.full(t.face_count, float(p.resolution))
        return laid(made, np.flatnonzero(moved), uv) | {RESOLUTION: Attribute("face", density)}


def _put_back(p: Pack, mesh: Mesh, uv: Floats, metres: Floats, number: Ints, scale: float) -> Bools:
    """(F,) faces of islands that are held at places, which are written into ``uv``."""
    held = found_again(mesh, number, [Held(h.face, h.at, h.quarter) for h in p.places])
    back: Bools = (number >= 0) & np.array([h is not None for h in held], bool)[number]
    set_down(uv, metres, np.where(back, number, -1)[mesh.topology.corner_face], scale,
             np.array([0 if h is None else h.quarter for h in held], np.int64),
             np.array([(0.0, 0.0) if h is None else h.at for h in held]))
    return back
