"""Drawings and charts of a page as PNG, at a width and in a scheme."""

from __future__ import annotations

import io
import re

import resvg_py
from PIL import Image

from maple_rook.core.errors import InvalidValue
from maple_rook.formats.inks import DARK
from maple_rook.formats.paper import FONTS, STRONG, TEXT

PNG_TYPE, SVG_TYPE = "image/png", "image/svg+xml"
NARROWEST_PX, WIDEST_PX = 160, 3200
SCHEMES = ("maple", "rook")
_DPI = 96.0
_FACES = [str(FONTS / f"{name}.ttf") for name in (TEXT, STRONG)]


def in_scheme(svg: str, scheme: str) -> str:
    """A drawing of our own in the light scheme, as it is made, or in the dark one."""
    if scheme == SCHEMES[0]:
        return svg
    return re.sub(r"#[0-9a-fA-F]{6}", lambda hue: DARK.get(hue[0].lower(), hue[0]), svg)


def as_png(svg: str, width_px: int, scheme: str = SCHEMES[0]) -> bytes:
    """A drawing of our own as a PNG.

    Raises
    ------
    InvalidValue
        For a width out of 160 to 3,200 pixels.
    """
    if not NARROWEST_PX <= width_px <= WIDEST_PX:
        accepted = f"{NARROWEST_PX} to {WIDEST_PX} pixels"
        raise InvalidValue("width", str(width_px), accepted)
    return bytes(
        resvg_py.svg_to_bytes(
            svg_string=in_scheme(svg, scheme),
            width=width_px,
            dpi=_DPI,
            font_files=_FACES,
            font_family=TEXT,
            sans_serif_family=TEXT,
            skip_system_fonts=True,
        )
    )


def on_white(png: bytes) -> bytes:
    """A picture without transparency, which files for printing take long over."""
    with Image.open(io.BytesIO(png)) as opened:
        picture = opened.convert("RGBA")
    ground = Image.new("RGB", picture.size, "white")
    ground.paste(picture, mask=picture)
    held = io.BytesIO()
    ground.save(held, "PNG")
    return held.getvalue()
