"""Sweep: an outline carried along the curve."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from ..construct.caps.flat import Closed, caps_of, closed_by
from ..construct.skin.sections import Cap, Naming, Sheet, lengths_on, runs_back, skinned
from ..curve.curve import Curve, Polyline
from ..curve.nest import nested
from ..curve.section import Section, of_circle, of_curve, of_rectangle
from ..curve.self_crossing import crossing_place
from ..curve.stations import Stations, stations_of
from ..errors import BadParameter
from ..mesh.attributes import Attribute
from ..mesh.geometry import lengths
from ..mesh.mesh import Floats, Mesh
from ..mesh.names import Ids
from ..mesh.topology import Bools, Ints, Topology
from ..params import Angle, Flag, Length, NonNegativeRatio, PartName, PositiveLength, Quantity, Ratios, Sides, Strict
from ..pick.resolve import Picked
from ..step.draft import Draft
from ..step.facts import Offer
from ..step.kind import Context, Remark, Step, StepKind
from ..step.operand import Need
from .common import the_curve


class RoundProfile(Strict):
    """A regular polygon about the path."""

    circle: PositiveLength
    sides: Sides = 12


class SquareProfile(Strict):
    """A rectangle about the path."""

    rectangle: tuple[PositiveLength, PositiveLength]


class Sweep(Step):
    kind: Literal["sweep"]
    profile: Annotated[PartName | RoundProfile | SquareProfile, Quantity("profile")]
    offset: tuple[Length, Length] = (0.0, 0.0)
    turn: Angle = 0.0
    mirrored: Flag = False
    twist: Angle = 0.0
    scale: tuple[Annotated[NonNegativeRatio, Field(gt=0)], Annotated[NonNegativeRatio, Field(gt=0)]] = (1.0, 1.0)
    corners: Literal["mitre", "round"] = "mitre"
    cap: Flag = True
    up: Ratios | None = None


@dataclass(frozen=True, eq=False)
class _Grid:
    """A run's rows and columns of vertices, numbered in the result."""

    vertex: Ints
    made: Bools


