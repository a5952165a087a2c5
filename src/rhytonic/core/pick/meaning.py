"""What a pick made by hand means: a rule that finds exactly the same, or where each element comes from."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ..lineage.history import History, ids_in
from ..lineage.origins import origins
from ..mesh.mesh import Mesh
from ..mesh.names import hex_of
from ..mesh.topology import Ints
from . import by_shape, convert, rules, runs
from .convert import Kind
from .places import places_of

#: no more loops, rings or bands than this make one meaning
_MOST_SEEDS = 12
#: no more steps than this are named in a sentence
_MOST_NAMED = 2


def meaning_of(mesh: Mesh, history: History, kind: Kind, elements: Ints) -> rules.Meant | None:
    """The meaning of some elements, to be kept beside their ids; None where they have none."""
    counts = {r.step: r.counts for r in history.records if r.counts}
    rule = next(_rules(mesh, history, kind, elements), None)
    if rule is not None:
        return rules.Meant(counts=counts, rule=rule)
    places = places_of(mesh, history, kind, elements)
    return None if places is None else rules.Meant(counts=counts, places=places)


def _rules(mesh: Mesh, history: History, kind: Kind, elements: Ints) -> Iterator[rules.Rule]:
    """Rules that find exactly these elements, the plainest first."""
    t = mesh.topology
    count = {"faces": t.face_count, "edges": t.edge_count, "vertices": t.vertex_count}[kind]
    if elements.size == count:
        yield "all"
    if elements.size < 2:
        return  # one element is itself; a rule that happens to find it alone says more than was meant
    yield from _made(mesh, history, kind, elements)
    if kind == "edges":
        yield from _through(mesh, history, elements)
        face = int(t.corner_face[t.edge_corners[0][t.edge_corners[1][elements[0]]]])
        for side in {face, *_beside(mesh, int(elements[0]))}:
            region = by_shape.flat_around(mesh, np.array([side]), 1)
            if _same(convert.outline(t, region), elements):
                yield rules.OutlineOf(outline_of=rules.FlatAround(flat_around=_seed(mesh, history, "faces", side)))
    elif kind == "faces":
        for edge in t.corner_edge[t.offsets[elements[0]]:t.offsets[elements[0] + 1]].tolist():
            if _same(runs.bands_through(t, np.array([edge])), elements):
                yield rules.LoopThrough(loop_through=_seed(mesh, history, "edges", edge))
        if _same(by_shape.flat_around(mesh, elements[:1], 1), elements):
            yield rules.FlatAround(flat_around=_seed(mesh, history, "faces", int(elements[0])))
    else:
        inside = np.zeros(t.vertex_count, bool)
        inside[elements] = True
        edges = np.flatnonzero(inside[t.edges].all(axis=1))
        if edges.size and _same(np.unique(t.edges[edges]), elements):
            for rule in _through(mesh, history, edges):
                yield rules.OfEdges(of_edges=rule)


def _beside(mesh: Mesh, edge: int) -> list[int]:
    t = mesh.topology
    order, starts = t.edge_corners
    return [int(f) for f in t.corner_face[order[starts[edge]:starts[edge + 1]]]]


def _made(mesh: Mesh, history: History, kind: Kind, elements: Ints) -> Iterator[rules.Rule]:
    """All that the step that made the first of them, or the form, made, or made in a role."""
    names = mesh.names
    found_in = origins(history)
    if found_in is None:
        return
    first = elements[0]
    maker = int(found_in.face_maker[first] if kind == "faces" else found_in.vertex_maker[
        mesh.topology.edges[first] if kind == "edges" else first].max())
    for number in sorted({maker, 0}, reverse=True):
        record = history.records[number]
        for role in [*sorted(record.roles()), None]:
            if kind == "edges":
                groups = [p for r, p in record.edges.items() if role in (None, r) and len(p)]
                if not groups:
                    continue
                found, _ = history.follow_edges(mesh.topology, names, np.concatenate(groups))
            else:
                domain = "face" if kind == "faces" else "vertex"
                ids = ids_in(v for (d, r), v in record.made.items() if d == domain and role in (None, r))
                if ids.size < elements.size and not ids.size:
                    continue
                found, _ = history.follow(domain, ids, names, since=number + 1)  # type: ignore[arg-type]
            if _same(np.unique(found), elements):
                yield rules.MadeBy(made_by=record.step, role=role)


def _through(mesh: Mesh, history: History, elements: Ints) -> Iterator[rules.Rule]:
    """Whole loops, or whole rings, that together are the edges."""
    t = mesh.topology
    for loop in (True, False):
        find = runs.loops_through if loop else runs.rings_through
        left = elements
        seeds: list[int] = []
        while left.size and len(seeds) < _MOST_SEEDS:
            run = find(t, left[:1])
            if run.size < 2 or not np.isin(run, elements).all():
                break
            seeds.append(int(left[0]))
            left = np.setdiff1d(left, run)
        if not left.size:
            each = [_seed(mesh, history, "edges", s) for s in seeds]
            run_rules: list[rules.Rule] = [rules.LoopThrough(loop_through=s) if loop else rules.RingThrough(ring_through=s)
                                           for s in each]
            yield run_rules[0] if len(run_rules) == 1 else rules.AnyOf(any_of=run_rules)


def _seed(mesh: Mesh, history: History, kind: Kind, element: int) -> rules.Ids:
    """One element by its id and its place."""
    at = np.array([element])
    return rules.Ids(ids=ids_of(mesh, kind, at), meant=rules.Meant(
        counts={r.step: r.counts for r in history.records if r.counts}, places=places_of(mesh, history, kind, at)))


def ids_of(mesh: Mesh, kind: Kind, elements: Ints) -> list[str | tuple[str, str]]:
    """Ids of elements as a rule tells them."""
    names = mesh.names
    if kind == "edges":
        pairs = hex_of(names.vertex[mesh.topology.edges[elements]].ravel())
        return list(zip(pairs[0::2], pairs[1::2], strict=True))
    return list(hex_of((names.face if kind == "faces" else names.vertex)[elements]))


def _same(one: Ints, two: Ints) -> bool:
    return one.size == two.size and bool((one == two).all())


_LOOP = ("by its loop", "the loop picked is")
#: how rules find elements again, for the card, and what they found, with its verb
_WORDS: dict[type, tuple[str, str]] = {
    rules.LoopThrough: _LOOP, rules.OfEdges: _LOOP, rules.RingThrough: ("by its ring", "the ring picked is"),
    rules.FlatAround: ("as the flat region", "the flat region picked is"),
    rules.OutlineOf: ("as the outline of a flat region", "the outline picked is")}


def told_by(meant: rules.Meant) -> str:
    """How a meaning finds elements, in words for the card."""
    match meant.rule:
        case None:
            return "by where they come from"
        case "all":
            return "as everything there"
        case rules.MadeBy():
            return f"as what '{meant.rule.made_by}' made"
        case rules.AnyOf():
            return "by their loops"
    return _WORDS.get(type(meant.rule), _LOOP)[0]


_ONE: dict[Kind, str] = {"faces": "face", "edges": "edge", "vertices": "vertex"}


def split_up(kind: Kind, picked: int, found: int) -> str:
    """That elements gave way to others, in words for the card."""
    return f"as {found} {kind if found > 1 else _ONE[kind]} where {picked} {'was' if picked == 1 else 'were'} picked"


def meant_by(kind: Kind, rule: rules.Rule) -> str:
    """What a rule by ids meant, as a person would name it, with "is" or "are"."""
    meant = rule.meant if isinstance(rule, rules.Ids) else None
    told = meant.rule if meant is not None else None
    if isinstance(told, rules.AnyOf):
        return f"the {len(told.any_of)} loops picked are"
    if isinstance(told, rules.MadeBy):
        return f"what '{told.made_by}' made is"
    if type(told) in _WORDS:
        return _WORDS[type(told)][1]
    count = len(rule.ids) if isinstance(rule, rules.Ids) else 0
    makers = list(dict.fromkeys(p.by for p in (meant.places or ()))) if meant is not None else []
    of = f" made by {' and '.join(repr(m) for m in makers)}" if 0 < len(makers) <= _MOST_NAMED else ""
    return f"the one {_ONE[kind]}{of} that was picked is" if count == 1 else f"the {count} {kind}{of} that were picked are"
