"""Relax: even the spread of vertices."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
from pydantic import Field
from scipy.sparse import csr_array

from ..construct.neighbours import neighbour_means
from ..mesh.geometry import cross
from ..mesh.marks import CREASE, edge_mark
from ..mesh.mesh import Floats, Mesh
from ..mesh.patch import TopologyPatch, faces_at, patch_of
from ..mesh.topology import Bools, Ints
from ..mesh.triangulate import triangulate
from ..params import Flag, Quantity, Share
from ..pick.resolve import Picked
from ..step.draft import Draft, unchanged
from ..step.facts import Knob
from ..step.kind import Context, Edit, StepKind


class Relax(Edit):
    kind: Literal["relax"]
    iterations: Annotated[int, Field(strict=True, ge=0, le=1000), Quantity("count")] = 5
    strength: Share = 0.5
    keep_volume: Flag = True


@dataclass(frozen=True)
class _Moved:
    """Vertices that may move, what means their neighbours have, and the faces round them."""

    vertices: Ints
    means: csr_array
    patch: TopologyPatch


class RelaxKind(StepKind[Relax]):
    """Each round every picked vertex goes ``strength`` of the way to the mean of its neighbours along edges; vertices on
    borders and creases stay. ``keep_volume`` then moves what was picked along the surface's normals until the enclosed
    volume is as it was."""

    word, title, model = "relax", "Relax", Relax
    takes = ("vertices", "edges", "faces")
    numbers = frozenset({"iterations", "strength", "keep_volume"})
    keeps_pick = True
    knob = Knob("strength")

    def plan(self, p: Relax, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        assert picked is not None
        free = np.zeros(mesh.topology.vertex_count, bool)
        free[picked.vertices(mesh)] = True
        free &= ~_held(mesh)
        moved = np.flatnonzero(free)
        return unchanged(mesh, _Moved(moved, neighbour_means(mesh.topology, moved),
                                      patch_of(mesh.topology, faces_at(mesh.topology, free))))

    def positions(self, p: Relax, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        data: _Moved = draft.data
        free, points = data.vertices, mesh.points.copy()
        for _ in range(p.iterations):
            here = points[free]
            points[free] = here + p.strength * (data.means @ points - here)
        if p.keep_volume and free.size:
            keep_volume(mesh.points, points, data)
        return points


def _held(mesh: Mesh) -> Bools:
    """Vertices on borders and creases."""
    t = mesh.topology
    held = np.zeros(t.vertex_count, bool)
    held[t.edges[(t.edge_face_count != 2) | (edge_mark(mesh, CREASE) > 0)]] = True
    return held


def keep_volume(before: Floats, points: Floats, moved: _Moved) -> None:
    """Move the free vertices of ``points`` along the gradient of the volume until it is that of ``before`` again.

    Only the faces round them count: the rest of the volume stays as it is, and an open mesh keeps what its surface encloses
    together with fixed lids over its borders. The volume is a cubic of the step, so that a few of Newton's steps settle it.
    """
    patch = moved.patch
    old, new = before[patch.vertices], points[patch.vertices]
    triangles, _ = triangulate(Mesh(old, patch.topology))
    centre = (old.min(axis=0) + old.max(axis=0)) / 2
    free = np.searchsorted(patch.vertices, moved.vertices)

    def volume(at: Floats) -> float:
        p = (at - centre)[triangles]
        return float(np.einsum("ij,ij->", p[:, 0], cross(p[:, 1], p[:, 2])) / 6)

    wanted = volume(old)
    for _ in range(8):
        off = wanted - volume(new)
        p = (new - centre)[triangles]
        gradient = np.zeros_like(new)
        for k in range(3):
            part = cross(p[:, (k + 1) % 3], p[:, (k + 2) % 3]) / 6
            for axis in range(3):
                gradient[:, axis] += np.bincount(triangles[:, k], part[:, axis], len(new))
        along = gradient[free]
        size = float(np.einsum("ij,ij->", along, along))
        if size <= 0.0 or abs(off) <= 1e-12 * max(abs(wanted), size**0.75):
            break
        new[free] += (off / size) * along
    points[moved.vertices] = new[free]
