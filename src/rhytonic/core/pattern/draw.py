"""Patterns drawn: each layer as how deep every pixel lies within its shape, softened, and laid over those below."""

from __future__ import annotations

import io
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..errors import RhytonicError
from ..mesh.geometry import Floats
from ..waiting import check
from .pattern import LONGEST, SIZED, Layer, Pattern
from .shapes import DISTANCES, Paper

Grey = NDArray[np.float32]


class BadPattern(RhytonicError):
    """A pattern that cannot be drawn."""

    code = "bad_pattern"


@dataclass(frozen=True)
class Sources:
    """What layers ask for.

    Attributes:
        picture: answers the grey (h, w) of a kept picture, first row above, by its digest.
        island: answers the outlines (n, 2, 2) on the square of what a layer of shape ``island`` means.
    """

    picture: Callable[[str], Grey]
    island: Callable[[Layer], Floats]


def pixels_of(pattern: Pattern, metres: float) -> tuple[int, int]:
    """Width and height in pixels of a pattern whose lengths are in a unit of so many metres.

    Raises:
        BadPattern: more than can be drawn.
    """
    w, h = (max(round(s * metres * 100 * pattern.resolution), 1) for s in pattern.size)
    if max(w, h) > LONGEST:
        most = LONGEST / (max(pattern.size) * metres * 100)
        raise BadPattern(f"pattern '{pattern.name}' would be {w} × {h} pixels; at most {LONGEST} a side: up to {most:.4g} "
                         "pixels to the centimetre")
    return w, h


def drawn(pattern: Pattern, metres: float, sources: Sources, most: int | None = None) -> Grey:
    """(h, w) float32 heights 0 … 1, first row above; with ``most``, no more pixels a side than that, for previews.

    Raises:
        BadPattern: it has too many pixels, or a layer asks for what is not there.
    """
    width, height = pixels_of(pattern, metres)
    if most is not None and max(width, height) > most:
        shrink = most / max(width, height)
        width, height = max(round(width * shrink), 1), max(round(height * shrink), 1)
    whole = Paper.of(pattern.size, width, height)
    rows = max(_AT_ONCE // width, 1)
    return np.concatenate([_drawn(pattern, whole.rows(first, first + rows), sources) for first in range(0, height, rows)])


#: pixels drawn in one go: what is worked out on the way takes a few dozen bytes for each
_AT_ONCE = 2_000_000


def _drawn(pattern: Pattern, paper: Paper, sources: Sources) -> Grey:
    """Some rows of a pattern."""
    out: Grey = np.zeros((paper.y.size, paper.x.size), np.float32)
    insides: list[Grey] = []
    for told in pattern.layers:
        check()
        layer = _sized(told, pattern)
        inside, strength = _inside(layer, paper, sources)
        if layer.clip is not None:
            inside = np.asarray(inside * insides[layer.clip], np.float32)
        insides.append(inside)
        value = np.asarray(layer.height * strength, np.float32)
        if layer.blend == "max":
            out = np.maximum(out, inside * value).astype(np.float32)
        elif layer.blend == "add":
            out = np.minimum(out + inside * value, np.float32(1)).astype(np.float32)
        elif layer.blend == "min":
            out = (out * (1 - inside) + np.minimum(out, value) * inside).astype(np.float32)
        else:
            out = (out * (1 - inside) + value * inside).astype(np.float32)
    return np.clip(out, 0, 1).astype(np.float32)


def _sized(layer: Layer, pattern: Pattern) -> Layer:
    """A layer with the size or radius it has where it tells none."""
    if layer.shape == "circle" and layer.radius is None and layer.size is not None:
        return layer.model_copy(update={"radius": min(layer.size) / 2})
    if layer.shape not in SIZED or layer.size is not None:
        return layer
    rest = tuple(max(whole - at, 1e-9 * whole) for whole, at in zip(pattern.size, layer.at))
    return layer.model_copy(update={"size": rest})


def _inside(layer: Layer, paper: Paper, sources: Sources) -> tuple[Grey, Grey | np.float32]:
    """(h, w) how far each pixel is within a layer, 0 … 1, and how high the layer is there, 1 where it is even."""
    if layer.shape == "picture":
        assert layer.digest is not None and layer.size is not None
        x, y = paper.local(layer)
        grey = sources.picture(layer.digest)
        h, w = grey.shape
        u, v = x / layer.size[0], y / layer.size[1]
        held = ((u >= 0) & (u < 1) & (v >= 0) & (v < 1)).astype(np.float32)
        return held, sampled(grey, np.clip(u, 0, 1) * w - 0.5, (1 - np.clip(v, 0, 1)) * h - 0.5)
    if layer.shape == "island":
        return _softened(paper.to_outlines(sources.island(layer)) - layer.inset, layer, paper), np.float32(1)
    if layer.shape == "knurl":
        x, y = paper.local(layer)
        height = DISTANCES.knurl(layer, x, y).astype(np.float32)
        return _softened(DISTANCES.within(layer, x, y), layer, paper), height
    x, y = paper.local(layer)
    distance = getattr(DISTANCES, layer.shape)(layer, x, y)
    if layer.shape in ("stripes", "grid", "dots", "tread"):
        distance = np.minimum(distance, DISTANCES.within(layer, x, y))
    return _softened(distance, layer, paper), np.float32(1)


def _softened(distance: Floats, layer: Layer, paper: Paper) -> Grey:
    """0 … 1 over the edge: a ramp as wide as ``soft`` about it, and at least a pixel wide, so that edges are where they are
    to within a small part of a pixel."""
    ramp = max(layer.soft, paper.pixel)
    return np.clip(0.5 + distance / ramp, 0, 1).astype(np.float32)


def sampled(grey: Grey, x: Floats, y: Floats) -> Grey:
    """Values (…) at places between pixel middles, bilinear, held at the rim."""
    h, w = grey.shape
    x, y = np.clip(x, 0, w - 1), np.clip(y, 0, h - 1)
    i, j = np.minimum(np.floor(x).astype(np.int64), max(w - 2, 0)), np.minimum(np.floor(y).astype(np.int64), max(h - 2, 0))
    a, b = (x - i).astype(np.float32), (y - j).astype(np.float32)
    k, m = np.minimum(i + 1, w - 1), np.minimum(j + 1, h - 1)
    upper = grey[j, i] * (1 - a) + grey[j, k] * a
    lower = grey[m, i] * (1 - a) + grey[m, k] * a
    return np.asarray(upper * (1 - b) + lower * b, np.float32)


def as_png(grey: Grey) -> bytes:
    """A 16-bit greyscale PNG of heights 0 … 1."""
    from PIL import Image

    out = io.BytesIO()
    Image.fromarray(np.round(grey * 65535.0).astype(np.uint16)).save(out, "PNG")
    return out.getvalue()
