"""The plane that a half and its image meet in: what lies on it stays on it, whatever an edit does beside it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field

from .. import tolerance
from ..mesh.mesh import Floats, Mesh
from ..mesh.topology import Bools, Ints, Topology
from ..step.draft import Draft

HoldPlane = Annotated[Literal["none", "x", "y", "z"], Field(
    description="what lies on this plane through the part's origin stays on it, and what is made of it lies on it")]


@dataclass(frozen=True)
class HeldPlane:
    """``axis`` the plane is square to, and ``on`` (V,) which vertices lie on it."""

    axis: int
    on: Bools

    def edges(self, t: Topology) -> Bools:
        """(E,) edges of one face that lie on it: there the half goes on as its image."""
        out: Bools = (t.edge_face_count == 1) & self.on[t.edges].all(axis=1)
        return out


def held_plane(step: Any, mesh: Mesh) -> HeldPlane | None:
    """The plane that a step holds; None where it holds none, or nothing lies on it."""
    told = getattr(step, "hold_plane", "none")
    if told == "none":
        return None
    axis = "xyz".index(told)
    on = np.abs(mesh.points[:, axis]) <= tolerance.ON_PLANE
    return HeldPlane(axis, on) if on.any() else None


def held_points(points: Floats, draft: Draft, held: HeldPlane) -> Floats:
    """(V', 3) points of a result with those that were on the plane, or come of such alone, on it."""
    source = draft.vertex_source() if callable(draft.vertex_source) else draft.vertex_source
    off = ~held.on
    if isinstance(source, np.ndarray):
        on = np.where(source >= 0, held.on[np.clip(source, 0, held.on.size - 1)], False)
    else:
        strange = np.concatenate([off, np.ones(source.shape[1] - off.size, bool)])
        on = (abs(source) @ strange.astype(float) == 0) & (np.diff(source.indptr) > 0)
    kept = draft.kept_vertices
    stays = (kept >= 0) & (kept < off.size)
    on[stays] = held.on[kept[stays]]
    if not (points[on, held.axis] != 0).any():
        return points
    out = points.copy()
    out[on, held.axis] = 0.0
    return out


def with_images(group: Ints, normals: Floats, held: Bools, axis: int) -> tuple[Ints, Floats]:
    """(m,) and (m, 3): conditions n·d = distance of groups, and for those that are held those of the image too: so d lies in
    the plane."""
    more = held[group] & (np.abs(normals[:, axis]) > 1e-12)
    if not more.any():
        return group, normals
    image = normals[more]
    image[:, axis] *= -1
    return np.concatenate([group, group[more]]), np.concatenate([normals, image])
