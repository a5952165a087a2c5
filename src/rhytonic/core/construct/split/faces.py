"""Faces split along chords between points of their outline: what connect, cut, slice and mirror share.

Each point is an old vertex or a new one on an old edge. A chord joins two points of one face. Chords of a face do not
cross, so that its pieces follow from their order along the outline alone, without looking at positions.
"""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np
from scipy.sparse import csr_array, vstack

from ...mesh.mesh import Floats, Mesh
from ...mesh.topology import Ints, Topology, components, ranges
from ..rebuild import Rebuild

NONE: Ints = np.zeros(0, np.int64)


@dataclass(frozen=True)
class EdgePoints:
    """Points on edges, ascending by edge and then from the edge's first vertex to its second.

    Attributes:
        edge: (n,) the edge of each; its number as a vertex is V + its place here.
        start: (E+1,) where the points of each edge begin.
    """

    edge: Ints
    start: Ints

    @classmethod
    def on(cls, t: Topology, edge: Ints) -> EdgePoints:
        """From ascending edges, one entry a point."""
        start = np.zeros(t.edge_count + 1, np.int64)
        np.cumsum(np.bincount(edge, minlength=t.edge_count), out=start[1:])
        return cls(edge, start)

    @property
    def count(self) -> int:
        """How many points are laid on edges."""
        return self.edge.size

    @property
    def slot(self) -> Ints:
        """(n,) place of each along its edge, from 0."""
        return np.arange(self.edge.size) - self.start[self.edge]


@dataclass(frozen=True)
class Outlines:
    """Faces with the points on their edges as corners.

    Attributes:
        faces: (k,) the faces, ascending.
        starts: (k+1,) where each begins.
        vertex: (C2,) vertex of each corner, numbers from V on being points on edges.
        source: (C2,) old corner: itself, or the one whose half-edge holds the point.
        point: (C2,) place among the points, −1 for old corners.
        ahead: (C2,) whether the half-edge runs as its edge does.
    """

    faces: Ints
    starts: Ints
    vertex: Ints
    source: Ints
    point: Ints
    ahead: np.ndarray

    @property
    def sides(self) -> Ints:
        """(k,) corners of each face."""
        return np.diff(self.starts)

    @cached_property
    def local(self) -> Ints:
        """(C2,) place of each corner's face among the faces."""
        return np.repeat(np.arange(self.faces.size), self.sides)

    @property
    def face(self) -> Ints:
        """(C2,) face of each corner."""
        return self.faces[self.local]

    def place(self, vertices: int, faces: Ints, vertex: Ints) -> Ints:
        """(n,) place of a vertex in a face's outline, −1 where it is not; ``vertices`` bounds the vertex numbers."""
        keys = self.face * vertices + self.vertex
        order = np.argsort(keys)
        wanted = faces * vertices + vertex
        at = np.minimum(np.searchsorted(keys[order], wanted), max(keys.size - 1, 0))
        return np.where(keys[order][at] == wanted, order[at], -1)

    def weights(self, t: Topology, share: Floats) -> csr_array:
        """(C2, C) corner values: a point on an edge blends the two corners of its half-edge, ``share`` (n,) from the edge's
        first vertex."""
        n = self.vertex.size
        on = self.point >= 0
        toward = np.zeros(n)
        toward[on] = np.where(self.ahead[on], share[self.point[on]], 1 - share[self.point[on]])
        row = np.repeat(np.arange(n), 2)
        column = np.stack([self.source, t.next_corner[self.source]], axis=1).ravel()
        return csr_array((np.stack([1 - toward, toward], axis=1).ravel(), (row, column)), shape=(n, t.corner_count))


