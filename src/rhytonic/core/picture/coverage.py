"""How much of each pixel is covered by what a picture shows: from its transparency, or by its background's colour."""

from __future__ import annotations

import numpy as np
import scipy
from numpy.typing import NDArray

from ..brief.tracing import Tracing
from .decode import Picture, Raster

Mask = NDArray[np.bool_]

#: a picture with less clear area than this share has no transparency worth the name
_CLEAR = 0.002
#: specks and pinholes smaller than this share of what is shown are dropped
_SPECK = 0.001
#: what is nowhere thicker than this share of the picture is a line drawing
_LINE = 0.02
#: corners of so small a share of the picture are looked at for its background, and agree when they differ by less than this
_CORNER, _AGREE = 40, 0.08
#: what differs from the background by less is it
_SAME = 0.012
_SQUARE = np.ones((3, 3), bool)


def coverage(picture: Picture, tracing: Tracing, whole: tuple[float, float, float, float] = (0, 0, 1, 1),
             opaque: bool = False) -> Raster:
    """(h, w) share of each pixel that is covered, 0 … 1.

    Args:
        whole: left, lower, right and upper share of the picture that is looked at.
        opaque: read transparency as background, as where a straightened picture has no pixels.
    """
    by_alpha = tracing.by == "transparency" or (tracing.by == "auto" and not opaque and _is_clear(picture.alpha))
    if by_alpha and picture.alpha is not None:
        soft, mask = picture.alpha, picture.alpha > 0.5
    else:
        soft, mask = _by_colour(picture, tracing)
    frame = _frame(mask.shape, whole)
    mask = cleaned(mask & frame, tracing)
    near = scipy.ndimage.binary_dilation(mask, _SQUARE)
    # inside, all is covered; outside, nothing; at the rim, as much as the picture says
    inner = scipy.ndimage.binary_erosion(mask, _SQUARE, border_value=1)
    out = np.where(inner, np.float32(1), np.where(mask, soft, np.minimum(soft, 0.4999)))
    return np.where(near & frame, out, 0).astype(np.float32)


