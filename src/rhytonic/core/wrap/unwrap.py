"""Unwrap: lay faces flat, cut along seams."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from ..construct.charts.arranged import boxes, in_rows, put_upright, steady_order
from ..construct.charts.flattened import Method
from ..construct.charts.unwrapped import unwrapped
from ..mesh.attributes import Attribute
from ..mesh.marks import SEAM, edge_mark
from ..mesh.mesh import Floats, Mesh
from ..mesh.topology import Ints
from ..mesh.uv import Flat, joined, laid_out, uvs, world_sized
from ..params import Quantity
from ..step.draft import Draft
from ..step.kind import Context, Remark
from .common import LayoutKind, LaysOut, laid, places_of


class Unwrap(LaysOut):
    kind: Literal["unwrap"]
    method: Method = "isometric"
    iterations: Annotated[int, Field(strict=True, ge=1, le=1000), Quantity("count")] = 10


class UnwrapKind(LayoutKind[Unwrap]):
    """Every piece between seams, borders and the rim of the pick is laid flat: ``isometric`` keeps lengths as well as can
    be, ``conformal`` keeps angles. Pieces come out at true relative size, upright, beside each other. A piece that is closed
    or has no seam is opened where that shows least, one that would lie over itself is cut in two; both are told."""

    word, title, model = "unwrap", "Unwrap", Unwrap
    numbers = frozenset({"method", "iterations"})
    summary = ("method",)

    def set_by_points(self, p: Unwrap, draft: Draft, made: Mesh, context: Context) -> dict[str, Attribute]:
        faces: Ints = draft.data
        pieces = unwrapped(made, faces, edge_mark(made, SEAM) > 0.5, p.method, p.iterations)
        flat = put_upright(made, pieces.flat, pieces.piece)
        of_corner = pieces.piece[made.topology.corner_face]
        low, high = boxes(flat, of_corner)
        shift, side = in_rows(low, high, steady_order(high - low))
        mine = of_corner >= 0
        flat[mine] += shift[of_corner[mine]]
        uv = places_of(made)
        uv[mine] = _beside(made, uv, faces, flat, side)[mine]
        return laid(made, faces, uv)

    def remarks(self, p: Unwrap, draft: Draft, mesh: Mesh, made: Mesh, context: Context) -> tuple[Remark, ...]:
        uv, t = uvs(made), made.topology
        if uv is None:
            return ()
        inside = np.zeros(t.face_count, bool)
        inside[draft.data] = True
        half = np.flatnonzero((t.twin >= 0) & inside[t.corner_face] & ~(edge_mark(made, SEAM) > 0.5)[t.corner_edge])
        cut = int((inside[t.corner_face[t.twin[half]]] & ~joined(made, uv)[half]).sum()) // 2
        if not cut:
            return ()
        return (Remark(f"cut along {cut} edges that are no seams, or it would not lie flat; mark seams to say where"),)


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
