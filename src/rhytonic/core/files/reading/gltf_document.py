"""What is read of a glTF document, with its limits; everything else in it is passed over."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

Number = Annotated[float, Field(allow_inf_nan=False, ge=-1e12, le=1e12)]
Index = Annotated[int, Field(ge=0, le=2**31)]
Bytes = Annotated[int, Field(ge=0, le=2**40)]
Text = Annotated[str, Field(max_length=10_000)]


class _Part(BaseModel):
    model_config = ConfigDict(extra="ignore", frozen=True)


class Buffer(_Part):
    byteLength: Bytes = 0
    uri: str | None = None


class BufferView(_Part):
    buffer: Index
    byteOffset: Bytes = 0
    byteLength: Bytes
    byteStride: Annotated[int, Field(ge=4, le=252)] | None = None


class Accessor(_Part):
    bufferView: Index | None = None
    byteOffset: Bytes = 0
    componentType: Literal[5120, 5121, 5122, 5123, 5125, 5126]
    count: Bytes
    type: Literal["SCALAR", "VEC2", "VEC3", "VEC4", "MAT2", "MAT3", "MAT4"]
    sparse: Any = None


class Primitive(_Part):
    attributes: dict[str, Index]
    indices: Index | None = None
    mode: Annotated[int, Field(ge=0, le=6)] = 4


class GltfMesh(_Part):
    name: Text | None = None
    primitives: Annotated[list[Primitive], Field(max_length=10_000)]


class GltfNode(_Part):
    name: Text | None = None
    children: list[Index] = []
    mesh: Index | None = None
    matrix: Annotated[list[Number], Field(min_length=16, max_length=16)] | None = None
    translation: tuple[Number, Number, Number] = (0.0, 0.0, 0.0)
    rotation: tuple[Number, Number, Number, Number] = (0.0, 0.0, 0.0, 1.0)
    scale: tuple[Number, Number, Number] = (1.0, 1.0, 1.0)


class Scene(_Part):
    nodes: list[Index] = []


class GltfDocument(_Part):
    scene: Index | None = None
    scenes: list[Scene] = []
    nodes: list[GltfNode] = []
    meshes: list[GltfMesh] = []
    accessors: list[Accessor] = []
    bufferViews: list[BufferView] = []
    buffers: list[Buffer] = []
    extensionsRequired: list[Text] = []
