"""glTF 2.0 in, binary and as text (Khronos Group, glTF 2.0 Specification, 2021): nodes, meshes and what they show in
triangles.

The format tells a vertex again for each normal it has, so points of one mesh on the very same place are one vertex again.
What lies outside the file, what is packed by an extension, and numbers that point beyond the file are refused.
"""

from __future__ import annotations

import base64
import binascii
import struct
from typing import Any

import numpy as np
import scipy
from pydantic import ValidationError

from ...errors import InvalidFile
from ...mesh.mesh import Floats
from ...mesh.topology import Ints
from ..json_text import read_json
from ..limits import DEEPEST, MOST_CORNERS, MOST_FACES, MOST_NODES, MOST_VERTICES, BadModel, name_from, refuse_more
from ..model import Model, Move, Node, Shape
from .gltf_document import Accessor, GltfDocument, GltfNode, Primitive
from .polygons import mesh_of, points_joined
from .tree import distinct

_TYPES = {5120: "<i1", 5121: "<u1", 5122: "<i2", 5123: "<u2", 5125: "<u4", 5126: "<f4"}
_WIDTHS = {"SCALAR": 1, "VEC2": 2, "VEC3": 3, "VEC4": 4, "MAT2": 4, "MAT3": 9, "MAT4": 16}
_TRIANGLES, _STRIP, _FAN = 4, 5, 6
#: numbers of all accessors together, each counted as often as a primitive names it
_MOST_NUMBERS = 3 * MOST_VERTICES + 2 * MOST_CORNERS


def read_glb(data: bytes) -> Model:
    """The model of a binary glTF file. Raises BadModel."""
    if len(data) < 20 or struct.unpack_from("<I", data, 4)[0] != 2:
        raise BadModel("the file is not glTF 2.0")
    length = struct.unpack_from("<I", data, 8)[0]
    if length > len(data):
        raise BadModel(f"the file is cut short: it says {length} bytes and has {len(data)}")
    text, binary, at = b"", b"", 12
    while at + 8 <= length:
        size, kind = struct.unpack_from("<I4s", data, at)
        if at + 8 + size > length:
            raise BadModel("the file is cut short within a chunk")
        if kind == b"JSON" and not text:
            text = data[at + 8:at + 8 + size]
        elif kind == b"BIN\0" and not binary:
            binary = data[at + 8:at + 8 + size]
        at += 8 + size
    return _Reader(text, binary).model()


def read_gltf(data: bytes) -> Model:
    """The model of a glTF file as text. Raises BadModel, also where its numbers lie in another file."""
    return _Reader(data, None).model()


