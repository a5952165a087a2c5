"""Loops, rings, bands and paths: runs of elements that follow one another."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
import scipy
from scipy.sparse import coo_array

from .. import tolerance
from ..mesh.geometry import Floats, lengths
from ..mesh.mesh import Mesh
from ..mesh.topology import Bools, Ints, Topology, components


def _whole(count: int, links: tuple[Ints, Ints], seeds: Ints) -> Ints:
    """All elements joined to the seeds by links; where each end has at most one link, these are runs."""
    label = components(count, *links)
    wanted = np.zeros(count, bool)
    wanted[label[seeds]] = True
    return np.flatnonzero(wanted[label])


#: runs longer than this are found by labelling the whole mesh
_MOST_WALKED = 2000


def _walk(seeds: Ints, onward: Callable[[int], list[int]]) -> Ints | None:
    """Everything reached from the seeds step by step, or None where that is too much to walk."""
    found = set(seeds.tolist())
    waiting = list(found)
    while waiting:
        for other in onward(waiting.pop()):
            if other not in found:
                found.add(other)
                waiting.append(other)
        if len(found) > _MOST_WALKED:
            return None
    return np.array(sorted(found), np.int64)


def loops_through(t: Topology, seeds: Ints) -> Ints:
    """Edge loops of the seeds: on by the opposite edge at inner vertices of four edges, along the border at the border."""
    walked = _walk(seeds, _loop_step(t))
    return walked if walked is not None else _loops_at_once(t, seeds)


def _loop_step(t: Topology) -> Callable[[int], list[int]]:
    """From an edge to those that follow it at either end."""
    edge_of, before, twin = t.corner_edge, t.previous_corner, t.twin
    at_vertex, starts = t.vertex_corners
    border = t.border_edges

    def onward(edge: int) -> list[int]:
        out = []
        for vertex in t.edges[edge].tolist():
            corners = at_vertex[starts[vertex]:starts[vertex + 1]]
            around = set(edge_of[corners].tolist()) | set(edge_of[before[corners]].tolist())
            open_ = [e for e in around if border[e]]
            if border[edge]:
                if len(open_) == 2:
                    out += [e for e in open_ if e != edge]
            elif not open_ and len(around) == corners.size == 4:
                opposite = _opposite_at(edge, corners.tolist(), edge_of, before, twin)
                out += [] if opposite is None else [opposite]
        return out

    return onward


def _opposite_at(edge: int, corners: list[int], edge_of: Ints, before: Ints, twin: Ints) -> int | None:
    """The edge across from one where four corners close round a vertex."""
    first = next((c for c in corners if edge_of[c] == edge), None)
    if first is None:
        return None
    turn = [first]
    for _ in range(4):
        turn.append(int(twin[before[turn[-1]]]))
        if turn[-1] < 0:
            return None
    return int(edge_of[turn[2]]) if turn[4] == first and len(set(turn)) == 4 else None


def _loops_at_once(t: Topology, seeds: Ints) -> Ints:
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


def _opposite(t: Topology) -> tuple[Ints, Ints]:
    """Pairs of edges that face each other in a quad, each once."""
    first = t.offsets[:-1][t.sides == 4]
    a = np.concatenate([first, first + 1])
    return t.corner_edge[a], t.corner_edge[a + 2]


def rings_through(t: Topology, seeds: Ints) -> Ints:
    """Edge rings of the seeds: across quads to the opposite edge."""
    by_edge, starts = t.edge_corners

    def onward(edge: int) -> list[int]:
        half = by_edge[starts[edge]:starts[edge + 1]]
        half = half[t.sides[t.corner_face[half]] == 4]
        return t.corner_edge[t.next_corner[t.next_corner[half]]].tolist()  # type: ignore[no-any-return]

    walked = _walk(seeds, onward)
    return walked if walked is not None else _rings_at_once(t, seeds)


def _rings_at_once(t: Topology, seeds: Ints) -> Ints:
    return _whole(t.edge_count, _opposite(t), seeds)


def bands_through(t: Topology, seeds: Ints) -> Ints:
    """Faces: the quads that the rings of the seed edges cross."""
    ring = np.zeros(t.edge_count, bool)
    ring[rings_through(t, seeds)] = True
    hit = np.zeros(t.face_count, bool)
    hit[t.corner_face[ring[t.corner_edge]]] = True
    return np.flatnonzero(hit & (t.sides == 4))


def edge_path(mesh: Mesh, start: Ints, end: Ints) -> Ints:
    """Edges of the shortest run from one of ``start`` to one of ``end``, both included; empty where none leads there."""
    t = mesh.topology
    if np.intersect1d(start, end).size:
        return np.intersect1d(start, end)[:1]
    span = lengths(mesh.points[t.edges[:, 0]] - mesh.points[t.edges[:, 1]]) + tolerance.TIE  # ties go to fewer edges
    walk = _shortest(t.vertex_count, t.edges, span, np.unique(t.edges[start]), np.unique(t.edges[end]))
    if walk.size == 0:
        return walk
    first = start[(t.edges[start] == walk[0]).any(axis=1)][:1]
    last = end[(t.edges[end] == walk[-1]).any(axis=1)][:1]
    return np.unique(np.concatenate([first, t.find_edges(walk[:-1], walk[1:]), last]))


def face_path(mesh: Mesh, start: Ints, end: Ints) -> Ints:
    """Faces of the shortest run from centre to centre across edges, both ends included; empty where none leads there."""
    t = mesh.topology
    order, starts = t.edge_corners
    inner = np.flatnonzero(t.edge_face_count == 2)
    pairs = np.stack([t.corner_face[order[starts[inner]]], t.corner_face[order[starts[inner] + 1]]], axis=1)
    span = lengths(mesh.face_centres[pairs[:, 0]] - mesh.face_centres[pairs[:, 1]]) + tolerance.TIE
    return np.unique(_shortest(t.face_count, pairs, span, start, end))


def _shortest(nodes: int, links: Ints, span: Floats, start: Ints, end: Ints) -> Ints:
    """Nodes of the shortest way from any of ``start`` to any of ``end`` (E. Dijkstra, Numerische Mathematik 1, 1959)."""
    keep = links[:, 0] != links[:, 1]
    order = np.lexsort((span[keep], links[keep].max(axis=1), links[keep].min(axis=1)))  # of parallel links the shortest
    pairs, weight = np.sort(links[keep][order], axis=1), span[keep][order]
    first = np.ones(len(pairs), bool)
    first[1:] = (pairs[1:] != pairs[:-1]).any(axis=1)
    graph = coo_array((weight[first], pairs[first].T), shape=(nodes, nodes)).tocsr()
    distance, before, _ = scipy.sparse.csgraph.dijkstra(graph, directed=False, indices=start, min_only=True,
                                                        return_predecessors=True)
    at = int(end[np.argmin(distance[end])])
    if not np.isfinite(distance[at]):
        return np.zeros(0, np.int64)
    walk = [at]
    while before[walk[-1]] >= 0:  # as long as the way, not the mesh
        walk.append(int(before[walk[-1]]))
    return np.array(walk[::-1], np.int64)


def grown(t: Topology, kind: str, elements: Ints) -> Ints:
    """One ring more: faces and edges that share a vertex with the given ones, vertices that share an edge."""
    near = np.zeros(t.vertex_count, bool)
    if kind == "faces":
        near[t.corners[t.corners_of(elements)]] = True
        return np.unique(t.corner_face[near[t.corners]])
    if kind == "edges":
        near[t.edges[elements]] = True
        return np.flatnonzero(near[t.edges].any(axis=1))
    near[elements] = True
    touched = near[t.edges].any(axis=1)
    out = near.copy()
    out[t.edges[touched]] = True
    return np.flatnonzero(out)


def shrunk(t: Topology, kind: str, elements: Ints) -> Ints:
    """One ring fewer: what no element outside is a neighbour of."""
    count = {"faces": t.face_count, "edges": t.edge_count, "vertices": t.vertex_count}[kind]
    inside = np.zeros(count, bool)
    inside[elements] = True
    outside = np.flatnonzero(~inside)
    if outside.size:
        inside[grown(t, kind, outside)] = False
    return np.flatnonzero(inside)


def shells_of(t: Topology, kind: str, elements: Ints) -> Ints:
    """All elements of the shells that hold the given ones; a vertex without a face is a shell of its own."""
    faces: Bools = np.zeros(t.face_count, bool)
    if kind == "faces":
        faces[elements] = True
    elif kind == "edges":
        faces[t.corner_face[np.isin(t.corner_edge, elements)]] = True
    else:
        faces[t.corner_face[np.isin(t.corners, elements)]] = True
    wanted = np.zeros(int(t.shells.max(initial=-1)) + 1, bool)
    wanted[t.shells[faces]] = True
    corner = wanted[t.shells][t.corner_face]
    if kind == "faces":
        return np.flatnonzero(wanted[t.shells])
    return np.union1d(np.unique((t.corner_edge if kind == "edges" else t.corners)[corner]), elements)
