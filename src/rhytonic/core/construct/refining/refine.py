"""Catmull–Clark refinement of any polygon connectivity, one level at a time.

E. Catmull, J. Clark, Recursively generated B-spline surfaces on arbitrary topological meshes, Computer-Aided Design
10(6), 1978. Borders by the rules of OpenUSD's ``interpolateBoundary``: an edge with one face, or with three and more, is
infinitely sharp; a vertex with two sharp edges follows their curve, one with more stays (T. DeRose, M. Kass, T. Truong,
SIGGRAPH 1998).

Semi-sharp creases by the same paper and OpenUSD's uniform rule: an edge of sharpness s ≥ 1 is refined as sharp, one below
1 blends both rules by s, and its halves have s − 1; a vertex follows the rule of its sharp edges (none or one: smooth, two:
their curve, more: it stays), blended with the rule of the next level by the mean sharpness of the edges that end being
sharp there.

Refinement depends on connectivity and creases alone: a level's tables are made once and kept, and a change of positions is
three loops over them (``refine_points.py``).
"""

from __future__ import annotations

import hashlib
from collections import OrderedDict
from functools import cached_property
from threading import Lock
from typing import Literal, NamedTuple

import numpy as np
from scipy.sparse import csr_array, diags_array

from ...mesh.marks import INFINITE
from ...mesh.mesh import Floats
from ...mesh.topology import Bools, Ints, Topology
from ...waiting import check
from .refine_points import mix_in, pull, smooth

Boundary = Literal["edge", "edge_and_corner"]


class Rules(NamedTuple):
    """Vertices that stay, vertices on a sharp curve, (m, 2) the neighbours of those along it; and, where creases end being
    sharp, each vertex's share (V,) of these rules, the rest following the rules of the next level."""

    stays: Ints
    curve: Ints
    along: Ints
    blend: tuple[Floats, Ints, Ints, Ints] | None


