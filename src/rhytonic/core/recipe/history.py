"""What each step made and replaced: the memory that lets a pick find its elements again.

Records are kept in the order of the steps. An id that is gone is followed forward through them; an id made by a step is
found by starting at that step's record and following forward.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np

from ..mesh.names import Domain, Ids, Index, Names, mix
from ..mesh.topology import Ints, Topology, ranges

NO_IDS: Ids = np.zeros(0, np.uint64)
NO_PAIRS: Ids = np.zeros((0, 2), np.uint64)


@dataclass(frozen=True)
class Succession:
    """Which id gave way to which; one old id may have several heirs."""

    old: Ids
    new: Ids

    @cached_property
    def _sorted(self) -> tuple[Ids, Ids]:
        order = np.argsort(self.old, kind="stable")
        return self.old[order], self.new[order]

    def heirs(self, ids: Ids) -> Ids:
        """``ids`` with every one that gave way replaced by its heirs."""
        if self.old.size == 0 or ids.size == 0:
            return ids
        old, new = self._sorted
        low, high = np.searchsorted(old, ids, "left"), np.searchsorted(old, ids, "right")
        gone = high > low
        if not gone.any():
            return ids
        count = (high - low)[gone]
        at = np.repeat(low[gone] - np.cumsum(count) + count, count) + np.arange(int(count.sum()))
        return np.concatenate([ids[~gone], new[at]])

    @cached_property
    def _back(self) -> Index:
        return Index(self.new)

    def forebears(self, ids: Ids) -> Ids:
        """What each of ``ids`` took over from, 0 where from nothing."""
        at = self._back.find(ids)
        return np.where(at >= 0, self.old[np.maximum(at, 0)] if self.old.size else np.uint64(0), np.uint64(0))


NO_SUCCESSION = Succession(NO_IDS, NO_IDS)


class Record:
    """What one step did to the names of a mesh. Costly parts are computed when asked for.

    Attributes:
        step: id of the step.
        made: ids the step created, by (domain, role).
        edges: (n, 2) vertex ids of edges the step created, by role.
        replaced: elements that gave way to others, by domain; aliases of absent forms of an id included.
        continued: vertices moved on from another, as a cap's copy does from the vertex it left behind.
        replaced_edges: (old pairs, new pairs).
    """

    def __init__(self, step: str, made: Callable[[], dict[tuple[Domain, str], Ids]],
                 edges: Callable[[], dict[str, Ids]], replaced: Callable[[], dict[Domain, Succession]],
                 continued: Succession = NO_SUCCESSION,
                 replaced_edges: Callable[[], tuple[Ids, Ids]] = lambda: (NO_PAIRS, NO_PAIRS)) -> None:
        self.step = step
        self._made, self._edges, self._replaced = made, edges, replaced
        self._replaced_edges = replaced_edges
        self.continued = continued

    @cached_property
    def made(self) -> dict[tuple[Domain, str], Ids]:
        return self._made()

    @cached_property
    def edges(self) -> dict[str, Ids]:
        return self._edges()

    @cached_property
    def replaced(self) -> dict[Domain, Succession]:
        return self._replaced()

    @cached_property
    def replaced_edges(self) -> tuple[Ids, Ids]:
        return self._replaced_edges()

    @cached_property
    def _edge_order(self) -> tuple[Ids, Ids]:
        """Keys of the old pairs, ascending, and the new pairs in that order."""
        old, new = self.replaced_edges
        keys = _pair_keys(old)
        order = np.argsort(keys, kind="stable")
        return keys[order], new[order]

    def edge_heirs(self, pairs: Ids, whose: Ints) -> tuple[Ids, Ints]:
        """``pairs`` (n, 2) with every edge that gave way replaced by its heirs, and whom each now belongs to."""
        if not len(self.replaced_edges[0]) or not len(pairs):
            return pairs, whose
        keys, new = self._edge_order
        wanted = _pair_keys(pairs)
        low, high = np.searchsorted(keys, wanted, "left"), np.searchsorted(keys, wanted, "right")
        gone = high > low
        at = ranges(low[gone], (high - low)[gone])
        return (np.concatenate([pairs[~gone], new[at]]),
                np.concatenate([whose[~gone], np.repeat(whose[gone], (high - low)[gone])]))

    def roles(self) -> set[str]:
        return {role for _, role in self.made if role} | {role for role in self.edges if role}


@dataclass(frozen=True)
class History:
    """The records of all steps so far."""

    records: tuple[Record, ...] = field(default=())

    def then(self, record: Record) -> History:
        return History((*self.records, record))

    def find(self, step: str) -> int | None:
        """Position of a step's record, or None if it has not run."""
        return next((i for i, r in enumerate(self.records) if r.step == step), None)

    def follow(self, domain: Domain, ids: Ids, names: Names, since: int = 0) -> Ints:
        """Live elements that ``ids`` are, or gave way to; each once, ascending."""
        at = names.find(domain, ids)
        missing = ids[at < 0]
        if missing.size:
            for record in self.records[since:]:
                missing = record.replaced.get(domain, NO_SUCCESSION).heirs(missing)
            later = names.find(domain, missing)
            at = np.concatenate([at, later])
        return np.unique(at[at >= 0])

    def forebears(self, domain: Domain, ids: Ids) -> Ids:
        """One generation back: what each id replaced or, for a vertex, moved on from; 0 where nothing."""
        out = np.zeros(ids.size, np.uint64)
        for record in reversed(self.records):
            left = out == 0
            if not left.any():
                break
            back = record.replaced.get(domain, NO_SUCCESSION).forebears(ids[left])
            if domain == "vertex":
                moved = record.continued.forebears(ids[left])
                back = np.where(back == 0, moved, back)
            out[left] = back
        return out

    def edge_between(self, topology: Topology, names: Names, pairs: Ids) -> tuple[Ints, int]:
        """Live edges named by pairs (n, 2) of vertex ids, or what took their place, and how many pairs found none."""
        at = self._edges_at(topology, names, pairs)
        gone = np.flatnonzero(at < 0)
        found = [at[at >= 0]]
        if gone.size:
            heirs, whose = pairs[gone], gone
            for record in self.records:
                heirs, whose = record.edge_heirs(heirs, whose)
            later = self._edges_at(topology, names, heirs)
            found.append(later[later >= 0])
            gone = np.setdiff1d(gone, whose[later >= 0])
        lost = 0
        for i in gone:  # bounded by what is gone from the pick: an end that gave way to exactly one heir
            ends = [self.follow("vertex", pairs[i, k:k + 1], names) for k in (0, 1)]
            one = topology.find_edges(ends[0], ends[1]) if all(e.size == 1 for e in ends) and ends[0][0] != ends[1][0] \
                else np.full(1, -1)
            lost += int(one[0] < 0)
            found.append(one[one >= 0])
        return np.unique(np.concatenate(found)), lost

    @staticmethod
    def _edges_at(topology: Topology, names: Names, pairs: Ids) -> Ints:
        a, b = names.find("vertex", pairs[:, 0]), names.find("vertex", pairs[:, 1])
        return np.where((a >= 0) & (b >= 0), topology.find_edges(np.maximum(a, 0), np.maximum(b, 0)), -1)


def _pair_keys(pairs: Ids) -> Ids:
    """One 64-bit word for each unordered pair of ids."""
    low, high = pairs.min(axis=1), pairs.max(axis=1)
    return mix(low, high)


def ids_in(groups: Iterable[Ids]) -> Ids:
    """All ids of several groups in one array."""
    groups = list(groups)
    return np.concatenate(groups) if groups else NO_IDS
