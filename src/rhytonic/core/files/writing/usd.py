"""USD out, as text and as a package (Pixar, OpenUSD documentation: USDA 1.0; USDZ File Format Specification 1.3): metres, Y
up, polygons kept; a prim for every part, group and joint; a shape shown twice is a reference to the first."""

from __future__ import annotations

import io
import json
import struct
import zlib
from collections.abc import Iterable, Mapping
from typing import Any

import numpy as np

from ...mesh.marks import shading
from ...mesh.shading import corner_normals
from ...mesh.uv import uvs
from ..model import Model, Move, Node, Shape
from .text import in_pieces

_ROOT = "Model"


def write_usda(model: Model) -> bytes:
    """The model as USD text."""
    return _Writer().written(model).encode()


def write_usdz(model: Model) -> bytes:
    """The model as a USD package: an archive that stores without packing, its one file's bytes on a multiple of 64."""
    return _stored("model.usda", write_usda(model))


class _Writer:
    def __init__(self) -> None:
        self.out = io.StringIO()
        self.paths: dict[Shape, str] = {}

    def written(self, model: Model) -> str:
        self.out.write('#usda 1.0\n(\n    defaultPrim = "Model"\n    metersPerUnit = 1\n    upAxis = "Y"\n)\n\n'
                       f'def Xform "{_ROOT}" (\n    kind = "component"\n)\n{{\n')
        self._nodes(model.nodes, f"/{_ROOT}", {"Looks"}, 1)
        self.out.write("}\n")
        return self.out.getvalue()

    def _nodes(self, nodes: tuple[Node, ...], above: str, taken: set[str], depth: int) -> None:
        for node in nodes:
            self._node(node, above, _free(_identifier(node.name), taken), depth)

    def _node(self, node: Node, above: str, name: str, depth: int) -> None:
        pad, path = "    " * depth, f"{above}/{name}"
        about = [f"displayName = {_text(node.name)}"]
        if node.about:
            about.append(f"customData = {_dictionary(node.about, depth + 1)}")
        told = "".join(f"{pad}    {line}\n" for line in about)
        self.out.write(f'{pad}def Xform "{name}" (\n{told}{pad})\n{pad}{{\n')
        self._move(node.move, depth + 1)
        taken: set[str] = set()
        if node.shape is not None:
            self._shape(node.shape, f"{path}/{_free('surface', taken)}", depth + 1)
        self._nodes(node.children, path, taken, depth + 1)
        self.out.write(f"{pad}}}\n")

    def _move(self, move: Move, depth: int) -> None:
        pad, order = "    " * depth, []
        if move.shift.any():
            self.out.write(f"{pad}double3 xformOp:translate = {_tuple(move.shift)}\n")
            order.append("xformOp:translate")
        if not (move.turn == np.eye(3)).all():
            x, y, z, w = move.quaternion
            self.out.write(f"{pad}quatd xformOp:orient = {_tuple((w, x, y, z))}\n")
            order.append("xformOp:orient")
        if not (move.scale == 1.0).all():
            self.out.write(f"{pad}double3 xformOp:scale = {_tuple(move.scale)}\n")
            order.append("xformOp:scale")
        if order:
            names = ", ".join(f'"{op}"' for op in order)
            self.out.write(f"{pad}uniform token[] xformOpOrder = [{names}]\n")

    def _shape(self, shape: Shape, path: str, depth: int) -> None:
        pad, inner = "    " * depth, "    " * (depth + 1)
        name = path.rsplit("/", 1)[1]
        known = self.paths.get(shape)
        if known is not None:
            self.out.write(f'{pad}def Mesh "{name}" (\n{inner}references = <{known}>\n{pad})\n{pad}{{\n{pad}}}\n')
            return
        self.paths[shape] = path
        mesh, t = shape.mesh, shape.mesh.topology
        lines = ["uniform bool doubleSided = 0", 'uniform token subdivisionScheme = "none"',
                 'uniform token orientation = "rightHanded"']
        if t.vertex_count:
            low, high = mesh.points.min(axis=0), mesh.points.max(axis=0)
            lines.append(f"float3[] extent = [{_tuple(low, True)}, {_tuple(high, True)}]")
        lines += [f"point3f[] points = [{_list(_tuple(p, True) for p in mesh.points.tolist())}]",
                  f"int[] faceVertexCounts = [{_list(map(str, t.sides.tolist()))}]",
                  f"int[] faceVertexIndices = [{_list(map(str, t.corners.tolist()))}]"]
        if shading(mesh).any():
            normals = _list(_tuple(n, True) for n in corner_normals(mesh).tolist())
            lines.append(f'normal3f[] normals = [{normals}] (\n{inner}    interpolation = "faceVarying"\n{inner})')
        uv = uvs(mesh)
        if uv is not None:
            places = _list(_tuple(p, True) for p in np.nan_to_num(uv).tolist())
            lines.append(f'texCoord2f[] primvars:st = [{places}] (\n{inner}    interpolation = "faceVarying"\n{inner})')
        self.out.write(f'{pad}def Mesh "{name}"\n{pad}{{\n' + "".join(f"{inner}{line}\n" for line in lines) + f"{pad}}}\n")


