"""Relax: even the spread of vertices."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
from pydantic import Field
from scipy.sparse import csr_array

from ..construct.held_plane import HoldPlane
from ..construct.relaxing.held import on_borders_and_creases
from ..construct.relaxing.neighbours import neighbour_means
from ..construct.relaxing.volume import Enclosed
from ..mesh.mesh import Floats, Mesh
from ..mesh.patch import TopologyPatch, faces_at, patch_of
from ..mesh.topology import Ints
from ..params import Flag, Quantity, Share
from ..pick.resolve import Picked
from ..step.draft import Draft, unchanged
from ..step.facts import Knob
from ..step.kind import Context, Edit, StepKind
from ..waiting import check


class Relax(Edit):
    kind: Literal["relax"]
    iterations: Annotated[int, Field(strict=True, ge=0, le=1000), Quantity("count")] = 5
    strength: Share = 0.5
    keep_volume: Flag = True
    hold_plane: HoldPlane = "none"


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
        free &= ~on_borders_and_creases(mesh)
        moved = np.flatnonzero(free)
        return unchanged(mesh, _Moved(moved, neighbour_means(mesh.topology, moved),
                                      patch_of(mesh.topology, faces_at(mesh.topology, free))))

    def positions(self, p: Relax, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        data: _Moved = draft.data
        free, points = data.vertices, mesh.points.copy()

        def round_(times: int, then: Callable[[], object]) -> None:
            for _ in range(times):
                check()
                here = points[free]
                points[free] = here + p.strength * (data.means @ points - here)
                then()

        round_(p.iterations, lambda: None)
        if not p.keep_volume or not free.size or not p.iterations:
            return points
        enclosed = Enclosed(mesh.points, data.patch, free)
        if not enclosed.restore(points):
            # too much was lost to be brought back at once: it is brought back round by round
            points[free] = mesh.points[free]
            round_(p.iterations, lambda: enclosed.follow(points))
        enclosed.settle(points)
        return points
