"""Lattice: a box of control points that a part, or what is picked of it, follows."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Annotated, Literal

import numpy as np
from pydantic import AfterValidator, Field, model_validator

from ..construct.held_plane import HoldPlane
from ..deform.control_grid import ControlGrid, Tables
from ..errors import BadParameter
from ..mesh.mesh import Floats, Mesh
from ..params import Count, Point
from ..pick.resolve import Picked
from ..pick.rules import Pick
from ..step.draft import Draft, Roomy, unchanged
from ..step.kind import Context, Picking
from .common import Deforming

Cells = Annotated[Count, Field(le=32)]


def _index(word: str) -> str:
    if re.fullmatch(r"[0-9]{1,2},[0-9]{1,2},[0-9]{1,2}", word) is None:
        raise ValueError("an offset is named by its control point: its places along x, y, z from 0 on, as in 2,0,1")
    return word


#: "i,j,k" of a control point
Index = Annotated[str, AfterValidator(_index)]


class Lattice(Picking):
    kind: Literal["lattice"]
    pick: Pick | None = None
    divisions: tuple[Cells, Cells, Cells] = (2, 2, 2)
    box: tuple[Point, Point] | None = None
    offsets: Annotated[dict[Index, Point], Field(max_length=40_000)] = Field(default_factory=dict)
    basis: Literal["bernstein", "bspline"] = "bernstein"
    outside: Literal["keep", "follow"] = "keep"
    hold_plane: HoldPlane = "none"

    @model_validator(mode="after")
    def _fits(self) -> Lattice:
        if self.box is not None and any(a > b for a, b in zip(*self.box, strict=True)):
            raise ValueError("a box goes from its lower corner to its upper one; none of the first three may be larger")
        fault = _beyond(self.divisions, self.offsets)
        if fault is not None:
            raise ValueError(fault)
        return self


class _Kept(Tables, Roomy):
    """Tables of weights, counted among what a plan holds."""


class LatticeKind(Deforming[Lattice]):
    """Control points stand evenly on the box, ``divisions`` cells along each axis; what lies in the box follows their
    offsets, far and soft with ``bernstein``, no further than two cells with ``bspline``."""

    word, title, model = "lattice", "Lattice", Lattice
    takes = ("faces", "edges", "vertices")
    numbers = frozenset({"divisions", "box", "offsets", "basis", "outside"})
    at_rest = True
    summary = ("divisions",)

    def pick_of(self, p: Lattice) -> Pick | None:
        return p.pick

    def plan(self, p: Lattice, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        return unchanged(mesh, _Kept(len(mesh.points), int(np.prod([n + 1 for n in p.divisions]))))

    def deformation(self, p: Lattice, mesh: Mesh, picked: Picked | None) -> ControlGrid:
        return self._grid(p, mesh, picked, Tables())

    def _grid(self, p: Lattice, mesh: Mesh, picked: Picked | None, tables: Tables) -> ControlGrid:
        low, high = box_of(p, mesh, picked)
        return ControlGrid(low, high, offsets_of(p.divisions, p.offsets), p.basis, p.outside == "follow", tables)

    def positions(self, p: Lattice, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        if not len(mesh.points):
            return mesh.points
        points = self._grid(p, mesh, picked, draft.data).apply(mesh.points)
        if picked is None or points is mesh.points:
            return points
        out = mesh.points.copy()
        vertices = picked.vertices(mesh)
        out[vertices] = points[vertices]
        return out


def box_of(p: Lattice, mesh: Mesh, picked: Picked | None) -> tuple[Floats, Floats]:
    """(3,) each: the corners of the box: as given, else those of what the lattice acts on."""
    if p.box is not None:
        return np.asarray(p.box[0], float), np.asarray(p.box[1], float)
    if picked is None:
        return mesh.bounds
    here = mesh.points[picked.vertices(mesh)]
    return (here.min(axis=0), here.max(axis=0)) if len(here) else (np.zeros(3), np.zeros(3))


def _beyond(divisions: tuple[int, int, int], offsets: Mapping[str, object]) -> str | None:
    """What is wrong with offsets of points that the divisions do not have."""
    for word in offsets:
        if any(int(i) > n for i, n in zip(word.split(","), divisions, strict=True)):
            last = ",".join(str(n) for n in divisions)
            return f"there is no control point {word}: with these divisions they go from 0,0,0 to {last}"
    return None


def offsets_of(divisions: tuple[int, int, int], told: Mapping[str, tuple[float, float, float]]) -> Floats:
    """(l + 1, m + 1, n + 1, 3) offsets of all control points.

    Raises:
        BadParameter: one is told of a point that there is not.
    """
    fault = _beyond(divisions, told)
    if fault is not None:
        raise BadParameter(fault, "offsets")
    out = np.zeros((*(n + 1 for n in divisions), 3))
    if told:
        at = np.array([[int(i) for i in word.split(",")] for word in told])
        out[tuple(at.T)] = list(told.values())
    return out


def told_offsets(offsets: Floats) -> dict[str, tuple[float, float, float]]:
    """Offsets as a step tells them: of the points that have one, free of what rounding leaves."""
    small = 1e-12 * float(np.abs(offsets).max(initial=0.0))
    out: dict[str, tuple[float, float, float]] = {}
    for i, j, k in np.argwhere((np.abs(offsets) > small).any(axis=3)).tolist():
        x, y, z = (float(f"{v:.12g}") if abs(v) > small else 0.0 for v in offsets[i, j, k].tolist())
        out[f"{i},{j},{k}"] = (x, y, z)
    return out
