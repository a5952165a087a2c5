"""Unwrap: lay faces flat, cut along seams."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from ..construct.charts.arranged import boxes, in_rows, put_upright, steady_order
from ..construct.charts.flattened import Method
from ..construct.charts.unwrapped import unwrapped
from ..errors import StepError
from ..mesh.attributes import Attribute
from ..mesh.marks import SEAM, edge_mark
from ..mesh.mesh import Floats, Mesh
from ..mesh.topology import Ints
from ..mesh.uv import SAME, Flat, joined, laid_out, uvs, world_sized
from ..params import Quantity
from ..pick.rules import Pick
from ..step.draft import Draft
from ..step.kind import Context, Remark
from .common import LayoutKind, LaysOut, laid, places_of


class Unwrap(LaysOut):
    kind: Literal["unwrap"]
    method: Method = "isometric"
    iterations: Annotated[int, Field(strict=True, ge=1, le=1000), Quantity("count")] = 10
    pins: Pick | None = Field(default=None, description="what stays where it lies, of faces that are laid out already")


class UnwrapKind(LayoutKind[Unwrap]):
    """Every piece between seams, borders and the rim of the pick is laid flat: ``isometric`` keeps lengths as well as can
    be, ``conformal`` keeps angles. Pieces come out at true relative size, upright, beside each other. A piece that is closed
    or has no seam is opened where that shows least, one that would lie over itself is cut in two; both are told. A piece
    with two or more of ``pins`` is laid out round them, at the density they have together, and stays where it is."""

    word, title, model = "unwrap", "Unwrap", Unwrap
    numbers = frozenset({"method", "iterations"})
    summary = ("method",)

    def set_by_points(self, p: Unwrap, draft: Draft, made: Mesh, context: Context) -> dict[str, Attribute]:
        faces: Ints = draft.data
        uv, t = places_of(made), made.topology
        pins, density = _pinned(p, made, uv, faces, context)
        pieces = unwrapped(made, faces, edge_mark(made, SEAM) > 0.5, p.method, p.iterations, pins)
        stays = pieces.stays[t.corner_face]
        uv[stays] = pieces.flat[stays] * density
        going = faces[~pieces.stays[faces]]
        if not going.size:
            return laid(made, faces, uv)
        piece = np.full(t.face_count, -1)
        piece[going] = np.unique(pieces.piece[going], return_inverse=True)[1].ravel()
        flat = put_upright(made, pieces.flat, piece)
        of_corner = piece[t.corner_face]
        low, high = boxes(flat, of_corner)
        shift, side = in_rows(low, high, steady_order(high - low))
        mine = of_corner >= 0
        flat[mine] += shift[of_corner[mine]]
        uv[mine] = _beside(made, uv, going, flat, side)[mine]
        return laid(made, faces, uv)

    def remarks(self, p: Unwrap, draft: Draft, mesh: Mesh, made: Mesh, context: Context) -> tuple[Remark, ...]:
        uv = uvs(made)
        if uv is None:
            return ()
        return (*self._unpinned(p, draft, mesh, uv, context), *self._cuts(draft, made, uv))

    def _unpinned(self, p: Unwrap, draft: Draft, mesh: Mesh, uv: Floats, context: Context) -> tuple[Remark, ...]:
        """Pins that moved nevertheless."""
        pins, density = _pinned(p, mesh, places_of(mesh), draft.data, context)
        if pins is None:
            return ()
        has = np.isfinite(pins).all(axis=1)
        away = np.abs(uv[has] - pins[has] * density).max(axis=1) > SAME
        gone = np.unique(mesh.topology.corners[has][away]).size
        if not gone:
            return ()
        return (Remark(f"{gone} of the pins could not stay: one alone says nothing, and round others the piece would turn "
                       "over or lie over itself; pin more or fewer"),)

    @staticmethod
    def _cuts(draft: Draft, made: Mesh, uv: Floats) -> tuple[Remark, ...]:
        t = made.topology
        inside = np.zeros(t.face_count, bool)
        inside[draft.data] = True
        half = np.flatnonzero((t.twin >= 0) & inside[t.corner_face] & ~(edge_mark(made, SEAM) > 0.5)[t.corner_edge])
        cut = int((inside[t.corner_face[t.twin[half]]] & ~joined(made, uv)[half]).sum()) // 2
        if not cut:
            return ()
        return (Remark(f"cut along {cut} edges that are no seams, or it would not lie flat; mark seams to say where"),)


def _pinned(p: Unwrap, mesh: Mesh, uv: Floats, faces: Ints, context: Context) -> tuple[Floats | None, float]:
    """(C, 2) places in metres of the pinned corners of ``faces``, NaN for others, and the squares a metre of the faces that
    have some; None where nothing is pinned.

    Raises:
        StepError: what is pinned has no place yet.
    """
    if p.pins is None:
        return None, 1.0
    t = mesh.topology
    pinned = np.zeros(t.vertex_count, bool)
    pinned[context.find(p.pins).vertices(mesh)] = True
    mine = np.zeros(t.face_count, bool)
    mine[faces] = laid_out(mesh, uv)[faces]
    corners = np.flatnonzero(pinned[t.corners] & mine[t.corner_face])
    if not corners.size:
        raise StepError("what is pinned has no place on the square yet; unwrap without pins first", "pins")
    there = Flat.of(mesh, uv)
    with_some = np.unique(t.corner_face[corners])
    density = float(np.sqrt(np.abs(there.face_signed[with_some]).sum() / max(there.face_areas[with_some].sum(), 1e-300)))
    if not 0 < density < np.inf:
        raise StepError("what is pinned lies on the square without a size; unwrap without pins first", "pins")
    out = np.full((t.corner_count, 2), np.nan)
    out[corners] = uv[corners] / density
    return out, density


def _beside(mesh: Mesh, uv: Floats, faces: Ints, flat: Floats, side: float) -> Floats:
    """The new pieces in the square; at the scale of what else lies there, and to the right of it, where something does."""
    others = laid_out(mesh, uv) & ~world_sized(mesh)
    others[faces] = False
    if not others.any():
        return flat / side
    there = Flat.of(mesh, uv)
    density = float(np.sqrt(np.abs(there.face_signed[others]).sum() / max(there.face_areas[others].sum(), 1e-300)))
    right = float(np.nanmax(uv[others[mesh.topology.corner_face], 0]))
    out: Floats = flat * (density or 1 / side) + [right + 0.02, 0.0]
    return out
