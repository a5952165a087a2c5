"""Answers pick rules: from a rule and a mesh with its history to element numbers."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np

from ..errors import BadPick, PickFoundNothing
from ..lineage import recall
from ..lineage.history import NO_PAIRS, History, ids_in, pair_keys
from ..mesh.mesh import Mesh
from ..mesh.names import Ids, from_hex
from ..mesh.topology import Bools, Ints, Topology
from . import by_place, by_shape, convert, rules, runs, siblings
from .meaning import meant_by, split_up, told_by
from .places import at_places, first_ends
from .rules import Pick, Rule

Kind = Literal["faces", "edges", "vertices"]


@dataclass(frozen=True)
class Picked:
    """What a pick found.

    Attributes:
        kind: what elements.
        elements: (n,) their numbers, ascending.
        missing: how many named ids found nothing.
        named: edges among them that were named by ids, in the order of those, and the end (k,) of each that comes of the
            lower id; None where ids have no say, or are what the ends are called now.
        written: the end of each of those edges that comes of the id written first.
        again: how what was picked was found again where its ids no longer tell it; None where they do.
        by_place: whether a meaning was asked, which looks at where things are.
    """

    kind: Kind
    elements: Ints
    missing: int = 0
    named: tuple[Ints, Ints] | None = None
    written: tuple[Ints, Ints] | None = None
    again: str | None = None
    by_place: bool = False

    def vertices(self, mesh: Mesh) -> Ints:
        """(n,) the vertices of the picked elements, ascending."""
        return convert.vertices(mesh.topology, self.kind, self.elements)


@dataclass
class _Search:
    mesh: Mesh
    history: History
    missing: int = 0
    named: tuple[Ints, Ints] | None = None
    written: tuple[Ints, Ints] | None = None
    again: str | None = None
    by_place: bool = False

    def count(self, kind: Kind) -> int:
        t = self.mesh.topology
        return t.face_count if kind == "faces" else t.edge_count if kind == "edges" else t.vertex_count

    def find(self, kind: Kind, rule: Rule) -> Ints:
        """(n,) the elements of one kind that a rule names, ascending.

        Raises:
            BadPick: there is no such rule, or none for this kind of element.
        """
        if rule == "all":
            return np.arange(self.count(kind))
        kinds, answer = _ANSWERS.get(type(rule), ((), None))
        if answer is None:
            raise BadPick(f"the rule {rule!r} is not known", "pick")
        if kind not in kinds:
            word = next(iter(type(rule).model_fields))
            raise BadPick(f"the rule {word} finds {' or '.join(kinds)}, not {kind}", "pick")
        return answer(self, kind, rule)

    def in_box(self, kind: Kind, rule: rules.InBox) -> Ints:
        inside = by_place.in_box(self.mesh.points, rule.in_box)
        return convert.touching(self.mesh.topology, "vertices", kind, np.flatnonzero(inside), "all")

    def loop_through(self, kind: Kind, rule: rules.LoopThrough) -> Ints:
        seeds = self.find("edges", rule.loop_through)
        return (runs.loops_through if kind == "edges" else runs.bands_through)(self.mesh.topology, seeds)

    def border(self, kind: Kind, rule: rules.Border) -> Ints:
        edges = np.flatnonzero(self.mesh.topology.border_edges)
        return edges if kind == "edges" else np.unique(self.mesh.topology.edges[edges])

    def sides(self, kind: Kind, rule: rules.Sides) -> Ints:
        t, (low, high) = self.mesh.topology, rule.sides
        return np.flatnonzero((t.sides >= (low or 0)) & (t.sides <= (high or t.corner_count)))

    def touching(self, of: Kind, kind: Kind, rule: Rule, how: Literal["any", "all"]) -> Ints:
        return convert.touching(self.mesh.topology, of, kind, self.find(of, rule), how)

    def path(self, kind: Kind, one: Rule, two: Rule) -> Ints:
        start, end = self.find(kind, one), self.find(kind, two)
        if not start.size or not end.size:
            return np.zeros(0, np.int64)
        return (runs.edge_path if kind == "edges" else runs.face_path)(self.mesh, start, end)

    def repeated(self, once: Callable[[Topology, str, Ints], Ints], kind: Kind, rule: Rule, times: int) -> Ints:
        """``once`` so many times, or until it changes nothing."""
        found = self.find(kind, rule)
        for _ in range(times):
            after = once(self.mesh.topology, kind, found)
            if after.size == found.size:
                break
            found = after
        return found

    def mask(self, kind: Kind, rule: Rule) -> Bools:
        out = np.zeros(self.count(kind), bool)
        out[self.find(kind, rule)] = True
        return out

    def by_ids(self, kind: Kind, rule: rules.Ids) -> Ints:
        """By ids while they are there and made with the same counts; else by what they meant, if that is known."""
        before = self.missing
        trusted = rule.meant is None or self.trusted(rule.meant)
        # with other whole numbers above, what it meant decides: which steps came in since is known from it
        found, several = self.by_ids_alone(kind, rule, None if trusted or rule.meant is None else self.since(rule.meant))
        if kind != "faces" and rule.meant is not None and rule.meant.places is not None:
            found = self.as_meant(kind, found, rule.meant.places)
        if rule.meant is None:
            return found
        if trusted and self.missing == before:
            if several:
                self.again = self.again or split_up(kind, len(rule.ids), found.size)
            return found
        self.by_place = True
        meant, empty = self.by_meaning(kind, rule.meant, near=not trusted)
        if not meant.size:
            return found
        if trusted and rule.meant.places is not None:  # what is still there by its id, and what stands where the rest did
            meant, empty = np.union1d(meant, found), min(empty, self.missing - before)
        if self.missing > before or not np.array_equal(meant, found):
            self.again = self.again or (None if np.array_equal(meant, found) else told_by(rule.meant))
            self.missing = before + (empty if trusted else 0)
            if kind == "edges":
                self.tell_first(rule, meant)
            return meant
        return found

    def as_meant(self, kind: Kind, found: Ints, places: Sequence[rules.Place]) -> Ints:
        """What elements found by their ids stand for, with the ends of edges told alike."""
        meant = siblings.as_meant(self.mesh, self.history, kind, found, places)
        if meant is found:
            return found
        if kind == "edges":
            self.named, self.written = (
                None if told is None else siblings.told_alike(self.mesh, self.history, told, found, meant)
                for told in (self.named, self.written))
        return np.unique(meant)

    def tell_first(self, rule: rules.Ids, edges: Ints) -> None:
        """Which ends the ids of a single edge told first, now that it was found by its place."""
        assert rule.meant is not None
        self.named = self.written = None
        if len(rule.ids) == 1 and rule.meant.places is not None and len(rule.meant.places) == 1:
            pair = rule.ids[0].split("-") if isinstance(rule.ids[0], str) else list(rule.ids[0])
            low = first_ends(self.mesh, self.history, edges, rule.meant.places[0])
            turned = int(pair[0], 16) > int(pair[1], 16)
            self.named = edges, low
            self.written = edges, self.mesh.topology.edges[edges].sum(axis=1) - low if turned else low

    def trusted(self, meant: rules.Meant) -> bool:
        """Whether the steps that ids come of still have the whole numbers that these were made with."""
        records = self.history.records
        now = {r.step: (i, r.counts) for i, r in enumerate(records)}
        changed = [now[step][0] for step, counts in meant.counts.items() if step in now and now[step][1] != counts]
        if not changed or meant.places is None:
            return not changed
        # what a step leaves as it was is named without it
        return all(now.get(p.by, (len(records),))[0] < min(changed) for p in meant.places)

    def since(self, meant: rules.Meant) -> tuple[int, ...]:
        """Numbers of the steps above that were not there when ids were told."""
        return tuple(i for i, r in enumerate(self.history.records)
                     if i and r.renamed is not None and r.counts and r.step not in meant.counts)

    def by_meaning(self, kind: Kind, meant: rules.Meant, near: bool) -> tuple[Ints, int]:
        """What a meaning finds, and in how many of its places there is nothing."""
        if meant.rule is not None:
            try:
                return self.find(kind, meant.rule), 0
            except BadPick:  # names a step that is no longer there
                return np.zeros(0, np.int64), 0
        return at_places(self.mesh, self.history, kind, meant.places or (), near)

    def by_ids_alone(self, kind: Kind, rule: rules.Ids, since: tuple[int, ...] | None) -> tuple[Ints, bool]:
        """What ids find, and whether one of them is several by now that need not lie where it did, as halves do."""
        if kind == "edges":
            pairs = [i.split("-") if isinstance(i, str) else list(i) for i in rule.ids]
            if any(len(p) != 2 for p in pairs):
                raise BadPick("an edge is named by its two vertex ids, as 'id-id' or ['id', 'id']", "pick")
            told = from_hex([end for p in pairs for end in p]).reshape(-1, 2)
            ends = np.sort(told)
            ids = ends[once := np.unique(pair_keys(ends), return_index=True)[1]]
            live = recall.find_edges(self.history, self.mesh.topology, self.mesh.names, ids, since)
            self.missing += live.missing
            self.tell_ends(live, ids, told[once][:, 0] != ids[:, 0])
            return live.edges, live.several
        if any(not isinstance(i, str) or "-" in i for i in rule.ids):
            raise BadPick(f"{kind} are named by one id each", "pick")
        domain: Literal["face", "vertex"] = "face" if kind == "faces" else "vertex"
        ids = np.unique(from_hex([str(i) for i in rule.ids]))
        found = recall.find(self.history, domain, ids, self.mesh.names, since)
        self.missing += found.missing
        return found.elements, found.several or (kind == "vertices" and found.elements.size > ids.size)

    def tell_ends(self, found: recall.FoundEdges, ids: Ids, turned: Bools) -> None:
        """Keep which ends of edges their ids tell first; where several rules name edges, the first one's say counts."""
        if self.written is not None or not found.edges.size:
            return
        other = self.mesh.topology.edges[found.edges].sum(axis=1) - found.first
        self.written = found.edges, np.where(turned[found.owner], other, found.first)
        if found.moved:
            order = np.lexsort((ids[found.owner, 1], ids[found.owner, 0]))
            self.named = found.edges[order], found.first[order]

    def made_by(self, kind: Kind, rule: rules.MadeBy) -> Ints:
        at = self.history.find(rule.made_by)
        if at is None:
            known = ", ".join(f"'{r.step}'" for r in self.history.records) or "none"
            raise BadPick(f"made_by names '{rule.made_by}', which is no step above this one that ran; above are {known}",
                          "pick")
        record = self.history.records[at]
        names = self.mesh.names
        if rule.role is not None and rule.role not in record.roles():
            known = ", ".join(sorted(record.roles())) or "none"
            raise BadPick(f"step '{rule.made_by}' tags no role '{rule.role}'; its roles are {known}", "pick")
        if kind == "edges":
            groups = [p for role, p in record.edges.items() if rule.role in (None, role)]
            pairs = np.concatenate(groups) if groups else NO_PAIRS
            return np.unique(self.history.follow_edges(self.mesh.topology, names, pairs)[0])
        domain: Literal["face", "vertex"] = "face" if kind == "faces" else "vertex"
        ids = ids_in(v for (d, role), v in record.made.items() if d == domain and rule.role in (None, role))
        return np.unique(self.history.follow(domain, ids, names, since=at + 1)[0])


