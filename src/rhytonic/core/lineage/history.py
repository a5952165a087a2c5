"""What each step made and replaced: the memory that lets a pick find its elements again.

Records are kept in the order of the steps. An id that is gone is followed forward through them; an id made by a step is
found by starting at that step's record and following forward; an id given before a step above was inserted is found by
asking what names there would be without that step (``recall.py``).
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

import numpy as np

from ..mesh.names import Domain, Ids, Names, mix
from ..mesh.topology import Bools, Ints, Topology, ranges

NO_IDS: Ids = np.zeros(0, np.uint64)
NO_PAIRS: Ids = np.zeros((0, 2), np.uint64)
#: what elements would be called in another world; same shape in and out, 0 for what is not there
Renaming = Callable[[Domain, Ids], Ids]


def _places(ordered: Ids, wanted: Ids) -> tuple[Bools, Ints, Ints]:
    """Which of ``wanted`` stand in ``ordered``, all their places there one after the other, and how many each has."""
    low, high = np.searchsorted(ordered, wanted, "left"), np.searchsorted(ordered, wanted, "right")
    there = high > low
    count = (high - low)[there]
    return there, ranges(low[there], count), count


def pair_keys(pairs: Ids) -> Ids:
    """(n,) one 64-bit word for each unordered pair of ids."""
    return mix(pairs.min(axis=1), pairs.max(axis=1)) if len(pairs) else NO_IDS


@dataclass(frozen=True)
class Succession:
    """Which id gave way to which; one old id may have several heirs."""

    old: Ids
    new: Ids

    @cached_property
    def _sorted(self) -> tuple[Ids, Ids]:
        order = np.argsort(self.old, kind="stable")
        return self.old[order], self.new[order]

    def heirs(self, ids: Ids, whose: Ints) -> tuple[Ids, Ints]:
        """(n,) each: ``ids`` with every one that gave way replaced by its heirs, and whose each of them now is."""
        if self.old.size == 0 or ids.size == 0:
            return ids, whose
        old, new = self._sorted
        gone, at, count = _places(old, ids)
        if not gone.any():
            return ids, whose
        return np.concatenate([ids[~gone], new[at]]), np.concatenate([whose[~gone], np.repeat(whose[gone], count)])

    def only_heirs(self, ids: Ids, whose: Ints) -> tuple[Ids, Ints]:
        """(n,) each: the heirs of those of ``ids`` that gave way, and whose each of them is."""
        if self.old.size == 0 or ids.size == 0:
            return NO_IDS, whose[:0]
        old, new = self._sorted
        gone, at, count = _places(old, ids)
        return new[at], np.repeat(whose[gone], count)

    def knows(self, ids: Ids) -> bool:
        """Whether any of ``ids`` gave way."""
        if self.old.size == 0 or ids.size == 0:
            return False
        old = self._sorted[0]
        return bool((old[np.minimum(np.searchsorted(old, ids), old.size - 1)] == ids).any())


NO_SUCCESSION = Succession(NO_IDS, NO_IDS)


class Record:
    """What one step did to the names of a mesh. Costly parts are computed when asked for.

    Attributes:
        step: id of the step.
        made: ids the step created, by (domain, role).
        edges: (n, 2) vertex ids of edges the step created, by role.
        replaced: elements that gave way to others, by domain.
        replaced_edges: (old pairs, new pairs).
        renamed: given what the elements above are called in another world, and whether this step is left out of it: what
            its own elements are called there (``old``; ``new`` is the real id). None for steps that make nothing.
        parents: ids, by domain, that names of the step's own elements depend on; None where not known.
        counts: the step's whole numbers in words: ids made with others may stand for other elements.
        carrying: how the step hands origins on (``origins.py``); None where it leaves all elements as they are.
    """

    def __init__(self, step: str, made: Callable[[], dict[tuple[Domain, str], Ids]],
                 edges: Callable[[], dict[str, Ids]], replaced: Callable[[], dict[Domain, Succession]],
                 replaced_edges: Callable[[], tuple[Ids, Ids]] = lambda: (NO_PAIRS, NO_PAIRS),
                 renamed: Callable[[Renaming, bool], dict[Domain, Succession]] | None = None,
                 parents: Callable[[], dict[Domain, Ids] | None] = lambda: None, counts: str = "",
                 carrying: Any = None) -> None:
        self.step = step
        self.counts, self.carrying = counts, carrying
        self._parents = parents
        self._made, self._edges, self._replaced = made, edges, replaced
        self._replaced_edges = replaced_edges
        self.renamed = renamed

    @cached_property
    def made(self) -> dict[tuple[Domain, str], Ids]:
        """Ids the step created, by (domain, role)."""
        return self._made()

    @cached_property
    def edges(self) -> dict[str, Ids]:
        """(n, 2) vertex ids of the edges the step created, by role."""
        return self._edges()

    @cached_property
    def parents(self) -> dict[Domain, Ids] | None:
        """(n,) ids, each once and ascending, that the names of the step's own elements depend on."""
        return self._parents()

    @cached_property
    def replaced(self) -> dict[Domain, Succession]:
        """Elements that gave way to others, by domain."""
        return self._replaced()

    @cached_property
    def replaced_edges(self) -> tuple[Ids, Ids]:
        """((n, 2), (n, 2)) vertex ids of the edges that gave way and of those they gave way to."""
        return self._replaced_edges()

    @cached_property
    def _edge_order(self) -> tuple[Ids, Ids, Ids]:
        """Keys of the old pairs, ascending, and the old and new pairs in that order."""
        old, new = self.replaced_edges
        keys = pair_keys(old)
        order = np.argsort(keys, kind="stable")
        return keys[order], old[order], new[order]

    def edge_heirs(self, pairs: Ids, whose: Ints) -> tuple[Ids, Ints]:
        """``pairs`` (n, 2) with every edge that gave way replaced by its heirs, each told from the same end, and whose each
        of them now is."""
        if not len(self.replaced_edges[0]) or not len(pairs):
            return pairs, whose
        keys, old, new = self._edge_order
        gone, at, count = _places(keys, pair_keys(pairs))
        turned = old[at, 0] != np.repeat(pairs[gone, 0], count)
        heirs = np.where(turned[:, None], new[at][:, ::-1], new[at])
        return np.concatenate([pairs[~gone], heirs]), np.concatenate([whose[~gone], np.repeat(whose[gone], count)])

    def roles(self) -> set[str]:
        """All roles the step tagged something with."""
        return {role for _, role in self.made if role} | {role for role in self.edges if role}


