"""Where the pieces of a layout lie, in a few letters: what was painted on them fits while that is the same."""

from __future__ import annotations

import hashlib

import numpy as np

from ...mesh.geometry import Floats
from ...mesh.mesh import Mesh
from ...mesh.topology import Bools
from ...mesh.uv import Flat, islands_of

#: pieces that moved by less than this share of the square lie where they lay
_STEP = 1 / 500


def layout_letters(mesh: Mesh, uv: Floats, faces: Bools) -> str:
    """16 letters that tell the hulls and areas of the islands ``faces`` (F,) lie on, whichever faces they are cut into."""
    import shapely

    island = np.where(faces, islands_of(mesh, uv), -1)
    flat = Flat.of(mesh, uv)
    number = island[flat.face]
    told = []
    for i in np.unique(number[number >= 0]).tolist():
        mine = number == i
        hull = shapely.convex_hull(shapely.MultiPoint(flat.places[mine].reshape(-1, 2)))
        corners = np.round(shapely.get_coordinates(hull.simplify(_STEP / 2)) / _STEP).astype(np.int64)
        size = round(float(np.sqrt(np.abs(flat.signed[mine]).sum())) / _STEP)
        told.append([size, *np.unique(corners, axis=0).ravel().tolist()])
    return hashlib.blake2b(repr(sorted(told)).encode(), digest_size=8).hexdigest()
