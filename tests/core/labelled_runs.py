"""Loops and rings found by labelling the whole mesh at once, as a measure for those that are walked from edge to edge."""

from __future__ import annotations

import numpy as np

from rhytonic.core.mesh.topology import Ints, Topology, components


def _whole(count: int, links: tuple[Ints, Ints], seeds: Ints) -> Ints:
    """All elements joined to the seeds by links; where each end has at most one link, these are runs."""
    label = components(count, *links)
    wanted = np.zeros(count, bool)
    wanted[label[seeds]] = True
    return np.flatnonzero(wanted[label])


def loops_at_once(t: Topology, seeds: Ints) -> Ints:
    onward = t.twin[t.previous_corner]
    twice = np.where(onward >= 0, onward[np.maximum(onward, 0)], -1)
    # where faces are turned the wrong way there is no full turn round a vertex
    turns = (twice >= 0) & (twice[np.maximum(twice, 0)] == np.arange(twice.size)) & (twice != np.arange(twice.size))
    edges_at = np.bincount(t.edges.ravel(), minlength=t.vertex_count)
    inner = (edges_at == 4) & (t.vertex_fan_count == 1)
    border = t.edges[t.border_edges]
    inner[border] = False
    crossing = np.flatnonzero(inner[t.corners] & turns)
    a, b = t.corner_edge[crossing], t.corner_edge[twice[crossing]]
    at, edge = border.ravel(), np.repeat(np.flatnonzero(t.border_edges), 2)
    order = np.argsort(at, kind="stable")
    ends = np.bincount(at, minlength=t.vertex_count)
    pair = np.flatnonzero((at[order][1:] == at[order][:-1]) & (ends[at[order][1:]] == 2))
    along = edge[order][pair], edge[order][pair + 1]
    return _whole(t.edge_count, (np.concatenate([a, along[0]]), np.concatenate([b, along[1]])), seeds)


def rings_at_once(t: Topology, seeds: Ints) -> Ints:
    """Edges that face each other in quads are joined."""
    first = t.offsets[:-1][t.sides == 4]
    a = np.concatenate([first, first + 1])
    return _whole(t.edge_count, (t.corner_edge[a], t.corner_edge[a + 2]), seeds)


def oriented_at_once(t: Topology, seeds: Ints, low: Ints, order: Ints) -> tuple[Ints, Ints, Ints] | None:
    """Two nodes an edge, one for each way along it, joined across quads: edges, their starts and what names them; None where a
    ring is twisted."""
    way = (t.corners != t.edges[:, 0][t.corner_edge]).astype(np.int64)
    c = t.offsets[:-1][t.sides == 4]
    a, b = np.concatenate([c, c + 1]), np.concatenate([c + 2, c + 3])
    ea, eb, wa, wb = t.corner_edge[a], t.corner_edge[b], way[a], way[b]
    label = components(2 * t.edge_count, np.concatenate([2 * ea + wa, 2 * ea + 1 - wa]),
                       np.concatenate([2 * eb + 1 - wb, 2 * eb + wb]))
    low_first = t.edges[seeds, 0] == low
    along = label[2 * seeds + np.where(low_first, 0, 1)]
    against = label[2 * seeds + np.where(low_first, 1, 0)]
    if (along == against).any():
        return None
    named_of: dict[int, tuple[int, int]] = {}
    for i in order:  # bounded by the pick: the first edge of each ring names it
        if int(along[i]) not in named_of and int(against[i]) not in named_of:
            named_of[int(along[i])] = (int(seeds[i]), int(i))
    name = np.full(int(label.max()) + 1, -1, np.int64)
    for ring, (edge, _) in named_of.items():
        name[ring] = edge
    forward, backward = name[label[0::2]], name[label[1::2]]
    edges = np.flatnonzero((forward >= 0) | (backward >= 0))
    ahead = forward[edges] >= 0
    ends = t.edges[edges]
    return edges, np.where(ahead, ends[:, 0], ends[:, 1]), np.where(ahead, forward[edges], backward[edges])
