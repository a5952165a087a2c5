"""Round out: bring a loop, or the outline of a patch of faces, onto a circle."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

import numpy as np
import scipy
from scipy.sparse import csc_array, csr_array, eye_array

from ..construct.held_plane import HoldPlane
from ..construct.relaxing.neighbours import neighbour_means
from ..errors import StepError
from ..mesh.geometry import lengths, unit
from ..mesh.mesh import Floats, Mesh
from ..mesh.topology import Ints, Topology
from ..params import PositiveLength
from ..pick.convert import touching
from ..pick.resolve import Picked
from ..step.draft import Draft, unchanged
from ..step.kind import Context, Edit, StepKind


class RoundOut(Edit):
    kind: Literal["round_out"]
    radius: PositiveLength | None = None
    hold_plane: HoldPlane = "none"


@dataclass(frozen=True)
class _Patch:
    """Vertices on the outline and those inside; what solves for the latter, and their neighbours' means."""

    outline: Ints
    inner: Ints
    inside: tuple[Callable[[Floats], Floats], csr_array] | None


class RoundOutKind(StepKind[RoundOut]):
    """The outline moves radially onto a circle in its best-fit plane about its mean, keeping its height over that plane;
    without ``radius`` the circle has the mean one. Vertices inside a patch follow, each the mean of its neighbours."""

    word, title, model = "round_out", "Round out", RoundOut
    takes = ("vertices", "edges", "faces")
    numbers = follows = frozenset({"radius"})
    keeps_pick = True

    def plan(self, p: RoundOut, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        assert picked is not None
        t = mesh.topology
        vertices = picked.vertices(mesh)
        faces = picked.elements if picked.kind == "faces" else \
            touching(t, "vertices", "faces", vertices, "all") if picked.kind == "vertices" else np.zeros(0, np.int64)
        outline, inner = _outline(t, vertices, faces)
        if outline.size < 3:
            raise StepError("a circle needs at least three vertices", "pick")
        inside = None
        if inner.size:
            means = neighbour_means(t, inner)
            inside = scipy.sparse.linalg.splu(csc_array(eye_array(inner.size) - means[:, inner])).solve, means
        return unchanged(mesh, _Patch(outline, inner, inside))

    def positions(self, p: RoundOut, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        patch: _Patch = draft.data
        points = mesh.points.copy()
        here = points[patch.outline]
        mean = here.mean(axis=0)
        normal = np.linalg.svd(here - mean, full_matrices=False)[2][-1]
        height = (here - mean) @ normal
        radial = here - mean - height[:, None] * normal
        size = lengths(radial)
        if (size <= 1e-12).any():
            raise StepError("a vertex of the outline lies in its middle, so it has no way outward; leave it out", "pick")
        radius = float(size.mean()) if p.radius is None else p.radius
        points[patch.outline] = mean + radius * unit(radial) + height[:, None] * normal
        if patch.inside is not None:
            solve, means = patch.inside
            points[patch.inner] = 0.0
            points[patch.inner] = solve(means @ points)
        return points


def _outline(t: Topology, vertices: Ints, faces: Ints) -> tuple[Ints, Ints]:
    """Vertices on the outline of a patch, or of a plain loop, and those inside: all their faces belong to the patch."""
    if not faces.size:
        return vertices, np.zeros(0, np.int64)
    mine = np.zeros(t.face_count, bool)
    mine[faces] = True
    around = np.bincount(t.corners, minlength=t.vertex_count)
    owned = np.bincount(t.corners[mine[t.corner_face]], minlength=t.vertex_count)
    border = np.zeros(t.vertex_count, bool)
    border[t.edges[t.border_edges]] = True
    inside = (around == owned) & ~border
    return vertices[~inside[vertices]], vertices[inside[vertices]]
