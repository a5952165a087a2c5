"""Project: lay faces on the texture square as they are seen from one side, six, or round an axis."""

from __future__ import annotations

from typing import Literal

import numpy as np
from pydantic import Field

from ..construct.charts.extended import InWorldSize
from ..construct.charts.projected import How, laid_by, projection, set_apart
from ..mesh.attributes import Attribute
from ..mesh.mesh import Mesh
from ..params import AXES, Axis, Direction, PositiveLength
from ..step.draft import Draft
from ..step.facts import Offer
from ..step.kind import Context
from .common import LayoutKind, LaysOut, laid, places_of

PlainAxis = Literal["x", "y", "z"]


class Project(LaysOut):
    kind: Literal["project"]
    how: How = "plane"
    axis: PlainAxis | Axis | Direction = Field(default="y", description="towards the eye, or round which faces are laid")
    up: Direction | None = Field(default=None, description="which way v goes, seen from a view")
    size: PositiveLength | None = Field(default=None, description="length of one texture square; left out, all is fitted")


class ProjectKind(LayoutKind[Project]):
    """``plane`` and ``view`` lay faces as they are seen along an axis, ``box`` each as it is seen from the nearest of six
    sides, ``cylinder`` and ``sphere`` round the axis through the middle of what is picked, with lengths kept. With ``size``
    the pattern repeats in world size, also on what later steps make of these faces; without it all is fitted to the square,
    sides beside each other."""

    word, title, model = "project", "Project", Project
    numbers = frozenset({"how", "axis", "up", "size"})
    follows = frozenset({"size"})
    proposal = (Offer("how", "box"),)
    typed = "size"
    summary = ("how", "size")

    def set_by_points(self, p: Project, draft: Draft, made: Mesh, context: Context) -> dict[str, Attribute]:
        faces = draft.data
        axis = p.axis if not isinstance(p.axis, str) else AXES[p.axis if len(p.axis) == 2 else f"+{p.axis}"]
        by = projection(made, faces, p.how, axis, p.up)
        flat, side = laid_by(by, made, faces)
        if p.size is None:
            apart = set_apart(flat, side, p.how)
            flat = apart / (float(np.ptp(apart, axis=0).max()) or 1.0)
        else:
            flat = flat / p.size
        uv = places_of(made)
        uv[made.topology.corners_of(faces)] = flat
        return laid(made, faces, uv, None if p.size is None else InWorldSize(by, p.size))
