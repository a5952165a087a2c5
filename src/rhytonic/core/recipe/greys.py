"""Patterns and pictures of a build, as the steps of its parts ask for them."""

from __future__ import annotations

import hashlib
from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from ..errors import RhytonicError, StepError
from ..mesh.geometry import Floats
from ..mesh.mesh import Mesh
from ..mesh.topology import Ints
from ..mesh.uv import islands_of, joined, uvs
from ..pattern.draw import Grey, Sources, drawn
from ..pattern.pattern import Layer, Pattern
from ..step.grey import Asked
from ..step.operand import Need
from ..units import METRES
from .assembly import Assembly, listed
from .cache import Cache
from .part import Part
from .place import Frame

if TYPE_CHECKING:
    from .document import Document

#: answers the greys of a picture by its digest, or by its name beside a recipe file
Pictures = Callable[[str], Grey]


@dataclass(frozen=True)
class Greys:
    """Answers what a part's steps ask of the patterns and pictures of its build."""

    part: Part
    frame: Frame
    others: Assembly
    pictures: Pictures | None
    known: Cache[Grey]

    def called(self, name: str) -> frozenset[str]:
        """All that a pattern is called, by whichever of it."""
        found = pattern_called(self.others.document, name)
        return frozenset({name}) if found is None else frozenset({name, found.id, found.name})

    def key(self, pattern: str | None, picture: str | None) -> str:
        """Names a pattern as it is now, with what its layers ask of other parts; a picture is named by itself."""
        if pattern is None:
            return picture or ""
        found = pattern_called(self.others.document, pattern)
        if found is None:
            return ""
        told = [found.model_dump_json(), self.others.document.unit]
        for layer in found.layers:
            if layer.part is not None and not self._own(layer.part):
                told.append(self.others.operand(self.part, self.frame, Need(layer.part)).key.hex())
        return "\n".join(told)

    def grey(self, asked: Asked) -> Grey:
        """(h, w) greys 0 … 1, first row above, blurred as asked.

        Raises:
            StepError: there is no such pattern or picture, or it cannot be drawn.
        """
        if asked.picture:
            base, key = self._picture(asked.name), f"picture {asked.name}"
        else:
            base, key = self._pattern(asked)
        if asked.blur <= 0:
            return base
        deviation = asked.blur / 2 / asked.square * max(base.shape)
        blurred = f"{key} {deviation:.6g}".encode()
        held = self.known.get(hashlib.blake2b(blurred, digest_size=16).digest())
        if held is None:
            from scipy.ndimage import gaussian_filter
            held = np.asarray(gaussian_filter(base, deviation, mode="nearest"), np.float32)
            self._keep(blurred, held)
        return held

    def _own(self, name: str) -> bool:
        return name in (self.part.id, self.part.name)

    def _keep(self, key: bytes, values: Grey) -> None:
        self.known.put(hashlib.blake2b(key, digest_size=16).digest(), values, values.nbytes)

    def _picture(self, name: str) -> Grey:
        key = f"picture {name}".encode()
        held = self.known.get(hashlib.blake2b(key, digest_size=16).digest())
        if held is None:
            if self.pictures is None:
                raise StepError(f"needs the picture '{name}', and this recipe comes without pictures", "picture")
            try:
                held = self.pictures(name)
            except StepError:
                raise
            except RhytonicError as error:
                raise StepError(f"picture '{name}': {error.message}", "picture") from None
            self._keep(key, held)
        return held

    def _pattern(self, asked: Asked) -> tuple[Grey, str]:
        document = self.others.document
        found = pattern_called(document, asked.name)
        if found is None:
            raise StepError(f"there is no pattern '{asked.name}'; patterns are {listed(p.name for p in document.patterns)}",
                            "pattern")
        told = self.key(asked.name, None)
        if any(layer.part is not None and self._own(layer.part) for layer in found.layers):
            uv = uvs(asked.mesh)
            told += hashlib.blake2b(b"" if uv is None else uv.tobytes(), digest_size=16).hexdigest()
        key = f"pattern {told}".encode()
        held = self.known.get(hashlib.blake2b(key, digest_size=16).digest())
        if held is None:
            sources = Sources(self._picture, lambda layer: self._island(layer, asked))
            try:
                held = drawn(found, METRES[document.unit], sources)
            except StepError:
                raise
            except RhytonicError as error:
                raise StepError(error.message, "pattern") from None
            self._keep(key, held)
        return held, key.decode()

    def _island(self, layer: Layer, asked: Asked) -> Floats:
        assert layer.part is not None
        if self._own(layer.part):
            mesh, find = asked.mesh, asked.find
        else:
            operand = self.others.operand(self.part, self.frame, Need(layer.part))
            mesh, find = operand.untouched, operand.find
        faces = None if layer.pick is None else find(layer.pick)
        if faces is not None and faces.kind != "faces":
            raise StepError(f"the layer of island '{layer.part}' picks {faces.kind}; it takes faces", "pattern")
        return island_outlines(mesh, None if faces is None else faces.elements)


def pattern_called(document: Document, name: str) -> Pattern | None:
    """A pattern by its id, else by its name."""
    return next((p for p in document.patterns if p.id == name), None) or \
        next((p for p in document.patterns if p.name == name), None)


def island_outlines(mesh: Mesh, faces: Ints | None) -> Floats:
    """(n, 2, 2) the outlines on the square of the islands that ``faces`` are of, of all where None.

    Raises:
        StepError: they lie on no island.
    """
    uv = uvs(mesh)
    if uv is None:
        raise StepError("a layer follows an island, and the part is not laid out yet; unwrap it first", "pattern")
    t, island = mesh.topology, islands_of(mesh, uv)
    wanted = island >= 0 if faces is None else np.isin(island, island[faces][island[faces] >= 0])
    half = np.flatnonzero(wanted[t.corner_face] & ~joined(mesh, uv))
    if not half.size:
        raise StepError("a layer follows an island, and these faces have no place on the square", "pattern")
    return np.stack([uv[half], uv[t.next_corner[half]]], axis=1)
