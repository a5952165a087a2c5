"""Move, turn, scale and turn over what lies on the texture square."""

from __future__ import annotations

from typing import Literal

import numpy as np

from ..construct.charts.arranged import boxes, turned_by
from ..mesh.attributes import Attribute
from ..mesh.mesh import Mesh
from ..mesh.uv import islands_of
from ..params import Angle, Ratio
from ..step.draft import Draft
from ..step.facts import Offer
from ..step.kind import Context
from .common import LayoutKind, LaysOut, laid, needed_places

Pair = tuple[Ratio, Ratio]


class UvTransform(LaysOut):
    kind: Literal["uv_transform"]
    move: Pair = (0.0, 0.0)
    turn: Angle = 0.0
    scale: Pair = (1.0, 1.0)
    flip: Literal["none", "u", "v"] = "none"
    about: Literal["island"] | Pair = "island"


class UvTransformKind(LayoutKind[UvTransform]):
    """Picked faces are turned over, scaled, turned counter-clockwise, then moved, about the middle of each island's box or
    about one place of the square."""

    word, title, model = "uv_transform", "Move on the square", UvTransform
    numbers = frozenset({"move", "turn", "scale", "flip", "about"})
    proposal = (Offer("turn", 90.0),)
    typed = "turn"

    def set_by_points(self, p: UvTransform, draft: Draft, made: Mesh, context: Context) -> dict[str, Attribute]:
        faces, t = draft.data, made.topology
        uv = needed_places(made, faces)
        corners = t.corners_of(faces)
        if p.about == "island":
            mine = np.full(t.face_count, -1)
            mine[faces] = islands_of(made, uv)[faces]
            low, high = boxes(uv, mine[t.corner_face])
            about = ((low + high) / 2)[mine[t.corner_face[corners]]]
        else:
            about = np.array(p.about)
        out = (uv[corners] - about) * [-1.0 if p.flip == "u" else 1.0, -1.0 if p.flip == "v" else 1.0] * np.array(p.scale)
        uv[corners] = turned_by(out, np.radians(p.turn)) + about + np.array(p.move)
        return laid(made, faces, uv)
