"""Straighten: a band of quads becomes a rectangle on the square."""

from __future__ import annotations

from typing import Literal

import numpy as np

from ..construct.charts.arranged import boxes, in_rows, steady_order, turned_by
from ..construct.charts.quad_band import as_rectangles
from ..mesh.attributes import Attribute
from ..mesh.marks import SEAM, edge_mark
from ..mesh.mesh import Floats, Mesh
from ..mesh.topology import Bools, Ints
from ..mesh.uv import joined
from ..pick.resolve import Picked
from ..step.draft import Draft, unchanged
from ..step.kind import Context, Edit, StepKind
from .common import chosen, laid, places_of


class StraightenUv(Edit):
    kind: Literal["straighten_uv"]


class StraightenUvKind(StepKind[StraightenUv]):
    """Every connected patch of picked quads becomes a rectangle whose rows and columns are as wide as their edges are on the
    model on average. It stays where it lay, at the scale it had; what had no place yet is laid into the square."""

    word, title, model = "straighten_uv", "Straighten band", StraightenUv
    takes = ("faces",)
    keeps_pick = True

    def plan(self, p: StraightenUv, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        return unchanged(mesh, chosen(mesh, picked))

    def positions(self, p: StraightenUv, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        return mesh.points

    def set_by_points(self, p: StraightenUv, draft: Draft, made: Mesh, context: Context) -> dict[str, Attribute]:
        faces, t = draft.data, made.topology
        uv = places_of(made)
        cut: Bools = (edge_mark(made, SEAM) > 0.5)[t.corner_edge]
        has = np.asarray(np.isfinite(uv).all(axis=1))
        # where the patch is cut on the square already it stays cut
        cut |= has & (t.twin >= 0) & has[np.maximum(t.twin, 0)] & ~joined(made, uv)
        fresh: list[tuple[Ints, Floats]] = []
        for corners, flat in as_rectangles(made, faces, cut):
            if np.isfinite(uv[corners]).all():
                uv[corners] = _in_place(flat, uv[corners])
            else:
                fresh.append((corners, flat))
        if fresh:
            every = np.concatenate([c for c, _ in fresh])
            number = np.repeat(np.arange(len(fresh)), [c.size for c, _ in fresh])
            flat = np.concatenate([f for _, f in fresh])
            low, high = boxes(flat, number)
            shift, side = in_rows(low, high, steady_order(high - low))
            uv[every] = (flat + shift[number]) / side
        return laid(made, faces, uv)


def _in_place(flat: Floats, before: Floats) -> Floats:
    """A rectangle where the patch lay: about the same middle, at the same scale, turned by the quarter turns and the rest of
    a turn that bring it nearest (the rotation of least squares, W. Kabsch, 1976), and turned over where it was."""
    a, b = flat - flat.mean(axis=0), before - before.mean(axis=0)
    u, _, vt = np.linalg.svd(a.T @ b)
    turn = u @ vt
    if np.linalg.det(turn) < 0:  # a patch that lay turned over is laid right side out
        u[:, -1] *= -1
        turn = u @ vt
    scale = float(np.sqrt((b**2).sum() / max((a**2).sum(), 1e-300)))
    angle = np.arctan2(turn[0, 1], turn[0, 0])
    near = np.round(angle / (np.pi / 2)) * (np.pi / 2)
    out: Floats = turned_by(a, near) * scale
    # its box's middle where that of the patch was
    middle = (before.min(axis=0) + before.max(axis=0)) / 2
    out += middle - (out.min(axis=0) + out.max(axis=0)) / 2
    return out
