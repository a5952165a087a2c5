"""Finding elements by ids that were given before steps above were inserted.

An id hashes the ids of its parents, so inserting a step renames what is made further down: the cap of a face becomes the
cap of that face's cap. The names there would be without the inserted step can be computed from the records alone, and
without positions: what the step replaced keeps its old name, and every later element is named from those.

Which steps were inserted since is not written down. One step is tried after the other, then runs of neighbours, then
pairs, until every id sought is found or the budget is spent; all ids of one pick come from one moment, so the first answer
usually serves them all. Nothing is guessed about shape: an id is found exactly or not at all.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from functools import cached_property
from itertools import islice

import numpy as np

from ..mesh.names import Domain, Ids, Names
from ..mesh.topology import Ints, Topology
from ..waiting import check
from .history import NO_IDS, NO_SUCCESSION, History, Record, Succession, ids_in

#: how many worlds are looked into, and how many names are computed in all, for one pick
MOST_WORLDS = 200
MOST_NAMES = 5_000_000

LeftOut = tuple[int, ...]
DOMAINS: tuple[Domain, ...] = ("vertex", "face")


@dataclass(frozen=True)
class World:
    """Other names (``old``) and the real ids they stand for (``new``), as if some steps were not there."""

    vertex: Succession
    face: Succession

    def of(self, domain: Domain) -> Succession:
        """The names of vertices or of faces."""
        return self.vertex if domain == "vertex" else self.face

    @cached_property
    def _by_real(self) -> dict[Domain, tuple[Ids, Ids]]:
        out: dict[Domain, tuple[Ids, Ids]] = {}
        for domain in DOMAINS:
            names = self.of(domain)
            order = np.argsort(names.new, kind="stable")
            out[domain] = names.new[order], names.old[order]
        return out

    def renaming(self, domain: Domain, ids: Ids) -> Ids:
        """(n,) what elements of these real ids are called there; same shape."""
        real, other = self._by_real[domain]
        if not real.size or not ids.size:
            return ids.copy()
        at = np.minimum(np.searchsorted(real, ids), real.size - 1)
        return np.where(real[at] == ids, other[at], ids)

    def touches(self, record: Record) -> bool:
        """Whether a step names anything after elements that are called otherwise here."""
        if record.parents is None:
            return True
        return any(_meet(self._by_real[domain][0], ids) for domain, ids in record.parents.items())

    def after(self, record: Record, left_out: bool) -> World:
        """This world one step further."""
        if record.renamed is None or (not left_out and not self.touches(record)):
            return self
        check()
        new = record.renamed(self.renaming, left_out)
        return World(*(_joined(self.of(domain), new.get(domain, NO_SUCCESSION)) for domain in DOMAINS))

    @property
    def size(self) -> int:
        """How many names it tells."""
        return int(self.vertex.new.size + self.face.new.size)


REAL = World(Succession(NO_IDS, NO_IDS), Succession(NO_IDS, NO_IDS))


def _joined(known: Succession, more: Succession) -> Succession:
    changed = more.old != more.new
    if not changed.any():
        return known
    return Succession(np.concatenate([known.old, more.old[changed]]), np.concatenate([known.new, more.new[changed]]))


def world(history: History, left_out: LeftOut) -> World:
    """What elements would be called had the steps in ``left_out`` not been there, remembered from step to step."""
    missing = []
    at: History | None = history
    found = REAL
    while at is not None and len(at.records) > left_out[0]:
        known = at.remembered.get(left_out)
        if known is not None:
            found = known
            break
        missing.append(at)
        at = at.above
    for at in reversed(missing):
        number = len(at.records) - 1
        found = at.remembered[left_out] = found.after(at.records[number], number in left_out)
    return found


@dataclass(frozen=True)
class Worlds:
    """Worlds without some of the steps, the likeliest first, and all names of either kind in any of them."""

    by_left_out: dict[LeftOut, World]

    @cached_property
    def every(self) -> World:
        """All renamings of all worlds in one: which ids are touched by any, and which names are known in any."""
        distinct = list({id(w): w for w in self.by_left_out.values()}.values())
        return World(*(Succession(np.unique(ids_in(w.of(domain).old for w in distinct)),
                                  np.unique(ids_in(w.of(domain).new for w in distinct))) for domain in DOMAINS))

    def touches(self, record: Record) -> bool:
        """Whether a step names anything after elements that are called otherwise in any of them."""
        if record.parents is None:
            return True
        return any(_meet(self.every.of(domain).new, ids) for domain, ids in record.parents.items())

    def know(self, domain: Domain, ids: Ids) -> bool:
        """Whether any of these names is one in any of them."""
        return _meet(self.every.of(domain).old, np.unique(ids))


def worlds(history: History) -> Worlds:
    """The worlds of a history, remembered from step to step."""
    missing: list[History] = []
    at: History | None = history
    while at is not None and "worlds" not in at.remembered:
        missing.append(at)
        at = at.above
    found: Worlds = Worlds({}) if at is None else at.remembered["worlds"]
    for at in reversed(missing):
        check()
        found = at.remembered["worlds"] = _one_further(found, at)
    return found


def _one_further(above: Worlds, history: History) -> Worlds:
    records = history.records
    if not records:
        return above
    number = len(records) - 1
    able = [i for i, r in enumerate(records) if i and r.renamed is not None]
    if records[number].renamed is None:
        return above
    touched = above.touches(records[number])
    out: dict[LeftOut, World] = {}
    spent = 0
    for left_out in islice(_likeliest(able), MOST_WORLDS):
        known = above.by_left_out.get(left_out)
        if known is None:
            found = world(history, left_out)
        else:
            found = known.after(records[number], number in left_out) if touched else known
        out[left_out] = found
        spent += found.size
        if spent > MOST_NAMES:
            break
    return Worlds(out)


def _likeliest(able: list[int]) -> Iterator[LeftOut]:
    """Which steps to leave out: each alone, then runs of neighbours, then pairs."""
    yield from ((i,) for i in able)
    yield from (tuple(able[i:i + n]) for n in range(2, len(able) + 1) for i in range(len(able) - n + 1))
    yield from ((one, two) for place, one in enumerate(able) for two in able[place + 2:])


def _meet(one: Ids, two: Ids) -> bool:
    """Whether two ascending arrays have anything in common."""
    if not one.size or not two.size:
        return False
    few, many = (one, two) if one.size < two.size else (two, one)
    return bool((many[np.minimum(np.searchsorted(many, few), many.size - 1)] == few).any())


@dataclass(frozen=True)
class Found:
    """Live elements that ids name, each once and ascending.

    Attributes:
        elements: (n,) their numbers.
        missing: how many ids found none.
        several: whether an id found under another name has more than one by now. Those need not lie together, as halves do.
    """

    elements: Ints
    missing: int
    several: bool


def find(history: History, domain: Domain, ids: Ids, names: Names, since: LeftOut | None = None) -> Found:
    """Live elements named by ``ids``. ``since`` are the numbers of the steps that came in after the ids were told, where
    that is known."""
    element, whose = history.follow(domain, ids, names)
    found, gone, several = [element], _left(ids.size, whose), False
    for other in _of_interest(history, domain, ids[gone], since):
        real, of = other.of(domain).only_heirs(ids[gone], gone)
        if not real.size:
            continue
        element, whose = history.follow(domain, real, names)
        found.append(element)
        several |= _repeats(of[whose])
        gone = np.setdiff1d(gone, of[whose])
        if not gone.size:
            break
    return Found(np.unique(np.concatenate(found)), int(gone.size), several)


@dataclass(frozen=True)
class FoundEdges:
    """Live edges that pairs of ids name, each once and ascending.

    Attributes:
        edges: (n,) their numbers.
        first: (n,) the end of each that comes of the first id of its pair; where several name it, of the first pair.
        owner: (n,) that pair.
        missing: how many pairs found none.
        moved: whether any was found under other names.
        several: as in :class:`Found`.
    """

    edges: Ints
    first: Ints
    owner: Ints
    missing: int
    moved: bool
    several: bool


def find_edges(history: History, topology: Topology, names: Names, pairs: Ids, since: LeftOut | None = None) -> FoundEdges:
    """Live edges named by ``pairs`` (n, 2) of vertex ids; ``since`` as in :func:`find`."""
    element, whose, one = history.follow_ends(topology, names, pairs)
    found, owner, first, gone, several = [element], [whose], [one], _left(len(pairs), whose), False
    for other in _of_interest(history, "vertex", pairs[gone].ravel(), since):
        vertices = other.vertex
        if not vertices.knows(pairs[gone]):
            continue
        real, of = vertices.heirs(pairs[gone, 0], gone)
        two, place = vertices.heirs(pairs[of, 1], np.arange(of.size))
        element, whose, one = history.follow_ends(topology, names, np.stack([real[place], two], axis=1))
        found.append(element)
        owner.append(of[place[whose]])
        first.append(one)
        several |= _repeats(owner[-1])
        gone = np.setdiff1d(gone, owner[-1])
        if not gone.size:
            break
    every, of, one = np.concatenate(found), np.concatenate(owner), np.concatenate(first)
    order = np.lexsort((of, every))
    edges, at = np.unique(every[order], return_index=True)
    of, one = of[order][at], one[order][at]
    ends = names.vertex[topology.edges[edges]]
    moved = bool((np.sort(ends, axis=1) != np.sort(pairs[of], axis=1)).any()) if edges.size else False
    return FoundEdges(edges, one, of, int(gone.size), moved, several)


def _of_interest(history: History, domain: Domain, ids: Ids, since: LeftOut | None) -> Iterable[World]:
    """Worlds in which some of these names may be found."""
    if not ids.size or since == ():
        return ()
    if since is not None:
        return (world(history, since),)
    every = worlds(history)
    return every.by_left_out.values() if every.know(domain, ids) else ()


def _repeats(owner: Ints) -> bool:
    return bool(owner.size and np.bincount(owner).max() > 1)


def _left(count: int, found: Ints) -> Ints:
    """Those of ``count`` that are not among the found."""
    left = np.ones(count, bool)
    left[found] = False
    return np.flatnonzero(left)
