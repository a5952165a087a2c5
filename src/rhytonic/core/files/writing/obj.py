"""Wavefront OBJ out (Advanced Visualizer manual, appendix B1): polygons kept, one object a part, its groups named, metres,
as the format leaves units open; normals of parts that are shaded, places on the texture square of parts that are laid out;
one material in a file beside it."""

from __future__ import annotations

import io
import itertools

import numpy as np

from ...mesh.marks import shading
from ...mesh.shading import corner_normals
from ...mesh.uv import uvs
from ..model import Model
from .text import in_pieces

MATERIAL = "model"


def name_of(text: str) -> str:
    """A name as OBJ allows it: no white space, nothing that ends the line."""
    return "_".join("".join(c if c.isprintable() and c != "#" else " " for c in text).split()) or "part"


def write_obj(model: Model, material_file: str | None = None) -> bytes:
    """Every part where it stands, in metres, Y up; coordinates to the last bit.

    Args:
        material_file: name of the file beside it that :func:`write_mtl` gives; None to name no material.
    """
    out = io.StringIO()
    out.write("# Rhytonic model\n# unit: metre, Y up\n")
    if material_file is not None:
        out.write(f"mtllib {name_of(material_file)}\n")
    first, first_normal, first_place = 1, 1, 1
    for path, mesh in model.placed():
        t = mesh.topology
        out.write(f"o {name_of(path[-1])}\ng {' '.join(map(name_of, path))}\n")
        out.writelines(in_pieces(f"v {x!r} {y!r} {z!r}\n" for x, y, z in mesh.points.tolist()))
        if material_file is not None:
            out.write(f"usemtl {MATERIAL}\n")
        words = np.char.mod(" %d", t.corners + first)
        uv = uvs(mesh)
        if uv is not None:
            has = np.isfinite(uv).all(axis=1)
            unique, index = np.unique(uv[has] + 0.0, axis=0, return_inverse=True)
            out.writelines(in_pieces(f"vt {u!r} {v!r}\n" for u, v in unique.tolist()))
            place = np.full(t.corner_count, "", f"<U{len(str(first_place + len(unique))) + 1}")
            place[has] = np.char.mod("/%d", index.ravel() + first_place)
            words = np.char.add(words, place)
            first_place += len(unique)
        if shading(mesh).any():  # a part that says nothing of its shading has no normals of its own
            unique, index = np.unique(np.round(corner_normals(mesh), 6) + 0.0, axis=0, return_inverse=True)
            out.writelines(in_pieces(f"vn {x:.6g} {y:.6g} {z:.6g}\n" for x, y, z in unique.tolist()))
            gap = "//" if uv is None else np.where(has, "/", "//")
            words = np.char.add(np.char.add(words, gap), np.char.mod("%d", index.ravel() + first_normal))
            first_normal += len(unique)
        starts = t.offsets.tolist()
        out.writelines(in_pieces("f" + "".join(words[a:b]) + "\n" for a, b in itertools.pairwise(starts)))
        first += t.vertex_count
    return out.getvalue().encode()


def write_mtl() -> bytes:
    """The material file that goes beside an OBJ."""
    return f"# Rhytonic materials\nnewmtl {MATERIAL}\nKd 0.61 0.63 0.6\nKs 0 0 0\nillum 1\n".encode()