_ANY: tuple[Kind, ...] = ("faces", "edges", "vertices")

#: of each rule: the kinds of elements it finds, and what answers it
_ANSWERS: dict[type, tuple[tuple[Kind, ...], Callable[[_Search, Kind, Any], Ints]]] = {
    rules.Ids: (_ANY, _Search.by_ids),
    rules.MadeBy: (_ANY, _Search.made_by),
    rules.Facing: (("faces",), lambda s, k, r: by_shape.facing(s.mesh, r.facing, r.within)),
    rules.FlatAround: (("faces",), lambda s, k, r: by_shape.flat_around(s.mesh, s.find("faces", r.flat_around), r.within)),
    rules.InBox: (_ANY, _Search.in_box),
    rules.Nearest: (_ANY, lambda s, k, r: by_place.nearest(s.mesh, k, r.nearest)),
    rules.LoopThrough: (("edges", "faces"), _Search.loop_through),
    rules.RingThrough: (("edges",), lambda s, k, r: runs.rings_through(s.mesh.topology, s.find("edges", r.ring_through))),
    rules.PathBetween: (("edges", "faces"), lambda s, k, r: s.path(k, *r.path_between)),
    rules.SharperThan: (("edges",), lambda s, k, r: by_shape.sharper_than(s.mesh, r.sharper_than)),
    rules.Grow: (_ANY, lambda s, k, r: s.repeated(runs.grown, k, r.from_, r.grow)),
    rules.Shrink: (_ANY, lambda s, k, r: s.repeated(runs.shrunk, k, r.from_, r.shrink)),
    rules.ConnectedTo: (_ANY, lambda s, k, r: runs.shells_of(s.mesh.topology, k, s.find(k, r.connected_to))),
    rules.Border: (("edges", "vertices"), _Search.border),
    rules.Sides: (("faces",), _Search.sides),
    rules.AllOf: (_ANY, lambda s, k, r: np.flatnonzero(np.logical_and.reduce([s.mask(k, one) for one in r.all_of]))),
    rules.AnyOf: (_ANY, lambda s, k, r: np.flatnonzero(np.logical_or.reduce([s.mask(k, one) for one in r.any_of]))),
    rules.Not: (_ANY, lambda s, k, r: np.flatnonzero(~s.mask(k, r.not_))),
    rules.OfEdges: (("faces", "vertices"), lambda s, k, r: s.touching("edges", k, r.of_edges, r.touching)),
    rules.OfFaces: (("edges", "vertices"), lambda s, k, r: s.touching("faces", k, r.of_faces, "any")),
    rules.OutlineOf: (("edges",), lambda s, k, r: convert.outline(s.mesh.topology, s.find("faces", r.outline_of))),
    rules.OfVertices: (("edges", "faces"), lambda s, k, r: s.touching("vertices", k, r.of_vertices, r.touching))}


