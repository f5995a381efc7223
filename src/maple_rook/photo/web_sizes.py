"""A photograph in the sizes that pages show it in: cropped, upright, as WebP and as JPEG."""

from __future__ import annotations

import hashlib
import io
from collections.abc import Sequence

from PIL import Image, ImageOps

from maple_rook.core.errors import InvalidValue
from maple_rook.photo.picture import Original, original

WIDTHS_PX = (480, 960, 1600)
FORMATS = {"webp": "image/webp", "jpeg": "image/jpeg"}
LEAST_SHARE = 0.1
_QUALITY = {"webp": 80, "jpeg": 84}
Crop = Sequence[float]


def checked(crop: Crop | None) -> list[float] | None:
    """A crop as left, top, width and height, shares of the picture; all of it is no crop.

    >>> checked([0, 0, 1, 1]), checked([0.1, 0, 0.8, 1])
    (None, [0.1, 0.0, 0.8, 1.0])
    """
    if crop is None:
        return None
    left, top, width, height = (round(float(share), 4) for share in crop)
    inside = min(left, top) >= 0 and left + width <= 1.0001 and top + height <= 1.0001
    if not inside or min(width, height) < LEAST_SHARE:
        accepted = "left, top, width and height within the picture, each side a tenth at least"
        raise InvalidValue("crop", f"{list(crop)}", accepted)
    return None if (width, height) == (1.0, 1.0) else [left, top, width, height]


def size_of(width_px: int, height_px: int, crop: Crop | None) -> tuple[int, int]:
    """Width and height of what a crop leaves, px.

    >>> size_of(4000, 3000, [0.25, 0.0, 0.5, 1.0])
    (2000, 3000)
    """
    if crop is None:
        return width_px, height_px
    return max(1, round(width_px * crop[2])), max(1, round(height_px * crop[3]))


def version_of(content_digest: str, crop: Crop | None) -> str:
    """A name that another picture, or another crop of it, does not have.

    >>> version_of("ab", None) == version_of("ab", [0.1, 0, 0.8, 1])
    False
    """
    return hashlib.sha256(f"{content_digest} {crop}".encode()).hexdigest()[:16]


def kept(content: bytes) -> Original:
    """A photograph as it is kept, freed of its notes; refused where it is none."""
    return original(content)


def web_size(content: bytes, crop: Crop | None, width_px: int, file_format: str) -> bytes:
    """The kept photograph at a width, never larger than it is."""
    with Image.open(io.BytesIO(content)) as opened:
        opened.draft("RGB", (2 * width_px, 2 * width_px))
        picture = ImageOps.exif_transpose(opened).convert("RGB")
    if crop is not None:
        left, top, width, height = crop
        right, bottom = left + width, top + height
        wide, tall = picture.size
        picture = picture.crop(
            (round(left * wide), round(top * tall), round(right * wide), round(bottom * tall))
        )
    if picture.width > width_px:
        height_px = max(1, round(picture.height * width_px / picture.width))
        picture = picture.resize((width_px, height_px), Image.Resampling.LANCZOS)
    held = io.BytesIO()
    picture.save(held, file_format.upper(), quality=_QUALITY[file_format])
    return held.getvalue()
