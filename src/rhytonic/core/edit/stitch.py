"""Stitch: join two chains of edges, vertex to vertex."""

from __future__ import annotations

from dataclasses import replace
from typing import Literal

import numpy as np

from ..construct.chains import Chain, edge_chains
from ..construct.held_plane import HoldPlane
from ..construct.pairing.merge_vertices import mean_points, merge_vertices
from ..construct.pairing.pair import best_turn
from ..errors import StepError
from ..mesh.mesh import Floats, Mesh
from ..mesh.names import Ids
from ..mesh.topology import Ints
from ..pick.resolve import Picked
from ..pick.rules import AnyOf, PickEdges, Rule
from ..pick.rules import Ids as IdsRule
from ..step.draft import Draft
from ..step.kind import Context, Edit, StepKind


class Stitch(Edit):
    kind: Literal["stitch"]
    at: Literal["middle", "first", "last"] = "middle"
    hold_plane: HoldPlane = "none"


class StitchKind(StepKind[Stitch]):
    """Two chains, loops or edges of equal length become one, the way round that moves least. ``first`` is the chain that the
    pick names first, or else the one made first. One chain is folded at its middle."""

    word, title, model = "stitch", "Stitch", Stitch
    watches_area = True
    may_share_edges = True
    takes = ("edges",)
    reads_points = True

    def plan(self, p: Stitch, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        assert picked is not None
        ids = mesh.names.vertex
        one, two = _two(edge_chains(mesh.topology, picked.elements, ids))
        if one.vertices.size != two.vertices.size or one.closed != two.closed:
            told = " and ".join(f"{c.vertices.size} vertices{' in a loop' if c.closed else ''}" for c in (one, two))
            raise StepError(f"the two chains have {told}; only chains of equal length can be stitched — insert a loop or "
                            "dissolve a vertex first", "pick")
        first = self._named_first(p, mesh, context)
        swap = np.isin(first, two.vertices).all() if first.size else two.vertices.min() < one.vertices.min()
        a, b = (two, one) if swap else (one, two)
        partner = _partners(mesh.points, a, b, ids)
        draft, number = merge_vertices(mesh, np.stack([a.vertices, partner], axis=1), "stitching")
        return replace(draft, data=(number, a.vertices, partner))

    def _named_first(self, p: Stitch, mesh: Mesh, context: Context) -> Ints:
        """Vertices of what the pick's rule names first; none where it names all at once."""
        rule: Rule | None = None
        if isinstance(p.pick, PickEdges):
            if isinstance(p.pick.edges, AnyOf):
                rule = p.pick.edges.any_of[0]
            elif isinstance(p.pick.edges, IdsRule):
                rule = IdsRule(ids=[p.pick.edges.ids[0]])
        if rule is None:
            return np.zeros(0, np.int64)
        return context.find(PickEdges(edges=rule)).vertices(mesh)

    def positions(self, p: Stitch, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        number, first, last = draft.data
        points = mean_points(mesh, draft, number)
        if p.at != "middle":
            onto = first if p.at == "first" else last
            points[number[onto]] = mesh.points[onto]
        return points


def _two(chains: list[Chain]) -> tuple[Chain, Chain]:
    if len(chains) == 1 and not chains[0].closed and chains[0].links % 2 == 0:
        v = chains[0].vertices
        half = v.size // 2
        return replace(chains[0], vertices=v[:half + 1]), replace(chains[0], vertices=v[half:])
    if len(chains) != 2:
        raise StepError(f"a stitch joins two chains of edges, not {len(chains)}", "pick")
    return chains[0], chains[1]


def _partners(points: Floats, a: Chain, b: Chain, ids: Ids) -> Ints:
    """Vertex of b that each of a goes with: the way round, and for loops the turn, with the least squared distances."""
    best: tuple[float, Ints] | None = None
    shared = np.intersect1d(a.vertices, b.vertices)
    for order in (b.vertices, b.vertices[::-1]):
        if a.closed:
            turn = best_turn(points[a.vertices], points[order], ids[order])
            order = np.roll(order, -turn)
        if shared.size and not (a.vertices == order)[np.isin(a.vertices, shared)].all():
            continue
        cost = float(((points[a.vertices] - points[order]) ** 2).sum())
        if best is None or cost < best[0] * (1 - 1e-9):
            best = cost, order
    assert best is not None
    return best[1]