class _Reader:
    def __init__(self, text: bytes, binary: bytes | None) -> None:
        try:
            self.document = GltfDocument.model_validate(read_json(text))
        except InvalidFile as error:
            raise BadModel(error.message) from None
        except ValidationError as error:
            first = error.errors()[0]
            place = ".".join(str(p) for p in first["loc"])
            raise BadModel(f"the file breaks the glTF format at {place}: {first['msg']}") from None
        packed = [e for e in self.document.extensionsRequired
                  if e in ("KHR_draco_mesh_compression", "EXT_meshopt_compression", "KHR_mesh_quantization")]
        if packed:
            raise BadModel(f"the file's meshes are packed by {packed[0]}, which is not read; write it again without")
        self.binary = binary
        self.buffers: dict[int, bytes] = {}
        self.shapes: dict[int, Shape | None] = {}
        self.faces = 0
        self.numbers = 0

    def model(self) -> Model:
        d = self.document
        if not d.scenes:
            roots = sorted(set(range(len(d.nodes))) - {c for n in d.nodes for c in n.children})
        else:
            roots = self._at(d.scenes, d.scene or 0, "scene").nodes
        refuse_more(len(d.nodes), MOST_NODES, "nodes")
        seen: set[int] = set()
        return Model(distinct(tuple(self._node(i, seen, 1) for i in roots)))

    @staticmethod
    def _at(items: list[Any], number: int, what: str) -> Any:
        if not 0 <= number < len(items):
            raise BadModel(f"the file names a {what} {number} that is not there; there are {len(items)}")
        return items[number]

    def _node(self, number: int, seen: set[int], depth: int) -> Node:
        node: GltfNode = self._at(self.document.nodes, number, "node")
        if number in seen:
            raise BadModel(f"node {number} of the file stands in two places, or in itself")
        if depth > DEEPEST:
            raise BadModel(f"the file's nodes are nested deeper than {DEEPEST} levels")
        seen.add(number)
        shape = self._shape(node.mesh) if node.mesh is not None else None
        name = name_from(node.name, shape.name if shape is not None else "part")
        move, sheared = _move_of(node)
        children = tuple(self._node(c, seen, depth + 1) for c in node.children)
        if sheared:
            raise BadModel(f"node '{name}' of the file is sheared, which no part can be; apply its matrix where it was made")
        return Node(name, move, shape, children=children)

    def _shape(self, number: int) -> Shape | None:
        if number not in self.shapes:
            mesh = self._at(self.document.meshes, number, "mesh")
            points, corners, places, first = [], [], [], 0
            for primitive in mesh.primitives:
                found = self._triangles(primitive)
                if found is None:
                    continue
                points.append(found[0])
                corners.append(found[1] + first)
                places.append(self._places(primitive, len(found[0]))[found[1].ravel()])
                first += len(found[0])
            name = name_from(mesh.name, "part")
            shape = None
            if points:
                place, ring = points_joined(np.concatenate(points), np.concatenate(corners).ravel())
                shape = Shape(name, mesh_of(place, np.arange(ring.size // 3 + 1) * 3, ring, np.concatenate(places)))
            self.shapes[number] = shape
        shape = self.shapes[number]
        self.faces += shape.mesh.topology.face_count if shape is not None else 0
        refuse_more(self.faces, MOST_FACES, "faces")
        return shape

    def _triangles(self, primitive: Primitive) -> tuple[Floats, Ints] | None:
        """Points (n, 3) and corners (t, 3); None for points and lines."""
        if primitive.mode not in (_TRIANGLES, _STRIP, _FAN):
            return None
        position = primitive.attributes.get("POSITION")
        if position is None:
            return None
        points = self._accessor(position, "VEC3").astype(np.float64)
        refuse_more(len(points), MOST_VERTICES, "vertices")
        if primitive.indices is None:
            index = np.arange(len(points))
        else:
            index = self._accessor(primitive.indices, "SCALAR").ravel().astype(np.int64)
            if index.size and index.max() >= len(points):
                raise BadModel(f"a face of the file names vertex {int(index.max())}; there are {len(points)}")
        refuse_more(index.size, MOST_CORNERS, "corners")
        if primitive.mode == _TRIANGLES:
            return points, index[:index.size // 3 * 3].reshape(-1, 3)
        k = np.arange(max(index.size - 2, 0))
        if primitive.mode == _FAN:
            return points, index[np.stack([np.zeros_like(k), k + 1, k + 2], axis=1)]
        odd = k % 2
        return points, index[np.stack([k + odd, k + 1 - odd, k + 2], axis=1)]

    def _places(self, primitive: Primitive, count: int) -> Floats:
        """(n, 2) places on the texture square of a primitive's points, v up; NaN where it has none."""
        number = primitive.attributes.get("TEXCOORD_0")
        if number is None:
            return np.full((count, 2), np.nan)
        accessor: Accessor = self._at(self.document.accessors, number, "accessor")
        whole = {5121: 255.0, 5123: 65535.0}.get(accessor.componentType, 1.0)  # normalized, as the format asks
        told = self._accessor(number, "VEC2", whole != 1.0).astype(np.float64) / whole
        if len(told) != count:
            return np.full((count, 2), np.nan)
        return told * [1.0, -1.0] + [0.0, 1.0]

    def _accessor(self, number: int, kind: str, whole: bool = False) -> np.ndarray:
        a: Accessor = self._at(self.document.accessors, number, "accessor")
        if a.type != kind:
            raise BadModel(f"accessor {number} of the file is {a.type}, where {kind} is wanted")
        if a.sparse is not None:
            raise BadModel("the file has sparse accessors, which are not read; write it again without")
        dtype = np.dtype(_TYPES[a.componentType])
        if a.componentType != 5126 and kind != "SCALAR" and not whole:
            raise BadModel("the file's points are not floating numbers; write it again without quantizing")
        width = _WIDTHS[kind]
        refuse_more(a.count, MOST_CORNERS, "numbers in one accessor")
        if a.bufferView is None:
            raise BadModel(f"accessor {number} of the file has no numbers; write it again with them")
        self.numbers += a.count * width
        refuse_more(self.numbers, _MOST_NUMBERS, "numbers in all, those named twice counted twice")
        view = self._at(self.document.bufferViews, a.bufferView, "buffer view")
        data = self._buffer(view.buffer)
        own = dtype.itemsize * width
        step = view.byteStride or own
        last = a.byteOffset + step * (a.count - 1) + own if a.count else 0
        if last > view.byteLength or view.byteOffset + view.byteLength > len(data) or step < own:
            raise BadModel(f"accessor {number} of the file reaches beyond the file's numbers")
        start = view.byteOffset + a.byteOffset
        row = np.dtype({"names": ["v"], "formats": [(dtype, (width,))], "offsets": [0], "itemsize": step})
        if not a.count:
            return np.zeros((0, width), dtype)
        block = np.zeros(a.count * step, np.uint8)  # the last row may end before its stride does
        piece = np.frombuffer(data, np.uint8, last - a.byteOffset, start)
        block[:piece.size] = piece
        values: np.ndarray = block.view(row)["v"]
        return values

    def _buffer(self, number: int) -> bytes:
        if number not in self.buffers:
            buffer = self._at(self.document.buffers, number, "buffer")
            if buffer.uri is None:
                if self.binary is None or number != 0:
                    raise BadModel("the file's numbers are missing; write it as GLB, or with its numbers within")
                self.buffers[number] = self.binary
            elif buffer.uri.startswith("data:") and ";base64," in buffer.uri[:200]:
                try:
                    self.buffers[number] = base64.b64decode(buffer.uri.split(",", 1)[1], validate=True)
                except (binascii.Error, ValueError):
                    raise BadModel("the numbers within the file are no base64") from None
            else:
                other = name_from(buffer.uri[:80], "another")
                raise BadModel(f"its numbers lie in another file, {other}; write it as GLB, or with its numbers within")
        return self.buffers[number]


def _move_of(node: GltfNode) -> tuple[Move, bool]:
    """The node's own move, and whether its matrix is none that a move can be."""
    if node.matrix is None:
        x, y, z, w = node.rotation
        size = float(np.sqrt(x * x + y * y + z * z + w * w))
        rotation = scipy.spatial.transform.Rotation
        turn = np.eye(3) if size < 1e-9 or (x, y, z) == (0.0, 0.0, 0.0) else rotation.from_quat([x, y, z, w]).as_matrix()
        return Move(np.array(node.translation), turn, np.array(node.scale)), False
    matrix = np.array(node.matrix).reshape(4, 4).T
    linear = matrix[:3, :3]
    scale = np.linalg.norm(linear, axis=0)
    if (scale < 1e-12).any():
        return Move(), True
    if np.linalg.det(linear) < 0:
        scale[0] = -scale[0]
    turn = linear / scale
    if np.abs(turn.T @ turn - np.eye(3)).max() > 1e-5:
        return Move(), True
    return Move(matrix[:3, 3].copy(), scipy.spatial.transform.Rotation.from_matrix(turn).as_matrix(), scale), False