def outlines(t: Topology, points: EdgePoints, faces: Ints) -> Outlines:
    """The outlines of some faces with the points on them."""
    corners = t.corners_of(faces)
    count = np.diff(points.start)[t.corner_edge[corners]]
    size = 1 + count
    begin = np.cumsum(size) - size
    total = int(size.sum())
    which = np.repeat(np.arange(corners.size), size)
    source = corners[which]
    step = np.arange(total) - begin[which]
    ahead = (t.corners[corners] == t.edges[:, 0][t.corner_edge[corners]])[which]
    point = np.full(total, -1, np.int64)
    on = step > 0
    k = step[on] - 1
    point[on] = points.start[t.corner_edge[source[on]]] + np.where(ahead[on], k, count[which[on]] - 1 - k)
    vertex = np.where(on, t.vertex_count + point, t.corners[source])
    first = np.cumsum(t.sides[faces]) - t.sides[faces]
    starts = np.append(begin[first], total) if faces.size else np.zeros(1, np.int64)
    return Outlines(faces, starts, vertex, source, point, ahead)


def concerned(t: Topology, points: EdgePoints, more: Ints) -> Ints:
    """(n,) faces with points on their edges, and those named beside."""
    has = np.zeros(t.edge_count, bool)
    has[points.edge] = True
    hit = np.zeros(t.face_count, bool)
    hit[t.corner_face[has[t.corner_edge]]] = True
    hit[more] = True
    return np.flatnonzero(hit)


@dataclass(frozen=True)
class FacePieces:
    """What chords make of faces: ``corner`` (n,) places in the outlines, piece after piece, ``sides`` (p,) and ``face``
    (p,) of each piece, and its ``ordinal`` (p,) within its face."""

    corner: Ints
    sides: Ints
    face: Ints
    ordinal: Ints


def cut_up(o: Outlines, chords: Ints) -> FacePieces:
    """Pieces of the faces that chords (n, 2), pairs of places in the outlines, lie in.

    At a corner the way on from a half-edge is the outgoing one with the next smaller turn, turns being told by how far
    along the outline the other end lies.
    """
    faces = np.unique(o.local[chords[:, 0]])
    size = o.sides[faces]
    inside = ranges(o.starts[faces], size)
    owner = np.repeat(faces, size)
    local = np.full(o.vertex.size, -1, np.int64)
    local[inside] = np.arange(inside.size)
    first = o.starts[owner]
    onward = np.where(inside + 1 == o.starts[owner + 1], first, inside + 1)
    from_ = np.concatenate([inside, chords[:, 0], chords[:, 1]])
    to = np.concatenate([onward, chords[:, 1], chords[:, 0]])
    n, m = inside.size, len(chords)
    length = o.sides[o.local[from_]]
    key = (to - from_) % length  # 1 along the outline, up to length − 2 for chords
    back = (from_ - to) % length  # the same seen from the other end
    order = np.lexsort((key, local[from_]))
    rank = local[from_][order] * (int(length.max(initial=1)) + 1) + key[order]
    wanted = local[to] * (int(length.max(initial=1)) + 1) + back
    following = order[np.searchsorted(rank, wanted, "left") - 1]
    cycle = components(n + 2 * m, np.arange(n + 2 * m), following)
    # the piece begins at its first half-edge along the outline
    lowest = np.full(int(cycle.max(initial=-1)) + 1, o.vertex.size, np.int64)
    np.minimum.at(lowest, cycle, from_)
    start = np.full(lowest.size, -1, np.int64)
    at_low = from_ == lowest[cycle]
    start[cycle[at_low][::-1]] = np.flatnonzero(at_low)[::-1]
    place = np.full(from_.size, -1, np.int64)
    at, step = start, 0
    while at.size:  # as many rounds as the longest piece has corners
        place[at] = step
        at = following[at]
        at = at[place[at] < 0]
        step += 1
    by_face = np.lexsort((lowest, o.local[np.minimum(lowest, o.vertex.size - 1)]))
    number = np.empty(by_face.size, np.int64)
    number[by_face] = np.arange(by_face.size)
    listed = np.lexsort((place, number[cycle]))
    sides = np.bincount(number[cycle], minlength=by_face.size)
    face = o.face[lowest[by_face]]
    new = np.ones(face.size, bool)
    new[1:] = face[1:] != face[:-1]
    ordinal = np.arange(face.size) - np.maximum.accumulate(np.where(new, np.arange(face.size), 0))
    return FacePieces(from_[listed], sides, face, ordinal)


