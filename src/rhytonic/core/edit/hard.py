"""Hard: shade edges as edges."""

from __future__ import annotations

from typing import Literal

from ..construct.mark_edges import MarkEdges, Switched
from ..mesh.marks import HARD


class Hard(Switched):
    kind: Literal["hard"]


class HardKind(MarkEdges[Hard]):
    """Where faces on either side are shaded apart; ``on`` false takes the mark off."""

    word, title, model, mark = "hard", "Hard edges", Hard, HARD
