"""Collects the faces and vertices of a result, group by group, and makes the draft of them.

Numbers while collecting: old vertices keep theirs, new ones follow from V on in the order they are asked for. Old vertices
that no face uses any more go at the end; those nobody used before stay.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

import numpy as np
from scipy.sparse import csr_array

from ..compiled import COUNT, INTS, TWO_INTS, compiled
from ..errors import StepError
from ..lineage.history import Renaming
from ..mesh.attributes import Sources
from ..mesh.mesh import Floats, Mesh
from ..mesh.names import Domain, Ids
from ..mesh.topology import Ints, Topology, twice_at_one
from ..step.draft import Born, Draft, Merged
from ..waiting import check

#: elements of the old mesh that new ones are named after: a domain and their numbers
Parent = tuple[Domain, Ints]



class Rebuild:
    """A result in the making."""

    def __init__(self, mesh: Mesh) -> None:
        self.mesh = mesh
        self.total = mesh.topology.vertex_count
        self._corners: list[Ints] = []
        self._sides: list[Ints] = []
        self._kept: list[Ints] = []
        self._faces_from: list[Ints] = []
        self._corners_from: list[Ints] = []
        self._vertices_from: list[Ints] = []
        self._born: list[Born] = []
        self._merged: list[tuple[Domain, Ints, Ints]] = []
        self._count = 0

    def vertices(self, role: str, parents: Sequence[Parent], index: Ints, source: Ints,
                 replaces: Ints | None = None, continues: Ints | None = None) -> Ints:
        """Numbers (n,) of new vertices; ``source`` (n,) is the old vertex each takes after."""
        check()
        n = source.size
        if n == 0:
            return source
        numbers = self.total + np.arange(n)
        self.total += n
        self._vertices_from.append(source)
        self._born.append(Born("vertex", role, numbers, self._ids(parents, n), tuple(d for d, _ in parents),
                               _columns(index, n), replaces=replaces, continues=continues))
        return numbers

    def keep(self, faces: Ints, corners: Ints | None = None, sides: Ints | None = None, source: Ints | None = None,
             check: bool = False) -> None:
        """Old faces that stay themselves; their corners may be renamed, and with ``sides`` and ``source`` be others;
        ``check`` says that they might come to touch themselves."""
        t = self.mesh.topology
        every = faces.size == t.face_count and (source is None or corners is None)
        at = np.arange(t.corner_count) if every else t.corners_of(faces)
        self._add(t.corners[at] if corners is None else corners, t.sides[faces] if sides is None else sides, faces, faces,
                  at if source is None else source, check)

    def faces(self, role: str, corners: Ints, parents: Sequence[Parent], index: Ints, source: Ints, corner_source: Ints,
              sides: Ints | None = None, replaces: Ints | None = None,
              reindex: Callable[[Renaming], Ints] | None = None) -> Ints:
        """Numbers (n,) of new faces: ``corners`` (n, k), or flat with ``sides`` (n,); ``source`` (n,) is the old face each
        takes after, ``corner_source`` the old corner of each of its corners, −1 for none."""
        counts = np.full(len(corners), corners.shape[1]) if sides is None else sides
        n = counts.size
        if n == 0:
            return source
        numbers = self._count + np.arange(n)
        self._add(corners.ravel(), counts, np.full(n, -1), source, corner_source.ravel(), True)
        if n:
            self._born.append(Born("face", role, numbers, self._ids(parents, n), tuple(d for d, _ in parents),
                                   _columns(index, n), replaces=replaces, reindex=reindex))
        return numbers

    def merged(self, domain: Domain, old: Ints, into: Ints) -> None:
        """Old elements that give way to ones that stay, in numbers while collecting."""
        self._merged.append((domain, old, into))

    def _add(self, corners: Ints, sides: Ints, kept: Ints, source: Ints, corner_source: Ints, check: bool) -> None:
        if check and twice_at_one(corners, sides):
            raise StepError("a face would touch itself there; pick less, or more, of it", "pick")
        self._corners.append(corners)
        self._sides.append(sides)
        self._kept.append(kept)
        self._faces_from.append(source)
        self._corners_from.append(corner_source)
        self._count += sides.size

    def _ids(self, parents: Sequence[Parent], n: int) -> Ids:
        if not parents:
            return np.zeros((n, 0), np.uint64)
        names = self.mesh.names
        return np.stack([names.of(domain)[number] for domain, number in parents], axis=1)

    @property
    def corners(self) -> Ints:
        """(C',) vertex of every corner so far, in numbers while collecting."""
        return _joined(self._corners)

    @property
    def corner_sources(self) -> Ints:
        """(C',) the old corner each takes after."""
        check()
        return _joined(self._corners_from)

    @property
    def vertex_sources(self) -> Ints:
        """(total,) the old vertex each takes after, in numbers while collecting."""
        check()
        return np.concatenate([np.arange(self.mesh.topology.vertex_count), *self._vertices_from]).astype(np.int64)

    def draft(self, data: Any = None, edges: Callable[[Topology], dict[str, Ints]] | None = None,
              replaced_edges: tuple[Ints, Ints] | None = None, vertex_source: Sources | Callable[[], Sources] | None = None,
              corner_source: Sources | Callable[[], Sources] | None = None, **more: Any) -> Draft:
        """The draft. ``edges`` gets the new topology and gives pairs in its numbers; ``replaced_edges`` and ``merged`` are
        told in numbers while collecting. New vertices stand last, in the order they were asked for.

        """
        check()
        t = self.mesh.topology
        v = t.vertex_count
        corners, sides = _joined(self._corners), _joined(self._sides)
        number, old = _numbered(corners, t.corners, self.total, v)
        self.number = number
        offsets = np.zeros(sides.size + 1, np.int64)
        np.cumsum(sides, out=offsets[1:])
        topology = Topology.of(old.size + self.total - v, offsets, number[corners])
        kept_vertices = np.concatenate([old, np.full(self.total - v, -1)])
        born = tuple(_moved(b, number) if b.domain == "vertex" else b for b in self._born)
        source = np.concatenate([old, *self._vertices_from]).astype(np.int64, copy=False)
        if replaced_edges is not None:
            old, new = replaced_edges
            alive = (number[new] >= 0).all(axis=1) if len(new) else np.zeros(0, bool)
            old, new = old[alive], number[new[alive]]
            more["replaced_edges"] = lambda: (old, new)
        if edges is not None:
            more["edges"] = lambda: edges(topology)
        merged = []
        for domain, gone, into in self._merged:
            place = number[into] if domain == "vertex" else into
            merged.append(Merged(domain, gone[place >= 0], place[place >= 0]))
        return Draft(topology, kept_vertices, _joined(self._kept), source if vertex_source is None else vertex_source,
                     _joined(self._faces_from), _joined(self._corners_from) if corner_source is None else corner_source,
                     born, merged=tuple(merged), data=data, **more)


@compiled(TWO_INTS, INTS, INTS, COUNT, COUNT)
def _numbered(corners: Ints, before: Ints, total: int, old: int) -> tuple[Ints, Ints]:
    """(total,) what each vertex is called by the result, −1 for an old one that no face uses any more; and the (n,) old ones
    that stay. Vertices that no face used ``before`` stay as they are, and all new ones."""
    number = np.full(total, -1)
    loose = np.ones(old, np.bool_)
    for v in before:
        loose[v] = False
    for v in corners:
        number[v] = 0
    stays = np.empty(old, np.int64)
    n = 0
    for v in range(old):
        if loose[v] or number[v] == 0:
            number[v] = n
            stays[n] = v
            n += 1
    for v in range(old, total):
        number[v] = n + v - old
    return number, stays[:n].copy()


def _columns(index: Ints, n: int) -> Ints:
    return index.reshape(n, -1) if index.size else np.zeros((n, 0), np.int64)


def _moved(born: Born, number: Ints) -> Born:
    return Born(born.domain, born.role, number[born.elements], born.parents, born.of, born.index, born.replaces,
                born.continues, born.reindex)


def _joined(parts: list[Ints]) -> Ints:
    return np.concatenate(parts).astype(np.int64, copy=False) if parts else np.zeros(0, np.int64)


def with_new(draft: Draft, mesh: Mesh, new: Floats, moved: tuple[Ints, Floats] | None = None) -> Floats:
    """(V', 3) old points where they were, but for those ``moved`` (their numbers, and where to); then those of the new
    vertices."""
    points = mesh.points
    if moved is not None and moved[0].size:
        points = points.copy()
        points[moved[0]] = moved[1]
    return np.concatenate([points[draft.kept_vertices[draft.kept_vertices >= 0]], new])


def none(n: int) -> Ints:
    """(n, 0) an index of nothing for n elements."""
    return np.zeros((n, 0), np.int64)


def blend(rows: int, columns: int, row: Ints, column: Ints, weight: Floats) -> csr_array:
    """Weights of new elements over old ones as a matrix."""
    return csr_array((weight, (row, column)), shape=(rows, columns))
