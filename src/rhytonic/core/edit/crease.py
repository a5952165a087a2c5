"""Crease: keep edges sharp under a smooth surface."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from ..construct.mark_edges import MarkEdges
from ..mesh.marks import CREASE
from ..params import Quantity
from ..step.facts import Offer
from ..step.kind import Edit


class Crease(Edit):
    kind: Literal["crease"]
    sharpness: Annotated[float, Field(strict=True, allow_inf_nan=False, ge=0, le=10), Quantity("ratio")]


class CreaseKind(MarkEdges[Crease]):
    """Semi-sharp creases as OpenUSD defines them: 0 is smooth, 10 infinitely sharp."""

    word, title, model, mark = "crease", "Crease", Crease, CREASE
    proposal = (Offer("sharpness", 3.0),)

    def strength(self, p: Crease) -> float:
        """The sharpness itself."""
        return p.sharpness
