"""Shade: how a part's faces are lit, as it goes out with the files."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import AliasChoices, Field

from ..mesh.attributes import Attribute
from ..mesh.marks import BY_ANGLE, BY_AREA, HARD, SHADING, with_edge_mark
from ..mesh.mesh import Floats, Mesh
from ..params import Flag, Quantity
from ..pick.by_shape import sharper_than
from ..pick.resolve import Picked
from ..step.draft import Draft, unchanged
from ..step.kind import Context, Step, StepKind


class Shade(Step):
    kind: Literal["shade"]
    angle: Annotated[float, Field(strict=True, allow_inf_nan=False, ge=0, le=180), Quantity("angle")] = 30.0
    weighted: Annotated[Flag, Field(validation_alias=AliasChoices("weighted", "weighted_normals"))] = True


class ShadeKind(StepKind[Shade]):
    """Edges whose faces turn by more than ``angle`` become hard, beside those that are; across all others the surface is
    shaded smooth, with normals weighted by area or, without ``weighted``, by the angle of the corner."""

    word, title, model = "shade", "Shade", Shade
    reads_points = True

    def plan(self, p: Shade, mesh: Mesh, picked: Picked | None, context: Context) -> Draft:
        turning = sharper_than(mesh, p.angle)
        how = np.full(mesh.topology.face_count, BY_AREA if p.weighted else BY_ANGLE)
        return unchanged(mesh, attributes={HARD: with_edge_mark(mesh, HARD, turning, 1.0), SHADING: Attribute("face", how)})

    def positions(self, p: Shade, draft: Draft, mesh: Mesh, picked: Picked | None, context: Context) -> Floats:
        return mesh.points


