"""Connectivity of a polygon mesh, computed once from its faces and shared by all meshes that have the same faces.

A *corner* is one face's visit to a vertex; corner ``c`` is also the half-edge from its vertex to that of the next corner.
"""

from __future__ import annotations

import hashlib
import weakref
from collections.abc import Sequence
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from ..compiled import COUNT, INTS, NEW_INTS, YES, compiled
from ..waiting import check

Ints = NDArray[np.int64]
Bools = NDArray[np.bool_]
Shorts = NDArray[np.int16]

_interned: weakref.WeakValueDictionary[bytes, Topology] = weakref.WeakValueDictionary()


def components(nodes: int, a: Ints, b: Ints) -> Ints:
    """Label (nodes,) of the connected component of each node, given links a[i] – b[i]; numbered by their first nodes."""
    return _components(nodes, np.asarray(a, np.int64), np.asarray(b, np.int64))


@compiled(NEW_INTS, COUNT, INTS, INTS)
def _components(nodes: int, a: Ints, b: Ints) -> Ints:
    """Sets joined under their lowest node, with path halving (R. E. Tarjan, J. van Leeuwen, Worst-case Analysis of Set Union
    Algorithms, Journal of the ACM 31(2), 1984)."""
    root = np.arange(nodes)
    for i in range(len(a)):
        x, y = a[i], b[i]
        while root[x] != x:
            root[x] = root[root[x]]
            x = root[x]
        while root[y] != y:
            root[y] = root[root[y]]
            y = root[y]
        if x < y:
            root[y] = x
        else:
            root[x] = y
    found = 0
    for x in range(nodes):  # a root comes before all that hang on it
        if root[x] == x:
            root[x] = found
            found += 1
        else:
            root[x] = root[root[x]]
    return root


def _sorted(keys: Ints, width: int) -> tuple[Ints, Ints]:
    """Stable order of keys of ``width`` bits, and the keys in it. Where both fit one word, key and place sort as one."""
    bits = int(keys.size).bit_length()
    if width + bits > 62:
        order = np.argsort(keys, kind="stable")
        return order, keys[order]
    both = np.sort((keys << bits) | np.arange(keys.size))
    return both & ((1 << bits) - 1), both >> bits


def ranges(starts: Ints, lengths: Ints) -> Ints:
    """(n,) all the integers of the half-open ranges ``[start, start + length)``, one range after the other."""
    return _ranges(np.asarray(starts, np.int64), np.asarray(lengths, np.int64))


@compiled(NEW_INTS, INTS, INTS)
def _ranges(starts: Ints, lengths: Ints) -> Ints:
    total = 0
    for i in range(len(lengths)):
        total += lengths[i]
    out = np.empty(total, np.int64)
    at = 0
    for i in range(len(lengths)):
        for k in range(starts[i], starts[i] + lengths[i]):
            out[at] = k
            at += 1
    return out


@compiled(NEW_INTS, INTS, INTS)
def _runs(offsets: Ints, of: Ints) -> Ints:
    """The integers from ``offsets[i]`` up to ``offsets[i + 1]`` for each i of ``of``."""
    total = 0
    for i in of:
        total += offsets[i + 1] - offsets[i]
    out = np.empty(total, np.int64)
    at = 0
    for i in of:
        for k in range(offsets[i], offsets[i + 1]):
            out[at] = k
            at += 1
    return out


def twice_at_one(corners: Ints, sides: Ints) -> bool:
    """Whether one of ragged faces, of ``sides`` corners each, visits a vertex twice or has fewer than three corners."""
    check()
    return bool(_twice_at_one(corners, sides))


@compiled(YES, INTS, INTS)
def _twice_at_one(corners: Ints, sides: Ints) -> bool:
    last, most = 0, 0
    for n in sides:
        if n < 3:
            return True
        most = max(most, n)
    if most > 24:
        for v in corners:
            last = max(last, v)
    seen = np.full(last + 1, -1)  # for large faces alone
    at = 0
    for f in range(len(sides)):
        for c in range(at, at + sides[f]):
            if sides[f] > 24:
                if seen[corners[c]] == f:
                    return True
                seen[corners[c]] = f
                continue
            for d in range(at, c):
                if corners[c] == corners[d]:
                    return True
        at += sides[f]
    return False


