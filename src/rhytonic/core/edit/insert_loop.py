"""Insert edge loops: cut the ring of an edge across its quads."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
from pydantic import Field, model_validator

from .. import tolerance
from ..construct.rings.in_form import first_in_form
from ..construct.rings.rings import Rings, find_rings
from ..construct.rings.weights import corner_weights, vertex_weights
from ..construct.spread import even, is_lower
from ..errors import BadParameter
from ..mesh.attributes import Sources
from ..mesh.geometry import Floats, lengths
from ..mesh.mesh import Mesh
from ..mesh.names import reduced
from ..mesh.topology import Bools, Ints, Topology, ranges
from ..params import Count, Length, Ratio, Share
from ..pick.resolve import Picked
from ..pick.rules import Pick, PickEdges, Rule
from ..step.draft import Born, Draft
from ..step.facts import Knob
from ..step.kind import Context, Picking, StepKind

Fractions = Annotated[list[Annotated[float, Field(strict=True, gt=0, lt=1)]], Field(min_length=1, max_length=1000)]


class InsertLoop(Picking):
    kind: Literal["insert_loop"]
    through: Rule
    count: Count = 1
    spread: Share = 1.0
    shift: Annotated[Ratio, Field(ge=-1, le=1)] = 0.0
    at: Fractions | None = None
    distance: Annotated[list[Length], Field(min_length=1, max_length=1000)] | None = None
    begin: Literal["lower", "first", "form_first", "form_last"] = "lower"

    @model_validator(mode="after")
    def _one_way(self) -> InsertLoop:
        if self.at is not None and self.distance is not None:
            raise ValueError("give either at or distance, not both")
        if self.at is not None and len(set(self.at)) < len(self.at):
            raise ValueError("two loops stand at the same fraction")
        return self

    @property
    def loops(self) -> int:
        """How many loops each ring gets."""
        return len(self.at) if self.at is not None else len(self.distance) if self.distance is not None else self.count


@dataclass(frozen=True)
class _Cut:
    """What positions and weights need of a plan: the rings, the corners kept, and the first cut corner of the quads cut
    one way and both ways."""

    rings: Rings
    kept: tuple[Ints, Ints]
    base: Ints
    grid: Ints


class InsertLoopKind(StepKind[InsertLoop]):
    """Each ring is cut once however many of its edges are named. Fractions run from the lower end (smaller y, then x, then
    z) of the edge named, or with ``begin`` "first" from the end whose id is written first, and the same way along the ring;
    with "form_first" or "form_last" from the end that comes first or last in the base form, whatever turned it since.
    A ring stops at borders and at faces that are not quads, which keep its points as corners."""

    word, title, model = "insert_loop", "Insert loops", InsertLoop
    watches_area = True
    takes = ("edges",)
    roles = ("loop",)
    numbers = frozenset({"spread", "shift", "at", "distance"})
    knob, typed = Knob("shift"), "count"

    def pick_of(self, p: InsertLoop) -> Pick:
        return PickEdges(edges=p.through)

    def depends_on(self, p: InsertLoop, context: Context) -> int:
        return p.loops  # however it is said

    def estimate(self, p: InsertLoop, topology: Topology, picked: Picked | None, context: Context) -> tuple[int, str]:
        return topology.face_count * (p.loops + 1) if p.loops < 1000 else topology.face_count + p.loops, "count"

    def plan(self, p: InsertLoop, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        assert picked is not None
        t, m = mesh.topology, p.loops
        named, rest = picked.named, context.rest() if p.begin.startswith("form") else None
        if rest is not None:
            named = first_in_form(t, picked.elements, rest)
        rings = find_rings(t, picked.elements, mesh.names.vertex, named)
        if rest is not None and named is not None:
            rings = rings.begins(named[0], named[1] if p.begin == "form_first" else t.edges[named[0]].sum(axis=1) - named[1])
        elif p.begin == "first" and picked.written is not None:
            rings = rings.begins(*picked.written)
        cut = rings.number >= 0
        first = t.offsets[:-1]
        quad = t.sides == 4
        one, two = np.zeros(t.face_count, bool), np.zeros(t.face_count, bool)
        one[quad] = cut[t.corner_edge[first[quad]]]
        two[quad] = cut[t.corner_edge[first[quad] + 1]]
        strip, grid = np.flatnonzero(one ^ two), np.flatnonzero(one & two)
        stay = np.flatnonzero(~(one | two))
        count = t.vertex_count + rings.edges.size * m
        kept_corners, kept_sides, kept_source = _with_points(t, stay, rings, m)
        base = first[strip] + np.where(one[strip], 0, 1)
        strips = _strip_faces(t, base, rings, m)
        grids, inner = _grid_faces(t, first[grid], rings, m, count)
        pieces = np.concatenate([strips.reshape(-1, 4), grids.reshape(-1, 4)])
        sides = np.concatenate([kept_sides, np.full(len(pieces), 4)])
        total = count + grid.size * m * m
        topology = Topology.of(total, np.concatenate([[0], np.cumsum(sides)]),
                               np.concatenate([kept_corners, pieces.ravel()]))
        parent = np.concatenate([np.repeat(strip, m + 1), np.repeat(grid, (m + 1) ** 2)])
        forward = _along_ring(t, base, rings)
        ordinal = np.concatenate([np.where(forward[:, None], np.arange(m + 1), m - np.arange(m + 1)).ravel(),
                                  np.tile(np.arange((m + 1) ** 2), grid.size)])
        new_faces = stay.size + np.arange(len(pieces))
        ids = mesh.names
        step = np.tile(np.arange(1, m + 1), rings.edges.size)
        square = np.stack([a.ravel() for a in np.meshgrid(np.arange(1, m + 1), np.arange(1, m + 1), indexing="ij")], axis=1)
        born = (
            Born("face", "", new_faces, ids.face[parent][:, None], ("face",), ordinal[:, None], replaces=parent),
            Born("vertex", "loop", t.vertex_count + np.arange(rings.edges.size * m),
                 np.repeat(np.stack([ids.vertex[rings.start], ids.vertex[rings.end]], axis=1), m, axis=0),
                 ("vertex", "vertex"), reduced(step.copy(), m + 1)),
            Born("vertex", "loop", inner.ravel(), np.repeat(ids.face[grid], m * m)[:, None], ("face",),
                 np.tile(square, (grid.size, 1))))
        none_v, none_f = np.full(total - t.vertex_count, -1), np.full(len(pieces), -1)
        data = _Cut(rings, kept_source, base, first[grid])
        return Draft(
            topology, np.concatenate([np.arange(t.vertex_count), none_v]), np.concatenate([stay, none_f]),
            vertex_source=lambda: vertex_weights(t, rings, first[grid], fractions(p, rings, mesh)),
            face_source=np.concatenate([stay, parent]),
            corner_source=lambda: corner_weights(t, rings, kept_source, base, first[grid], fractions(p, rings, mesh)),
            born=born, edges=lambda: {"loop": _made(topology, t.vertex_count, rings, m)},
            replaced_edges=lambda: _halves(rings, t, m), edge_source=lambda: _edge_source(t, topology, rings, m), data=data)

    def positions(self, p: InsertLoop, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        cut: _Cut = draft.data
        rings, points = cut.rings, mesh.points
        share = fractions(p, rings, mesh)  # (n, m) from the start of each cut edge
        a, b = points[rings.start], points[rings.end]
        on_edge = a[:, None] + share[:, :, None] * (b - a)[:, None]
        out = [points, on_edge.reshape(-1, 3)]
        if cut.grid.size:
            out.append(_grid_points(mesh.topology, cut.grid, rings, on_edge, share))
        return np.concatenate(out)

    def weights(self, p: InsertLoop, draft: Draft, mesh: Mesh) -> tuple[Sources, Sources]:
        cut: _Cut = draft.data
        share = fractions(p, cut.rings, mesh)
        t = mesh.topology
        return (vertex_weights(t, cut.rings, cut.grid, share),
                corner_weights(t, cut.rings, cut.kept, cut.base, cut.grid, share))


def _even(p: InsertLoop) -> Floats:
    """(m,) fractions where they do not depend on lengths."""
    if p.at is not None:
        return np.sort(np.asarray(p.at, float))
    spread, shift = (p.spread, p.shift) if p.distance is None else (1.0, 0.0)
    return even(p.loops, spread, shift)


def fractions(p: InsertLoop, rings: Rings, mesh: Mesh) -> Floats:
    """(n, m) fractions along each cut edge from its start, ascending.

    Raises:
        BadParameter: a loop would not lie within an edge.
    """
    t, points = mesh.topology, mesh.points
    ends = points[t.edges[rings.named]]
    lower_first = is_lower(ends[:, 0], ends[:, 1])
    lower = np.where(lower_first, t.edges[rings.named, 0], t.edges[rings.named, 1])
    lower = np.where(rings.told >= 0, rings.told, lower)
    own = rings.number[rings.named]
    flipped = rings.start[own] != lower
    if p.distance is None:
        share = np.broadcast_to(_even(p), (rings.edges.size, p.loops))
    else:
        span = lengths(points[rings.end] - points[rings.start])
        at = np.asarray(p.distance, float)
        share = np.where(at >= 0, at, span[:, None] + at) / np.maximum(span, tolerance.NO_DIRECTION)[:, None]
        share = np.sort(share, axis=1)
    parameter = "distance" if p.distance is not None else "at" if p.at is not None else "spread"
    if (share <= 0).any() or (share >= 1).any():
        shortest = float(lengths(points[rings.end] - points[rings.start]).min())
        raise BadParameter("a loop would lie outside the ring; the shortest edge of the ring is {length} long", parameter,
                           shortest)
    if (np.diff(share, axis=1) <= 0).any():
        raise BadParameter("two loops would fall together", parameter)
    return np.where(flipped[:, None], 1.0 - share[:, ::-1], share)


def _with_points(t: Topology, faces: Ints, rings: Rings, m: int) -> tuple[Ints, Ints, tuple[Ints, Ints]]:
    """Corners and side counts of faces that stay, with points on their cut edges; and (corner, step) each came from."""
    corner = t.corners_of(faces)
    cut = rings.number[t.corner_edge[corner]] >= 0
    size = np.where(cut, m + 1, 1)
    starts = np.cumsum(size) - size
    out = np.empty(int(size.sum()), np.int64)
    out[starts] = t.corners[corner]
    where = np.flatnonzero(cut)
    out[ranges(starts[where] + 1, np.full(where.size, m))] = rings.points(t, corner[where], m).ravel()
    face = np.repeat(np.arange(faces.size), t.sides[faces])
    sides = np.bincount(face, size, minlength=faces.size).astype(np.int64)
    step = np.arange(out.size) - np.repeat(starts, size)
    return out, sides, (np.repeat(corner, size), step)


def _strip_faces(t: Topology, base: Ints, rings: Rings, m: int) -> Ints:
    """(n, m+1, 4) pieces of quads whose cut edges are ``base`` and the one opposite."""
    v = t.corners
    near = np.column_stack([v[base], rings.points(t, base, m), v[t.next_corner[base]]])
    opposite = t.next_corner[t.next_corner[base]]
    far = np.column_stack([v[t.next_corner[opposite]], rings.points(t, opposite, m)[:, ::-1], v[opposite]])
    return np.stack([near[:, :-1], near[:, 1:], far[:, 1:], far[:, :-1]], axis=2)


def _along_ring(t: Topology, base: Ints, rings: Rings) -> Bools:
    """(n,) whether the half-edges run as their ring does."""
    out: Bools = t.corners[base] == rings.start[rings.number[t.corner_edge[base]]]
    return out


def _grid_faces(t: Topology, first: Ints, rings: Rings, m: int, count: int) -> tuple[Ints, Ints]:
    """(n, m+1, m+1, 4) pieces of quads cut both ways, and (n, m, m) their inner vertices."""
    n = first.size
    inner = count + np.arange(n * m * m).reshape(n, m, m)
    g = np.empty((n, m + 2, m + 2), np.int64)  # [along the first edge, along the second]
    v = t.corners
    for (i, j), k in (((0, 0), 0), ((-1, 0), 1), ((-1, -1), 2), ((0, -1), 3)):
        g[:, i, j] = v[first + k]
    if n:
        g[:, 1:-1, 0] = rings.points(t, first, m)
        g[:, -1, 1:-1] = rings.points(t, first + 1, m)
        g[:, 1:-1, -1] = rings.points(t, first + 2, m)[:, ::-1]
        g[:, 0, 1:-1] = rings.points(t, first + 3, m)[:, ::-1]
    g[:, 1:-1, 1:-1] = inner
    return np.stack([g[:, :-1, :-1], g[:, 1:, :-1], g[:, 1:, 1:], g[:, :-1, 1:]], axis=3), inner


def _grid_points(t: Topology, first: Ints, rings: Rings, on_edge: Floats, share: Floats) -> Floats:
    """(n·m·m, 3) inner points: on the straight lines across, at the mean of the fractions on either side."""
    def side(corner: Ints) -> Floats:
        at = rings.number[t.corner_edge[corner]]
        ahead = (t.corners[corner] == rings.start[at])[:, None, None]
        return np.where(ahead, on_edge[at], on_edge[at][:, ::-1])

    w = rings.across(t, first, share)[1][:, None, :, None]
    out: Floats = (1 - w) * side(first)[:, :, None] + w * side(first + 2)[:, ::-1][:, :, None]
    return out.reshape(-1, 3)


def _made(topology: Topology, old: int, rings: Rings, m: int) -> Ints:
    """Edges across the faces: those between new vertices that are not pieces of one cut edge."""
    ends = topology.edges
    new = (ends >= old).all(axis=1)
    on_edge = old + rings.edges.size * m
    piece = np.where(ends < on_edge, (ends - old) // m, -1 - np.arange(2))
    across: Ints = ends[new & (piece[:, 0] != piece[:, 1])]
    return across


def _halves(rings: Rings, t: Topology, m: int) -> tuple[Ints, Ints]:
    """Cut edges and their pieces."""
    n = rings.edges.size
    chain = np.column_stack([rings.start, t.vertex_count + np.arange(n * m).reshape(n, m), rings.end])
    old = np.repeat(np.stack([rings.start, rings.end], axis=1), m + 1, axis=0)
    return old, np.stack([chain[:, :-1].ravel(), chain[:, 1:].ravel()], axis=1)


def _edge_source(t: Topology, topology: Topology, rings: Rings, m: int) -> Ints:
    """(E',) old edge of each new one: itself, or the one it is a piece of; −1 across faces."""
    ends = topology.edges
    old = (ends < t.vertex_count).all(axis=1)
    out = np.full(topology.edge_count, -1, np.int64)
    out[old] = t.find_edges(ends[old, 0], ends[old, 1])
    _, pieces = _halves(rings, t, m)
    out[topology.find_edges(pieces[:, 0], pieces[:, 1])] = np.repeat(rings.edges, m + 1)
    return out
