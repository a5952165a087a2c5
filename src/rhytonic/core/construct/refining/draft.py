"""The draft of a refined mesh: names, sources and lines of what refinement makes."""

from __future__ import annotations

import functools

import numpy as np
from scipy.sparse import csr_array, eye_array, vstack

from ...lineage.history import NO_PAIRS, Record, Renaming, Succession
from ...mesh import names
from ...mesh.mesh import Mesh
from ...mesh.names import Names
from ...mesh.topology import Ints, Topology
from ...step.draft import Draft
from .refine import Refinement


def refined_draft(mesh: Mesh, chain: Refinement, levels: int) -> Draft:
    """The draft of ``mesh`` after some levels of a refinement of its connectivity; its ``data`` is that refinement."""
    t = mesh.topology
    topology = chain.result(levels)
    kept_v = np.full(topology.vertex_count, -1, np.int64)
    kept_v[:t.vertex_count] = np.arange(t.vertex_count)
    return Draft(topology, kept_v, np.full(topology.face_count, -1, np.int64),
                 vertex_source=lambda: _weights(chain, levels), face_source=chain.face_source(levels),
                 corner_source=lambda: _corner_weights(t, levels),
                 edge_source=lambda: _edge_source(chain, levels, topology),
                 naming=lambda mesh, step: _name(mesh, step, chain, levels, topology), data=chain,
                 lines=lambda: chain.cage_lines(levels))


def _weights(chain: Refinement, levels: int) -> csr_array:
    """(V', V) all levels in one matrix; only built when a vertex attribute has to be carried."""
    out = csr_array(eye_array(chain.topology.vertex_count))
    for number in range(levels):
        out = csr_array(chain.level(number).operator @ out)
    return out


def _edge_source(chain: Refinement, levels: int, topology: Topology) -> Ints:
    """(E',) cage edge of each piece of one, −1 inside the faces."""
    out = np.full(topology.edge_count, -1, np.int64)
    lines = chain.cage_lines(levels)
    out[topology.find_edges(lines[:, 0], lines[:, 1])] = np.repeat(np.arange(chain.topology.edge_count), 2 ** levels)
    return out


def _corner_weights(t: Topology, levels: int) -> csr_array:
    """(C', C) bilinear weights of corner attributes: each face is cut up by itself."""
    out = csr_array(eye_array(t.corner_count))
    sides, following, preceding = t.sides, t.next_corner, t.previous_corner
    face = t.corner_face
    for _ in range(levels):
        c = face.size
        own = csr_array(eye_array(c))
        ahead = csr_array((np.full(2 * c, 0.5), (np.tile(np.arange(c), 2), np.concatenate([np.arange(c), following]))))
        behind = csr_array((np.full(2 * c, 0.5), (np.tile(np.arange(c), 2), np.concatenate([np.arange(c), preceding]))))
        starts = np.cumsum(sides) - sides
        row = np.repeat(np.arange(c), sides[face])
        column = np.repeat(starts[face] - np.cumsum(sides[face]) + sides[face], sides[face]) + np.arange(row.size)
        middle = csr_array((np.repeat(1.0 / sides[face], sides[face]), (row, column)), shape=(c, c))
        order = np.arange(4 * c).reshape(4, c).T.ravel()
        stacked = csr_array(vstack([own, ahead, middle, behind], format="csr"))
        out = csr_array(stacked[order] @ out)
        face = np.repeat(np.arange(c), 4)
        sides = np.full(c, 4)
        number = np.arange(4 * c)
        following, preceding = number + 1, number - 1
        following[3::4] -= 4
        preceding[0::4] += 4
    return out


def _name(mesh: Mesh, step: str, chain: Refinement, levels: int, topology: Topology) -> tuple[Names, Record]:
    """Names by (level, parents), computed when asked: a surface in a view seldom is."""
    def grow(ids: tuple[names.Ids, names.Ids], number: int) -> tuple[names.Ids, names.Ids]:
        vertex, face = ids
        level = chain.level(number)

        def made(domain: names.Domain, role: str, parents: names.Ids) -> names.Ids:
            return names.name(step, domain, role, len(parents), parents, np.full((len(parents), 1), number + 1))

        ends = np.sort(vertex[level.ends], axis=1)
        corner = np.stack([face[level.corner_face], vertex[level.corners]], axis=1)
        return (np.concatenate([vertex, made("vertex", "edge", ends), made("vertex", "face", face[:, None])]),
                made("face", "", corner))

    def grown(vertex: names.Ids, face: names.Ids) -> tuple[names.Ids, names.Ids]:
        for number in range(levels):
            vertex, face = grow((vertex, face), number)
        return vertex, face

    @functools.cache
    def final() -> tuple[names.Ids, names.Ids]:
        return grown(mesh.names.vertex, mesh.names.face)

    named = Names(lambda: final()[0], lambda: final()[1])

    def made() -> dict[tuple[names.Domain, str], names.Ids]:
        return {("face", ""): named.face, ("vertex", ""): named.vertex[mesh.topology.vertex_count:]}

    def edges() -> dict[str, names.Ids]:
        """All but the pieces of cage edges, which replace those."""
        ends = chain.level(levels - 1).out_ends[mesh.topology.edge_count * 2 ** levels:]
        return {"": named.vertex[ends] if len(ends) else NO_PAIRS}

    def replaced() -> dict[names.Domain, Succession]:
        return {"face": Succession(mesh.names.face[chain.face_source(levels)], named.face)}

    def split_edges() -> tuple[names.Ids, names.Ids]:
        old: Ints = np.repeat(mesh.topology.edges, 2 ** levels, axis=0)
        return mesh.names.vertex[old], named.vertex[chain.cage_lines(levels)]

    def renamed(other: Renaming, left_out: bool) -> dict[names.Domain, Succession]:
        vertex, face = other("vertex", mesh.names.vertex), other("face", mesh.names.face)
        if left_out:
            return {"face": Succession(face[chain.face_source(levels)], named.face)}
        vertex, face = grown(vertex, face)
        cage = mesh.topology.vertex_count
        return {"vertex": Succession(vertex[cage:], named.vertex[cage:]), "face": Succession(face, named.face)}

    return named, Record(step, made, edges, replaced, split_edges, renamed)
