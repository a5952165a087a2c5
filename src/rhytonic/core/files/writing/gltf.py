"""glTF 2.0 out, binary and as text (Khronos Group, glTF 2.0 Specification, 2021): metres, Y up; a node for every part,
group and joint; parts that share a shape share its mesh."""

from __future__ import annotations

import base64
import json
import struct
from typing import Any

import numpy as np

from .... import __version__
from ...mesh.geometry import cross, lengths
from ...mesh.mesh import Mesh
from ...mesh.shading import corner_normals
from ...mesh.triangulate import corners_at, triangulate
from ...mesh.uv import uvs
from ...waiting import check
from ..model import Model, Node, Shape

_FLOAT, _UINT32 = 5126, 5125
_ARRAY, _ELEMENT = 34962, 34963


def write_glb(model: Model) -> bytes:
    """The model as one GLB file.

    Triangles without area are left out, and a part without any triangle keeps its node without a mesh, as the format
    knows no empty mesh. Normals are those of the part's shading: flat where it says nothing.
    """
    document, binary = _Writer().written(model)
    text = json.dumps(document, separators=(",", ":")).encode()
    text += b" " * (-len(text) % 4)
    chunks = struct.pack("<I4s", len(text), b"JSON") + text
    if binary:
        binary += b"\0" * (-len(binary) % 4)
        chunks += struct.pack("<I4s", len(binary), b"BIN\0") + binary
    return struct.pack("<4sII", b"glTF", 2, 12 + len(chunks)) + chunks


def write_gltf(model: Model) -> bytes:
    """The model as one glTF file of text, its numbers within it."""
    document, binary = _Writer().written(model)
    if binary:
        uri = "data:application/octet-stream;base64," + base64.b64encode(binary).decode()
        document["buffers"][0]["uri"] = uri
    return json.dumps(document, separators=(",", ":")).encode()


class _Writer:
    """Gathers one document."""

    def __init__(self) -> None:
        self.binary = bytearray()
        self.views: list[dict[str, Any]] = []
        self.accessors: list[dict[str, Any]] = []
        self.meshes: list[dict[str, Any]] = []
        self.nodes: list[dict[str, Any]] = []
        self.known: dict[Shape, int | None] = {}

    def written(self, model: Model) -> tuple[dict[str, Any], bytes]:
        """The document, and the numbers it points at."""
        roots = [self._node(node) for node in model.nodes]
        document: dict[str, Any] = {
            "asset": {"version": "2.0", "generator": f"Rhytonic {__version__}"}, "scene": 0,
            "scenes": [{"nodes": roots} if roots else {}]}
        if self.nodes:
            document["nodes"] = self.nodes
        if self.meshes:
            document["materials"] = [{"name": "model", "pbrMetallicRoughness": {
                "baseColorFactor": [0.61, 0.63, 0.6, 1.0], "metallicFactor": 0.0, "roughnessFactor": 0.9}}]
            document |= {"meshes": self.meshes, "accessors": self.accessors, "bufferViews": self.views,
                         "buffers": [{"byteLength": len(self.binary)}]}
        return document, bytes(self.binary)

    def _node(self, node: Node) -> int:
        out: dict[str, Any] = {"name": node.name}
        number = len(self.nodes)
        self.nodes.append(out)
        move = node.move
        if move.shift.any():
            out["translation"] = move.shift.tolist()
        if not (move.turn == np.eye(3)).all():
            out["rotation"] = move.quaternion.tolist()
        if not (move.scale == 1.0).all():
            out["scale"] = move.scale.tolist()
        if node.about:
            out["extras"] = dict(node.about)
        mesh = self._mesh(node.shape) if node.shape is not None else None
        if mesh is not None:
            out["mesh"] = mesh
        children = [self._node(child) for child in node.children]
        if children:
            out["children"] = children
        return number

    def _mesh(self, shape: Shape) -> int | None:
        if shape not in self.known:
            check()
            points, normals, index, places = shaded_triangles(shape.mesh)
            self.known[shape] = len(self.meshes) if len(index) else None
            if len(index):
                position = self._accessor(points, _ARRAY, componentType=_FLOAT, type="VEC3",
                                          min=points.min(axis=0).tolist(), max=points.max(axis=0).tolist())
                normal = self._accessor(normals, _ARRAY, componentType=_FLOAT, type="VEC3")
                indices = self._accessor(index, _ELEMENT, componentType=_UINT32, type="SCALAR")
                attributes = {"POSITION": position, "NORMAL": normal}
                if places is not None:
                    attributes["TEXCOORD_0"] = self._accessor(places, _ARRAY, componentType=_FLOAT, type="VEC2")
                self.meshes.append({"name": shape.name, "primitives": [
                    {"attributes": attributes, "indices": indices, "material": 0}]})
        return self.known[shape]

    def _accessor(self, data: np.ndarray, target: int, **more: Any) -> int:
        self.views.append({"buffer": 0, "byteOffset": len(self.binary), "byteLength": data.nbytes, "target": target})
        self.binary.extend(data.tobytes())
        self.accessors.append({"bufferView": len(self.views) - 1, "count": len(data), **more})
        return len(self.accessors) - 1


def shaded_triangles(mesh: Mesh) -> tuple[np.ndarray, np.ndarray, np.ndarray, np.ndarray | None]:
    """Points (n, 3) float32, unit normals (n, 3) float32, indices (3t,) uint32, and places on the texture square (n, 2)
    float32 as the format has them, v down, where the mesh has any; a vertex stands once for each normal and place that its
    corners have."""
    t = mesh.topology
    triangles, face = triangulate(mesh)
    p = mesh.points[triangles]
    size = lengths(cross(p[:, 1] - p[:, 0], p[:, 2] - p[:, 0]))
    good = (size > 0) & (np.einsum("ij,ij->i", mesh.normals[face], mesh.normals[face]) > 0.5)
    triangles, face = triangles[good], face[good]
    corner = corners_at(mesh, face, triangles).ravel()
    normal = corner_normals(mesh).astype(np.float32)
    uv = uvs(mesh)
    places = np.zeros((t.corner_count, 2), np.float32) if uv is None else \
        (np.nan_to_num(uv) * [1.0, -1.0] + [0.0, 1.0]).astype(np.float32) + np.float32(0)
    key = np.empty(t.corner_count, np.dtype([("vertex", "<i8"), ("x", "<f4"), ("y", "<f4"), ("z", "<f4"), ("u", "<f4"),
                                             ("v", "<f4")]))
    key["vertex"], key["u"], key["v"] = t.corners, places[:, 0], places[:, 1]
    for k, axis in enumerate("xyz"):
        key[axis] = normal[:, k] + np.float32(0)  # one zero, not two
    _, first, number = np.unique(key.view(np.dtype((np.void, key.itemsize))), return_index=True, return_inverse=True)
    used, index = np.unique(number.ravel()[corner], return_inverse=True)
    at = first[used]
    out = normal[at]
    out /= np.linalg.norm(out, axis=1, keepdims=True)
    told = None if uv is None else places[at]
    return mesh.points[t.corners[at]].astype(np.float32), out, index.ravel().astype(np.uint32), told
