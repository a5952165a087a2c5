"""Two drafts one after the other, told as one: for edits that open a surface and then work on what they opened."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from ..mesh.mesh import Mesh
from ..mesh.topology import Ints
from ..recipe.draft import Born, Draft, settle
from ..recipe.history import History


def between(mesh: Mesh, first: Draft, step: str) -> Mesh:
    """The mesh after the first draft, named as its elements would be; its points are all zero."""
    plan = settle(first, mesh, History(), step)
    return plan.mesh(np.zeros((first.topology.vertex_count, 3)))


def composed(first: Draft, second: Draft) -> Draft:
    """``second``, drawn up on the mesh ``first`` leaves, as one draft on the mesh before both. Sources are indices."""
    born: list[Born] = []
    for b in first.born:
        place = _inverse(second.kept_vertices if b.domain == "vertex" else second.kept_faces,
                         first.kept_vertices.size if b.domain == "vertex" else first.kept_faces.size)
        stays = place[b.elements] >= 0
        if stays.any():
            born.append(replace(b, elements=place[b.elements[stays]], parents=b.parents[stays], index=b.index[stays],
                                replaces=None if b.replaces is None else b.replaces[stays],
                                continues=None if b.continues is None else b.continues[stays]))
    for b in second.born:
        kept = first.kept_vertices if b.domain == "vertex" else first.kept_faces
        born.append(replace(b, replaces=_through(b.replaces, kept), continues=_through(b.continues, first.kept_vertices),
                            reindex=None))
    return Draft(
        second.topology, _after(second.kept_vertices, first.kept_vertices), _after(second.kept_faces, first.kept_faces),
        _after(_plain(second.vertex_source), _plain(first.vertex_source)), _after(second.face_source, first.face_source),
        _after(_plain(second.corner_source), _plain(first.corner_source)), tuple(born), edges=second.edges,
        notes=(*first.notes, *second.notes), data=(first, second))


def _plain(source: object) -> Ints:
    assert isinstance(source, np.ndarray)
    return source


def _after(outer: Ints, inner: Ints) -> Ints:
    return np.where(outer >= 0, inner[np.maximum(outer, 0)], -1)


def _through(numbers: Ints | None, kept: Ints) -> Ints | None:
    return None if numbers is None else np.where(numbers >= 0, kept[np.maximum(numbers, 0)], -1)


def _inverse(kept: Ints, count: int) -> Ints:
    out = np.full(count, -1, np.int64)
    real = np.flatnonzero(kept >= 0)
    out[kept[real]] = real
    return out
