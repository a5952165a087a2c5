"""What the kinds that lay faces out have in common."""

from __future__ import annotations

from typing import TypeVar

import numpy as np
from pydantic import Field

from ..construct.charts.extended import InWorldSize, world_attribute
from ..errors import StepError
from ..mesh.attributes import Attribute
from ..mesh.mesh import Floats, Mesh
from ..mesh.topology import Ints
from ..mesh.uv import UV, WORLD, laid_out, uv_attribute, uvs
from ..pick.resolve import Picked
from ..pick.rules import Pick
from ..step.draft import Draft, unchanged
from ..step.kind import Context, Picking, StepKind


class LaysOut(Picking):
    """A step that gives faces other places on the texture square."""

    pick: Pick | None = Field(default=None, description="faces; all of them where left out")


S = TypeVar("S", bound=LaysOut)


class LayoutKind(StepKind[S]):
    """Kinds that give faces other places and leave all else as it is; :meth:`set_by_points` tells which."""

    takes = ("faces",)
    keeps_pick = True

    def pick_of(self, p: S) -> Pick | None:
        return p.pick

    def plan(self, p: S, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        return unchanged(mesh, chosen(mesh, picked))

    def positions(self, p: S, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        return mesh.points


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
    so that no projection goes on over them."""
    out = {UV: uv_attribute(uv)}
    if by is not None or WORLD in mesh.attributes:
        out[WORLD] = world_attribute(mesh, faces, by)
    return out
