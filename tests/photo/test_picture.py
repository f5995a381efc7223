"""Photos from anywhere: opened within limits, and kept without what they tell about people."""

from __future__ import annotations

import io
import struct
import zlib

import numpy as np
import pytest
from PIL import Image

from maple_rook.core.errors import InvalidValue
from maple_rook.photo.picture import MOST_BYTES, original, picture

ALONG = np.linspace(0, 255, 900).astype(np.uint8)
SEEN = np.stack(
    [np.tile(ALONG, (700, 1)), np.tile(ALONG[::-1], (700, 1)), np.full((700, 900), 60, np.uint8)],
    axis=-1,
)


def noted() -> Image.Exif:
    """What a phone writes: place, owner, serial number, and what is worth keeping."""
    notes = Image.Exif()
    notes[0x0112], notes[0x010F], notes[0x013B] = 6, "Somebody's phone", "Somebody by name"
    place = notes.get_ifd(0x8825)
    place[1], place[2] = "N", (54.0, 30.0, 12.5)
    lens = notes.get_ifd(0x8769)
    lens[0xA405], lens[0xA431] = 26, "SERIAL-123"
    return notes


def saved(kind: str, **more: object) -> bytes:
    held = io.BytesIO()
    Image.fromarray(SEEN).save(held, kind, exif=noted(), **more)  # type: ignore[arg-type]
    return held.getvalue()


@pytest.mark.parametrize(
    ("kind", "media_type"),
    [("JPEG", "image/jpeg"), ("PNG", "image/png"), ("WEBP", "image/webp"), ("HEIF", "image/jpeg")],
)
def test_a_photo_keeps_how_it_is_turned_and_its_lens_and_nothing_else(
    kind: str, media_type: str
) -> None:
    given = saved(kind)
    assert b"Somebody" in given
    kept = original(given)
    turned = kind != "HEIF"  # which says in its own way how it is turned
    upright = (700, 900) if turned else (900, 700)
    assert (kept.media_type, kept.width_px, kept.height_px) == (media_type, *upright)
    for told in (b"Somebody", b"SERIAL", b"phone"):
        assert told not in kept.content
    with Image.open(io.BytesIO(kept.content)) as again:
        assert not again.getexif().get_ifd(0x8825)
    seen = picture(kept.content)
    assert seen.size == upright
    assert seen.focal_px == pytest.approx(26 / 36 * 900)


@pytest.mark.parametrize("kind", ["JPEG", "PNG", "WEBP"])
def test_not_a_pixel_changes(kind: str) -> None:
    given = saved(kind, **({"comment": b"Somebody"} if kind == "JPEG" else {}))
    kept = original(given).content
    assert b"Somebody" not in kept
    with Image.open(io.BytesIO(given)) as before, Image.open(io.BytesIO(kept)) as after:
        assert np.array_equal(np.asarray(before), np.asarray(after))
    assert original(kept).content == kept


def test_notes_in_other_places_are_dropped_too() -> None:
    """XMP and IPTC segments of a JPEG, text chunks of a PNG."""
    jpeg = saved("JPEG")
    for marker, body in (
        (0xE1, b"http://ns.adobe.com/xap/1.0/\x00Somebody"),
        (0xED, b"Somebody"),
        (0xFE, b"Somebody"),
    ):
        jpeg = jpeg[:2] + struct.pack(">BBH", 0xFF, marker, len(body) + 2) + body + jpeg[2:]
    assert b"Somebody" not in original(jpeg).content
    text = b"tEXtAuthor\x00Somebody"
    png = saved("PNG")
    chunk = struct.pack(">I", len(text) - 4) + text + struct.pack(">I", zlib.crc32(text))
    assert b"Somebody" not in original(png[:33] + chunk + png[33:]).content


@pytest.mark.parametrize(
    ("given", "said"),
    [
        (b"", "JPEG, PNG, WebP or HEIC"),
        (b"%PDF-1.7", "JPEG, PNG, WebP or HEIC"),
        (b"GIF89a" + bytes(40), "JPEG, PNG, WebP or HEIC"),
        (b"\xff\xd8\xff\xe0" + bytes(5000), "JPEG, PNG, WebP or HEIC"),
        (b"\xff\xd8\xff" + bytes(MOST_BYTES), "at most 25 MB"),
    ],
    ids=["nothing", "PDF", "GIF", "broken JPEG", "too large"],
)
def test_what_is_no_photo_is_refused_with_words(given: bytes, said: str) -> None:
    with pytest.raises(InvalidValue, match=said):
        original(given)


def test_unfinished_small_and_monstrous_photos() -> None:
    for kind in ("JPEG", "PNG", "WEBP", "HEIF"):
        given = saved(kind)
        with pytest.raises(InvalidValue):
            original(given[: len(given) // 2])
    small = io.BytesIO()
    Image.new("RGB", (500, 500)).save(small, "PNG")
    with pytest.raises(InvalidValue, match="at least 600 px"):
        original(small.getvalue())
    for side in (9_000, 30_000):  # a few kB that would unfold to gigabytes
        header = b"IHDR" + struct.pack(">IIBBBBB", side, side, 8, 2, 0, 0, 0)
        bomb = (
            b"\x89PNG\r\n\x1a\n"
            + struct.pack(">I", 13)
            + header
            + struct.pack(">I", zlib.crc32(header))
        )
        with pytest.raises(InvalidValue, match=r"megapixels|JPEG"):
            original(bomb)


def test_a_damaged_block_of_notes_is_no_reason_to_refuse() -> None:
    plain = io.BytesIO()
    Image.fromarray(SEEN).save(plain, "JPEG")
    body = b"Exif\x00\x00II*\x00\xff\xff\xff\x7f" + bytes(20)
    jpeg = plain.getvalue()
    jpeg = jpeg[:2] + struct.pack(">BBH", 0xFF, 0xE1, len(body) + 2) + body + jpeg[2:]
    kept = original(jpeg)
    assert (kept.width_px, kept.height_px) == (900, 700)
    assert picture(kept.content).focal_px is None
