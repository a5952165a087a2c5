"""Faces turned inside out."""

from __future__ import annotations

import igl
import numpy as np

from ..mesh.geometry import cross, lengths
from ..mesh.mesh import Mesh
from ..mesh.topology import Bools, Ints, components
from ..mesh.triangulate import triangulate
from .thresholds import Limits


def turned_faces(mesh: Mesh, limits: Limits) -> Ints:
    """(n,) faces that look against the rest of their shell, and closed shells turned inside out altogether.

    A shell is followed across its edges twice, each face taken both ways; of the two ways that fit, the smaller part of the
    shell's area is turned. A closed shell should enclose a positive volume, or a negative one where it is a hollow inside
    another.
    """
    t = mesh.topology
    f = t.face_count
    if not f:
        return np.zeros(0, np.int64)
    order, starts = t.edge_corners
    two = np.flatnonzero(t.edge_face_count == 2)
    one, other = order[starts[two]], order[starts[two] + 1]
    a, b = t.corner_face[one], t.corner_face[other]
    against = t.corners[one] == t.corners[other]  # both run the edge the same way: the faces look apart
    label = components(2 * f, np.concatenate([a, a + f]),
                       np.concatenate([np.where(against, b + f, b), np.where(against, b, b + f)]))
    shell = components(f, a, b)
    one_sided = label[:f] == label[f:]
    area = lengths(mesh.area_vectors)
    first = np.full(int(shell.max()) + 1, f, np.int64)
    np.minimum.at(first, shell, np.arange(f))
    with_first = label[:f] == label[first][shell]
    share = np.bincount(shell, area * with_first)
    total = np.bincount(shell, area)
    keeps = np.where((share >= total / 2)[shell], with_first, ~with_first)
    keeps |= one_sided
    return np.flatnonzero(~np.where(_inside_out(mesh, shell, keeps)[shell], ~keeps, keeps))


def _inside_out(mesh: Mesh, shell: Ints, keeps: Bools) -> Bools:
    """(shells,) whether a closed shell, its turned faces put right, encloses the wrong sign of volume."""
    t = mesh.topology
    count = int(shell.max()) + 1
    closed = np.ones(count, bool)
    closed[shell[t.corner_face[t.edge_face_count[t.corner_edge] != 2]]] = False
    out = np.zeros(count, bool)
    if not closed.any():
        return out
    triangles, face = triangulate(mesh)
    turned = ~keeps[face]
    triangles = np.where(turned[:, None], triangles[:, ::-1], triangles)
    p = (mesh.points - mesh.points.mean(axis=0))[triangles]
    volume = np.bincount(shell[face], np.einsum("ij,ij->i", p[:, 0], cross(p[:, 1], p[:, 2])), count)
    for s in np.flatnonzero(closed & (volume < 0)):  # few shells are
        others = closed[shell[face]] & (shell[face] != s)
        point = mesh.points[triangles[shell[face] == s][0]].mean(axis=0)[None]
        around = igl.fast_winding_number(mesh.points, triangles[others], point)[0] if others.any() else 0.0
        out[s] = abs(around) < 0.5
    return out
