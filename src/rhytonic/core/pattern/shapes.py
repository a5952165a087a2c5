"""The shapes of layers as signed distances: how far within its shape a place lies, in lengths; negative outside.

Distances of rectangles, rounded or not, and of segments as Inigo Quilez tells them (Distance functions, 2D, 2018).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..mesh.geometry import Floats
from .pattern import Layer


@dataclass(frozen=True)
class Paper:
    """The pixels of a pattern: x and y of their middles, in lengths from the lower left; the first row lies above."""

    size: tuple[float, float]
    x: Floats
    y: Floats

    @classmethod
    def of(cls, size: tuple[float, float], width: int, height: int) -> Paper:
        """Paper of so many pixels."""
        x: Floats = (np.arange(width, dtype=np.float64) + 0.5) * (size[0] / width)
        y: Floats = size[1] - (np.arange(height, dtype=np.float64) + 0.5) * (size[1] / height)
        return cls(size, x[None, :], y[:, None])

    def rows(self, first: int, end: int) -> Paper:
        """Some of its rows."""
        return Paper(self.size, self.x, self.y[first:end])

    @property
    def pixel(self) -> float:
        """Length of a pixel."""
        return float(self.size[0] / self.x.size)

    def local(self, layer: Layer) -> tuple[Floats, Floats]:
        """Each pixel seen from the layer: from its lower left, or from the middle of what is round, and turned back."""
        x, y = self.x - layer.at[0], self.y - layer.at[1]
        if not layer.turn:
            return x, y
        middle = (0.0, 0.0) if layer.size is None or layer.shape == "circle" else (layer.size[0] / 2, layer.size[1] / 2)
        if layer.shape == "polygon" and layer.points is not None:
            corners = np.array(layer.points)
            low, high = corners.min(axis=0), corners.max(axis=0)
            middle = (float(low[0] + high[0]) / 2, float(low[1] + high[1]) / 2)
        angle = np.radians(layer.turn)
        c, s = np.cos(angle), np.sin(angle)
        x, y = x - middle[0], y - middle[1]
        return c * x + s * y + middle[0], c * y - s * x + middle[1]

    def to_outlines(self, outlines: Floats) -> Floats:
        """(h, w) distance of each pixel within outlines (n, 2, 2) on the square: even and odd, to the nearest edge."""
        return polygon_distance(np.asarray(outlines) * self.size, *np.broadcast_arrays(self.x, self.y))


def polygon_distance(edges: Floats, x: Floats, y: Floats) -> Floats:
    """How far within closed outlines (n, 2, 2) places lie, by the even–odd rule; far outside where there are none."""
    out = np.full(x.shape, np.inf)
    inside = np.zeros(x.shape, bool)
    for (ax, ay), (bx, by) in edges.tolist():
        dx, dy = bx - ax, by - ay
        long = dx * dx + dy * dy
        t = np.clip(((x - ax) * dx + (y - ay) * dy) / long, 0, 1) if long else np.zeros(x.shape)
        np.minimum(out, np.hypot(x - ax - t * dx, y - ay - t * dy), out=out)
        if dy:
            inside ^= ((y >= ay) != (y >= by)) & (x < ax + (y - ay) * dx / dy)
    return np.where(inside, out, -out)


class DISTANCES:
    """Distances of the shapes, by their words; places are seen from the layer."""

    @staticmethod
    def within(layer: Layer, x: Floats, y: Floats) -> Floats:
        """Within the box that a layer fills, everywhere where it has none."""
        if layer.size is None:
            return np.full(np.broadcast_shapes(x.shape, y.shape), np.inf)
        return DISTANCES.rect(layer, x, y)

    @staticmethod
    def rect(layer: Layer, x: Floats, y: Floats) -> Floats:
        assert layer.size is not None
        return _box(x, y, *layer.size, 0.0)

    @staticmethod
    def round_rect(layer: Layer, x: Floats, y: Floats) -> Floats:
        assert layer.size is not None
        return _box(x, y, *layer.size, min(layer.corner, layer.size[0] / 2, layer.size[1] / 2))

    @staticmethod
    def circle(layer: Layer, x: Floats, y: Floats) -> Floats:
        assert layer.radius is not None
        out: Floats = layer.radius - np.hypot(x, y)
        return out

    @staticmethod
    def polygon(layer: Layer, x: Floats, y: Floats) -> Floats:
        corners = np.array(layer.points)
        x, y = np.broadcast_arrays(x, y)
        return polygon_distance(np.stack([corners, np.roll(corners, -1, axis=0)], axis=1), x, y)

    @staticmethod
    def stripes(layer: Layer, x: Floats, y: Floats) -> Floats:
        return _bars(layer, x) + 0 * y

    @staticmethod
    def grid(layer: Layer, x: Floats, y: Floats) -> Floats:
        return np.maximum(_bars(layer, x), _bars(layer, y))

    @staticmethod
    def dots(layer: Layer, x: Floats, y: Floats) -> Floats:
        assert layer.pitch is not None and layer.radius is not None
        p = layer.pitch
        out: Floats = layer.radius - np.hypot(x - (np.floor(x / p) + 0.5) * p, y - (np.floor(y / p) + 0.5) * p)
        return out

    @staticmethod
    def knurl(layer: Layer, x: Floats, y: Floats) -> Floats:
        """0 … 1, pyramids between two families of grooves at 45°, ``pitch`` from groove to groove."""
        assert layer.pitch is not None
        a, b = (x + y) / np.sqrt(2) / layer.pitch, (x - y) / np.sqrt(2) / layer.pitch
        out: Floats = np.minimum(_tooth(a), _tooth(b))
        return out

    @staticmethod
    def tread(layer: Layer, x: Floats, y: Floats) -> Floats:
        """Rounded bars ``width`` wide, one to each square of ``pitch``, leaning right and left by turns."""
        assert layer.pitch is not None and layer.width is not None
        p = layer.pitch
        i, j = np.floor(x / p), np.floor(y / p)
        lean = np.where((i + j) % 2 == 0, 1.0, -1.0)
        px, py = x - (i + 0.5) * p, y - (j + 0.5) * p
        half = 0.36 * p * np.sqrt(0.5)
        t = np.clip((px * lean + py) / (2 * half), -1, 1) * half
        out: Floats = layer.width / 2 - np.hypot(px - lean * t, py - t)
        return out

    @staticmethod
    def text(layer: Layer, x: Floats, y: Floats) -> Floats:
        """Letters that fill the height of ``size`` from its left, no wider than it."""
        from PIL import Image, ImageDraw, ImageFont
        from scipy.ndimage import distance_transform_edt, map_coordinates

        assert layer.text is not None and layer.size is not None
        tall = 192
        font = ImageFont.load_default(tall)
        left, top, right, bottom = font.getbbox(layer.text)
        image = Image.new("L", (int(right - left) + 16, int(bottom - top) + 16))
        ImageDraw.Draw(image).text((8 - left, 8 - top), layer.text, fill=255, font=font)
        held = np.asarray(image) >= 128
        signed = np.where(held, distance_transform_edt(held) - 0.5, 0.5 - distance_transform_edt(~held))
        wide, high = float(right - left), float(bottom - top)
        scale = min(layer.size[0] / wide, layer.size[1] / high)  # lengths to a pixel of the letters
        shift = (layer.size[1] - scale * high) / 2
        x, y = np.broadcast_arrays(x, y)
        column, row = x / scale + 7.5, 7.5 + high - (y - shift) / scale
        out: Floats = scale * map_coordinates(signed, [row, column], order=1, mode="nearest")
        beyond = (column < -0.5) | (row < -0.5) | (column > image.width - 0.5) | (row > image.height - 0.5)
        return np.where(beyond, -np.inf, out)


def _box(x: Floats, y: Floats, width: float, height: float, corner: float) -> Floats:
    qx, qy = np.abs(x - width / 2) - width / 2 + corner, np.abs(y - height / 2) - height / 2 + corner
    out: Floats = corner - np.minimum(np.maximum(qx, qy), 0) - np.hypot(np.maximum(qx, 0), np.maximum(qy, 0))
    return out


def _bars(layer: Layer, x: Floats) -> Floats:
    """Within bars ``width`` wide, one to each ``pitch``, the first from 0 on."""
    assert layer.pitch is not None and layer.width is not None
    across = x - np.floor(x / layer.pitch) * layer.pitch
    if layer.width >= layer.pitch:
        return np.full(x.shape, np.inf)
    nearest = np.minimum(np.abs(across), np.minimum(np.abs(across - layer.width), np.abs(across - layer.pitch)))
    return np.where(across < layer.width, nearest, -nearest)


def _tooth(t: Floats) -> Floats:
    """A triangle wave: 0 at whole numbers, 1 halfway."""
    out: Floats = 1 - np.abs(2 * (t - np.floor(t)) - 1)
    return out
