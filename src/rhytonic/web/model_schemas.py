"""What the API says of model files."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field

from ..core.params import Name
from ..core.units import Unit
from .schemas import Told


class ModelName(Told):
    name: Annotated[str, Field(max_length=300)] = ""


class ModelNode(Told):
    name: str
    path: list[str]
    faces: int


class ModelInfo(Told):
    """A model file, and what its numbers most likely mean."""

    sha256: str
    format: str
    nodes: list[ModelNode] = Field(description="those that show something")
    unit: Unit = Field(description="a guess")
    up: Literal["y", "z"] = Field(description="a guess")
    low: tuple[float, float, float] = Field(description="bounds in the file's own numbers")
    high: tuple[float, float, float]
    vertices: int
    faces: int
    doubled: int = Field(description="points that stand where another stands")
    pairs: int = Field(description="quads that pairing flat triangles would give")


class TakenQuery(Told):
    name: Name
    unit: Unit = "m"
    up: Literal["y", "z"] = "y"
    to: Unit = Field(default="cm", description="the build's unit")
    weld: Annotated[float, Field(ge=0, le=1e6, allow_inf_nan=False)] = 0.0
    quads: bool = False


class DrawingQuery(Told):
    name: Name
    to: Unit = Field(default="cm", description="the build's unit")
    unit: Unit | None = Field(default=None, description="of a DXF that tells none; millimetres where it is left out")


class TakenModel(Told):
    groups: list[dict[str, Any]]
    parts: list[dict[str, Any]]
    notes: list[str] = Field(default=[], description="what was left out, healed or assumed")
    assumed: Unit | None = Field(default=None, description="the unit a drawing that tells none was taken to be in")
