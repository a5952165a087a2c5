"""Transform: move, turn and scale what is picked."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
import scipy
from pydantic import Field, model_validator
from scipy.sparse import coo_array

from .. import tolerance
from ..construct.falloff import soft_weight
from ..construct.held_plane import HoldPlane
from ..mesh.geometry import area_vectors, cross, rotation, unit, vertex_normals
from ..mesh.mesh import Floats, Mesh
from ..mesh.topology import Ints, components
from ..params import Angles, Flag, Length, Point, PositiveLength, Ratios, Share, Strict
from ..pick.resolve import Picked
from ..step.draft import Draft, unchanged
from ..step.kind import Context, Edit, StepKind


class Falloff(Strict):
    """Soft selection: what lies within ``radius`` of the pick follows by weight.

    weight = 1 − (3t² − 2t³)^p at t = distance / radius, p = 4^(2·fullness − 1); or the ``curve`` through [t, weight].
    """

    radius: PositiveLength
    fullness: Share = 0.5
    connected: Flag = False
    curve: Annotated[list[tuple[Share, Share]], Field(min_length=2, max_length=100)] | None = None

    @model_validator(mode="after")
    def _rising(self) -> Falloff:
        if self.curve and any(b[0] <= a[0] for a, b in zip(self.curve, self.curve[1:], strict=False)):
            raise ValueError("the t of a curve must rise from point to point")
        return self


class Transform(Edit):
    kind: Literal["transform"]
    translate: Point = (0.0, 0.0, 0.0)
    rotate: Angles = (0.0, 0.0, 0.0)
    scale: Ratios = (1.0, 1.0, 1.0)
    about: Literal["pick", "each", "origin"] | Point = "pick"
    frame: Literal["part", "normal", "build"] = "part"
    push: Length = 0.0
    falloff: Falloff | None = None
    hold_plane: HoldPlane = "none"


class TransformKind(StepKind[Transform]):
    """Scales, then turns about x, y, z, then moves, in the frame told, about the centre told."""

    word, title, model = "transform", "Transform", Transform
    extends_layout = True
    takes = ("faces", "edges", "vertices")
    numbers = frozenset({"translate", "rotate", "scale", "about", "frame", "push", "falloff", "hold_plane"})
    keeps_pick = at_rest = True
    curve_role = "keeps"
    summary = ("translate", "rotate", "scale", "push")

    def depends_on(self, p: Transform, context: Context) -> list[list[float]] | None:
        return context.to_build.tolist() if p.frame == "build" else None

    def influence(self, p: Transform, mesh: Mesh, picked: Picked | None) -> tuple[Ints, Floats] | None:
        if p.falloff is None or picked is None:
            return None
        moving, weight, _ = soft_weights(p.falloff, mesh, picked.vertices(mesh))
        return moving, weight

    def plan(self, p: Transform, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        return unchanged(mesh)

    def turning(self, p: Transform, mesh: Mesh, picked: Picked, context: Context) -> Floats | None:
        if p.rotate == (0, 0, 0) and p.scale == (1, 1, 1):
            return None
        vertices = picked.vertices(mesh)
        moving, weight, nearest = _following(p, mesh, vertices)
        piece, pieces = _pieces(p, mesh, picked, vertices)
        linear, _ = _maps(p, mesh, picked, vertices, piece, pieces, context)
        out = np.tile(np.eye(3), (len(mesh.points), 1, 1))
        out[moving] += weight[:, None, None] * (linear[piece[nearest]] - np.eye(3))
        return out

    def positions(self, p: Transform, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        assert picked is not None
        vertices = picked.vertices(mesh)
        moving, weight, nearest = _following(p, mesh, vertices)
        here = mesh.points[moving]
        if p.frame == "part" and p.rotate == (0, 0, 0) and p.scale == (1, 1, 1):  # a plain move, as most drags are
            there = here + np.asarray(p.translate)
        else:
            piece, pieces = _pieces(p, mesh, picked, vertices)
            centres = _centres(p, mesh, vertices, piece, pieces)
            linear, shift = _maps(p, mesh, picked, vertices, piece, pieces, context)
            which = piece[nearest]
            there = centres[which] + np.einsum("nij,nj->ni", linear[which], here - centres[which]) + shift[which]
        if p.push:
            there = there + p.push * vertex_normals(mesh.points, mesh.topology, moving)
        if p.falloff is not None:
            there = here + weight[:, None] * (there - here)
        if p.hold_plane != "none":
            axis = "xyz".index(p.hold_plane)
            held = np.abs(here[:, axis]) <= tolerance.ON_PLANE
            there[held, axis] = here[held, axis]
        points = mesh.points.copy()
        points[moving] = there
        return points


def _following(p: Transform, mesh: Mesh, vertices: Ints) -> tuple[Ints, Floats, Ints]:
    """What moves with picked vertices, as :func:`soft_weights` tells it; they alone without soft selection."""
    if p.falloff is None:
        return vertices, np.ones(vertices.size), np.arange(vertices.size)
    return soft_weights(p.falloff, mesh, vertices)


def _pieces(p: Transform, mesh: Mesh, picked: Picked, vertices: Ints) -> tuple[Ints, int]:
    """Connected piece of each picked vertex, when each turns about its own centre; else one piece."""
    if p.about != "each":
        return np.zeros(vertices.size, np.int64), 1
    t = mesh.topology
    if picked.kind == "vertices":
        ends = t.edges[np.isin(t.edges, vertices).all(axis=1)]
    elif picked.kind == "edges":
        ends = t.edges[picked.elements]
    else:
        corner = t.corners_of(picked.elements)
        ends = np.stack([t.corners[corner], t.corners[t.next_corner[corner]]], axis=1)
    local = np.searchsorted(vertices, ends)
    piece = components(vertices.size, local[:, 0], local[:, 1])
    return piece, int(piece.max()) + 1


def _centres(p: Transform, mesh: Mesh, vertices: Ints, piece: Ints, pieces: int) -> Floats:
    points = mesh.points[vertices]
    if p.about == "each":
        total = np.zeros((pieces, 3))
        np.add.at(total, piece, points)
        return total / np.bincount(piece, minlength=pieces)[:, None]
    if p.about == "pick":
        middle: Floats = (points.min(axis=0) + points.max(axis=0)) / 2
        return middle[None]
    return np.zeros((1, 3)) if p.about == "origin" else np.asarray(p.about, float)[None]


def _maps(p: Transform, mesh: Mesh, picked: Picked, vertices: Ints, piece: Ints, pieces: int,
          context: Context) -> tuple[Floats, Floats]:
    """Per piece: (n, 3, 3) linear part and (n, 3) shift, in the part's axes."""
    linear = rotation(p.rotate) @ np.diag(p.scale)
    shift = np.asarray(p.translate, float)
    if p.frame == "part":
        return np.broadcast_to(linear, (pieces, 3, 3)), np.broadcast_to(shift, (pieces, 3))
    if p.frame == "build":
        frames = np.tile(np.linalg.inv(context.to_build), (pieces, 1, 1))
    else:
        frames = _normal_frames(mesh, picked, vertices, piece, pieces)
    back = np.linalg.inv(frames)
    return frames @ linear @ back, frames @ shift