@dataclass(frozen=True)
class Split:
    """A mesh with points put on edges and faces split, in the making.

    Attributes:
        apart: faces with no point on them; ``whole`` places among the outlines of those that have some and are not split.
        places: places in the outlines of the corners put into the result, once they are.
        plain: old corners put into the result before those.
    """

    build: Rebuild
    outline: Outlines
    points: EdgePoints
    pieces: FacePieces
    numbers: Ints
    apart: Ints
    whole: Ints
    places: Ints = field(default_factory=lambda: NONE)
    plain: Ints = field(default_factory=lambda: NONE)

    @property
    def staying(self) -> Ints:
        """(n,) faces that are not split: those apart, then those whole."""
        return np.concatenate([self.apart, self.outline.faces[self.whole]])

    def corner_weights(self, t: Topology, share: Floats) -> csr_array:
        """(C', C) what each corner of the result takes of the corners before, as rows that sum to one."""
        n = self.plain.size
        own = csr_array((np.ones(n), (np.arange(n), self.plain)), shape=(n, t.corner_count))
        return csr_array(vstack([own, self.outline.weights(t, share)[self.places]], format="csr"))

    def vertex_weights(self, t: Topology, share: Floats) -> csr_array:
        """(V + n, V) old vertices themselves, points on edges a blend of the ends."""
        v, n = t.vertex_count, self.points.count
        ends = t.edges[self.points.edge]
        row = np.concatenate([np.arange(v), np.repeat(v + np.arange(n), 2)])
        column = np.concatenate([np.arange(v), ends.ravel()])
        weight = np.concatenate([np.ones(v), np.stack([1 - share, share], axis=1).ravel()])
        return csr_array((weight, (row, column)), shape=(v + n, v))

    def halves(self, t: Topology) -> tuple[Ints, Ints]:
        """(n, 2) each: cut edges and their pieces, as pairs of vertices."""
        count = np.diff(self.points.start)
        edge = np.flatnonzero(count)
        size = count[edge] + 1
        which = np.repeat(np.arange(edge.size), size)
        step = np.arange(which.size) - np.repeat(np.cumsum(size) - size, size)
        point = t.vertex_count + self.points.start[edge][which] + step
        ends = t.edges[edge][which]
        first = np.where(step == 0, ends[:, 0], point - 1)
        last = np.where(step == size[which] - 1, ends[:, 1], point)
        return ends, np.stack([first, last], axis=1)


def split(mesh: Mesh, points: EdgePoints, chords: Ints, role: str, index: Ints) -> Split:
    """Begin a result: points on edges named by the edge's ends and ``index`` (n, k), and the faces that ``chords`` (pairs of
    (face, vertex, vertex) rows, (m, 3)) lie in cut up; pieces replace their face."""
    t = mesh.topology
    build = Rebuild(mesh)
    ends = t.edges[points.edge]
    numbers = build.vertices(role, [("vertex", ends[:, 0]), ("vertex", ends[:, 1])], index, ends[:, 0])
    o = outlines(t, points, concerned(t, points, chords[:, 0] if len(chords) else np.zeros(0, np.int64)))
    bound = t.vertex_count + points.count
    places = np.stack([o.place(bound, chords[:, 0], chords[:, k]) for k in (1, 2)], axis=1) if len(chords) \
        else np.zeros((0, 2), np.int64)
    pieces = cut_up(o, places) if len(chords) else FacePieces(*(np.zeros(0, np.int64) for _ in range(4)))
    apart = np.ones(t.face_count, bool)
    apart[o.faces] = False
    whole = np.ones(o.faces.size, bool)
    whole[np.searchsorted(o.faces, pieces.face)] = False
    return Split(build, o, points, pieces, numbers, np.flatnonzero(apart), np.flatnonzero(whole))


