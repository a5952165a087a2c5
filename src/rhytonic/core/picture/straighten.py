"""Pictures straightened: lens distortion taken out, and a rectangle of known sides made one.

Distortion: D. C. Brown, Photogrammetric Engineering 32(3), 1966, after A. E. Conrady, 1919; one radial term, about the
middle, radii in half diagonals. Homography: R. Hartley, A. Zisserman, Multiple View Geometry, 2nd ed. 2004, section 4.1.
"""

from __future__ import annotations

import io
from dataclasses import dataclass

import numpy as np
import scipy
from numpy.typing import NDArray
from PIL import Image

from ..mesh.mesh import Floats
from .decode import BadPicture, Picture

#: how far round its rectangle a straightened picture reaches, in sides of the rectangle
_ROUND = 1.5
#: what is made anew is no larger, so that it takes seconds; the original is kept beside it
_MOST_PIXELS = 12_000_000
_LONGEST_SIDE = 12_000
#: rows of a picture worked out together
_STRIP = 256


def distorted(points: Floats, k: float) -> Floats:
    """Where a lens puts points (…, 2) given about the middle in half diagonals: r → r·(1 + k·r²)."""
    out: Floats = points * (1 + k * (points**2).sum(axis=-1, keepdims=True))
    return out


def undistorted(points: Floats, k: float) -> Floats:
    """(…, 2) the inverse of ``distorted``, by Newton's method; for k above −4/27 it reaches all of the picture."""
    far = np.sqrt((points**2).sum(axis=-1, keepdims=True))
    r = far.copy()
    for _ in range(30):
        step = (r * (1 + k * r * r) - far) / np.maximum(1 + 3 * k * r * r, 1e-3)
        r = np.clip(r - step, 0.0, 1.5 if k < 0 else np.inf)
        if np.abs(step).max(initial=0.0) < 1e-14:
            break
    out: Floats = points * np.where(far > 0, r / np.where(far > 0, far, 1.0), 1.0)
    return out


def homography(source: Floats, target: Floats) -> Floats:
    """(3, 3) matrix that takes four points (4, 2) to four others, its last entry 1.

    Raises:
        BadPicture: three of the points lie in line.
    """
    rows, values = [], []
    for (x, y), (u, v) in zip(source, target, strict=True):
        rows += [[x, y, 1, 0, 0, 0, -u * x, -u * y], [0, 0, 0, x, y, 1, -v * x, -v * y]]
        values += [u, v]
    matrix = np.array(rows)
    if np.linalg.cond(matrix) < 1e12:
        out: Floats = np.append(np.linalg.solve(matrix, np.array(values)), 1.0).reshape(3, 3)
        if np.linalg.cond(out) < 1e12:
            return out
    raise BadPicture("three of the four corners lie in line; place them on the corners of a rectangle")


def through(matrix: Floats, points: Floats) -> Floats:
    """Points (…, 2) through a homography."""
    w = points @ matrix[2, :2] + matrix[2, 2]
    out: Floats = (points @ matrix[:2, :2].T + matrix[:2, 2]) / w[..., None]
    return out


@dataclass(frozen=True)
class Straight:
    """A straightened picture: as a file, with its size in pixels, and in units of the rectangle's sides where one was
    given."""

    data: bytes
    width: int
    height: int
    real: tuple[float, float] | None


def straighten(picture: Picture, corners: Floats | None, size: tuple[float, float] | None, k: float,
               side: int | None = None) -> Straight:
    """A picture with its distortion taken out and, if corners are given, seen straight on.

    Args:
        corners: (4, 2) lower left, lower right, upper right and upper left of a rectangle, in picture widths from the middle
            of the lower edge, once distortion is taken out.
        size: the rectangle's true sides.
        k: distortion.
        side: most pixels a side, for a first look.

    Raises:
        BadPicture: the corners are no picture of a rectangle.
    """
    columns, rows = picture.size
    half = np.hypot(columns, rows) / 2
    if corners is None or size is None:
        scale = min(1.0, np.sqrt(_MOST_PIXELS / (columns * rows)), (side or _LONGEST_SIDE) / max(columns, rows))
        width, height = max(round(columns * scale), 1), max(round(rows * scale), 1)
        x, y = np.meshgrid((np.arange(width) + 0.5) / scale - columns / 2, (np.arange(height) + 0.5) / scale - rows / 2)
        flat = np.stack([x, y], axis=-1) / half
        return _sampled(picture, flat, k, None)
    pixels = np.stack([corners[:, 0] * columns, rows / 2 - corners[:, 1] * columns], axis=1) / half
    _refuse_crossed(pixels)
    rectangle = np.array([[0.0, 0.0], [size[0], 0.0], list(size), [0.0, size[1]]])
    to_picture = homography(rectangle, pixels)
    low, high = _reach(picture, to_picture, size, half, k)
    mean: Floats = np.array([size[0] / 2, size[1] / 2])
    ahead = through(to_picture, mean + np.array([[size[0] * 1e-4, 0], [0, size[1] * 1e-4]])) - through(to_picture, mean)
    density = np.sqrt(abs(np.linalg.det(ahead)) / (size[0] * size[1] * 1e-8)) * half  # pixels in one unit, at its middle
    span = high - low
    density = min(density, np.sqrt(_MOST_PIXELS / span.prod()), _LONGEST_SIDE / span.max())
    if side is not None:
        density = min(density, side / span.max())
    width, height = (max(int(v), 1) for v in np.ceil(span * density - 1e-9))
    x, y = np.meshgrid(low[0] + (np.arange(width) + 0.5) / density, high[1] - (np.arange(height) + 0.5) / density)
    return _sampled(picture, through(to_picture, np.stack([x, y], axis=-1)), k, (width / density, height / density))


