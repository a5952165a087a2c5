"""Writes models by the extension of the file asked for."""

from __future__ import annotations

import os
import tempfile
from collections.abc import Callable
from pathlib import Path

from ..errors import RhytonicError
from .model import Model
from .writing.gltf import write_glb, write_gltf
from .writing.obj import name_of, write_mtl, write_obj
from .writing.ply import write_ply
from .writing.stl import write_stl
from .writing.usd import write_usda, write_usdz

#: by extension, what a file's bytes are and how they are told to others
WRITERS: dict[str, Callable[[Model], bytes]] = {
    ".obj": write_obj, ".glb": write_glb, ".gltf": write_gltf, ".ply": write_ply, ".stl": write_stl, ".usda": write_usda,
    ".usdz": write_usdz}
MEDIA_TYPES = {
    ".obj": "model/obj", ".glb": "model/gltf-binary", ".gltf": "model/gltf+json", ".ply": "application/octet-stream",
    ".stl": "model/stl", ".usda": "text/plain", ".usdz": "model/vnd.usdz+zip", ".zip": "application/zip"}


class CannotWrite(RhytonicError):
    """A model that cannot be written as asked."""

    code = "cannot_write"


def model_files(model: Model, name: str, beside: bool = True) -> dict[str, bytes]:
    """The files of a model, by their names: one, and for OBJ its materials beside it.

    Args:
        name: of the file, with its extension.
        beside: whether further files go along; an OBJ that goes alone names no other file.

    Raises:
        CannotWrite: an extension without a writer.
    """
    extension = Path(name).suffix.lower()
    if extension == ".obj":
        materials = f"{name_of(Path(name).stem)}.mtl"
        return {name: write_obj(model, materials), materials: write_mtl()} if beside else {name: write_obj(model, None)}
    writer = WRITERS.get(extension)
    if writer is None:
        raise CannotWrite(f"cannot write '{extension or 'a file without extension'}'; known are {', '.join(WRITERS)}")
    return {name: writer(model)}


def write_model(model: Model, path: Path) -> None:
    """Write the model to ``path``, and what belongs beside it. Raises CannotWrite, also when the place cannot be written
    to."""
    for name, data in model_files(model, path.name).items():
        write_whole(data, path.with_name(name))


def write_whole(data: bytes, path: Path) -> None:
    """Write a file to the side and move it where it belongs once it is whole: what stood there stays until then.

    Raises:
        CannotWrite: the place cannot be written to.
    """
    try:
        mode = path.stat().st_mode & 0o777 if path.exists() else 0o666 & ~_mask()
        if path.exists() and not path.is_file():  # a pipe, or what else stands for a place to write to
            path.write_bytes(data)
            return
        place, name = tempfile.mkstemp(prefix=f".{path.name[:40]}.", dir=path.resolve().parent)
        aside = Path(name)
        try:
            with os.fdopen(place, "wb") as file:
                file.write(data)
                file.flush()
                os.fsync(file.fileno())
            aside.chmod(mode)
            aside.replace(path.resolve())
        except BaseException:
            aside.unlink(missing_ok=True)
            raise
    except OSError as error:
        raise CannotWrite(f"cannot write {path}: {error.strerror}") from None


def _mask() -> int:
    """What this process takes off the rights of new files."""
    mask = os.umask(0o022)
    os.umask(mask)
    return mask