def add_pieces(s: Split, staying: np.ndarray | None = None, pieces: np.ndarray | None = None) -> Split:
    """Put the faces into the result: all, or those of ``staying`` and of the pieces that the masks keep."""
    p, o, t = s.pieces, s.outline, s.build.mesh.topology
    n = s.apart.size
    apart = s.apart if staying is None else s.apart[staying[:n]]
    whole = s.whole if staying is None else s.whole[staying[n:]]
    keep = np.ones(p.sides.size, bool) if pieces is None else pieces
    at = ranges(o.starts[whole], o.sides[whole])
    corner = p.corner[np.repeat(keep, p.sides)]
    s.build.keep(apart)
    s.build.keep(o.faces[whole], o.vertex[at], o.sides[whole], o.source[at])
    s.build.faces("", o.vertex[corner], [("face", p.face[keep])], p.ordinal[keep], p.face[keep], o.source[corner],
                  sides=p.sides[keep], replaces=p.face[keep])
    return replace(s, places=np.concatenate([at, corner]), plain=t.corners_of(apart))


def edge_sources(t: Topology, topology: Topology, number: Ints, halves: tuple[Ints, Ints]) -> Ints:
    """(E',) old edge of each new one: itself, or the one it is a piece of; −1 for chords."""
    out = np.full(topology.edge_count, -1, np.int64)
    for pairs, source in ((t.edges, np.arange(t.edge_count)), (halves[1], t.find_edges(halves[0][:, 0], halves[0][:, 1]))):
        if len(pairs):
            ends = number[pairs]
            real = (ends >= 0).all(axis=1)
            at = topology.find_edges(ends[real, 0], ends[real, 1])
            out[at[at >= 0]] = source[real][at >= 0]
    return out


def blended(s: Split, t: Topology, share: Floats, alias: Ints | None = None) -> tuple[csr_array, csr_array]:
    """Where vertices and corners of a finished result take their values from, its cut points blending two of each.

    ``share`` (n,) is told from the first vertex of each edge; ``alias`` (total,) the number each vertex is a copy of.
    """
    v, n, build = t.vertex_count, s.points.count, s.build
    as_one = np.arange(build.total) if alias is None else alias
    ends = t.edges[s.points.edge]
    live = np.flatnonzero(build.number >= 0)

    def matrix(number: Ints, source: Ints, other: Ints, toward: Floats, columns: int) -> csr_array:
        row = np.arange(number.size)
        known = source >= 0
        keep = known & (toward < 1)
        add = known & (toward > 0)
        return csr_array((np.concatenate([1 - toward[keep], toward[add]]),
                          (np.concatenate([row[keep], row[add]]), np.concatenate([source[keep], other[add]]))),
                         shape=(number.size, columns))

    number = as_one[live]
    cut = (number >= v) & (number < v + n)
    point = np.where(cut, number - v, 0)
    one = np.where(cut, ends[point, 0], build.vertex_sources[live]) if n else build.vertex_sources[live]
    two = np.where(cut, ends[point, 1], one) if n else one
    toward = np.where(cut, share[point], 0.0) if n else np.zeros(number.size)
    vertices = matrix(number, one, two, toward, v)
    corner, source = as_one[build.corners], build.corner_sources
    point = np.clip(corner - v, 0, max(n - 1, 0))
    held = np.maximum(source, 0)
    cut = (corner >= v) & (corner < v + n) & (source >= 0)
    if n:
        cut &= t.corner_edge[held] == s.points.edge[point]
        ahead = t.corners[held] == ends[point, 0]
        toward = np.where(cut, np.where(ahead, share[point], 1 - share[point]), 0.0)
    else:
        toward = np.zeros(corner.size)
    return vertices, matrix(corner, source, t.next_corner[held], toward, t.corner_count)
