"""Copies of faces inside one mesh, and of points inside one curve."""

from __future__ import annotations

import numpy as np

from ...curve.curve import Curve
from ...mesh import names
from ...mesh.mesh import Floats, Mesh
from ...mesh.names import Ids
from ...mesh.topology import Ints, Topology
from ...step.curve_edit import CurveEdit
from ...step.draft import Born, Draft


def copied(mesh: Mesh, faces: Ints, times: int) -> Draft:
    """The draft of so many copies of faces, each hanging together as those do; ``data`` are the vertices that are copied."""
    t, ids = mesh.topology, mesh.names
    corner = t.corners_of(faces)
    source, number = np.unique(t.corners[corner], return_inverse=True)
    n, f, c = source.size, faces.size, corner.size
    first = t.vertex_count + n * np.repeat(np.arange(times), c)
    sides = np.tile(t.sides[faces], times)
    offsets = np.concatenate([t.offsets, t.offsets[-1] + np.cumsum(sides)])
    topology = Topology.of(t.vertex_count + n * times, offsets, np.concatenate([t.corners, first + np.tile(number, times)]))
    rank_v, rank_f = (np.repeat(np.arange(1, times + 1), k)[:, None] for k in (n, f))
    born = () if not times else (
        Born("vertex", "copy", t.vertex_count + np.arange(n * times), np.tile(ids.vertex[source], times)[:, None],
             ("vertex",), rank_v),
        Born("face", "copy", t.face_count + np.arange(f * times), np.tile(ids.face[faces], times)[:, None],
             ("face",), rank_f))
    v, every = np.arange(t.vertex_count), np.arange(t.face_count)
    return Draft(topology, np.concatenate([v, np.full(n * times, -1)]), np.concatenate([every, np.full(f * times, -1)]),
                 np.concatenate([v, np.tile(source, times)]), np.concatenate([every, np.tile(faces, times)]),
                 np.concatenate([np.arange(t.corner_count), np.tile(corner, times)]), born, data=source)


def copy_names(mesh: Mesh, draft: Draft, step: str) -> tuple[Ids, Ids]:
    """(V',) and (F',): ids of the vertices and faces of :func:`copied`'s result."""
    out = [mesh.names.vertex, mesh.names.face]
    for born in draft.born:
        made = names.name(step, born.domain, born.role, born.elements.size, born.parents, born.index)
        place = 0 if born.domain == "vertex" else 1
        out[place] = np.concatenate([out[place], made])
    return out[0], out[1]


def place_copies(mesh: Mesh, source: Ints, maps: tuple[Floats, Floats]) -> Floats:
    """(V', 3) points of :func:`copied`'s result: each copy mapped by its (3, 3) and (3,)."""
    linear, shift = maps
    here = mesh.points[source]
    there = np.einsum("kij,nj->kni", linear, here) + shift[:, None]
    return np.concatenate([mesh.points, there.reshape(-1, 3)])


def copies_of(curve: Curve, made: Curve, source: Ints) -> CurveEdit:
    """The edit of a curve with copies of some of its points; ``source`` tells which each of its points is or copies."""
    copy = curve.ids[source] != made.ids
    return CurveEdit(made, source, {"copy": copy})


def copied_points(step: str, ids: Ids, index: Ints) -> Ids:
    """(n,) names of copies of points, told apart by whole numbers (n, k)."""
    return names.name(step, "vertex", "copy", ids.size, ids[:, None], index)