class Topology:
    """Faces in ragged form and everything that follows from them.

    Attributes:
        vertex_count: number of vertices, used by a face or not.
        offsets: (F+1,) where each face's corners start.
        corners: (C,) vertex of each corner, counter-clockwise seen from outside.
    """

    def __init__(self, vertex_count: int, offsets: Ints, corners: Ints, digest: bytes | None = None) -> None:
        """``digest`` names the connectivity where its maker knows a shorter way to say it than by all its faces."""
        if digest is not None:
            self.digest = digest
        self.vertex_count = int(vertex_count)
        self.offsets = np.ascontiguousarray(offsets, dtype=np.int64)
        self.corners = np.ascontiguousarray(corners, dtype=np.int64)
        self.offsets.flags.writeable = False
        self.corners.flags.writeable = False

    @classmethod
    def of(cls, vertex_count: int, offsets: Ints, corners: Ints) -> Topology:
        """The one topology with these faces: equal connectivity gives the same object while anybody holds it."""
        fresh = cls(vertex_count, offsets, corners)
        return _interned.setdefault(fresh.digest, fresh)

    @classmethod
    def of_faces(cls, vertex_count: int, faces: Sequence[Sequence[int]]) -> Topology:
        """From a list of vertex loops; for small meshes and tests."""
        lengths = np.array([len(f) for f in faces], dtype=np.int64)
        corners = np.array([v for f in faces for v in f], dtype=np.int64)
        return cls.of(vertex_count, np.concatenate([[0], np.cumsum(lengths)]).astype(np.int64), corners)

    @cached_property
    def digest(self) -> bytes:
        """16 bytes that name this connectivity."""
        check()
        h = hashlib.blake2b(self.vertex_count.to_bytes(8, "little"), digest_size=16)
        narrow = np.int32 if max(self.vertex_count, self.corner_count) < 2**31 else np.int64
        h.update(self.offsets.astype(narrow).data)
        h.update(self.corners.astype(narrow).data)
        return h.digest()

    # sizes -----------------------------------------------------------------------------------------------------
    @property
    def face_count(self) -> int:
        """F, the number of faces."""
        return self.offsets.size - 1

    @property
    def corner_count(self) -> int:
        """C, the number of corners of all faces."""
        return self.corners.size

    @property
    def edge_count(self) -> int:
        """E, the number of edges."""
        return len(self.edges)

    @cached_property
    def sides(self) -> Ints:
        """(F,) number of corners of each face."""
        return np.diff(self.offsets)

    @cached_property
    def triangle_face(self) -> Ints:
        """(T,) face of each triangle, where a face of n corners has n − 2 of them."""
        out: Ints = np.repeat(np.arange(self.face_count), np.maximum(self.sides - 2, 0))
        out.flags.writeable = False  # handed out as it is
        return out

    @cached_property
    def triangle_starts(self) -> Ints:
        """(F,) which triangle is the first of each face."""
        per_face = np.maximum(self.sides - 2, 0)
        return np.cumsum(per_face) - per_face

    @cached_property
    def uniform(self) -> int:
        """The number of sides if all faces have the same, else 0."""
        sides = self.sides
        return int(sides[0]) if sides.size and (sides == sides[0]).all() else 0

    # corners ---------------------------------------------------------------------------------------------------
    @cached_property
    def corner_face(self) -> Ints:
        """(C,) face of each corner."""
        return np.repeat(np.arange(self.face_count), self.sides)

    @cached_property
    def next_corner(self) -> Ints:
        """(C,) following corner round the face."""
        following = np.arange(1, self.corner_count + 1)
        following[self.offsets[1:] - 1] = self.offsets[:-1]
        return following

    @cached_property
    def previous_corner(self) -> Ints:
        """(C,) preceding corner round the face."""
        preceding = np.arange(-1, self.corner_count - 1)
        preceding[self.offsets[:-1]] = self.offsets[1:] - 1
        return preceding

    def corners_of(self, faces: Ints) -> Ints:
        """(n,) corner numbers of the given faces, in order."""
        return _runs(self.offsets, faces)

    # edges -----------------------------------------------------------------------------------------------------
    @property
    def _bits(self) -> int:
        """Bits that hold any vertex number."""
        return max(self.vertex_count - 1, 0).bit_length()

    def _packed(self, a: Ints, b: Ints) -> Ints:
        """One number for each unordered pair of vertices."""
        return (np.minimum(a, b) << self._bits) | np.maximum(a, b)

    @cached_property
    def _edge_table(self) -> tuple[Ints, Ints, Ints, Ints]:
        """Packed keys of the edges, edge of each corner, corners sorted by edge, and where each edge starts there."""
        check()
        a = self.corners
        order, ordered = _sorted(self._packed(a, a[self.next_corner]), 2 * self._bits)
        first = np.empty(ordered.size, bool)
        first[:1] = True
        np.not_equal(ordered[1:], ordered[:-1], out=first[1:])
        starts = np.flatnonzero(first)
        corner_edge = np.empty(order.size, np.int64)
        corner_edge[order] = np.cumsum(first) - 1
        return ordered[starts], corner_edge, order, np.append(starts, order.size)

    @cached_property
    def edges(self) -> Ints:
        """(E, 2) vertices of each edge, lower index first, sorted."""
        check()
        keys = self._edge_table[0]
        out = np.empty((keys.size, 2), np.int64)
        np.right_shift(keys, self._bits, out=out[:, 0])
        np.bitwise_and(keys, (1 << self._bits) - 1, out=out[:, 1])
        return out

    @property
    def corner_edge(self) -> Ints:
        """(C,) edge from each corner to the next."""
        return self._edge_table[1]

    @property
    def edge_corners(self) -> tuple[Ints, Ints]:
        """(corners sorted by edge (C,), starts (E+1,)): the half-edges lying on each edge."""
        return self._edge_table[2], self._edge_table[3]

    @cached_property
    def edge_face_count(self) -> Ints:
        """(E,) how many faces meet at each edge."""
        return np.diff(self._edge_table[3])

    @cached_property
    def twin(self) -> Ints:
        """(C,) the opposite half-edge, −1 on borders, on edges of three faces and where both run the same way."""
        check()
        order, starts = self.edge_corners
        twins = np.full(self.corner_count, -1, np.int64)
        pairs = starts[:-1][self.edge_face_count == 2]
        one, two = order[pairs], order[pairs + 1]
        opposed = self.corners[one] != self.corners[two]
        one, two = one[opposed], two[opposed]
        twins[one], twins[two] = two, one
        return twins

    @cached_property
    def border_edges(self) -> Bools:
        """(E,) edges with one face."""
        out: Bools = self.edge_face_count == 1
        return out

    def find_edges(self, a: Ints, b: Ints) -> Ints:
        """(n,) edge between vertices a[i] and b[i], −1 where there is none."""
        check()
        keys = self._edge_table[0]
        wanted = self._packed(a, b)
        if keys.size == 0:
            return np.full(wanted.shape, -1, np.int64)
        at = np.searchsorted(keys, wanted)
        at[at == keys.size] = 0
        return np.where(keys[at] == wanted, at, -1)

    # vertices --------------------------------------------------------------------------------------------------
    @cached_property
    def vertex_corners(self) -> tuple[Ints, Ints]:
        """(corners sorted by vertex (C,), starts (V+1,))."""
        check()
        order, _ = _sorted(self.corners, self._bits)
        starts = np.zeros(self.vertex_count + 1, np.int64)
        np.cumsum(np.bincount(self.corners, minlength=self.vertex_count), out=starts[1:])
        return order, starts

    @cached_property
    def vertex_fan_count(self) -> Ints:
        """(V,) number of separate fans of faces round each vertex: 1 where manifold, 0 where loose."""
        check()
        fan = self.corner_fan
        if fan.size == 0:
            return np.zeros(self.vertex_count, np.int64)
        vertex_of_fan = np.zeros(int(fan.max()) + 1, np.int64)
        vertex_of_fan[fan] = self.corners
        return np.bincount(vertex_of_fan, minlength=self.vertex_count)

    @cached_property
    def corner_fan(self) -> Ints:
        """(C,) label of the fan each corner belongs to; corners at a vertex are in one fan if edges join them."""
        check()
        order, starts = self.edge_corners
        lower = self.edges[:, 0][self.corner_edge]
        here = np.arange(self.corner_count)
        at_low = np.where(self.corners == lower, here, self.next_corner)
        at_high = np.where(self.corners == lower, self.next_corner, here)
        linked = np.ones(order.size, bool)
        linked[starts[1:] - 1] = False  # the last corner of an edge has no follower on it
        i = np.flatnonzero(linked)
        one, two = order[i], order[i + 1]
        return components(self.corner_count, np.concatenate([at_low[one], at_high[one]]),
                          np.concatenate([at_low[two], at_high[two]]))

    @cached_property
    def ordered_fans(self) -> tuple[Ints, Ints]:
        """Corners round each vertex in turning order (counter-clockwise seen from outside), and starts (V+1,).

        An open fan begins at its border. Where a vertex has several fans they follow one another.
        """
        check()
        onward = self.twin[self.previous_corner]  # next corner round the vertex, counter-clockwise; −1 at the end
        fan = self.corner_fan
        back = np.full(self.corner_count, -1, np.int64)
        has = onward >= 0
        back[onward[has]] = np.flatnonzero(has)
        fans = int(fan.max()) + 1 if fan.size else 0
        start = np.full(fans, self.corner_count, np.int64)
        np.minimum.at(start, fan, np.arange(self.corner_count))
        opening = np.flatnonzero(back < 0)
        start[fan[opening]] = opening
        rank = np.zeros(self.corner_count, np.int64)
        at, step = start, 0
        while at.size:  # one pass per place in the fan: bounded by the largest valence
            rank[at] = step
            at = onward[at]
            at = at[at >= 0]
            at = at[at != start[fan[at]]]
            step += 1
        order = np.lexsort((rank, fan, self.corners))
        return order, self.vertex_corners[1]

    @cached_property
    def shells(self) -> Ints:
        """(F,) label of the shell of each face; shells connect through edges."""
        check()
        order, starts = self.edge_corners
        linked = np.ones(order.size, bool)
        linked[starts[1:] - 1] = False
        i = np.flatnonzero(linked)
        face = self.corner_face
        return components(self.face_count, face[order[i]], face[order[i + 1]])

    # what kind of mesh is this ---------------------------------------------------------------------------------
    @cached_property
    def is_closed(self) -> bool:
        """Whether no edge has one face alone."""
        return self.face_count > 0 and not bool(self.border_edges.any())

    @cached_property
    def is_manifold(self) -> bool:
        """Every edge has at most two faces and every vertex one fan."""
        return bool((self.edge_face_count <= 2).all() and (self.vertex_fan_count == 1).all())

    @cached_property
    def is_oriented(self) -> bool:
        """Faces on either side of every inner edge run it in opposite directions."""
        return bool((self.twin[self.edge_face_count[self.corner_edge] == 2] >= 0).all())

    def faults(self) -> list[str]:
        """What makes this connectivity unusable; empty when it is sound. For imports and tests."""
        out = []
        if self.offsets[0] != 0 or self.offsets[-1] != self.corner_count or (self.sides < 3).any():
            out.append("a face has fewer than three corners")
        if self.corner_count and (self.corners.min() < 0 or self.corners.max() >= self.vertex_count):
            out.append("a face uses a vertex that is not there")
        repeated = np.lexsort((self.corners, self.corner_face))
        f, v = self.corner_face[repeated], self.corners[repeated]
        if ((f[1:] == f[:-1]) & (v[1:] == v[:-1])).any():
            out.append("a face visits a vertex twice")
        return out