class Level:
    """One step of refinement: the connectivity before it, and what it does to points.

    New vertices are numbered: old vertices, then one per edge, then one per face. New faces are numbered as the old
    corners. New edges: two halves of each old edge (first the half at its lower vertex), then one per old corner.
    """

    def __init__(self, vertices: int, faces: int, corners: Ints, corner_face: Ints, following: Ints, preceding: Ints,
                 corner_edge: Ints, ends: Ints, sharpness: Floats, sides: Ints, pinned: Bools | None) -> None:
        self.vertices, self.faces, self.edges = vertices, faces, len(ends)
        self.corners, self.corner_face = corners, corner_face
        self.following, self.preceding = following, preceding
        self.corner_edge, self.ends, self.sharpness = corner_edge, ends, sharpness
        self.sharp = sharpness > 0
        self.sides = sides
        self.pinned = pinned

    @classmethod
    def of(cls, t: Topology, boundary: Boundary, creases: Floats | None = None) -> Level:
        """The first level; ``creases`` (E,) from 0 to 10, where there are any."""
        sharp = t.edge_face_count != 2
        sharpness = np.where(sharp, np.inf, 0.0)
        if creases is not None:
            sharpness = np.maximum(sharpness, np.where(creases >= INFINITE, np.inf, creases))
        pinned = None
        if boundary == "edge_and_corner" and sharp.any():
            single = np.bincount(t.corners, minlength=t.vertex_count) == 1
            touched = np.zeros(t.vertex_count, bool)
            touched[t.edges[sharp]] = True
            pinned = single & touched
        return cls(t.vertex_count, t.face_count, t.corners, t.corner_face, t.next_corner, t.previous_corner,
                   t.corner_edge, t.edges, sharpness, t.sides, pinned)

    @property
    def out_vertices(self) -> int:
        """How many vertices it makes."""
        return self.vertices + self.edges + self.faces

    @cached_property
    def out_corners(self) -> Ints:
        """(4C,) corners of the new faces: old vertex, edge ahead, face, edge behind."""
        out = np.empty((self.corners.size, 4), np.int64)
        out[:, 0] = self.corners
        out[:, 1] = self.corner_edge + self.vertices
        out[:, 2] = self.corner_face + (self.vertices + self.edges)
        out[:, 3] = out[self.preceding, 1]
        return out.ravel()

    @cached_property
    def out_ends(self) -> Ints:
        """(E', 2) ends of the new edges."""
        out = np.empty((2 * self.edges + self.corners.size, 2), np.int64)
        out[:2 * self.edges, 0] = self.ends.ravel()
        out[:2 * self.edges, 1] = np.repeat(np.arange(self.edges) + self.vertices, 2)
        out[2 * self.edges:, 0] = self.corner_edge + self.vertices
        out[2 * self.edges:, 1] = self.corner_face + (self.vertices + self.edges)
        return out

    def next_level(self) -> Level:
        """The level that refines this one's result; its edge table follows without sorting."""
        c = self.corners.size
        corner_edge = np.empty((c, 4), np.int64)
        low = self.ends[:, 0]
        corner_edge[:, 0] = 2 * self.corner_edge + (self.corners != low[self.corner_edge])
        corner_edge[:, 1] = 2 * self.edges + np.arange(c)
        corner_edge[:, 2] = 2 * self.edges + self.preceding
        behind = self.corner_edge[self.preceding]
        corner_edge[:, 3] = 2 * behind + (self.corners != low[behind])
        sharpness = np.zeros(2 * self.edges + c)
        sharpness[:2 * self.edges] = np.repeat(self.softened, 2)
        pinned = None
        if self.pinned is not None:
            pinned = np.zeros(self.out_vertices, bool)
            pinned[:self.vertices] = self.pinned
        n = 4 * c
        number = np.arange(n)
        following, preceding = number + 1, number - 1
        following[3::4] -= 4
        preceding[0::4] += 4
        return Level(self.out_vertices, c, self.out_corners, np.repeat(np.arange(c), 4), following, preceding,
                     corner_edge.ravel(), self.out_ends, sharpness, np.full(c, 4), pinned)

    # rules -----------------------------------------------------------------------------------------------------
    @cached_property
    def valence(self) -> Ints:
        """(V,) faces at each vertex."""
        return np.bincount(self.corners, minlength=self.vertices)

    @property
    def softened(self) -> Floats:
        """(E,) sharpness of each edge's halves."""
        return np.maximum(self.sharpness - 1.0, 0.0)

    @cached_property
    def rules(self) -> Rules:
        """What each vertex follows; blends of two rules where a crease ends being sharp at this level."""
        now, later = self._rule(self.sharpness), self._rule(self.softened)
        ending = self.sharp & ~(self.softened > 0)
        if not ending.any():
            return Rules(now[0], now[1], now[2], None)
        ends = self.ends[ending].ravel()
        count = np.bincount(ends, minlength=self.vertices)
        total = np.bincount(ends, np.repeat(self.sharpness[ending], 2), self.vertices)
        share = np.where(count > 0, np.minimum(total / np.maximum(count, 1), 1.0), 1.0)
        return Rules(now[0], now[1], now[2], (share, later[0], later[1], later[2]))

    def _rule(self, sharpness: Floats) -> tuple[Ints, Ints, Ints]:
        """Vertices that stay, vertices on a sharp curve, and (m, 2) the neighbours of those along it.

        A vertex at the end of a single edge of four or more faces stays: it has no smooth fan to follow.
        """
        sharp_ends = self.ends[sharpness > 0]
        count = np.bincount(sharp_ends.ravel(), minlength=self.vertices)
        fanless = np.bincount(self.ends[np.isinf(sharpness) & self.frayed].ravel(), minlength=self.vertices) > 0
        stays = (count > 2) | ((count == 1) & fanless) | (self.valence == 0)
        if self.pinned is not None:
            stays |= self.pinned
        curve = np.flatnonzero((count == 2) & ~stays)
        from_, to = sharp_ends.ravel(), sharp_ends[:, ::-1].ravel()
        order = np.argsort(from_, kind="stable")
        starts = np.searchsorted(from_[order], curve)
        return np.flatnonzero(stays), curve, to[order][starts[:, None] + np.arange(2)].reshape(-1, 2)

    @cached_property
    def frayed(self) -> Bools:
        """(E,) edges with any number of faces but two."""
        out: Bools = np.bincount(self.corner_edge, minlength=self.edges) != 2
        return out

    @cached_property
    def _starts(self) -> Ints:
        return np.concatenate([[0], np.cumsum(self.sides)])

    def apply(self, points: Floats) -> Floats:
        """(V', 3) refined points."""
        out = smooth(points, self.corners, self._starts, self.corner_edge, self.ends, self.sharpness, self.valence)
        stays, curve, along, blending = self.rules
        vertex = out[:self.vertices]
        if blending is None:
            pull(vertex, points, stays, curve, along)
            return out
        share, later_stays, later_curve, later_along = blending
        later = vertex.copy()
        pull(vertex, points, stays, curve, along)
        pull(later, points, later_stays, later_curve, later_along)
        mix_in(vertex, later, share)
        return out

    @cached_property
    def operator(self) -> csr_array:
        """(V', V) sparse matrix of what :meth:`apply` does, for whatever else is to be carried."""
        v, e, f, c = self.vertices, self.edges, self.faces, self.corners.size
        weight = 1.0 / self.sides[self.corner_face]
        face = csr_array((weight, self.corners, np.concatenate([[0], np.cumsum(self.sides)])), shape=(f, v))
        crease = np.minimum(self.sharpness, 1.0)
        share = 0.25 + 0.25 * crease
        rows = np.arange(e)
        ends = csr_array((np.repeat(share, 2), self.ends.ravel(), np.arange(0, 2 * e + 1, 2)), shape=(e, v))
        keep = np.flatnonzero(crease[self.corner_edge] < 1)
        at_edge = rows[self.corner_edge[keep]]
        beside = csr_array((0.25 * (1 - crease[at_edge]), (at_edge, self.corner_face[keep])), shape=(e, f))
        stays, curve, along, blend = self.rules
        rows_v = self._vertex_rows(face, (stays, curve, along))
        if blend is not None:
            share, *_ = blend
            later = self._vertex_rows(face, (blend[1], blend[2], blend[3]))
            rows_v = csr_array(diags_array(share) @ rows_v + diags_array(1 - share) @ later)
        rows_e = ends + beside @ face
        out = _stack([rows_v, rows_e, face])
        assert out.shape == (self.out_vertices, v) and c == self.corners.size
        return out

    def _vertex_rows(self, face: csr_array, rule: tuple[Ints, Ints, Ints]) -> csr_array:
        """(V, V) the vertex rule, where ``face`` (F, V) gives the face points."""
        v, f = self.vertices, self.faces
        stays, curve, along = rule
        plain = np.ones(v, bool)
        plain[stays] = False
        plain[curve] = False
        n = np.maximum(self.valence, 1)
        inverse = 1.0 / (n * n)
        keep = np.flatnonzero(plain[self.corners])
        here = self.corners[keep]
        around = csr_array((inverse[here], (here, self.corner_face[keep])), shape=(v, f))
        own = np.where(plain, (n - 2) / n, 1.0)
        own[curve] = 0.75
        at, to = self.ends.ravel(), self.ends[:, ::-1].ravel()  # neighbours by edges, however the faces run
        at, to = at[plain[at]], to[plain[at]]
        near = csr_array(
            (np.concatenate([own, inverse[at], np.full(2 * curve.size, 0.125)]),
             (np.concatenate([np.arange(v), at, np.repeat(curve, 2)]),
              np.concatenate([np.arange(v), to, along.ravel()]))), shape=(v, v))
        return csr_array(near + around @ face)


