"""The picture that a link to a knife's page unfolds to: its outline, name and main figures."""

from __future__ import annotations

import io
from collections.abc import Sequence

from PIL import Image, ImageDraw, ImageFont

from maple_rook.formats.drawings import Shape
from maple_rook.formats.inks import BLADE, HAIRLINE, HANDLE, INK, PAPER, SOFT
from maple_rook.formats.paper import FONTS, TEXT, TITLE, extent

SIZE = (1200, 630)
_MARGIN, _FINER = 70, 2
PNG_TYPE = "image/png"


def preview(name: str, shop: str, outline: Sequence[Shape], figures: Sequence[str]) -> bytes:
    """A PNG of 1200 x 630; without an outline the figures stand alone."""
    image = Image.new("RGB", (SIZE[0] * _FINER, SIZE[1] * _FINER), PAPER)
    draw = ImageDraw.Draw(image)
    wide = SIZE[0] - 2 * _MARGIN
    _text(draw, _MARGIN, 60, name, TITLE, 58, INK, wide)
    _text(draw, _MARGIN, 140, shop, TEXT, 30, SOFT, wide)
    draw.line([_at(_MARGIN, 196), _at(SIZE[0] - _MARGIN, 196)], fill=HAIRLINE, width=3)
    if outline:
        (left, low), (right, top) = extent(outline)
        scale = min(wide / (right - left), 220 / (top - low))
        for shape in outline:
            corners = [
                _at(_MARGIN + (x - left) * scale, 236 + (top - y) * scale) for x, y in shape.points
            ]
            fill = HANDLE if shape.part == "handle" else BLADE
            draw.polygon(corners, fill=fill, outline=INK, width=4)
    for i, said in enumerate(figures[:4]):
        _text(draw, _MARGIN + i * wide / 4, 520, said, TEXT, 32, INK, wide / 4 - 12)
    held = io.BytesIO()
    image.resize(SIZE, Image.Resampling.LANCZOS).save(held, "PNG", optimize=True)
    return held.getvalue()


def page_preview(title: str, shop: str, summary: str, drawing: bytes | None) -> bytes:
    """The same for a page of several knives, or of words: its title, and its first drawing.

    Parameters
    ----------
    title : of the page.
    shop : whose it is.
    summary : shown where there is no drawing.
    drawing : a PNG on a clear ground.
    """
    image = Image.new("RGB", SIZE, PAPER)
    draw = ImageDraw.Draw(image)
    wide = SIZE[0] - 2 * _MARGIN
    _text(draw, _MARGIN, 60, title, TITLE, 54, INK, wide, finer=1)
    _text(draw, _MARGIN, 140, shop, TEXT, 30, SOFT, wide, finer=1)
    draw.line([(_MARGIN, 196), (SIZE[0] - _MARGIN, 196)], fill=HAIRLINE, width=2)
    if drawing is None:
        _text(draw, _MARGIN, 240, summary, TEXT, 32, INK, wide, finer=1)
    else:
        with Image.open(io.BytesIO(drawing)) as opened:
            picture = opened.convert("RGBA")
        picture.thumbnail((wide, 380))
        image.paste(picture, (_MARGIN, 220), picture)
    held = io.BytesIO()
    image.save(held, "PNG", optimize=True)
    return held.getvalue()


def _at(x: float, y: float) -> tuple[float, float]:
    return x * _FINER, y * _FINER


def _text(
    draw: ImageDraw.ImageDraw,
    x: float,
    y: float,
    text: str,
    font: str,
    size: int,
    ink: str,
    within: float,
    *,
    finer: int = _FINER,
) -> None:
    face = ImageFont.truetype(str(FONTS / f"{font}.ttf"), size * finer)
    text = " ".join(text.split())  # a line that is broken has no length
    while len(text) > 4 and draw.textlength(text, font=face) > within * finer:
        text = text.rstrip("…")[:-1].rstrip() + "…"
    draw.text((x * finer, y * finer), text, fill=ink, font=face)
