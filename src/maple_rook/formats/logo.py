"""A shop's logo: any usual picture, kept as a PNG of modest size."""

from __future__ import annotations

import io

from PIL import Image, UnidentifiedImageError
from PIL.Image import DecompressionBombError

from maple_rook.core.errors import InvalidValue

MOST_BYTES = 2_000_000
_LONGEST_PX, _MOST_PIXELS = 800, 16_000_000
_ACCEPTED = "a PNG, JPEG or WebP picture of at most 16 megapixels"
_TYPES = ("PNG", "JPEG", "WEBP")


def logo_png(content: bytes) -> bytes:
    """The picture as a PNG of at most 800 px a side, without what it tells of its origin.

    Raises :class:`InvalidValue` for anything else than a picture of usual size.
    """
    if not content or len(content) > MOST_BYTES:
        accepted = f"a picture of at most {MOST_BYTES / 1e6:.0f} MB"
        raise InvalidValue("logo", f"{len(content) / 1e6:.1f} MB", accepted)
    try:
        with Image.open(io.BytesIO(content), formats=_TYPES) as picture:
            if picture.width * picture.height > _MOST_PIXELS:
                raise InvalidValue("logo", f"{picture.width} x {picture.height} px", _ACCEPTED)
            picture.thumbnail((_LONGEST_PX, _LONGEST_PX))
            held = io.BytesIO()
            picture.convert("RGBA").save(held, "PNG", optimize=True)
            return held.getvalue()
    except (UnidentifiedImageError, DecompressionBombError, OSError, ValueError):
        raise InvalidValue("logo", "a file that is no picture", _ACCEPTED) from None