@dataclass(frozen=True)
class History:
    """The records of all steps so far.

    Attributes:
        above: the history one record shorter.
        remembered: what was worked out about it, for whoever comes next (``recall.py``).
    """

    records: tuple[Record, ...] = field(default=())
    above: History | None = field(default=None, compare=False, repr=False)
    remembered: dict[Any, Any] = field(default_factory=dict, compare=False, repr=False)

    def then(self, record: Record) -> History:
        """This history and one record more."""
        return History((*self.records, record), self)

    def find(self, step: str) -> int | None:
        """Position of a step's record, or None if it has not run."""
        return next((i for i, r in enumerate(self.records) if r.step == step), None)

    def follow(self, domain: Domain, ids: Ids, names: Names, since: int = 0) -> tuple[Ints, Ints]:
        """(n,) each: live elements that ``ids`` are, or gave way to, and which of ``ids`` each belongs to."""
        at = names.find(domain, ids)
        here, gone = np.flatnonzero(at >= 0), np.flatnonzero(at < 0)
        if not gone.size:
            return at, here
        heirs, whose = ids[gone], gone
        for record in self.records[since:]:
            heirs, whose = record.replaced.get(domain, NO_SUCCESSION).heirs(heirs, whose)
        later = names.find(domain, heirs)
        return np.concatenate([at[here], later[later >= 0]]), np.concatenate([here, whose[later >= 0]])

    def follow_edges(self, topology: Topology, names: Names, pairs: Ids) -> tuple[Ints, Ints]:
        """Live edges that ``pairs`` (n, 2) of vertex ids are, or gave way to, and which of ``pairs`` each belongs to."""
        return self.follow_ends(topology, names, pairs)[:2]

    def follow_ends(self, topology: Topology, names: Names, pairs: Ids) -> tuple[Ints, Ints, Ints]:
        """(n,) each: :meth:`follow_edges`, and the vertex of each edge that comes of the first of its pair.

        An edge that did not itself give way is also found between the single heirs of its ends.
        """
        at = _edges_at(topology, names, pairs)
        here, gone = np.flatnonzero(at >= 0), np.flatnonzero(at < 0)
        found, owner, first = [at[here]], [here], [names.find("vertex", pairs[here, 0])]
        if gone.size:
            heirs, whose = pairs[gone], gone
            for record in self.records:
                heirs, whose = record.edge_heirs(heirs, whose)
            later = _edges_at(topology, names, heirs)
            found.append(later[later >= 0])
            owner.append(whose[later >= 0])
            first.append(names.find("vertex", heirs[later >= 0, 0]))
            gone = np.setdiff1d(gone, owner[-1])
        if gone.size:
            between, one = self._between_heirs(topology, names, pairs[gone])
            found.append(between[between >= 0])
            owner.append(gone[between >= 0])
            first.append(one[between >= 0])
        return np.concatenate(found), np.concatenate(owner), np.concatenate(first)

    def _between_heirs(self, topology: Topology, names: Names, pairs: Ids) -> tuple[Ints, Ints]:
        """(n,) the edge between the ends' heirs where each end has exactly one, else −1; and the heir of the first end."""
        ends = np.full((len(pairs), 2), -1, np.int64)
        for k in (0, 1):
            element, whose = self.follow("vertex", pairs[:, k], names)
            single = np.bincount(whose, minlength=len(pairs)) == 1
            ends[whose, k] = element
            ends[~single, k] = -1
        real = (ends >= 0).all(axis=1) & (ends[:, 0] != ends[:, 1])
        edge = np.where(real, topology.find_edges(np.maximum(ends[:, 0], 0), np.maximum(ends[:, 1], 0)), -1)
        return edge, ends[:, 0]


def _edges_at(topology: Topology, names: Names, pairs: Ids) -> Ints:
    a, b = names.find("vertex", pairs[:, 0]), names.find("vertex", pairs[:, 1])
    return np.where((a >= 0) & (b >= 0), topology.find_edges(np.maximum(a, 0), np.maximum(b, 0)), -1)


def ids_in(groups: Iterable[Ids]) -> Ids:
    """(n,) all ids of several groups in one array."""
    groups = list(groups)
    return np.concatenate(groups) if groups else NO_IDS
