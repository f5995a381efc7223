"""Opening a photo from anywhere: held to limits, freed of what it tells about people and places.

What is kept is the file as it came, less every note but the few that measuring needs: how the
picture is turned and what lens took it. Of JPEG, PNG and WebP not a pixel changes; HEIC, which few
browsers show, is kept as a JPEG of quality 95.
"""

from __future__ import annotations

import io
import struct
import warnings
import zlib
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
import pillow_heif
from PIL import Image, ImageOps
from PIL.Image import DecompressionBombError, DecompressionBombWarning

from maple_rook.core.errors import InvalidValue
from maple_rook.photo.camera import FULL_FRAME_MM
from maple_rook.photo.markers import Grey

MOST_BYTES = 25_000_000
MOST_PIXELS, MOST_DECODED = 60_000_000, 240_000_000
LEAST_SIDE_PX = 600
TYPES = {"JPEG": "image/jpeg", "PNG": "image/png", "WEBP": "image/webp", "HEIF": "image/heic"}
_TURNED, _NOTES, _FOCAL_35MM = 0x0112, 0x8769, 0xA405
_KEPT_QUALITY = 95
pillow_heif.register_heif_opener()


@dataclass(frozen=True)
class Picture:
    """A photo upright: its brightness and colours, and the lens's focal length if it tells."""

    colours: np.ndarray[tuple[int, int, int], np.dtype[np.uint8]]
    focal_px: float | None

    @property
    def size(self) -> tuple[int, int]:
        """Width and height, px."""
        return self.colours.shape[1], self.colours.shape[0]

    @property
    def grey(self) -> Grey:
        """Brightness by the middle colour, the sharpest of a sensor's three."""
        return np.ascontiguousarray(self.colours[..., 1])


@dataclass(frozen=True)
class Original:
    """A photo as it is kept."""

    media_type: str
    content: bytes
    width_px: int
    height_px: int


def _not_a_photo(content: bytes, why: str = "") -> InvalidValue:
    return InvalidValue(
        "photo", why or f"{len(content)} bytes", "a JPEG, PNG, WebP or HEIC picture"
    )


def _opened(content: bytes) -> Image.Image:
    """The picture, not yet decoded, within the limits."""
    if len(content) > MOST_BYTES:
        raise InvalidValue(
            "photo", f"{len(content) / 1e6:.1f} MB", f"at most {MOST_BYTES / 1e6:g} MB"
        )
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore", DecompressionBombWarning)
            picture = Image.open(io.BytesIO(content), formats=list(TYPES))
    except DecompressionBombError:
        raise _too_large("more than 170 megapixels") from None
    except (OSError, ValueError, SyntaxError, EOFError, RuntimeError):
        raise _not_a_photo(content) from None
    width, height = picture.size
    if width * height > MOST_PIXELS or width * height * _pixel_bytes(picture) > MOST_DECODED:
        raise _too_large(f"{width} x {height} px of {_pixel_bytes(picture)} bytes")
    if min(width, height) < LEAST_SIDE_PX:
        raise InvalidValue(
            "photo", f"{width} x {height} px", f"at least {LEAST_SIDE_PX} px each way"
        )
    return picture


def _pixel_bytes(picture: Image.Image) -> int:
    """What a decoded pixel takes: a byte a colour, more where it is not of 8 bits."""
    wide = 2 if ";16" in picture.mode else 4 if picture.mode in ("I", "F") else 1
    return wide * len(picture.getbands())


def _too_large(size: str) -> InvalidValue:
    return InvalidValue("photo", size, f"at most {MOST_PIXELS / 1e6:g} megapixels")


def _decoded(picture: Image.Image, content: bytes) -> Image.Image:
    try:
        picture.load()
    except (OSError, ValueError, SyntaxError, EOFError, RuntimeError, MemoryError):
        raise _not_a_photo(content, "a damaged or unfinished file") from None
    return picture


def original(content: bytes) -> Original:
    """A photo as it will be kept, decoded once to be sure that it can be."""
    picture = _decoded(_opened(content), content)
    notes = _few_notes(picture)
    turned = notes.get(_TURNED, 1) in (5, 6, 7, 8)
    width, height = picture.size[::-1] if turned else picture.size
    kind = picture.format or ""
    if kind == "HEIF":
        held = io.BytesIO()
        upright = ImageOps.exif_transpose(picture).convert("RGB")
        notes[_TURNED] = 1
        upright.save(held, "JPEG", quality=_KEPT_QUALITY, exif=notes)
        return Original("image/jpeg", held.getvalue(), *upright.size)
    cleaned = {"JPEG": _jpeg, "PNG": _png, "WEBP": _webp}[kind](content, notes.tobytes())
    return Original(TYPES[kind], cleaned, width, height)


