"""Normals for shading: smooth across the surface, broken at hard edges."""

from __future__ import annotations

import numpy as np

from .geometry import Floats, lengths, unit
from .marks import BY_ANGLE, FLAT, is_hard, shading
from .mesh import Mesh
from .topology import Bools, Ints, components


def corner_groups(mesh: Mesh, smooth: Bools) -> Ints:
    """(C,) group of every corner: those round a vertex share one that no hard edge, border or flat face divides.

    Args:
        smooth: (F,) faces that are not flat.
    """
    t = mesh.topology
    of_smooth = smooth[t.corner_face]
    onward = t.twin[t.previous_corner]  # across the edge behind a corner to the next corner round its vertex
    crossed = t.corner_edge[t.previous_corner]
    joined = np.flatnonzero((onward >= 0) & of_smooth & of_smooth[onward] & ~is_hard(mesh)[crossed])
    return components(t.corner_count, joined, onward[joined])


def corner_normals(mesh: Mesh) -> Floats:
    """(C, 3) unit normal of every corner.

    A flat face gives its own normal. Elsewhere the corners round a vertex that no hard edge, border or flat face divides
    share one: the mean of their faces' normals, weighted by area or by the angle of the corner (G. Thürmer, C. Wüthrich,
    Journal of Graphics Tools 3(1), 1998).
    """
    t = mesh.topology
    how = shading(mesh)
    face = t.corner_face
    flat = mesh.normals[face]
    smooth = how[face] != FLAT
    if not smooth.any():
        return flat
    group = corner_groups(mesh, how != FLAT)
    weight = lengths(mesh.area_vectors)[face]
    by_angle = how[face] == BY_ANGLE
    if by_angle.any():
        here = mesh.points[t.corners]
        ahead = unit(mesh.points[t.corners[t.next_corner]] - here)
        behind = unit(mesh.points[t.corners[t.previous_corner]] - here)
        angle = np.arccos(np.clip(np.einsum("ij,ij->i", ahead, behind), -1.0, 1.0))
        weight = np.where(by_angle, angle, weight)
    total: Floats = np.stack([np.bincount(group, weight * flat[:, k]) for k in range(3)], axis=1)
    shaded = unit(total[group])
    usable = smooth & (np.einsum("ij,ij->i", shaded, shaded) > 0.5)
    return np.where(usable[:, None], shaded, flat)
