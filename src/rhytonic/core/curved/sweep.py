"""Sweep: an outline carried along the curve."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from ..construct.skin import skin
from ..curve.curve import Curve
from ..curve.section import Section, of_circle, of_curve, of_rectangle
from ..curve.stations import Stations, stations_of
from ..errors import BadParameter, StepError
from ..mesh.geometry import lengths
from ..mesh.mesh import Floats, Mesh
from ..mesh.names import Ids, no_parents
from ..mesh.topology import Bools, Ints, Topology
from ..params import Angle, Flag, Length, NonNegativeRatio, PartName, PositiveLength, Quantity, Ratios, Sides, Strict
from ..pick.resolve import Picked
from ..step.draft import Born, Draft
from ..step.facts import Offer
from ..step.kind import Context, Remark, Step, StepKind
from ..step.operand import Need


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
    roles = ("side", "cap")
    numbers = frozenset({"offset", "turn", "twist", "scale", "up"})
    proposal = (Offer("profile", of_size=0.05, key="circle"),)
    summary = ("profile",)

    def needs(self, p: Sweep) -> tuple[Need, ...]:
        return (Need(p.profile),) if isinstance(p.profile, str) else ()

    def depends_on(self, p: Sweep, context: Context) -> list[str]:
        section = self._section(p, context)
        return [s.pattern.hex() + _collapsing(s, section, p).tobytes().hex() for s in self._stations(p, context)]

    def estimate(self, p: Sweep, topology: Topology, picked: Picked | None, context: Context) -> tuple[int, str]:
        rows = sum(s.point.size for s in self._stations(p, context))
        return rows * len(self._section(p, context).flat), "profile"

    def plan(self, p: Sweep, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        section, curve = self._section(p, context), _curve(context)
        count, made, sides, corners, named = 0, [], [], [], []
        caps: list[tuple[Ints, int, int]] = []
        for run, stations in enumerate(self._stations(p, context)):
            grid = _grid(stations, _collapsing(stations, section, p), count)
            count += grid.made.sum()
            rows, columns = np.ones(stations.point.size, bool), np.ones(len(section.flat), bool)
            rows[-1], columns[-1] = stations.closed, section.closed
            face_sides, face_corners, cells = skin(grid.vertex, rows, columns)
            sides.append(face_sides)
            corners.append(face_corners)
            named.append(_named(stations, section, curve, cells))
            r, m = np.nonzero(grid.made)
            made.append(_named(stations, section, curve, np.stack([r, m], axis=1)))
            if p.cap and section.closed and not stations.closed:
                caps += [(grid.vertex[0, ::-1], run, 0), (grid.vertex[-1], run, 1)]
        side_count = sum(s.size for s in sides)
        for loop, _, _ in caps:
            sides.append(np.array([loop.size]))
            corners.append(loop)
        offsets = np.concatenate([[0], np.cumsum(np.concatenate(sides))])
        topology = Topology.of(int(count), offsets, np.concatenate(corners))
        ends = np.array([[run, end] for _, run, end in caps], np.int64).reshape(-1, 2)
        vertex_parents, vertex_index = (np.concatenate(c) for c in zip(*made, strict=True))
        face_parents, face_index = (np.concatenate(c) for c in zip(*named, strict=True))
        born = (Born("vertex", "side", np.arange(int(count)), vertex_parents, ("vertex", "vertex"), vertex_index),
                Born("face", "side", np.arange(side_count), face_parents, ("vertex", "vertex"), face_index),
                Born("face", "cap", side_count + np.arange(len(caps)), no_parents(len(caps)), (), ends))
        new_v, new_f = np.full(int(count), -1), np.full(topology.face_count, -1)
        return Draft(topology, new_v, new_f, new_v, new_f, np.full(topology.corner_count, -1), born)

    def positions(self, p: Sweep, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        section = self._section(p, context)
        out = []
        for stations in self._stations(p, context):
            grid = _grid(stations, _collapsing(stations, section, p), 0)
            out.append(stations.sections(section.flat, np.radians(p.twist), p.scale)[grid.made])
        return np.concatenate(out)

    def remarks(self, p: Sweep, draft: Draft, mesh: Mesh, made: Mesh) -> tuple[Remark, ...]:
        """Where a corner is narrower than the profile, its inner side runs backwards."""
        t = made.topology
        quads = np.flatnonzero(t.sides == 4)
        corner = t.offsets[quads, None] + np.arange(4)
        a, b, c, d = made.points[t.corners[corner.T]]
        one, other = d - a, c - b
        back = np.flatnonzero(np.einsum("ij,ij->i", one, other) < 0)
        if not back.size:
            return ()
        worst = back[np.argmax(lengths(one[back]) + lengths(other[back]))]
        place = (a[worst] + b[worst] + c[worst] + d[worst]) / 4
        return (Remark("a corner near {point} is narrower than the profile, which crosses itself there; use round corners, "
                       "a wider corner or a smaller profile", 0.0, tuple(place.tolist())),)

    def _section(self, p: Sweep, context: Context) -> Section:
        if isinstance(p.profile, RoundProfile):
            section = of_circle(p.profile.circle, p.profile.sides)
        elif isinstance(p.profile, SquareProfile):
            section = of_rectangle(*p.profile.rectangle)
        else:
            found = context.operand(Need(p.profile))
            if found.untouched_curve is None:
                raise BadParameter(f"part '{found.name}' has faces; a profile is a part that ends as a curve", "profile")
            runs = found.untouched_curve.wires.closed.size
            if runs != 1:
                raise BadParameter(f"part '{found.name}' has {runs} outlines; a sweep takes one", "profile")
            section = of_curve(found.untouched_curve)
            if len(section.flat) < 2 or not np.ptp(section.flat, axis=0).any():
                raise BadParameter(f"part '{found.name}' has no extent in x and y, in which a profile is read; "
                                   "draw it there, or turn it", "profile")
        return section.placed(p.offset, p.turn, p.mirrored)

    def _stations(self, p: Sweep, context: Context) -> list[Stations]:
        curve = _curve(context)
        out = [stations_of(curve, run, p.corners, p.up) for run in range(curve.wires.closed.size)]
        if any(s.closed for s in out):
            if p.scale[0] != p.scale[1]:
                raise BadParameter("the path is closed, so that both ends of the sweep are one; give scale the same number "
                                   "twice", "scale")
            if p.twist % 360:
                raise BadParameter("the path is closed; twist it by whole turns of 360 degrees", "twist")
        return out


def _curve(context: Context) -> Curve:
    if context.curve is None:
        raise StepError("needs a curve above it")
    return context.curve


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


def _named(stations: Stations, section: Section, curve: Curve, cells: Ints) -> tuple[Ids, Ints]:
    """Parents and index of what stands at rows and columns: points of path and profile, and the shares of their spans."""
    r, m = cells.T
    parents = np.stack([curve.ids[stations.name[r, 0]], section.ids[m]], axis=1)
    index = np.concatenate([stations.name[r, 1:], section.fraction[m], stations.turned[r, :1]], axis=1)
    return parents, index