def picture(content: bytes) -> Picture:
    """A kept photo, decoded and upright."""
    found = _decoded(_opened(content), content)
    told = _few_notes(found).get_ifd(_NOTES).get(_FOCAL_35MM)
    upright = ImageOps.exif_transpose(found).convert("RGB")
    focal = float(told) / FULL_FRAME_MM * max(upright.size) if told else None
    return Picture(np.asarray(upright), focal)


def _few_notes(picture: Image.Image) -> Image.Exif:
    """Of all EXIF notes those that measuring needs; a damaged block counts as none."""
    kept = Image.Exif()
    try:
        notes = picture.getexif()
        turned = notes.get(_TURNED)
        focal = notes.get_ifd(_NOTES).get(_FOCAL_35MM)
    except Exception:  # whatever a damaged block of notes makes the reader raise
        return kept
    if turned in range(1, 9):
        kept[_TURNED] = turned
    if isinstance(focal, int) and 8 <= focal <= 400:
        kept.get_ifd(_NOTES)[_FOCAL_35MM] = focal
    return kept


def _jpeg(content: bytes, notes: bytes) -> bytes:
    """The file without application segments and comments but JFIF, Adobe's and our notes."""
    parts = [content[:2], _segment(0xE1, notes)]
    at = 2
    while at + 4 <= len(content) and content[at] == 0xFF:
        marker = content[at + 1]
        if marker == 0xFF:
            at += 1
            continue
        if marker == 0xDA:
            break
        length = struct.unpack(">H", content[at + 2 : at + 4])[0]
        if marker in (0xE0, 0xEE) or not (0xE0 <= marker <= 0xEF or marker == 0xFE):
            parts.append(content[at : at + 2 + length])
        at += 2 + length
    end = content.rfind(b"\xff\xd9")
    return b"".join([*parts, content[at : end + 2 if end > at else len(content)]])


def _segment(marker: int, body: bytes) -> bytes:
    return struct.pack(">BBH", 0xFF, marker, len(body) + 2) + body


def _png(content: bytes, notes: bytes) -> bytes:
    from_tiff = notes.removeprefix(b"Exif\x00\x00")
    parts = [content[:8]]
    for kind, chunk in _png_chunks(content):
        if kind in {b"IHDR", b"PLTE", b"IDAT", b"IEND", b"tRNS", b"gAMA", b"cHRM", b"sRGB"}:
            parts.append(chunk)
        if kind == b"IHDR":
            body = b"eXIf" + from_tiff
            parts.append(struct.pack(">I", len(from_tiff)) + body + _crc(body))
    return b"".join(parts)


def _crc(body: bytes) -> bytes:
    return struct.pack(">I", zlib.crc32(body))


def _png_chunks(content: bytes) -> Iterator[tuple[bytes, bytes]]:
    at = 8
    while at + 12 <= len(content):
        length = struct.unpack(">I", content[at : at + 4])[0]
        yield content[at + 4 : at + 8], content[at : at + 12 + length]
        at += 12 + length


def _webp(content: bytes, notes: bytes) -> bytes:
    """The file with only its picture's chunks; notes need the extended form, so they are dropped
    from plain files, whose pixels then stand as they are.
    """
    chunks, at = [], 12
    while at + 8 <= len(content):
        kind, length = content[at : at + 4], struct.unpack("<I", content[at + 4 : at + 8])[0]
        body = content[at + 8 : at + 8 + length]
        if kind == b"VP8X":
            body = bytes([body[0] & ~0x0C | 0x08]) + body[1:]
        if kind in {b"VP8X", b"VP8 ", b"VP8L", b"ALPH"}:
            chunks.append((kind, body))
        at += 8 + length + length % 2
    if chunks and chunks[0][0] == b"VP8X":
        chunks.append((b"EXIF", notes.removeprefix(b"Exif\x00\x00")))
    packed = b"".join(k + struct.pack("<I", len(b)) + b + b"\0" * (len(b) % 2) for k, b in chunks)
    return b"RIFF" + struct.pack("<I", len(packed) + 4) + b"WEBP" + packed