def by_names(pick: Pick) -> bool:
    """Whether what a pick finds depends on names and connectivity alone."""
    rule = getattr(pick, pick_kind(pick))
    return isinstance(rule, (rules.Ids, rules.MadeBy)) or rule == "all"


def pick_kind(pick: Pick) -> Kind:
    """What elements a pick is of."""
    return "faces" if isinstance(pick, rules.PickFaces) else "edges" if isinstance(pick, rules.PickEdges) else "vertices"


def pick_of(kind: Kind, rule: Rule) -> Pick:
    """The pick of such elements by a rule."""
    if kind == "faces":
        return rules.PickFaces(faces=rule)
    return rules.PickEdges(edges=rule) if kind == "edges" else rules.PickVertices(vertices=rule)


def resolve(mesh: Mesh, history: History, pick: Pick) -> Picked:
    """Find what a pick names.

    Raises:
        PickFoundNothing: the pick is empty.
        BadPick: the rule cannot be answered for this kind of element.
    """
    kind: Kind
    match pick:
        case rules.PickFaces():
            kind, rule = "faces", pick.faces
        case rules.PickEdges():
            kind, rule = "edges", pick.edges
        case rules.PickVertices():
            kind, rule = "vertices", pick.vertices
        case _:
            raise BadPick(f"{pick!r} is not a pick", "pick")
    search = _Search(mesh, history)
    found = search.find(kind, rule)
    if found.size == 0:
        gone = f"; {meant_by(kind, rule)} no longer there" if search.missing else ""
        raise PickFoundNothing(f"the pick finds no {kind}{gone}; pick again or correct the step above", "pick")
    return Picked(kind, found, search.missing, search.named, search.written, search.again, search.by_place)
