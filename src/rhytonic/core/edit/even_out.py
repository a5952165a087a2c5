"""Even out: equal spacing along chains and loops of edges."""

from __future__ import annotations

from typing import Literal

import numpy as np

from ..construct.chains import Chain, edge_chains
from ..construct.held_plane import HoldPlane
from ..mesh.geometry import lengths
from ..mesh.mesh import Floats, Mesh
from ..pick.resolve import Picked
from ..step.draft import Draft, unchanged
from ..step.kind import Context, Edit, StepKind


class EvenOut(Edit):
    kind: Literal["even_out"]
    hold_plane: HoldPlane = "none"


class EvenOutKind(StepKind[EvenOut]):
    """Vertices move along the chain as it lies, to equal spacing. Ends stay, and of a loop the vertex with the lowest id."""

    word, title, model = "even_out", "Even out", EvenOut
    takes = ("edges",)
    keeps_pick = True

    def plan(self, p: EvenOut, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        assert picked is not None
        return unchanged(mesh, edge_chains(mesh.topology, picked.elements, mesh.names.vertex))

    def positions(self, p: EvenOut, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        points = mesh.points.copy()
        for chain in draft.data:  # one round for each chain
            points[chain.vertices] = evened(mesh.points, chain)
        return points


def evened(points: Floats, chain: Chain) -> Floats:
    """(n, 3) points at equal steps along the chain's length."""
    here = points[chain.vertices]
    line = np.concatenate([here, here[:1]]) if chain.closed else here
    at = np.concatenate([[0.0], np.cumsum(lengths(np.diff(line, axis=0)))])
    wanted = np.linspace(0.0, at[-1], len(line))
    out = np.stack([np.interp(wanted, at, line[:, k]) for k in range(3)], axis=1)
    return out[:len(here)]
