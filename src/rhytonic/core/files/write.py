"""Writes models by the extension of the file asked for."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path

from ..errors import RhytonicError
from ..mesh.mesh import Mesh
from . import gltf, obj

Named = tuple[str, Mesh]
WRITERS: dict[str, Callable[[Sequence[Named]], bytes]] = {".obj": obj.write, ".glb": gltf.write_glb}


class CannotWrite(RhytonicError):
    """A model that cannot be written as asked."""

    code = "cannot_write"


def model_bytes(parts: Sequence[Named], extension: str) -> bytes:
    """The model as a file's bytes.

    Raises:
        CannotWrite: an extension without a writer.
    """
    writer = WRITERS.get(extension.lower())
    if writer is None:
        raise CannotWrite(f"cannot write '{extension or 'a file without extension'}'; known are {', '.join(WRITERS)}")
    return writer(parts)


def write_model(parts: Sequence[Named], path: Path) -> None:
    """Write the model to ``path``. Raises CannotWrite, also when the place cannot be written to."""
    data = model_bytes(parts, path.suffix)
    try:
        path.write_bytes(data)
    except OSError as error:
        raise CannotWrite(f"cannot write {path}: {error.strerror}") from None