class SweepKind(StepKind[Sweep]):
    """The profile's +z runs along the path and its +y towards ``up``. Sections stand in the plane that halves each corner,
    so that every straight stretch has the profile's own cross-section."""

    word, title, model = "sweep", "Sweep", Sweep
    curve_role = "ends"
    on_faces = False
    roles = ("side", "cap")
    numbers = frozenset({"offset", "turn", "twist", "scale", "up"})
    proposal = (Offer("profile", of_size=0.05, key="circle"),)
    summary = ("profile",)

    def needs(self, p: Sweep) -> tuple[Need, ...]:
        return (Need(p.profile),) if isinstance(p.profile, str) else ()

    def depends_on(self, p: Sweep, context: Context) -> list[str]:
        sections = self._sections(p, context)
        told = [s.pattern.hex() + _collapsing(s, section, p).tobytes().hex()
                for s in self._stations(p, context) for section in sections]
        return told + [c.pattern for c in _closing(sections)] if len(sections) > 1 else told

    def estimate(self, p: Sweep, topology: Topology, picked: Picked | None, context: Context) -> tuple[int, str]:
        rows = sum(s.point.size for s in self._stations(p, context))
        return rows * sum(len(s.flat) for s in self._sections(p, context)), "profile"

    def plan(self, p: Sweep, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        sections, curve = self._sections(p, context), the_curve(context)
        count, sheets, caps = 0, [], []
        for run, stations in enumerate(self._stations(p, context)):
            grids = []
            for section in sections:
                grid = _grid(stations, _collapsing(stations, section, p), count)
                count += int(grid.made.sum())
                rows, columns = np.ones(stations.point.size, bool), np.ones(len(section.flat), bool)
                rows[-1], columns[-1] = stations.closed, section.closed
                naming = _naming(stations, section, curve)
                sheets.append(Sheet(grid.vertex, grid.made, rows, columns, False, naming, naming))
                grids.append(grid)
            if p.cap and not stations.closed:
                caps += _caps(sections, grids, run)
        return skinned(sheets, caps)

    def positions(self, p: Sweep, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        out = []
        for stations in self._stations(p, context):
            for section in self._sections(p, context):
                grid = _grid(stations, _collapsing(stations, section, p), 0)
                out.append(stations.sections(section.flat, np.radians(p.twist), p.scale)[grid.made])
        return np.concatenate(out)

    def set_by_points(self, p: Sweep, draft: Draft, made: Mesh, context: Context) -> dict[str, Attribute]:
        along, around = [], []
        for stations in self._stations(p, context):
            for section in self._sections(p, context):
                f = stations.frames
                along.append(np.append(f.along[stations.point], f.length))
                way = np.roll(section.flat, -1, axis=0) - section.flat
                around.append(np.concatenate([[0.0], np.cumsum(np.hypot(way[:, 0], way[:, 1]))]))
        return lengths_on(draft, made.points, along, around)

    def remarks(self, p: Sweep, draft: Draft, mesh: Mesh, made: Mesh, context: Context) -> tuple[Remark, ...]:
        """Where a corner is narrower than the profile, its inner side runs backwards; one that crosses itself has no
        inside."""
        if crossing_place([s.flat for s in self._sections(p, context) if s.closed]) is not None:
            return (Remark("the profile crosses itself, so that what is swept has no inside there; move its points apart"),)
        if not runs_back(draft, made.points):
            return ()
        t = made.topology
        quads = np.flatnonzero(t.sides == 4)
        corner = t.corners[t.offsets[quads, None] + np.arange(4)]
        ways = [made.points[:, k].take(corner[:, [3, 2]]) - made.points[:, k].take(corner[:, [0, 1]]) for k in range(3)]
        back = np.flatnonzero(sum(w[:, 0] * w[:, 1] for w in ways) < 0)
        if not back.size:
            return ()
        a, b, c, d = made.points[corner.T]
        one, other = d - a, c - b
        worst = back[np.argmax(lengths(one[back]) + lengths(other[back]))]
        place = (a[worst] + b[worst] + c[worst] + d[worst]) / 4
        return (Remark("a corner near {point} is narrower than the profile, which crosses itself there; use round corners, "
                       "a wider corner or a smaller profile", 0.0, tuple(place.tolist())),)

    def _sections(self, p: Sweep, context: Context) -> tuple[Section, ...]:
        if isinstance(p.profile, RoundProfile):
            sections: tuple[Section, ...] = (of_circle(p.profile.circle, p.profile.sides),)
        elif isinstance(p.profile, SquareProfile):
            sections = (of_rectangle(*p.profile.rectangle),)
        else:
            found = context.operand(Need(p.profile))
            if found.untouched_curve is None:
                raise BadParameter(f"part '{found.name}' has faces; a profile is a part that ends as a curve", "profile")
            sections = of_curve(found.untouched_curve)
            if any(len(q.flat) < 2 or not np.ptp(q.flat, axis=0).any() for q in sections):
                raise BadParameter(f"part '{found.name}' has no extent in x and y, in which a profile is read; "
                                   "draw it there, or turn it", "profile")
        return tuple(q.placed(p.offset, p.turn, p.mirrored) for q in sections)

    def _stations(self, p: Sweep, context: Context) -> list[Stations]:
        curve = the_curve(context)
        out = [stations_of(curve, run, p.corners, p.up) for run in range(curve.wires.closed.size)]
        if any(s.closed for s in out):
            if p.scale[0] != p.scale[1]:
                raise BadParameter("the path is closed, so that both ends of the sweep are one; give scale the same number "
                                   "twice", "scale")
            if p.twist % 360:
                raise BadParameter("the path is closed; twist it by whole turns of 360 degrees", "twist")
        return out


def _collapsing(stations: Stations, section: Section, p: Sweep) -> Bools:
    """(R, M) rows about a round corner at which an outline's point stays where the row before it has it: the inner side."""
    out = np.zeros((stations.point.size, len(section.flat)), bool)
    rows = np.flatnonzero(stations.turned[:, 0])
    if rows.size:
        first = rows - stations.turned[rows, 0]
        apart = stations.sections(section.flat, np.radians(p.twist), p.scale)
        out[rows] = np.abs(apart[rows] - apart[first]).max(axis=2) == 0.0
    return out


def _grid(stations: Stations, collapsing: Bools, start: int) -> _Grid:
    made = ~collapsing
    number = start + np.cumsum(made.ravel()).reshape(made.shape) - 1
    first = np.arange(stations.point.size) - stations.turned[:, 0]
    return _Grid(np.where(made, number, number[first]), made)


def _naming(stations: Stations, section: Section, curve: Curve) -> Naming:
    """Parents and index of what stands at rows and columns: points of path and profile, and the shares of their spans."""
    def naming(cells: Ints) -> tuple[Ids, Ints]:
        r, m = cells.T
        parents = np.stack([curve.ids[stations.name[r, 0]], section.ids[m]], axis=1)
        return parents, np.concatenate([stations.name[r, 1:], section.fraction[m], stations.turned[r, :1]], axis=1)

    return naming


def _caps(sections: tuple[Section, ...], grids: list[_Grid], run: int) -> list[Cap]:
    """What closes both ends of a run: one face where the profile is one outline, several round its holes."""
    if len(sections) == 1:
        if not sections[0].closed:
            return []
        loops = (grids[0].vertex[0, ::-1], grids[0].vertex[-1])
        return [Cap(loop, np.zeros(0, np.uint64), np.array([run, end])) for end, loop in enumerate(loops)]
    line, out = _as_line(sections), []
    for closed in _closing(sections):
        for end, row in ((0, 0), (1, -1)):
            vertex = np.concatenate([g.vertex[row] for g in grids])
            out += caps_of(closed, vertex, 0, end == 0, line, 2 * run + end)
    return out


@lru_cache(64)
def _closing(sections: tuple[Section, ...]) -> tuple[Closed, ...]:
    """Faces over a profile of several outlines."""
    rings = [s.flat for s in sections if s.closed]
    return closed_by(_as_line(sections), nested(rings), np.array([0.0, 0.0, 1.0]), "ngon") if rings else ()


def _as_line(sections: tuple[Section, ...]) -> Polyline:
    flat = np.concatenate([s.flat for s in sections])
    fraction = np.concatenate([s.fraction for s in sections])
    offsets = np.concatenate([[0], np.cumsum([len(s.flat) for s in sections])])
    return Polyline(np.pad(flat, ((0, 0), (0, 1))), offsets, np.array([s.closed for s in sections]),
                    np.arange(len(flat)), fraction[:, 0], np.concatenate([s.ids for s in sections]), fraction[:, 1])
