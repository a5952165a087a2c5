"""Pictures from outside: judged by their header before they are decoded, turned as their EXIF says, and never evaluated."""

from __future__ import annotations

import io
import warnings
import zlib
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageOps, UnidentifiedImageError

from ..errors import RhytonicError

LARGEST_BYTES = 20 * 1024 * 1024
MOST_PIXELS = 40_000_000
#: pixels along either side
LONGEST_SIDE = 20_000
FORMATS = {"PNG": "image/png", "JPEG": "image/jpeg", "WEBP": "image/webp"}
KINDS = "PNG, JPEG or WebP"

_ORIENTATION = 0x0112

Raster = NDArray[np.float32]


class BadPicture(RhytonicError):
    """A picture that cannot be taken."""

    code = "bad_picture"


@dataclass(frozen=True)
class About:
    """What a picture is: its media type, and its size in pixels as it is seen."""

    media_type: str
    width: int
    height: int


@dataclass(frozen=True)
class Picture:
    """A decoded picture as it is seen, its first row at the top.

    Attributes:
        colour: (h, w, 3) float32, 0 … 1.
        alpha: (h, w) float32, 0 … 1, None where the picture has no transparency.
    """

    colour: Raster
    alpha: Raster | None

    @property
    def size(self) -> tuple[int, int]:
        """Width and height."""
        return self.colour.shape[1], self.colour.shape[0]

    @property
    def size_in_bytes(self) -> int:
        """Bytes of its numbers."""
        return self.colour.nbytes + (self.alpha.nbytes if self.alpha is not None else 0)


def look_at(data: bytes) -> About:
    """What a picture is, from its header and then a trial decode.

    Raises:
        BadPicture: too large, no picture, of another kind, animated, or damaged.
    """
    _refuse_cut_short(data)
    with opened(data) as image:
        image.load()
        width, height = _seen_size(image)
        return About(FORMATS[image.format or ""], width, height)


def _refuse_cut_short(data: bytes) -> None:
    """Raises BadPicture for a PNG whose chunks do not end as they should: decoders fill in what is missing.

    PNG specification, 3rd ed., W3C 2025, sections 5.3 and 5.6: every chunk has its length before it and a check after it,
    and the last is IEND.
    """
    if not data.startswith(b"\x89PNG\r\n\x1a\n"):
        return
    at, kind = 8, b""
    while kind != b"IEND":
        length = int.from_bytes(data[at:at + 4], "big")
        kind, body = data[at + 4:at + 8], data[at + 8:at + 8 + length]
        if len(kind) < 4 or data[at + 8 + length:at + 12 + length] != zlib.crc32(kind + body).to_bytes(4, "big"):
            raise BadPicture(f"the picture is damaged or cut short; save it again as {KINDS}")
        at += 12 + length


def decode(data: bytes, side: int | None = None) -> Picture:
    """A picture as numbers, by averaging brought below ``side`` pixels a side if asked. Raises BadPicture."""
    with opened(data) as found:
        if side is not None and found.format == "JPEG":
            found.draft(None, (side, side))  # the decoder itself can leave out what is not asked for
        image = _plain(ImageOps.exif_transpose(found))
    if side is not None and max(image.size) > side:
        image = image.reduce(-(-max(image.size) // side))
    values: Raster = (np.asarray(image) / 255).astype(np.float32)
    if image.mode == "RGBA":
        return Picture(np.ascontiguousarray(values[..., :3]), np.ascontiguousarray(values[..., 3]))
    return Picture(values, None)


def _plain(image: Image.Image) -> Image.Image:
    """Any picture as 8-bit RGB, or RGBA where it has transparency. Sixteen bits are rounded to eight."""
    if image.mode in ("I;16", "I;16B", "I;16L", "I;16N", "I"):
        deep = np.asarray(image.convert("I"), np.int64)
        return Image.fromarray(np.clip((deep + 128) // 257, 0, 255).astype(np.uint8), "L").convert("RGB")
    if image.mode == "F":
        raise BadPicture(f"pictures of floating point numbers are not taken; save it as {KINDS}")
    clear = image.mode in ("RGBA", "LA", "PA", "La", "RGBa") or "transparency" in image.info
    return image.convert("RGBA" if clear else "RGB")


def _seen_size(image: Image.Image) -> tuple[int, int]:
    turned = image.getexif().get(_ORIENTATION, 1) in (5, 6, 7, 8)
    return (image.size[1], image.size[0]) if turned else image.size


@contextmanager
def opened(data: bytes) -> Iterator[Image.Image]:
    if len(data) > LARGEST_BYTES:
        raise BadPicture(f"the picture has {len(data) / 2**20:.1f} MB; at most {LARGEST_BYTES // 2**20} MB are taken")
    with warnings.catch_warnings():
        warnings.simplefilter("error", Image.DecompressionBombWarning)
        try:
            with Image.open(io.BytesIO(data), formats=list(FORMATS)) as image:
                width, height = image.size
                if width * height > MOST_PIXELS:
                    raise BadPicture(f"the picture has {width * height / 1e6:.1f} megapixels; "
                                     f"at most {MOST_PIXELS // 10**6} are taken")
                if max(width, height) > LONGEST_SIDE:
                    raise BadPicture(f"the picture is {max(width, height)} pixels long; at most {LONGEST_SIDE} are taken "
                                     "along either side")
                frames = getattr(image, "n_frames", 1)
                if frames > 1:
                    raise BadPicture(f"the picture is animated ({frames} frames); save one of them as {KINDS}")
                yield image
        except (Image.DecompressionBombError, Image.DecompressionBombWarning):
            raise BadPicture(f"the picture has too many pixels; at most {MOST_PIXELS // 10**6} megapixels are taken"
                             ) from None
        except (UnidentifiedImageError, KeyError):
            raise BadPicture(f"this is not a picture; give a {KINDS} file") from None
        except (OSError, ValueError, SyntaxError, EOFError) as error:
            raise BadPicture(f"the picture is damaged ({error}); save it again as {KINDS}") from None
