"""Brush: strokes over the surface."""

from __future__ import annotations

from typing import Annotated, Any, Literal

import numpy as np
from pydantic import AliasChoices, BeforeValidator, Field

from .. import tolerance
from ..construct.brush.canvas import Ground
from ..construct.brush.strokes import Replay, Settings, StrokeSamples
from ..construct.held_plane import HoldPlane
from ..construct.on_surface import SurfacePlaces, places_on, points_at
from ..construct.relaxing.held import on_borders_and_creases
from ..errors import BadParameter
from ..mesh.mesh import Floats, Mesh
from ..mesh.names import from_hex, hex_of
from ..params import Flag, OwnLengths, Point, PositiveLength, Quantity, Share
from ..pick.resolve import Picked
from ..pick.rules import HexId, Pick
from ..step.draft import Draft, unchanged
from ..step.facts import Offer
from ..step.kind import Context, Picking, Remark, StepKind

_Number = Annotated[float, Field(strict=True, allow_inf_nan=False)]
_Corner = Annotated[int, Field(strict=True, ge=0, le=1_000_000)]


#: places on a surface are written down with so many
_DECIMALS = 9


def _pressed(value: Any) -> Any:
    return [*value, 1.0] if isinstance(value, list | tuple) and len(value) == 3 else value


#: x, y, z and pressure; three alone are pressed fully
Sample = Annotated[tuple[_Number, _Number, _Number, Share], BeforeValidator(_pressed)]
#: the face a sample lies on, the corner its triangle begins at, how far towards that and the next, and how high over it
On = tuple[HexId, _Corner, _Number, _Number, _Number]


class BrushStroke(OwnLengths):
    """One stroke: its samples, how far a grab goes, and where on the surface each sample lay when it was drawn."""

    points: Annotated[list[Sample], Field(min_length=1, max_length=20_000)]
    move: Point | None = None
    on: Annotated[list[On | None], Field(max_length=20_000)] | None = None

    def in_metres(self, metres: float) -> BrushStroke:
        """The stroke with its lengths in metres."""
        if metres == 1.0:
            return self
        samples = np.array(self.points) * [metres, metres, metres, 1.0]
        if np.abs(samples[:, :3]).max() > tolerance.LARGEST_LENGTH:
            raise BadParameter(f"a sample lies beyond the largest length, {tolerance.LARGEST_LENGTH / metres:g}", "strokes")
        move = None if self.move is None else tuple(v * metres for v in self.move)
        on = None if self.on is None else [o if o is None else (*o[:4], o[4] * metres) for o in self.on]
        return self.model_copy(update={"points": [tuple(s) for s in samples.tolist()], "move": move, "on": on})


class Brush(Picking):
    kind: Literal["brush"]
    pick: Pick | None = None
    tool: Literal["grab", "smooth", "relax", "inflate", "pinch", "flatten", "groove"]
    radius: PositiveLength
    strength: Annotated[float, Field(strict=True, allow_inf_nan=False, ge=-1, le=1), Quantity("ratio")] = 0.5
    fullness: Share = 0.5
    strokes: Annotated[list[BrushStroke], Field(max_length=2_000)]
    mirror: Literal["none", "x", "y", "z"] = "none"
    hold: Annotated[Flag, Field(validation_alias=AliasChoices("hold", "hold_borders"),
                                description="vertices on borders and creases stay")] = True
    hold_plane: HoldPlane = "none"


class BrushKind(StepKind[Brush]):
    """Samples act one after the other on what lies within ``radius``, by the weights of soft selection. ``smooth``,
    ``relax``, ``pinch`` and ``flatten`` work on at each sample; a stroke of ``inflate`` or ``groove`` lays one layer of
    strength × radius / 2, however slowly it is drawn; ``grab`` takes along what lies round its first sample. A negative
    strength turns the direction round. Samples go with the face they were drawn on, or stay where they were drawn."""

    word, title, model = "brush", "Brush", Brush
    takes = ("faces", "edges", "vertices")
    numbers = frozenset({"tool", "radius", "strength", "fullness", "strokes", "mirror"})
    keeps_pick = True
    proposal = (Offer("tool", "grab"), Offer("radius", of_size=0.15))
    summary = ("tool", "radius", "strength")

    def pick_of(self, p: Brush) -> Pick | None:
        return p.pick

    def plan(self, p: Brush, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        free = np.ones(mesh.topology.vertex_count, bool)
        if picked is not None:
            free[:] = False
            free[picked.vertices(mesh)] = True
        if p.hold:
            free &= ~on_borders_and_creases(mesh)
        return unchanged(mesh, Replay(Ground(mesh.topology, free)))

    def positions(self, p: Brush, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        return self._gone_through(p, draft, mesh)[0]

    def remarks(self, p: Brush, draft: Draft, mesh: Mesh, made: Mesh, context: Context) -> tuple[Remark, ...]:
        missed = self._gone_through(p, draft, mesh)[1] if p.strength else 0
        if not missed:
            return ()
        return (Remark(f"{missed} sample{'s' * (missed > 1)} of the strokes found nothing within the radius"),)

    def _gone_through(self, p: Brush, draft: Draft, mesh: Mesh) -> tuple[Floats, int]:
        if not p.strokes or not len(mesh.points) or p.strength == 0.0:
            return mesh.points, 0
        mirror = None if p.mirror == "none" else "xyz".index(p.mirror)
        replay: Replay = draft.data
        settings = Settings(p.tool, p.radius, p.strength, p.fullness, mirror)
        return replay.points(mesh.points, settings, [stroke_on(s, mesh) for s in p.strokes])

    def anchored(self, p: Brush, mesh: Mesh, metres: float) -> Brush:
        """Each sample that has none gets its place on the surface."""
        if not mesh.topology.face_count or all(s.on is not None for s in p.strokes):
            return p
        new = []
        for stroke in p.strokes:
            if stroke.on is None:
                found = places_on(mesh, np.array(stroke.points)[:, :3] * metres)
                told = np.round(np.column_stack([found.share, found.height / metres]), _DECIMALS) + 0.0
                rows = zip(hex_of(mesh.names.face[found.face]), found.corner.tolist(), told.tolist(), strict=True)
                stroke = stroke.model_copy(update={"on": [(i, k, *abh) for i, k, abh in rows]})
            new.append(stroke)
        return p.model_copy(update={"strokes": new})


def stroke_on(stroke: BrushStroke, mesh: Mesh) -> StrokeSamples:
    """A stroke with its samples where the faces they were drawn on are by now."""
    samples = np.array(stroke.points)
    move = np.zeros(3) if stroke.move is None else np.asarray(stroke.move, float)
    if stroke.on:
        rows = [i for i, o in enumerate(stroke.on[:len(samples)]) if o is not None]
        on = [o for o in (stroke.on[i] for i in rows) if o is not None]
        face = mesh.names.find("face", from_hex([o[0] for o in on]))
        corner = np.array([o[1] for o in on])
        there = (face >= 0) & (corner < mesh.topology.sides[np.maximum(face, 0)])
        if there.any():
            told = np.array([o[2:] for o in on])[there]
            places = SurfacePlaces(face[there], corner[there], told[:, :2], told[:, 2])
            samples[np.array(rows)[there], :3] = points_at(mesh, places)
    return StrokeSamples(samples, move)
