"""Flatten: bring vertices into one plane."""

from __future__ import annotations

from typing import Literal

import numpy as np
from pydantic import model_validator

from ..construct.held_plane import HoldPlane
from ..mesh.mesh import Floats, Mesh
from ..params import Length
from ..pick.resolve import Picked
from ..step.draft import Draft, unchanged
from ..step.kind import Context, Edit, StepKind


class Flatten(Edit):
    kind: Literal["flatten"]
    to: Literal["best", "x", "y", "z"] = "best"
    at: Length | None = None
    by: Literal["set", "shift"] = "set"
    hold_plane: HoldPlane = "none"

    @model_validator(mode="after")
    def _fits(self) -> Flatten:
        if self.to == "best" and (self.at is not None or self.by == "shift"):
            raise ValueError("at and shift need an axis: give to as x, y or z")
        return self


class FlattenKind(StepKind[Flatten]):
    """``best`` is the plane of least squares through the mean; an axis sets that coordinate, to ``at`` or to the mean.
    ``shift`` moves all alike until the lowest is there."""

    word, title, model = "flatten", "Flatten", Flatten
    extends_layout = True
    takes = ("vertices", "edges", "faces")
    numbers = frozenset({"to", "at", "by"})
    follows = frozenset({"at"})
    keeps_pick = True
    curve_role = "keeps"

    def plan(self, p: Flatten, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        return unchanged(mesh)

    def turning(self, p: Flatten, mesh: Mesh, picked: Picked, context: Context) -> Floats | None:
        if p.by == "shift":
            return None
        vertices = picked.vertices(mesh)
        normal = _best_plane(mesh.points[vertices])[1] if p.to == "best" else np.eye(3)["xyz".index(p.to)]
        out = np.tile(np.eye(3), (len(mesh.points), 1, 1))
        out[vertices] -= np.outer(normal, normal)
        return out

    def positions(self, p: Flatten, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        assert picked is not None
        vertices = picked.vertices(mesh)
        points = mesh.points.copy()
        here = points[vertices]
        mean, normal = _best_plane(here)
        if p.to == "best":
            points[vertices] = here - np.outer((here - mean) @ normal, normal)
            return points
        axis = "xyz".index(p.to)
        if p.by == "shift":
            lowest = here[:, axis].min()
            points[vertices, axis] += (0.0 if p.at is None else p.at) - lowest
        else:
            points[vertices, axis] = mean[axis] if p.at is None else p.at
        return points


def _best_plane(points: Floats) -> tuple[Floats, Floats]:
    """Mean and unit normal of the plane of least squares."""
    mean: Floats = points.mean(axis=0)
    normal: Floats = np.linalg.svd(points - mean, full_matrices=len(points) < 3)[2][-1]
    return mean, normal