def _normal_frames(mesh: Mesh, picked: Picked, vertices: Ints, piece: Ints, pieces: int) -> Floats:
    """(n, 3, 3) axes of each piece in columns: z along its area-weighted normal, x level, y upward.

    Pieces whose normals cancel out keep the part's axes.
    """
    total = np.zeros((pieces, 3))
    t = mesh.topology
    if picked.kind == "faces":
        first = np.searchsorted(vertices, t.corners[t.offsets[picked.elements]])
        np.add.at(total, piece[first], area_vectors(mesh.points, t, picked.elements))
    else:
        np.add.at(total, piece, vertex_normals(mesh.points, t, vertices))
    z = unit(total)
    up = np.where(np.abs(z[:, 1:2]) > 1 - 1e-9, [[0.0, 0.0, -1.0]], [[0.0, 1.0, 0.0]])
    x = unit(cross(up, z))
    frames = np.stack([x, cross(z, x), z], axis=2)
    frames[(z == 0).all(axis=1)] = np.eye(3)
    return frames


def soft_weights(falloff: Falloff, mesh: Mesh, picked: Ints) -> tuple[Ints, Floats, Ints]:
    """(n,) each: vertices that follow a pick, their weights, and the place in ``picked`` of the picked vertex nearest to
    each.

    Distance is straight, or along edges when ``connected``.
    """
    count = len(mesh.points)
    if falloff.connected:
        edges = mesh.topology.edges
        span = np.maximum(np.linalg.norm(mesh.points[edges[:, 0]] - mesh.points[edges[:, 1]], axis=1), 1e-300)
        graph = coo_array((span, (edges[:, 0], edges[:, 1])), shape=(count, count)).tocsr()
        distance, _, source = scipy.sparse.csgraph.dijkstra(graph, directed=False, indices=picked, min_only=True,
                                       return_predecessors=True, limit=falloff.radius)
        near = np.searchsorted(picked, np.maximum(source, 0))
    else:
        found = scipy.spatial.cKDTree(mesh.points[picked]).query(mesh.points, distance_upper_bound=falloff.radius)
        distance, near = np.asarray(found[0]), np.asarray(found[1])
    moving = np.flatnonzero(np.isfinite(distance))
    t = np.clip(distance[moving] / falloff.radius, 0.0, 1.0)
    if falloff.curve is not None:
        curve = np.array(falloff.curve)
        weight = np.interp(t, curve[:, 0], curve[:, 1])
    else:
        weight = soft_weight(t, falloff.fullness)
    weight[np.isin(moving, picked)] = 1.0
    return moving, weight, np.asarray(near[moving], np.int64)
