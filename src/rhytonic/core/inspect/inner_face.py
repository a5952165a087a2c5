"""Faces trapped inside a shell."""

from __future__ import annotations

import igl
import numpy as np

from ..mesh.mesh import Mesh
from ..mesh.topology import Ints, components
from ..mesh.triangulate import triangulate
from .thresholds import Limits


def inner_faces(mesh: Mesh, limits: Limits) -> Ints:
    """Faces with solid on both sides: patches bounded by edges of three and more faces, both sides of which lie inside the
    rest of the mesh by its winding number (A. Jacobson, L. Kavan, O. Sorkine-Hornung, ACM TOG 32(4), 2013)."""
    t = mesh.topology
    if not (t.edge_face_count > 2).any():
        return np.zeros(0, np.int64)
    order, starts = t.edge_corners
    two = np.flatnonzero(t.edge_face_count == 2)
    patch = components(t.face_count, t.corner_face[order[starts[two]]], t.corner_face[order[starts[two] + 1]])
    frayed = np.unique(patch[t.corner_face[t.edge_face_count[t.corner_edge] > 2]])
    triangles, face = triangulate(mesh)
    found = []
    for which in frayed:  # one round for each patch between such edges
        members = np.flatnonzero(patch == which)
        probe = members[np.argmax(np.linalg.norm(mesh.area_vectors[members], axis=1))]
        rest = triangles[patch[face] != which]
        if not rest.size:
            continue
        own = triangles[face == probe]
        corner = mesh.points[own]
        biggest = int(np.argmax(np.linalg.norm(np.cross(corner[:, 1] - corner[:, 0], corner[:, 2] - corner[:, 0]), axis=1)))
        middle = corner[biggest].mean(axis=0)
        size = float(np.ptp(corner[biggest], axis=0).max())
        sides = middle + np.array([[1e-4], [-1e-4]]) * size * mesh.normals[probe]
        if (np.abs(igl.fast_winding_number(mesh.points, rest, sides)) > 0.5).all():
            found.append(members)
    return np.sort(np.concatenate(found)) if found else np.zeros(0, np.int64)
