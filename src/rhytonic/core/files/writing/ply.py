"""PLY out (G. Turk, The PLY Polygon File Format, 1994): polygons kept, one mesh as text, coordinates to the last bit,
metres. Text, as several readers take no binary lists of different lengths."""

from __future__ import annotations

import io
import itertools

import numpy as np

from ..model import Model
from .text import in_pieces


def write_ply(model: Model) -> bytes:
    """Every part as one mesh, where it stands; how many vertices and faces each has is told in comments, in their order."""
    parts = model.placed()
    vertices = sum(m.topology.vertex_count for _, m in parts)
    faces = sum(m.topology.face_count for _, m in parts)
    widest = max((int(m.topology.sides.max(initial=0)) for _, m in parts), default=0)
    out = io.StringIO()
    out.write("ply\nformat ascii 1.0\ncomment Rhytonic model, metres, Y up\n")
    for path, m in parts:
        name = "".join(c if c.isascii() and c.isprintable() else "?" for c in path[-1])
        out.write(f"comment part {name}: {m.topology.vertex_count} vertices, {m.topology.face_count} faces\n")
    out.write(f"element vertex {vertices}\nproperty double x\nproperty double y\nproperty double z\nelement face {faces}\n"
              f"property list {'uchar' if widest < 256 else 'uint'} uint vertex_indices\nend_header\n")
    for _, m in parts:
        out.writelines(in_pieces(f"{x!r} {y!r} {z!r}\n" for x, y, z in m.points.tolist()))
    first = 0
    for _, m in parts:
        t = m.topology
        words = np.char.mod(" %d", t.corners + first)
        starts = t.offsets.tolist()
        out.writelines(in_pieces(f"{b - a}" + "".join(words[a:b]) + "\n" for a, b in itertools.pairwise(starts)))
        first += t.vertex_count
    return out.getvalue().encode()
