"""What an edit says about its result, and the one pass that turns it into a plan with names and attributes.

A step kind writes a :class:`Draft`: the new faces and, for each new element, where it came from. Nothing here depends on
positions, so a plan serves every value of the step's real numbers.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from scipy.sparse import csr_array

from ..lineage.history import NO_PAIRS, History, Record, Renaming, Succession, ids_in
from ..lineage.origins import Carrying
from ..mesh import names
from ..mesh.attributes import Attribute, Sources, strongest
from ..mesh.attributes import Domain as AttributeDomain
from ..mesh.mesh import Floats, Mesh
from ..mesh.names import Domain, Ids, Names
from ..mesh.topology import Ints, Topology
from ..waiting import check

DOMAINS: tuple[Domain, ...] = ("vertex", "face")


@dataclass(frozen=True)
class Born:
    """A group of new elements of one role.

    Attributes:
        domain, role: what they are; the role "" is not offered to picks.
        elements: (n,) their numbers in the new mesh.
        parents: (n, k) ids of what they came from, with the domain of each column in ``of``.
        index: (n, m) whole numbers that tell apart elements with identical parents.
        replaces: (n,) old elements of the same domain that give way to these, −1 for none; or None.
        continues: (n,) old vertices these move on from; or None.
        reindex: ``index`` where the elements above have other names, when it depends on those.
    """

    domain: Domain
    role: str
    elements: Ints
    parents: Ids
    of: tuple[Domain, ...]
    index: Ints
    replaces: Ints | None = None
    continues: Ints | None = None
    reindex: Callable[[Renaming], Ints] | None = None


class Roomy:
    """Data of a plan that comes to hold more than the plan itself; ``room`` tells about how many bytes."""

    room: int = 0


@dataclass(frozen=True)
class Merged:
    """Old elements that give way to ones that stay: ``old`` (n,) in the mesh above, ``into`` (n,) in the result."""

    domain: Domain
    old: Ints
    into: Ints


@dataclass(frozen=True)
class Draft:
    """A step's result apart from positions.

    Attributes:
        topology: new faces.
        kept_vertices, kept_faces: (V',), (F',) old element that stays itself, −1 for new ones.
        vertex_source: where vertex attributes come from: indices, or a sparse matrix of weights (V', V); costly ones as
            a function, called only when there is something to carry.
        face_source, corner_source: (F',), (C',) the same for faces and corners, −1 for nothing.
        born: names of the new elements.
        edges: vertices (n, 2) of the edges made, by role; None for "those with a new vertex".
        replaced_edges: old and new vertex pairs (n, 2) of edges that moved.
        edge_source: (E',) where edge attributes come from; None for "the edge between the sources of its ends".
        merged: old elements that others, which stay, stand for from now on.
        naming: names and record of the result, for steps that compute them only when asked; instead of ``born``.
        lines: (n, 2) edges worth drawing as those of the cage, where not all are.
        data: whatever the positions need.
        notes: sentences for the report.
        tagged: elements of the result that count as made by the step though they keep their names, by (domain, role).
        attributes: arrays the step sets itself, over those carried on.
        image_of: (V',) old vertex each one is or is an image of, −1 for none; None where ``vertex_source`` says it.
    """

    topology: Topology
    kept_vertices: Ints
    kept_faces: Ints
    vertex_source: Sources | Callable[[], Sources]
    face_source: Ints
    corner_source: Sources | Callable[[], Sources]
    born: tuple[Born, ...] = ()
    edges: Callable[[], dict[str, Ints]] | None = None
    replaced_edges: Callable[[], tuple[Ints, Ints]] | None = None
    edge_source: Callable[[], Ints] | None = None
    merged: tuple[Merged, ...] = ()
    naming: Callable[[Mesh, str], tuple[Names, Record]] | None = None
    lines: Callable[[], Ints] | None = None
    data: Any = None
    notes: tuple[str, ...] = ()
    tagged: Mapping[tuple[Domain, str], Ints] = field(default_factory=dict)
    attributes: Mapping[str, Attribute] = field(default_factory=dict)
    image_of: Ints | None = None

    @property
    def stands_for(self) -> Ints:
        """(V',) old vertex each one is, or is an image or a copy of; −1 for others."""
        if self.image_of is not None:
            return self.image_of
        return self.vertex_source if isinstance(self.vertex_source, np.ndarray) else self.kept_vertices


@dataclass(frozen=True)
class Plan:
    """A settled draft: everything of the result but positions. Cached and shared between evaluations."""

    draft: Draft
    names: Names
    history: History
    attributes: dict[str, Attribute] = field(default_factory=dict)
    carried: Mapping[str, Attribute] = field(default_factory=dict)
    sources: dict[str, Sources] = field(default_factory=dict)

    def attributes_on(self, mesh: Mesh) -> dict[str, Attribute]:
        """The result's attributes. Those of the mesh above that depend on positions, as lengths on a surface do, may have
        other values than those the plan was made with."""
        above = mesh.attributes
        fresh = {k: a for k, a in above.items() if self.carried.get(k) is not a}
        if not fresh:
            return self.attributes
        out = {k: a for k, a in self.attributes.items() if k in above or k not in self.carried}
        passes = self.draft.topology is mesh.topology and not (self.draft.born or self.draft.naming)
        return out | (fresh if passes else carried_on(self.draft, mesh, fresh, self.sources)) | dict(self.draft.attributes)

    @property
    def topology(self) -> Topology:
        """Connectivity of the result."""
        return self.draft.topology

    @property
    def size(self) -> int:
        """Rough size in bytes: connectivity and the tables that follow from it, names, sources of all elements."""
        t = self.topology
        held = self.draft.data.room if isinstance(self.draft.data, Roomy) else 0
        held += sum((2 * s.data.nbytes if isinstance(s, csr_array) else s.nbytes) for s in self.sources.values())
        return 4000 + 60 * t.corner_count + 120 * (t.vertex_count + t.face_count) + held

    def mesh(self, points: Floats) -> Mesh:
        """The result with its (V', 3) points."""
        return Mesh(points, self.topology, self.names, self.attributes)

    def mesh_on(self, points: Floats, above: Mesh) -> Mesh:
        """The result with its (V', 3) points and what the mesh above carries now."""
        return Mesh(points, self.topology, self.names, self.attributes_on(above))


def unchanged(mesh: Mesh, data: Any = None, **more: Any) -> Draft:
    """The draft of an edit that only moves points or sets attributes."""
    t = mesh.topology
    v, f = np.arange(t.vertex_count), np.arange(t.face_count)
    return Draft(t, v, f, v, f, np.arange(t.corner_count), data=data, **more)


def settle(draft: Draft, mesh: Mesh, history: History, step: str, counts: str = "", grown: bool = False) -> Plan:
    """Name the new elements, remember what replaced what, and carry every attribute on. ``counts`` are the step's whole
    numbers in words; ``grown`` tells that the mesh holds more than the one above, as what the step brought in."""
    check()
    carrying = Carrying(draft.kept_vertices, draft.kept_faces, lambda: _sources(draft, mesh.topology, "vertex"))
    if draft.naming is not None:
        named, record = draft.naming(mesh, step)
        record.counts, record.carrying = counts, carrying
        return _plan(draft, named, history.then(record), mesh)
    if draft.topology is mesh.topology and not (draft.born or draft.tagged or draft.edges or grown):
        same = Record(step, dict, dict, dict)
        return Plan(draft, mesh.names, history.then(same), dict(mesh.attributes) | dict(draft.attributes), mesh.attributes)
    vertex = _ids(draft, mesh.names, "vertex", step)
    face = _ids(draft, mesh.names, "face", step)
    named = Names(vertex, face)
    above = mesh.names
    record = Record(step, lambda: _made(draft, named), lambda: _edges(draft, named),
                    lambda: _replaced(draft, above, named), lambda: _replaced_edges(draft, above, named),
                    (lambda other, left_out: _renamed(draft, above, named, step, other, left_out)) if draft.born else None,
                    lambda: _parents(draft), counts, carrying)
    return _plan(draft, named, history.then(record), mesh)


def _plan(draft: Draft, named: Names, history: History, mesh: Mesh) -> Plan:
    sources: dict[str, Sources] = {}
    attributes = carried_on(draft, mesh, mesh.attributes, sources) | dict(draft.attributes)
    return Plan(draft, named, history, attributes, mesh.attributes, sources)


def _ids(draft: Draft, before: Names, domain: Domain, step: str) -> Callable[[], Ids]:
    check()
    kept = draft.kept_vertices if domain == "vertex" else draft.kept_faces

    def compute() -> Ids:
        old = before.of(domain)
        ids = old[np.maximum(kept, 0)] if old.size else np.zeros(kept.size, np.uint64)
        for born in draft.born:
            if born.domain == domain:
                ids[born.elements] = names.name(step, domain, born.role, born.elements.size, born.parents, born.index)
        return ids

    return compute


def _made(draft: Draft, named: Names) -> dict[tuple[Domain, str], Ids]:
    made: dict[tuple[Domain, str], Ids] = {}
    for born in draft.born:
        ids = named.of(born.domain)[born.elements]
        key = (born.domain, born.role)
        made[key] = np.concatenate([made[key], ids]) if key in made else ids
    for (domain, role), elements in draft.tagged.items():
        ids = named.of(domain)[elements]
        made[domain, role] = np.concatenate([made[domain, role], ids]) if (domain, role) in made else ids
    return made


def _edges(draft: Draft, named: Names) -> dict[str, Ids]:
    if draft.edges is not None:
        pairs = draft.edges()
    else:
        new = draft.kept_vertices < 0
        edges = draft.topology.edges
        pairs = {"": edges[new[edges].any(axis=1)]}
    return {role: named.vertex[p] if len(p) else NO_PAIRS for role, p in pairs.items()}


def _replaced(draft: Draft, before: Names, named: Names) -> dict[Domain, Succession]:
    """Old ids and the new ones that took their place."""
    out: dict[Domain, Succession] = {}
    for domain in DOMAINS:
        old, new = [], []
        for born in draft.born:
            if born.domain == domain and born.replaces is not None:
                real = born.replaces >= 0
                old.append(before.of(domain)[born.replaces[real]])
                new.append(named.of(domain)[born.elements[real]])
        for merged in draft.merged:
            if merged.domain == domain:
                old.append(before.of(domain)[merged.old])
                new.append(named.of(domain)[merged.into])
        if old:
            out[domain] = Succession(np.concatenate(old), np.concatenate(new))
    return out


def _parents(draft: Draft) -> dict[Domain, Ids]:
    """Ids that the names of new elements depend on: those of parents, and those an index asks for."""
    seen: dict[Domain, list[Ids]] = {"vertex": [], "face": []}

    def asked(domain: Domain, ids: Ids) -> Ids:
        seen[domain].append(ids.ravel())
        return ids.copy()

    for born in draft.born:
        for k, domain in enumerate(born.of):
            seen[domain].append(born.parents[:, k])
        if born.reindex is not None:
            born.reindex(asked)
    return {domain: np.unique(ids_in(found)) for domain, found in seen.items()}


def _renamed(draft: Draft, before: Names, named: Names, step: str, other: Renaming,
             left_out: bool) -> dict[Domain, Succession]:
    """What the new elements are called where those above are called ``other``; without the step, as what they replace."""
    out: dict[Domain, Succession] = {}
    for domain in DOMAINS:
        pairs = []
        for born in draft.born:
            if born.domain != domain:
                continue
            real = named.of(domain)[born.elements]
            if not left_out:
                parents = np.stack([other(d, born.parents[:, k]) for k, d in enumerate(born.of)], axis=1) \
                    if born.of else born.parents
                index = born.index if born.reindex is None else born.reindex(other)
                pairs.append((names.name(step, domain, born.role, real.size, parents, index), real))
                continue
            source = born.replaces if born.replaces is not None else born.continues
            if source is not None:
                pairs.append((np.where(source >= 0, other(domain, before.of(domain)[np.maximum(source, 0)]), 0), real))
        if pairs:
            out[domain] = Succession(np.concatenate([p[0] for p in pairs]), np.concatenate([p[1] for p in pairs]))
    return out


def _replaced_edges(draft: Draft, before: Names, named: Names) -> tuple[Ids, Ids]:
    if draft.replaced_edges is None:
        return NO_PAIRS, NO_PAIRS
    old, new = draft.replaced_edges()
    return (before.vertex[old], named.vertex[new]) if len(old) else (NO_PAIRS, NO_PAIRS)


def carry(draft: Draft, mesh: Mesh) -> dict[str, Attribute]:
    """Every attribute of ``mesh`` on the elements of the draft's result."""
    return carried_on(draft, mesh, mesh.attributes, {})


def carried_on(draft: Draft, mesh: Mesh, attributes: Mapping[str, Attribute],
               sources: dict[str, Sources]) -> dict[str, Attribute]:
    """Some attributes of ``mesh`` on the elements of the draft's result; ``sources`` remembers where elements come from."""
    check()
    out = {}
    for key, attribute in attributes.items():
        if attribute.carry == "drop":
            continue
        if attribute.domain not in sources:
            sources[attribute.domain] = _sources(draft, mesh.topology, attribute.domain)
        out[key] = attribute.through(sources[attribute.domain])
    return out


def _sources(draft: Draft, before: Topology, domain: AttributeDomain) -> Sources:
    if domain == "edge":
        return edge_source(draft, before)
    given = {"vertex": draft.vertex_source, "face": draft.face_source, "corner": draft.corner_source}[domain]
    return given() if callable(given) else given


def edge_source(draft: Draft, before: Topology) -> Ints:
    """(E',) old edge each new one takes its marks from, −1 for none: by default the one between its ends' sources."""
    if draft.edge_source is not None:
        return draft.edge_source()
    edges = draft.topology.edges
    source = _sources(draft, before, "vertex")
    index = strongest(source) if isinstance(source, csr_array) else source
    a, b = index[edges[:, 0]], index[edges[:, 1]]
    found = before.find_edges(np.maximum(a, 0), np.maximum(b, 0))
    return np.where((a >= 0) & (b >= 0) & (a != b), found, -1)
