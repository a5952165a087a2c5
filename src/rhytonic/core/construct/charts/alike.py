"""Islands as they are before they are packed: all at one density, right side out."""

from __future__ import annotations

import numpy as np

from ...mesh.geometry import Floats
from ...mesh.mesh import Mesh
from ...mesh.topology import Bools, Ints
from ...mesh.uv import Flat
from .packed import Outlines


def at_one_density(mesh: Mesh, uv: Floats, island: Ints, going: Bools) -> tuple[Floats, Ints]:
    """(C, 2) places in metres, as large on the square as on the model, right side out, and (F,) the number of each island
    that is packed, −1 for others."""
    t = mesh.topology
    flat = Flat.of(mesh, uv)
    number = np.full(t.face_count, -1)
    number[going] = np.unique(island[going], return_inverse=True)[1].ravel()
    n = int(number.max(initial=-1)) + 1
    mine = number >= 0
    there = np.bincount(number[mine], flat.face_signed[mine], n)
    size = np.bincount(number[mine], np.abs(flat.face_signed[mine]), n)
    model = np.bincount(number[mine], flat.face_areas[mine], n)
    grow = np.sqrt(np.where(size > 0, model / np.where(size > 0, size, 1), 0))
    out = uv.copy()
    of_corner = number[t.corner_face]
    has = of_corner >= 0
    out[has] *= grow[of_corner[has]][:, None]
    back = np.append(there < -0.5 * size, False)[of_corner]  # not one that is folded upon its image
    out[back, 0] *= -1  # an island that lay turned over as a whole is turned back
    return out, number


def outlines_of(mesh: Mesh, uv: Floats, number: Ints, edge: Bools) -> Outlines:
    """The outlines of the islands that ``number`` (F,) counts."""
    t = mesh.topology
    half = np.flatnonzero(edge & (number[t.corner_face] >= 0))
    half = half[np.argsort(number[t.corner_face[half]], kind="stable")]
    of = number[t.corner_face[half]]
    n = int(number.max(initial=-1)) + 1
    segments = np.concatenate([uv[half], uv[t.next_corner[half]]], axis=1)
    return Outlines(np.ascontiguousarray(segments), np.searchsorted(of, np.arange(n + 1)))
