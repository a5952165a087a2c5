"""Seam: where an unwrap may cut."""

from __future__ import annotations

from typing import Literal

from ..construct.mark_edges import MarkEdges, Switched
from ..mesh.marks import SEAM


class Seam(Switched):
    kind: Literal["seam"]


class SeamKind(MarkEdges[Seam]):
    """Edges that an unwrap cuts along; ``on`` false takes the mark off."""

    word, title, model, mark = "seam", "Seam", Seam, SEAM
