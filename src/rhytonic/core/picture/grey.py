"""Pictures as greys: with all their depth, for heights."""

from __future__ import annotations

import numpy as np
from PIL import ImageOps

from .decode import Raster, opened

_DEEP = ("I;16", "I;16B", "I;16L", "I;16N", "I")


def grey_of(data: bytes) -> Raster:
    """(h, w) float32 0 … 1 of a picture, first row above: of sixteen bits all of them; of colours their luma (ITU-R BT.601),
    over black where it is transparent.

    Raises:
        BadPicture: it cannot be taken.
    """
    with opened(data) as image:
        if image.mode in _DEEP:
            return (np.clip(np.asarray(image.convert("I"), np.int64), 0, 65535) / 65535.0).astype(np.float32)
        plain = ImageOps.exif_transpose(image).convert("RGBA")
        values = np.asarray(plain, np.float32) / 255
        out: Raster = ((values[..., :3] @ np.array([0.299, 0.587, 0.114], np.float32)) * values[..., 3]).astype(np.float32)
        return out
