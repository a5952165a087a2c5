"""Finding elements by ids that were given before steps above were inserted.

An id hashes the ids of its parents, so inserting a step renames what is made further down: the cap of a face becomes the
cap of that face's cap. The names there would be without the inserted step can be computed from the records alone, and
without positions: what the step replaced keeps its old name, and every later element is named from those.

Which steps were inserted since is not written down. One step is tried after the other, then runs of neighbours, then
pairs, until every id sought is found or the budget is spent; all ids of one pick come from one moment, so the first answer
usually serves them all. Nothing is guessed about shape: an id is found exactly or not at all.
"""

from __future__ import annotations

from collections.abc import Iterator
from itertools import combinations

import numpy as np

from ..mesh.names import Domain, Ids, Index, Names
from ..mesh.topology import Ints, Topology
from .history import NO_SUCCESSION, History, Record, Succession

#: how many worlds are looked into, and how many names are computed in all, for one pick
MOST_WORLDS = 200
MOST_NAMES = 5_000_000

World = dict[Domain, Succession]


def worlds(records: tuple[Record, ...]) -> Iterator[World]:
    """Other names and the real ids they stand for, as if some steps were not there; the likeliest first."""
    able = [i for i, r in enumerate(records) if i and r.renamed is not None]
    singles = [(i,) for i in able]
    runs = [tuple(able[i:i + n]) for n in range(2, len(able) + 1) for i in range(len(able) - n + 1)]
    pairs = [p for p in combinations(able, 2) if p not in set(runs)]
    spent = 0
    for left_out in (singles + runs + pairs)[:MOST_WORLDS]:
        world = _without(records, frozenset(left_out))
        spent += sum(s.new.size for s in world.values())
        yield world
        if spent > MOST_NAMES:
            return


def _without(records: tuple[Record, ...], left_out: frozenset[int]) -> World:
    """What elements would be called had the steps in ``left_out`` not been there."""
    known: dict[Domain, list[tuple[Index, Ids]]] = {"vertex": [], "face": []}
    pairs: dict[Domain, list[Succession]] = {"vertex": [], "face": []}

    def renaming(domain: Domain, ids: Ids) -> Ids:
        out = ids.copy()
        for index, other in known[domain]:
            at = index.find(ids)
            out = np.where(at >= 0, other[np.maximum(at, 0)], out)
        return out

    for number in range(min(left_out), len(records)):
        renamed = records[number].renamed
        if renamed is None:
            continue
        for domain, names in renamed(renaming, number in left_out).items():
            changed = names.old != names.new
            if changed.any():
                pairs[domain].append(Succession(names.old[changed], names.new[changed]))
                known[domain].append((Index(names.new[changed]), names.old[changed]))
    return {domain: Succession(np.concatenate([s.old for s in found]), np.concatenate([s.new for s in found]))
            for domain, found in pairs.items() if found}


def find(history: History, domain: Domain, ids: Ids, names: Names) -> tuple[Ints, int]:
    """Live elements named by ``ids``, each once and ascending, and how many of ``ids`` found none."""
    element, whose = history.follow(domain, ids, names)
    found, gone = [element], _left(ids.size, whose)
    for world in worlds(history.records) if gone.size else ():
        real, of = world.get(domain, NO_SUCCESSION).heirs(ids[gone], gone)
        element, whose = history.follow(domain, real, names)
        found.append(element)
        gone = np.setdiff1d(gone, of[whose])
        if not gone.size:
            break
    return np.unique(np.concatenate(found)), int(gone.size)


def find_edges(history: History, topology: Topology, names: Names, pairs: Ids) -> tuple[Ints, int]:
    """Live edges named by ``pairs`` (n, 2) of vertex ids, each once and ascending, and how many pairs found none."""
    element, whose = history.follow_edges(topology, names, pairs)
    found, gone = [element], _left(len(pairs), whose)
    for world in worlds(history.records) if gone.size else ():
        vertices = world.get("vertex", NO_SUCCESSION)
        one, of = vertices.heirs(pairs[gone, 0], gone)
        two, place = vertices.heirs(pairs[of, 1], np.arange(of.size))
        element, whose = history.follow_edges(topology, names, np.stack([one[place], two], axis=1))
        found.append(element)
        gone = np.setdiff1d(gone, of[place[whose]])
        if not gone.size:
            break
    return np.unique(np.concatenate(found)), int(gone.size)


def _left(count: int, found: Ints) -> Ints:
    """Those of ``count`` that are not among the found."""
    left = np.ones(count, bool)
    left[found] = False
    return np.flatnonzero(left)
