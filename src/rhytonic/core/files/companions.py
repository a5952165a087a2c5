"""Model files and pictures that lie beside a recipe file."""

from __future__ import annotations

import hashlib
import re
from collections.abc import Callable
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from ..errors import StepError
from .limits import LARGEST_BYTES, BadModel
from .model import Model
from .sandbox import read_model_apart

_DIGEST = re.compile(r"[0-9a-f]{64}")
_MOST_LOOKED_AT = 1000
PICTURES = (".png", ".jpg", ".jpeg", ".webp")
_EXTENSIONS = (".obj", ".ply", ".stl", ".glb", ".gltf")


class Companions:
    """Answers model files by name, or by the SHA-256 of their bytes, out of one folder and nowhere else."""

    def __init__(self, folder: Path) -> None:
        self._folder = folder
        self._read: dict[str, Model] = {}

    def __call__(self, name: str) -> Model:
        """The model of a file as read. Raises StepError."""
        if name not in self._read:
            try:
                self._read[name] = read_model_apart(self._bytes(name))
            except BadModel as error:
                raise StepError(f"'{name}': {error.message}", "file") from None
        return self._read[name]

    def _bytes(self, name: str) -> bytes:
        path = self._folder / name
        if path.parent != self._folder or not path.is_file():
            found = by_digest(self._folder, name, _EXTENSIONS) if _DIGEST.fullmatch(name) else None
            if found is None:
                raise StepError(f"there is no file '{name}' beside the recipe file", "file")
            return found
        return _bounded(path)


def by_digest(folder: Path, digest: str, extensions: tuple[str, ...]) -> bytes | None:
    """The file of a folder whose bytes have a SHA-256, among the first thousand of some extensions."""
    beside = sorted(p for p in folder.iterdir() if p.suffix.lower() in extensions and p.is_file())
    for path in beside[:_MOST_LOOKED_AT]:
        data = _bounded(path)
        if hashlib.sha256(data).hexdigest() == digest:
            return data
    return None


def _bounded(path: Path, parameter: str = "file") -> bytes:
    try:
        with path.open("rb") as file:
            return file.read(LARGEST_BYTES + 1)
    except OSError as error:
        raise StepError(f"'{path.name}' cannot be read: {error.strerror}", parameter) from None


class Beside:
    """Answers pictures by name, or by the SHA-256 of their bytes, out of one folder and nowhere else; ``read`` makes greys
    of bytes."""

    def __init__(self, folder: Path, read: Callable[[bytes], NDArray[np.float32]]) -> None:
        self._folder, self._read = folder, read

    def __call__(self, name: str) -> NDArray[np.float32]:
        """The greys of a picture. Raises StepError."""
        path = self._folder / name
        if path.parent != self._folder or not path.is_file():
            found = by_digest(self._folder, name, PICTURES) if _DIGEST.fullmatch(name) else None
            if found is None:
                raise StepError(f"there is no picture '{name}' beside the recipe file", "picture")
            return self._read(found)
        return self._read(_bounded(path, "picture"))
