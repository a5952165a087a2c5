"""What the kinds that lay faces out have in common."""

from __future__ import annotations

import numpy as np

from ..construct.charts.extended import InWorldSize, world_attribute
from ..errors import StepError
from ..mesh.attributes import Attribute
from ..mesh.mesh import Floats, Mesh
from ..mesh.topology import Ints
from ..mesh.uv import COPY, UV, WORLD, laid_out, uv_attribute, uvs
from ..pick.resolve import Picked


def chosen(mesh: Mesh, picked: Picked | None) -> Ints:
    """(n,) the faces a step lays out: those picked, else all."""
    faces = np.arange(mesh.topology.face_count) if picked is None else picked.elements
    if not faces.size:
        raise StepError("there is no face to lay out", "pick")
    return faces


def places_of(mesh: Mesh) -> Floats:
    """(C, 2) a copy of the places there are, NaN where there are none."""
    found = uvs(mesh)
    return np.full((mesh.topology.corner_count, 2), np.nan) if found is None else found.copy()


def needed_places(mesh: Mesh, faces: Ints) -> Floats:
    """(C, 2) a copy of the places there are.

    Raises:
        StepError: some of ``faces`` (n,) have none.
    """
    out = places_of(mesh)
    bare = int((~laid_out(mesh, out)[faces]).sum())
    if bare:
        raise StepError(f"{bare} of the faces have no place on the texture square yet; project or unwrap them first", "pick")
    return out


def laid(mesh: Mesh, faces: Ints, uv: Floats, by: InWorldSize | None = None) -> dict[str, Attribute]:
    """Attributes of a mesh whose ``faces`` (n,) have new places in ``uv`` (C, 2): by a projection of world size, or by hand,
    so that no projection goes on over them; they have places of their own."""
    out = {UV: uv_attribute(uv)}
    if by is not None or WORLD in mesh.attributes:
        out[WORLD] = world_attribute(mesh, faces, by)
    if COPY in mesh.attributes:
        copies = mesh.attributes[COPY].values.copy()
        copies[faces] = 0
        out[COPY] = Attribute("face", copies)
    return out
