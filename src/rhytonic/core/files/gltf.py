"""glTF 2.0 binary out (Khronos Group, glTF 2.0 Specification, 2021): metres, Y up, one node and mesh per part."""

from __future__ import annotations

import json
import struct
from collections.abc import Sequence
from typing import Any

import numpy as np

from ... import __version__
from ..mesh.geometry import cross, lengths
from ..mesh.mesh import Mesh
from ..mesh.shading import corner_normals
from ..mesh.triangulate import triangulate

_FLOAT, _UINT32 = 5126, 5125
_ARRAY, _ELEMENT = 34962, 34963


def write_glb(parts: Sequence[tuple[str, Mesh]]) -> bytes:
    """The parts as one GLB file.

    Triangles without area are left out, and a part without any triangle keeps its node without a mesh, as the format
    knows no empty mesh. Normals are those of the part's shading: flat where it says nothing.
    """
    binary = bytearray()
    views: list[dict[str, Any]] = []
    accessors: list[dict[str, Any]] = []
    meshes: list[dict[str, Any]] = []
    nodes: list[dict[str, Any]] = []

    def accessor(data: np.ndarray, target: int, **more: Any) -> int:
        views.append({"buffer": 0, "byteOffset": len(binary), "byteLength": data.nbytes, "target": target})
        binary.extend(data.tobytes())
        accessors.append({"bufferView": len(views) - 1, "count": len(data), **more})
        return len(accessors) - 1

    for name, mesh in parts:
        node: dict[str, Any] = {"name": name}
        points, normals, index = shaded_triangles(mesh)
        if len(index):
            position = accessor(points, _ARRAY, componentType=_FLOAT, type="VEC3",
                                min=points.min(axis=0).tolist(), max=points.max(axis=0).tolist())
            normal = accessor(normals, _ARRAY, componentType=_FLOAT, type="VEC3")
            indices = accessor(index, _ELEMENT, componentType=_UINT32, type="SCALAR")
            meshes.append({"name": name, "primitives": [
                {"attributes": {"POSITION": position, "NORMAL": normal}, "indices": indices, "material": 0}]})
            node["mesh"] = len(meshes) - 1
        nodes.append(node)
    document: dict[str, Any] = {
        "asset": {"version": "2.0", "generator": f"Rhytonic {__version__}"}, "scene": 0,
        "scenes": [{"nodes": list(range(len(nodes)))} if nodes else {}]}
    if nodes:
        document["nodes"] = nodes
    if meshes:
        document["materials"] = [{"name": "model", "pbrMetallicRoughness": {
            "baseColorFactor": [0.61, 0.63, 0.6, 1.0], "metallicFactor": 0.0, "roughnessFactor": 0.9}}]
        document |= {"meshes": meshes, "accessors": accessors, "bufferViews": views,
                     "buffers": [{"byteLength": len(binary)}]}
    text = json.dumps(document, separators=(",", ":")).encode()
    text += b" " * (-len(text) % 4)
    chunks = struct.pack("<I4s", len(text), b"JSON") + text
    if meshes:
        binary.extend(b"\0" * (-len(binary) % 4))
        chunks += struct.pack("<I4s", len(binary), b"BIN\0") + bytes(binary)
    return struct.pack("<4sII", b"glTF", 2, 12 + len(chunks)) + chunks


def shaded_triangles(mesh: Mesh) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Points (n, 3) float32, unit normals (n, 3) float32 and indices (3t,) uint32; a vertex stands once for each normal its
    corners have."""
    t = mesh.topology
    triangles, face = triangulate(mesh)
    p = mesh.points[triangles]
    size = lengths(cross(p[:, 1] - p[:, 0], p[:, 2] - p[:, 0]))
    good = (size > 0) & (np.einsum("ij,ij->i", mesh.normals[face], mesh.normals[face]) > 0.5)
    triangles, face = triangles[good], face[good]
    corner = _corners(mesh, face, triangles)
    normal = corner_normals(mesh).astype(np.float32)
    key = np.empty(t.corner_count, np.dtype([("vertex", "<i8"), ("x", "<f4"), ("y", "<f4"), ("z", "<f4")]))
    key["vertex"] = t.corners
    for k, axis in enumerate("xyz"):
        key[axis] = normal[:, k] + np.float32(0)  # one zero, not two
    _, first, number = np.unique(key.view(np.dtype((np.void, key.itemsize))), return_index=True, return_inverse=True)
    used, index = np.unique(number.ravel()[corner], return_inverse=True)
    at = first[used]
    out = normal[at]
    out /= np.linalg.norm(out, axis=1, keepdims=True)
    return mesh.points[t.corners[at]].astype(np.float32), out, index.ravel().astype(np.uint32)


def _corners(mesh: Mesh, face: np.ndarray, triangles: np.ndarray) -> np.ndarray:
    """(3t,) corner of each triangle's vertex in the face it came from."""
    t = mesh.topology
    bound = max(t.vertex_count, 1)
    keys = t.corner_face * bound + t.corners
    order = np.argsort(keys)
    wanted = (face[:, None] * bound + triangles).ravel()
    found: np.ndarray = order[np.searchsorted(keys[order], wanted)]
    return found
