"""What the API says of lattices."""

from __future__ import annotations

from typing import Literal

from pydantic import Field, TypeAdapter, field_validator

from ..core.shape.lattice import Cells, Index
from .schemas import Taken, Told

Offsets = dict[str, tuple[float, float, float]]


class RedividedTrial(Taken):
    """A lattice and the divisions it is to have."""

    divisions: tuple[Cells, Cells, Cells]
    offsets: Offsets = Field(default_factory=dict, max_length=40_000)
    basis: Literal["bernstein", "bspline"] = "bernstein"
    to: tuple[Cells, Cells, Cells]

    @field_validator("offsets")
    @classmethod
    def _named(cls, offsets: Offsets) -> Offsets:
        TypeAdapter(list[Index]).validate_python(list(offsets))
        return offsets


class RedividedInfo(Told):
    offsets: Offsets
    error: float = Field(description="the most by which what is inside is moved otherwise, in the unit of the offsets")
