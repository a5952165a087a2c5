"""Wavefront OBJ out: polygons kept, one object and group per part, metres, as the format leaves units open; normals of
parts that are shaded."""

from __future__ import annotations

import io
import itertools
from collections.abc import Sequence

import numpy as np

from ..mesh.marks import shading
from ..mesh.mesh import Mesh
from ..mesh.shading import corner_normals


def name_of(text: str) -> str:
    """A name as OBJ allows it: no white space, nothing that ends the line."""
    return "_".join("".join(c if c.isprintable() and c != "#" else " " for c in text).split()) or "part"


def write(parts: Sequence[tuple[str, Mesh]]) -> bytes:
    """The parts as one OBJ file, in metres, Y up."""
    out = io.StringIO()
    out.write("# Rhytonic model\n# unit: metre, Y up\n")
    first, first_normal = 1, 1
    for name, mesh in parts:
        t = mesh.topology
        out.write(f"o {name_of(name)}\ng {name_of(name)}\n")
        out.write("".join(f"v {x:.9g} {y:.9g} {z:.9g}\n" for x, y, z in mesh.points.tolist()))
        words = np.char.mod(" %d", t.corners + first)
        if shading(mesh).any():  # a part that says nothing of its shading has no normals of its own
            unique, index = np.unique(np.round(corner_normals(mesh), 6) + 0.0, axis=0, return_inverse=True)
            out.write("".join(f"vn {x:.6g} {y:.6g} {z:.6g}\n" for x, y, z in unique.tolist()))
            words = np.char.add(np.char.add(words, "//"), np.char.mod("%d", index.ravel() + first_normal))
            first_normal += len(unique)
        starts = t.offsets.tolist()
        out.write("".join("f" + "".join(words[a:b]) + "\n" for a, b in itertools.pairwise(starts)))
        first += t.vertex_count
    return out.getvalue().encode()
