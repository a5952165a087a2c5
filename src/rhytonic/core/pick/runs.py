"""Loops, rings, bands and paths: runs of elements that follow one another."""

from __future__ import annotations

import numpy as np
import scipy
from scipy.sparse import coo_array

from .. import tolerance
from ..compiled import BOOLS, COUNT, INTS, NEW_BOOLS, NEW_INTS, ROWS, compiled
from ..mesh.geometry import Floats, lengths
from ..mesh.mesh import Mesh
from ..mesh.topology import Bools, Ints, Topology


@compiled(COUNT, COUNT, INTS, INTS, INTS, BOOLS)
def _along_border(edge: int, corners: Ints, edge_of: Ints, before: Ints, border: Bools) -> int:
    """The other one of just two border edges at a vertex with these corners, −1 where there are more."""
    other = -1
    for corner in corners:
        for e in (edge_of[corner], edge_of[before[corner]]):
            if border[e] and e != edge and e != other:
                if other >= 0:
                    return -1
                other = e
    return other


@compiled(COUNT, COUNT, INTS, INTS, INTS, INTS, BOOLS)
def _across(edge: int, corners: Ints, edge_of: Ints, before: Ints, twin: Ints, border: Bools) -> int:
    """The edge across from one where four corners of four edges close round a vertex, else −1."""
    if len(corners) != 4:
        return -1
    around, first = np.full(5, -1), -1
    count = 0
    for corner in corners:
        if first < 0 and edge_of[corner] == edge:
            first = corner
        for e in (edge_of[corner], edge_of[before[corner]]):
            known = False
            for k in range(count):
                known |= around[k] == e
            if border[e] or (not known and count == 4):
                return -1
            if not known:
                around[count] = e
                count += 1
    if count != 4 or first < 0:
        return -1
    turn = first
    opposite = -1
    for step in range(4):
        turn = twin[before[turn]]
        if turn < 0 or (turn == first) != (step == 3):
            return -1
        if step == 1:
            opposite = edge_of[turn]
    return opposite


def loops_through(t: Topology, seeds: Ints) -> Ints:
    """(n,) edge loops of the seeds: on by the opposite edge at inner vertices of four edges, along the border at the
    border."""
    around = t.edges, t.corner_edge, t.previous_corner, t.twin, *t.vertex_corners, t.border_edges
    return np.flatnonzero(_looped(*around, *_begun(t.edge_count, seeds)))


def _begun(count: int, seeds: Ints) -> tuple[Bools, Ints, int]:
    """What a walk has found and has still to go on from, and how many these are."""
    found, waiting = np.zeros(count, bool), np.empty(count, np.int64)
    found[seeds] = True
    once = np.flatnonzero(found)
    waiting[:once.size] = once
    return found, waiting, once.size


@compiled(NEW_BOOLS, ROWS, INTS, INTS, INTS, INTS, INTS, BOOLS, NEW_BOOLS, NEW_INTS, COUNT)
def _looped(edges: Ints, edge_of: Ints, before: Ints, twin: Ints, at_vertex: Ints, starts: Ints, border: Bools,
            found: Bools, waiting: Ints, last: int) -> Bools:
    """(E,) what is reached by going on from an edge at either end."""
    while last:
        last -= 1
        edge = waiting[last]
        for end in range(2):
            corners = at_vertex[starts[edges[edge, end]]:starts[edges[edge, end] + 1]]
            if border[edge]:
                on = _along_border(edge, corners, edge_of, before, border)
            else:
                on = _across(edge, corners, edge_of, before, twin, border)
            if on >= 0 and not found[on]:
                found[on] = True
                waiting[last] = on
                last += 1
    return found


def rings_through(t: Topology, seeds: Ints) -> Ints:
    """(n,) edge rings of the seeds: across quads to the opposite edge."""
    around = t.corner_edge, t.next_corner, t.corner_face, t.sides, *t.edge_corners
    return np.flatnonzero(_ringed(*around, *_begun(t.edge_count, seeds)))


@compiled(NEW_BOOLS, INTS, INTS, INTS, INTS, INTS, INTS, NEW_BOOLS, NEW_INTS, COUNT)
def _ringed(edge_of: Ints, following: Ints, face: Ints, sides: Ints, by_edge: Ints, starts: Ints, found: Bools,
            waiting: Ints, last: int) -> Bools:
    """(E,) what is reached by going on across quads."""
    while last:
        last -= 1
        edge = waiting[last]
        for corner in by_edge[starts[edge]:starts[edge + 1]]:
            other = edge_of[following[following[corner]]]
            if sides[face[corner]] == 4 and not found[other]:
                found[other] = True
                waiting[last] = other
                last += 1
    return found


def bands_through(t: Topology, seeds: Ints) -> Ints:
    """(n,) faces: the quads that the rings of the seed edges cross."""
    ring = np.zeros(t.edge_count, bool)
    ring[rings_through(t, seeds)] = True
    hit = np.zeros(t.face_count, bool)
    hit[t.corner_face[ring[t.corner_edge]]] = True
    return np.flatnonzero(hit & (t.sides == 4))


def edge_path(mesh: Mesh, start: Ints, end: Ints) -> Ints:
    """(n,) edges of the shortest run from one of ``start`` to one of ``end``, both included; empty where none leads
    there."""
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
    """(n,) faces of the shortest run from centre to centre across edges, both ends included; empty where none leads
    there."""
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
    """(n,) one ring more: faces and edges that share a vertex with the given ones, vertices that share an edge."""
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
    """(n,) one ring fewer: what no element outside is a neighbour of."""
    count = {"faces": t.face_count, "edges": t.edge_count, "vertices": t.vertex_count}[kind]
    inside = np.zeros(count, bool)
    inside[elements] = True
    outside = np.flatnonzero(~inside)
    if outside.size:
        inside[grown(t, kind, outside)] = False
    return np.flatnonzero(inside)


def shells_of(t: Topology, kind: str, elements: Ints) -> Ints:
    """(n,) all elements of the shells that hold the given ones; a vertex without a face is a shell of its own."""
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