def _identifier(name: str) -> str:
    """A name as USD allows it: letters, digits and underscores, no digit first."""
    out = "".join(c if c.isascii() and (c.isalnum() or c == "_") else "_" for c in name)
    return out if out[:1].isalpha() or out[:1] == "_" else f"_{out}"


def _free(name: str, taken: set[str]) -> str:
    out, number = name, 2
    while out in taken:
        out, number = f"{name}_{number}", number + 1
    taken.add(out)
    return out


def _text(value: str) -> str:
    return json.dumps("".join(c if c.isprintable() else " " for c in value), ensure_ascii=False)


def _tuple(values: Any, single: bool = False) -> str:
    return "(" + ", ".join(f"{v:.9g}" if single else f"{v:.17g}" for v in values) + ")"


def _list(values: Iterable[str]) -> str:
    return "".join(in_pieces(values, ", "))


def _dictionary(values: Mapping[str, Any], depth: int) -> str:
    pad = "    " * depth
    lines = []
    for key, value in values.items():
        name = _identifier(key)
        if isinstance(value, Mapping):
            lines.append(f"{pad}    dictionary {name} = {_dictionary(value, depth + 1)}")
        elif isinstance(value, str):
            lines.append(f"{pad}    string {name} = {_text(value)}")
        elif isinstance(value, list | tuple):
            lines.append(f"{pad}    double[] {name} = [{', '.join(f'{v:.17g}' for v in value)}]")
        else:
            lines.append(f"{pad}    double {name} = {value:.17g}")
    return "{\n" + "".join(f"{line}\n" for line in lines) + f"{pad}}}"


def _stored(name: str, data: bytes) -> bytes:
    """One file in an archive (PKWARE, .ZIP File Format Specification 6.3.10), stored, its bytes 64-aligned by an extra
    field."""
    raw, crc = name.encode(), zlib.crc32(data)
    gap = -(30 + len(raw)) % 64
    gap += 64 if 0 < gap < 4 else 0
    extra = struct.pack("<HH", 0x1986, gap - 4) + b"\0" * (gap - 4) if gap else b""
    when = (0, (1 << 5) | 1)  # 1 January 1980: the same model gives the same bytes
    common = struct.pack("<HHHHIII", 0, 0, *when, crc, len(data), len(data))
    local = struct.pack("<IH", 0x04034B50, 10) + common + struct.pack("<HH", len(raw), len(extra)) + raw + extra
    entry = struct.pack("<IHH", 0x02014B50, 10, 10) + common + struct.pack("<HHHHHII", len(raw), 0, 0, 0, 0, 0, 0) + raw
    end = struct.pack("<IHHHHIIH", 0x06054B50, 0, 0, 1, 1, len(entry), len(local) + len(data), 0)
    return local + data + entry + end