def _stack(blocks: list[csr_array]) -> csr_array:
    """Rows of several matrices one below the other, with 32-bit indices where they fit: half the memory traffic."""
    data = np.concatenate([b.data for b in blocks])
    kind = np.int32 if data.size < 2**31 else np.int64
    indices = np.concatenate([b.indices.astype(kind) for b in blocks])
    starts, total = [np.zeros(1, kind)], 0
    for b in blocks:
        starts.append((b.indptr[1:] + total).astype(kind))
        total += int(b.indptr[-1])
    return csr_array((data, indices, np.concatenate(starts)), shape=(sum(b.shape[0] for b in blocks), blocks[0].shape[1]))


class Refinement:
    """All levels of one connectivity, made when first needed and kept."""

    def __init__(self, t: Topology, boundary: Boundary, creases: Floats | None = None) -> None:
        self.topology = t
        self.levels: list[Level] = [Level.of(t, boundary, creases)]
        self._results: dict[int, Topology] = {}

    def level(self, number: int) -> Level:
        """The ``number``-th level, 0 being the first refinement."""
        while len(self.levels) <= number:
            self.levels.append(self.levels[-1].next_level())
        return self.levels[number]

    def apply(self, points: Floats, levels: int) -> Floats:
        """(V', 3) points after ``levels`` refinements: the same bits for the same points, whatever was asked before."""
        points = np.ascontiguousarray(points)
        for number in range(levels):
            check()
            points = self.level(number).apply(points)
        return points

    def result(self, levels: int) -> Topology:
        """Connectivity after ``levels`` refinements. Named by where it came from: its own faces are too many to hash."""
        found = self._results.get(levels)
        if found is None:
            last = self.level(levels - 1)
            corners = last.out_corners
            name = hashlib.blake2b(self.topology.digest + f"refined {levels}".encode(), digest_size=16).digest()
            found = self._results[levels] = Topology(last.out_vertices, np.arange(0, corners.size + 1, 4), corners, name)
        return found

    def face_source(self, levels: int) -> Ints:
        """(F',) cage face of each face of the surface."""
        return np.repeat(self.topology.corner_face, 4 ** (levels - 1))

    def cage_lines(self, levels: int) -> Ints:
        """(2^levels · E, 2) edges of the surface that descend from edges of the cage, cage edge by cage edge."""
        count = self.topology.edge_count
        return self.level(levels - 1).out_ends[:count * 2 ** levels]


_kept: OrderedDict[tuple[bytes, Boundary, bytes], Refinement] = OrderedDict()
_lock = Lock()
_MOST_KEPT = 32


def refinement(t: Topology, boundary: Boundary = "edge", creases: Floats | None = None) -> Refinement:
    """The refinement of a connectivity with its creases (E,), shared by everyone who asks for it."""
    creases = creases if creases is not None and creases.any() else None
    key = (t.digest, boundary, b"" if creases is None else hashlib.blake2b(creases.tobytes(), digest_size=16).digest())
    with _lock:
        found = _kept.get(key)
        if found is None:
            found = _kept[key] = Refinement(t, boundary, creases)
            while len(_kept) > _MOST_KEPT:
                _kept.popitem(last=False)
        _kept.move_to_end(key)
        return found