def background_of(picture: Picture) -> NDArray[np.float32]:
    """(3,) colour of the picture's upper corners where they agree, else the middle colour of its rim.

    Things stand on the lower edge of their pictures, and closely cropped ones touch both sides: the upper corners are the
    likeliest to be empty.
    """
    c = picture.colour
    if picture.alpha is None:
        size = max(min(c.shape[:2]) // _CORNER, 1)
        corners = [c[:size, :size].reshape(-1, 3), c[:size, -size:].reshape(-1, 3)]
        middles = [np.median(k, axis=0) for k in corners]
        plain = max(float(np.abs(k - m).max()) for k, m in zip(corners, middles, strict=True)) < _AGREE
        if plain and float(np.abs(middles[0] - middles[1]).max()) < _AGREE:
            ground: NDArray[np.float32] = ((middles[0] + middles[1]) / 2).astype(np.float32)
            return ground
    rim = np.concatenate([c[0], c[-1], c[:, 0], c[:, -1]])
    if picture.alpha is not None:
        a = picture.alpha
        seen = np.concatenate([a[0], a[-1], a[:, 0], a[:, -1]]) > 0.5
        rim = rim[seen] if seen.any() else c[a > 0.5] if (a > 0.5).any() else rim
    out: NDArray[np.float32] = np.median(rim, axis=0).astype(np.float32)
    return out


def _is_clear(alpha: Raster | None) -> bool:
    return alpha is not None and float((alpha < 0.5).mean()) > _CLEAR


def _by_colour(picture: Picture, tracing: Tracing) -> tuple[Raster, Mask]:
    """Share covered and what stands out, by the largest difference in any channel from the background.

    A pixel on the rim is covered by as much as its difference is of the strongest beside it: half-covered pixels put the
    outline between pixels.
    """
    ground: NDArray[np.float32]
    if tracing.background is None:
        ground = background_of(picture)
    else:
        ground = np.array([int(tracing.background[i:i + 2], 16) / 255 for i in (1, 3, 5)], np.float32)
    off = np.abs(picture.colour - ground).max(axis=2)
    if picture.alpha is not None:
        off = off * picture.alpha
    mask = off > tracing.threshold
    if tracing.holes == "auto":
        mask |= _pale(off, mask)
    strongest = scipy.ndimage.maximum_filter(off, size=3)
    return off / np.maximum(strongest, 1e-6), mask


def _pale(off: Raster, mask: Mask) -> Mask:
    """Bodies hardly darker than the background, with a line round them: what is shut in and yet no background.

    A hole shows the background itself, as even as that is outside; a pale body is another colour throughout.
    """
    parts, count = scipy.ndimage.label(~mask)
    if count < 2:
        return np.zeros_like(mask)
    outside = np.zeros(count + 1, bool)
    outside[np.concatenate([parts[0], parts[-1], parts[:, 0], parts[:, -1]])] = True
    outside[0] = True
    ground = off[outside[parts] & ~mask]
    if outside[1:].all() or not ground.size:
        return np.zeros_like(mask)
    even = max(_SAME, 2 * float(np.percentile(ground, 95)))
    inside = np.flatnonzero(~outside)
    pale = np.zeros(count + 1, bool)
    pale[inside] = np.asarray(scipy.ndimage.median(off, parts, inside)) > even
    out: Mask = pale[parts]
    return out


def cleaned(mask: Mask, tracing: Tracing) -> Mask:
    """Without specks, and without lines that stick out; holes filled in line drawings."""
    fill = tracing.holes == "fill" or (tracing.holes == "auto" and _is_lines(mask))
    if fill:
        mask = scipy.ndimage.binary_fill_holes(mask)
    if tracing.clean and mask.any():
        mask = _without_whiskers(mask, tracing.clean)
        least = max(_SPECK * mask.sum(), (2 * tracing.clean) ** 2)
        mask = _without_specks(mask, least)
        mask = ~_without_specks(~mask, least)
    return mask


def _frame(shape: tuple[int, ...], whole: tuple[float, float, float, float]) -> Mask:
    """Pixels within a crop."""
    rows, columns = shape
    left, lower, right, upper = whole
    y, x = 1 - (np.arange(rows) + 0.5) / rows, (np.arange(columns) + 0.5) / columns
    return ((y > lower) & (y < upper))[:, None] & ((x > left) & (x < right))[None]


def _is_lines(mask: Mask) -> bool:
    if not mask.any():
        return False
    thick = scipy.ndimage.distance_transform_cdt(np.pad(mask, 1), "chessboard").max()
    return bool(2 * thick < _LINE * max(mask.shape))


def _without_whiskers(mask: Mask, width: int) -> Mask:
    """What is thinner than twice ``width`` goes where it reaches further than corners do."""
    room = 2 * width + 1
    around = np.pad(mask, room, mode="edge")  # what runs out of the picture is as thick as it shows
    opened = scipy.ndimage.binary_opening(around, _SQUARE, iterations=width)[room:-room, room:-room] & mask
    if not opened.any():
        return mask
    thin, count = scipy.ndimage.label(mask & ~opened, _SQUARE)
    if not count:
        return mask
    reach = scipy.ndimage.maximum(scipy.ndimage.distance_transform_cdt(~opened, "chessboard"), thin, np.arange(1, count + 1))
    kept = np.concatenate([[True], np.asarray(reach) <= 3 * width])
    out: Mask = mask & kept[thin]
    return out


def _without_specks(mask: Mask, least: float) -> Mask:
    parts, count = scipy.ndimage.label(mask, _SQUARE)
    if count < 2:
        return mask
    size = np.bincount(parts.ravel())
    kept = size >= least
    kept[0] = False
    if not kept.any():
        kept[1 + int(size[1:].argmax())] = True
    out: Mask = kept[parts]
    return out