def _refuse_crossed(corners: Floats) -> None:
    a, b = np.roll(corners, -1, axis=0) - corners, np.roll(corners, -2, axis=0) - np.roll(corners, -1, axis=0)
    turn = a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]
    if not ((turn < 0).all()):  # rows run downwards
        raise BadPicture("the four corners are in the wrong order or cross; go round: lower left, lower right, upper right, "
                         "upper left")


def _reach(picture: Picture, to_picture: Floats, size: tuple[float, float], half: float, k: float) -> tuple[Floats, Floats]:
    """Lower left and upper right of what of the plane the picture shows, no further than a few rectangles away."""
    columns, rows = picture.size
    t = np.linspace(-1, 1, 65)
    one = np.ones_like(t)
    sides = ((t, one), (t, -one), (one, t), (-one, t))
    frame: Floats = np.concatenate([np.stack(s, axis=1) for s in sides])
    frame = undistorted(frame * np.array([columns, rows]) / 2 / half, k)
    least = -_ROUND * np.array(size)
    most = (1 + _ROUND) * np.array(size)
    back: Floats = np.linalg.inv(to_picture).astype(np.float64)
    w = frame @ back[2, :2] + back[2, 2]
    middle: Floats = np.array([size[0] / 2, size[1] / 2])
    middle_w = through(to_picture, middle) @ back[2, :2] + back[2, 2]
    ahead = w * middle_w > 1e-9
    if not ahead.any():
        return least, most
    seen = through(back, np.asarray(frame[ahead], np.float64))
    low, high = np.clip(seen.min(axis=0), least, 0.0), np.clip(seen.max(axis=0), np.array(size), most)
    if not ahead.all():  # the horizon is in the picture
        low, high = least, most
    return low, high


def _sampled(picture: Picture, flat: Floats, k: float, real: tuple[float, float] | None) -> Straight:
    """The picture's colours at places (h, w, 2), given about its middle in half diagonals before distortion."""
    strips = [_strip(picture, flat[at:at + _STRIP], k) for at in range(0, len(flat), _STRIP)]
    values = np.concatenate(strips)
    clear = bool((values[..., 3] < 255).any())
    if not clear:
        values = np.ascontiguousarray(values[..., :3])
    image = Image.fromarray(values, "RGBA" if clear else "RGB")
    file = io.BytesIO()
    if image.width * image.height > 4_000_000:
        image.save(file, "WEBP", quality=92, method=1)
    else:
        image.save(file, "PNG", compress_level=4)
    return Straight(file.getvalue(), image.width, image.height, real)


def _strip(picture: Picture, flat: Floats, k: float) -> NDArray[np.uint8]:
    """(h, w, 4) colours and opacity of some rows."""
    columns, rows = picture.size
    at = distorted(flat, k) * (np.hypot(columns, rows) / 2)
    where = np.stack([at[..., 1] + rows / 2 - 0.5, at[..., 0] + columns / 2 - 0.5])
    outside = (where[0] < -0.5) | (where[0] > rows - 0.5) | (where[1] < -0.5) | (where[1] > columns - 0.5)
    layers = [*np.moveaxis(picture.colour, 2, 0)] + ([picture.alpha] if picture.alpha is not None else [])
    out = np.empty((*flat.shape[:2], 4), np.float32)
    out[..., 3] = 1.0
    for i, layer in enumerate(layers):
        scipy.ndimage.map_coordinates(layer, where, output=out[..., i], order=1, mode="nearest")
    out[outside, 3] = 0.0
    colours: NDArray[np.uint8] = np.round(np.clip(out, 0, 1) * 255).astype(np.uint8)
    return colours
