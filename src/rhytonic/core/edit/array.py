"""Array: copies in a row, round an axis, or along a curve."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, Literal

import numpy as np
from pydantic import Field, model_validator

from ..construct.copies.within_mesh import copied, copied_points, copies_of, copy_names, place_copies
from ..construct.pairing.merge_vertices import mean_points, merge_points, merge_vertices, pairs_within
from ..curve.curve import Curve
from ..curve.frames import frames_along, places_at
from ..curve.point_edits import with_copies
from ..errors import BadParameter
from ..mesh.geometry import about, rotation
from ..mesh.mesh import Floats, Mesh
from ..mesh.names import Names
from ..mesh.topology import Topology
from ..params import Angle, Angles, Count, Flag, NonNegativeLength, PartName, Point, Quantity, Ratio, Ratios, Strict
from ..pick.resolve import Picked
from ..pick.rules import Pick
from ..step.curve_edit import CurveEdit, after
from ..step.draft import Draft, carry
from ..step.facts import Knob, Offer
from ..step.kind import Context, Picking, StepKind
from ..step.operand import Need
from ..tolerance import MOST_CURVE_POINTS


class Around(Strict):
    """Round an axis through a point: a full turn spreads evenly, less puts the last copy at the angle."""

    axis: Literal["x", "y", "z"] | Ratios = "y"
    at: Point = (0.0, 0.0, 0.0)
    angle: Angle = 360.0

    @model_validator(mode="after")
    def _has_axis(self) -> Around:
        if not isinstance(self.axis, str) and not any(self.axis):
            raise ValueError("an axis cannot be [0, 0, 0]")
        return self


class Along(Strict):
    """Along the curve that another part is: from the first copy to each other as far as from the curve's start to that one's
    place; with ``align`` each turns with the curve, about its own centre."""

    part: PartName
    align: Flag = True


class Jitter(Strict):
    """How far copies stray at random, by a seed: up to ``move`` along each axis, up to ``turn`` about each."""

    move: NonNegativeLength = 0.0
    turn: Annotated[Angle, Field(ge=0)] = 0.0
    seed: Annotated[int, Field(strict=True, ge=0, le=2**31), Quantity("count")] = 0


class Array(Picking):
    kind: Literal["array"]
    pick: Pick | None = None
    count: Annotated[Count, Field(le=100_000)]
    step: Point | None = None
    span: Point | None = None
    around: Around | None = None
    along: Along | None = None
    turn: Angles = (0.0, 0.0, 0.0)
    scale: Ratio | Ratios = 0.0
    jitter: Jitter | None = None
    weld: NonNegativeLength = 0.0

    @model_validator(mode="after")
    def _one_way(self) -> Array:
        if sum(v is not None for v in (self.step, self.span, self.around, self.along)) != 1:
            raise ValueError("an array needs one of step, span, around and along")
        return self


class ArrayKind(StepKind[Array]):
    """``count`` tells the first too. ``turn`` and ``scale`` are added at each copy, about its own centre; ``jitter`` never
    moves the first. Copies nearer to each other than ``weld`` share their vertices. Of a curve, picked points are copied
    with the spans between them, or all of it."""

    word, title, model = "array", "Array", Array
    shares_layout = True
    takes = ("faces",)
    curve_role = "makes"
    curve_takes = ("vertices",)
    roles = ("copy",)
    numbers = frozenset({"step", "span", "around", "along", "turn", "scale", "jitter"})
    proposal = (Offer("count", 3), Offer("step", of_size=(1.2, 0.0, 0.0)))
    knob = Knob("count")
    summary = ("count", "step", "span")

    def pick_of(self, p: Array) -> Pick | None:
        return p.pick

    def needs(self, p: Array) -> tuple[Need, ...]:
        return () if p.along is None else (Need(p.along.part),)

    def estimate(self, p: Array, topology: Topology, picked: Picked | None, context: Context) -> tuple[int, str]:
        each = topology.face_count if picked is None else picked.elements.size
        return topology.face_count + (p.count - 1) * each, "count"

    def remade(self, p: Array, curve: Curve, picked: Picked | None, context: Context) -> CurveEdit:
        chosen = np.arange(len(curve.points)) if picked is None else picked.elements
        if chosen.size * p.count > MOST_CURVE_POINTS:
            raise BadParameter(f"makes {chosen.size * p.count} points; at most {MOST_CURVE_POINTS} are allowed", "count")
        times = np.repeat(np.arange(1, p.count), chosen.size)
        ids = copied_points(context.step, np.tile(curve.ids[chosen], p.count - 1), times[:, None])
        maps = _maps(p, curve.points[chosen], _places(p, context))
        edit = copies_of(curve, *with_copies(curve, chosen, maps, ids))
        if not p.weld:
            return edit
        links = pairs_within(edit.curve.points, np.arange(len(edit.curve.points)), p.weld)
        return after(edit, merge_points(edit.curve, links))

    def ground(self, p: Array, mesh: Mesh, picked: Picked | None, context: Context) -> Mesh:
        """Welding needs the copies where they stand: they are made beforehand then."""
        if not p.weld:
            return mesh
        draft = copied(mesh, _faces(mesh, picked), p.count - 1)
        vertex, face = copy_names(mesh, draft, context.step)
        names = Names(lambda: vertex, lambda: face)
        return Mesh(self._points(p, draft, mesh, context), draft.topology, names, carry(draft, mesh))

    def plan(self, p: Array, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        if not p.weld:
            return copied(mesh, _faces(mesh, picked), p.count - 1)
        t, copies = mesh.topology, p.count - 1
        links = pairs_within(mesh.points, np.arange(t.vertex_count), p.weld)
        draft = merge_vertices(mesh, links, "welding", bodies=True)[0]
        each = t.face_count // p.count if picked is None else picked.elements.size
        return replace(draft, tagged={("face", "copy"): np.flatnonzero(draft.kept_faces >= t.face_count - copies * each)})

    def positions(self, p: Array, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        return mean_points(mesh, draft, draft.data) if p.weld else self._points(p, draft, mesh, context)

    def _points(self, p: Array, draft: Draft, mesh: Mesh, context: Context) -> Floats:
        return place_copies(mesh, draft.data, _maps(p, mesh.points[draft.data], _places(p, context)))


def _faces(mesh: Mesh, picked: Picked | None) -> np.ndarray:
    return np.arange(mesh.topology.face_count) if picked is None else picked.elements


def _places(p: Array, context: Context) -> tuple[Floats, Floats] | None:
    """(count, 3, 3) and (count, 3): how far a curve has turned and gone from its start at each copy's place, evenly along
    it; an open curve has the last copy at its end."""
    if p.along is None:
        return None
    found = context.operand(Need(p.along.part))
    if found.curve is None:
        raise BadParameter(f"part '{found.name}' has faces; copies go along a part that ends as a curve", "along")
    line = found.curve.divided
    if line.closed.size != 1 or len(line.points) < 2:
        raise BadParameter(f"part '{found.name}' has {line.closed.size} runs of {len(line.points)} points in all; copies go "
                           "along one run that has a length", "along")
    closed = bool(line.closed[0])
    frames = frames_along(line.points, closed)
    share = np.arange(p.count) / max(p.count if closed else p.count - 1, 1)
    ends = None if closed else found.curve.end_tangents(0)
    at = places_at(line.points, frames, share * frames.length, ends)
    axes = np.stack([at.x, at.y, at.tangent], axis=2) if p.along.align else np.tile(np.eye(3), (p.count, 1, 1))
    return axes @ axes[0].T, at.points - at.points[0]


def _maps(p: Array, here: Floats, places: tuple[Floats, Floats] | None = None) -> tuple[Floats, Floats]:
    """(n, 3, 3) and (n, 3): the affine map of each copy after the first."""
    k = np.arange(1, p.count)
    centre = (here.min(axis=0) + here.max(axis=0)) / 2
    linear = np.tile(np.eye(3), (k.size, 1, 1))
    shift = np.zeros((k.size, 3))
    scale = np.asarray(p.scale if not isinstance(p.scale, float | int) else (p.scale,) * 3, float)
    for i, number in enumerate(k):  # one round for each copy, not for each vertex
        turn = rotation((p.turn[0] * number, p.turn[1] * number, p.turn[2] * number)) @ np.diag(1 + scale * number)
        move = np.zeros(3)
        if p.jitter is not None:
            random = np.random.default_rng([p.jitter.seed, int(number)])
            move = random.uniform(-1, 1, 3) * p.jitter.move
            a, b, c = (float(v) for v in random.uniform(-1, 1, 3) * p.jitter.turn)
            turn = rotation((a, b, c)) @ turn
        linear[i], shift[i] = turn, centre - turn @ centre + move
        if p.step is not None:
            shift[i] += np.asarray(p.step) * number
        elif p.span is not None:
            shift[i] += np.asarray(p.span) * (number / (p.count - 1))
        elif p.around is not None:
            full = abs(p.around.angle) >= 360.0
            angle = p.around.angle * number / (p.count if full else p.count - 1)
            whole = about(p.around.axis, angle)
            at = np.asarray(p.around.at)
            linear[i], shift[i] = whole @ linear[i], whole @ (shift[i] - at) + at
        elif places is not None:
            whole = places[0][number]
            linear[i], shift[i] = whole @ linear[i], whole @ (shift[i] - centre) + centre + places[1][number]
    return linear, shift
