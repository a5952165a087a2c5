"""STL out, binary (3D Systems, StereoLithography Interface Specification, 1989): triangles, metres, as the format says
nothing of units."""

from __future__ import annotations

import struct

import numpy as np

from ...mesh.geometry import cross, lengths
from ...mesh.triangulate import triangulate
from ...waiting import check
from ..model import Model

TRIANGLE = np.dtype([("normal", "<f4", 3), ("points", "<f4", (3, 3)), ("more", "<u2")])


def write_stl(model: Model) -> bytes:
    """Every part where it stands, as one body of triangles."""
    blocks = []
    for _, mesh in model.placed():
        check()
        triangles, _ = triangulate(mesh)
        p = mesh.points[triangles]
        normal = cross(p[:, 1] - p[:, 0], p[:, 2] - p[:, 0])
        size = lengths(normal)
        block = np.zeros(len(p), TRIANGLE)
        block["points"] = p
        block["normal"] = normal / np.where(size > 0, size, 1.0)[:, None]
        blocks.append(block[size > 0])
    rows = np.concatenate(blocks) if blocks else np.zeros(0, TRIANGLE)
    return b"Rhytonic model, metres, Y up".ljust(80) + struct.pack("<I", len(rows)) + rows.tobytes()
