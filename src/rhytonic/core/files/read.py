"""Reads models and drawings by what their bytes say; names of files are never trusted."""

from __future__ import annotations

from pathlib import Path

from ..units import Unit
from .drawing import Drawing
from .limits import LARGEST_BYTES, BadModel
from .model import Model
from .reading.gltf import read_glb, read_gltf
from .reading.obj import looks_like_obj, read_obj
from .reading.ply import read_ply
from .reading.stl import looks_like_stl, read_stl
from .reading.svg import read_svg


def format_of(data: bytes) -> str:
    """Which format a file is in: ``glb``, ``gltf``, ``ply``, ``stl`` or ``obj``.

    Raises:
        BadModel: none of them, or too large to be looked at.
    """
    if len(data) > LARGEST_BYTES:
        raise BadModel(f"the file has {len(data) / 2**20:.0f} MB; at most {LARGEST_BYTES // 2**20} MB are taken")
    if data[:4] == b"glTF":
        return "glb"
    if data[:3] == b"ply" and data[3:4] in (b"\n", b"\r"):
        return "ply"
    if looks_like_stl(data):
        return "stl"
    if data[:4000].lstrip()[:1] == b"{":
        return "gltf"
    if looks_like_obj(data):
        return "obj"
    raise BadModel("the file is in no format that is read; known are OBJ, PLY, STL, GLB and glTF")


def read_model(data: bytes) -> Model:
    """The model that a file holds, in the file's own unit and axes.

    Raises:
        BadModel: it cannot be taken; tells why, and what would work.
    """
    readers = {"glb": read_glb, "gltf": read_gltf, "ply": read_ply, "stl": read_stl, "obj": read_obj}
    return readers[format_of(data)](data)


def read_drawing(data: bytes, name: str, unit: Unit | None = None) -> Drawing:
    """What an SVG or DXF file draws; ``unit`` is taken where a DXF tells none.

    Raises:
        BadModel: it cannot be taken.
    """
    extension = Path(name).suffix.lower()
    if extension == ".svg" or data[:400].lstrip()[:4] in (b"<svg", b"<?xm"):
        return read_svg(data)
    if extension == ".dxf":
        from .reading.dxf import read_dxf  # slow to load, and only such files ask
        return read_dxf(data, unit)
    raise BadModel("the file is no drawing that is read; known are SVG and DXF")
