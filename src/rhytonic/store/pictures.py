"""Reference pictures: judged before they are decoded, kept by the SHA-256 of their bytes."""

from __future__ import annotations

import hashlib
import io
import warnings

from PIL import Image, UnidentifiedImageError
from sqlalchemy import select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session, undefer

from ..core.errors import RhytonicError
from .errors import NotThere
from .models import PictureRow

LARGEST_BYTES = 20 * 1024 * 1024
MOST_PIXELS = 40_000_000
FORMATS = {"PNG": "image/png", "JPEG": "image/jpeg", "WEBP": "image/webp"}


class BadPicture(RhytonicError):
    code = "bad_picture"


def judge(data: bytes) -> tuple[str, int, int]:
    """Media type, width and height of a picture, from its header and then a trial decode.

    Raises:
        BadPicture: too large, no picture, of another kind, or damaged.
    """
    if len(data) > LARGEST_BYTES:
        raise BadPicture(f"the picture has {len(data) / 2**20:.1f} MB; at most {LARGEST_BYTES // 2**20} MB are taken")
    kinds = "PNG, JPEG or WebP"
    with warnings.catch_warnings():
        warnings.simplefilter("error", Image.DecompressionBombWarning)
        try:
            with Image.open(io.BytesIO(data), formats=list(FORMATS)) as image:
                width, height = image.size
                if width * height > MOST_PIXELS:
                    raise BadPicture(f"the picture has {width * height / 1e6:.1f} megapixels; "
                                     f"at most {MOST_PIXELS // 10**6} are taken")
                media = FORMATS[image.format or ""]
                image.load()
        except (Image.DecompressionBombError, Image.DecompressionBombWarning):
            raise BadPicture(f"the picture has too many pixels; at most {MOST_PIXELS // 10**6} megapixels are taken"
                             ) from None
        except (UnidentifiedImageError, KeyError):
            raise BadPicture(f"this is not a picture; give a {kinds} file") from None
        except (OSError, ValueError, SyntaxError, EOFError) as error:
            raise BadPicture(f"the picture is damaged ({error}); save it again as {kinds}") from None
    return media, width, height


def store(session: Session, data: bytes) -> PictureRow:
    """Keep a picture; the same bytes are kept once. Raises BadPicture."""
    media, width, height = judge(data)
    digest = hashlib.sha256(data).hexdigest()
    session.execute(insert(PictureRow).values(sha256=digest, media_type=media, width=width, height=height, data=data)
                    .on_conflict_do_nothing())
    return get(session, digest)


def get(session: Session, sha256: str, with_data: bool = False) -> PictureRow:
    """Raises NotThere."""
    query = select(PictureRow).where(PictureRow.sha256 == sha256)
    if with_data:
        query = query.options(undefer(PictureRow.data))
    row = session.scalars(query).one_or_none()
    if row is None:
        raise NotThere("there is no such picture")
    return row
