"""Drawing on PDF pages: embedded fonts, millimetres, knives at a true scale, QR codes."""

from __future__ import annotations

import io
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from functools import cache
from pathlib import Path

import segno
from reportlab.lib.colors import HexColor
from reportlab.lib.units import mm
from reportlab.lib.utils import ImageReader
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas

from maple_rook.formats.drawings import Point, Shape
from maple_rook.formats.inks import BLADE, HAIRLINE, HANDLE, INK, SOFT

PDF_TYPE = "application/pdf"
FONTS = Path(__file__).parent / "fonts"
TEXT, STRONG, TITLE = "SourceSans3-Regular", "SourceSans3-SemiBold", "Vollkorn-Medium"
SCALES = (1.0, 2 / 3, 1 / 2, 1 / 3, 1 / 4, 1 / 5, 1 / 6)
"""Scales a knife may be drawn at; the largest that fits is taken."""


@cache
def known_characters() -> dict[str, frozenset[int]]:
    """The fonts, registered once, and the characters each can show."""
    known = {}
    for name in (TEXT, STRONG, TITLE):
        font = TTFont(name, str(FONTS / f"{name}.ttf"))
        pdfmetrics.registerFont(font)
        known[name] = frozenset(font.face.charToGlyph)
    return known


def scale_text(scale: float) -> str:
    """How a scale is said.

    >>> scale_text(1.0), scale_text(2 / 3), scale_text(2.0)
    ('life size', '1 : 1.5', '2 : 1')
    """
    if scale > 1:
        return f"{scale:g} : 1"
    return "life size" if scale == 1 else f"1 : {round(1 / scale, 2):g}"


LARGER_SCALES = (5.0, 4.0, 3.0, 2.0, 1.5, *SCALES)
"""Scales a section may be drawn at."""


def fitting_scale(
    shapes: Sequence[Shape], width_mm: float, height_mm: float, scales: Sequence[float] = SCALES
) -> float:
    """The largest of the scales at which the shapes fit."""
    (left, bottom), (right, top) = extent(shapes)
    return next(
        (s for s in scales if s * (right - left) <= width_mm and s * (top - bottom) <= height_mm),
        scales[-1],
    )


def extent(shapes: Sequence[Shape]) -> tuple[Point, Point]:
    xs, ys = zip(*(p for s in shapes for p in s.points), strict=True)
    return (min(xs), min(ys)), (max(xs), max(ys))


def qr_png(text: str) -> bytes:
    """A QR code (ISO/IEC 18004) with its quiet zone as a PNG."""
    held = io.BytesIO()
    segno.make_qr(text, error="m").save(held, kind="png", scale=6)
    return held.getvalue()


def qr_svg(text: str) -> str:
    """A QR code (ISO/IEC 18004) with its quiet zone, to stand inside a page."""
    code = segno.make_qr(text, error="m")
    return code.svg_inline(scale=3, dark="#000", light="#fff", omitsize=True)


class Page:
    """A page measured in mm from its upper left corner."""

    def __init__(self, width_mm: float, height_mm: float, title: str) -> None:
        self._known = known_characters()
        self._held = io.BytesIO()
        self.width, self.height = width_mm, height_mm
        self._canvas = Canvas(self._held, (width_mm * mm, height_mm * mm), invariant=1)
        self._canvas.setTitle(title)
        self._canvas.setCreator("Maple Rook")

    def finished(self) -> bytes:
        self._canvas.showPage()
        self._canvas.save()
        return self._held.getvalue()

    def next(self) -> None:
        self._canvas.showPage()

    @contextmanager
    def moved(self, x_mm: float, y_mm: float) -> Iterator[None]:
        """What is drawn within is measured from a corner further right and down, mm."""
        self._canvas.saveState()
        self._canvas.translate(x_mm * mm, -y_mm * mm)
        yield
        self._canvas.restoreState()

    def _y(self, y_mm: float) -> float:
        return (self.height - y_mm) * mm

    def width_of(self, text: str, size: float, font: str = TEXT) -> float:
        return pdfmetrics.stringWidth(self._shown(text, font), font, size) / mm

    def _shown(self, text: str, font: str) -> str:
        """Characters the font lacks as a question mark; all others as they are."""
        known = self._known[font]
        return "".join(c if ord(c) in known else "?" for c in text)

    def picture(
        self, content: bytes, x_mm: float, y_mm: float, width_mm: float, height_mm: float
    ) -> None:
        """A picture as large as fits in a box, at its upper right.

        Parameters
        ----------
        content : of a PNG or JPEG.
        x_mm, y_mm : the box's upper left corner.
        width_mm, height_mm : its size.
        """
        self._canvas.drawImage(
            ImageReader(io.BytesIO(content)),
            x_mm * mm,
            self._y(y_mm + height_mm),
            width_mm * mm,
            height_mm * mm,
            mask="auto",
            preserveAspectRatio=True,
            anchor="ne",
        )

    def text(
        self,
        x: float,
        y: float,
        text: str,
        size: float,
        *,
        font: str = TEXT,
        ink: str = INK,
        align: str = "left",
        within: float | None = None,
    ) -> None:
        """A line with its baseline at y; shortened with dots where it is wider than ``within``.

        Parameters
        ----------
        x : from the left edge, mm; with ``align`` "right" the right end.
        y : of the baseline, from the top edge, mm.
        text : the words.
        size : of the lettering, points.
        font : name of the font.
        ink : colour, as six hexadecimal digits.
        align : "left" or "right".
        within : width it must fit into, mm.
        """
        shown = self._shown(text, font)
        while within is not None and len(shown) > 4 and self.width_of(shown, size, font) > within:
            shown = shown.rstrip("…")[:-1].rstrip() + "…"
        self._canvas.setFillColor(HexColor(ink))
        self._canvas.setFont(font, size)
        draw = {"left": self._canvas.drawString, "right": self._canvas.drawRightString}[align]
        draw(x * mm, self._y(y), shown)

    def paragraph(
        self,
        x: float,
        y: float,
        text: str,
        size: float,
        width: float,
        *,
        ink: str = INK,
        most: int = 20,
    ) -> float:
        """Lines broken at words; returns the baseline after the last.

        Parameters
        ----------
        x : from the left edge, mm.
        y : from the top edge, mm.
        text : the words.
        size : of the lettering, points.
        width : width available, mm.
        ink : colour, as six hexadecimal digits.
        most : how many lines at most.
        """
        line, lead = "", size * 1.28 / mm
        lines = []
        for word in text.split():
            longer = f"{line} {word}".strip()
            if line and self.width_of(longer, size) > width:
                lines.append(line)
                line = word
            else:
                line = longer
        for shown in [*lines, line][:most]:
            self.text(x, y, shown, size, ink=ink, within=width)
            y += lead
        return y

    def line(self, a: Point, b: Point, *, ink: str = HAIRLINE, width: float = 0.25) -> None:
        self._canvas.setStrokeColor(HexColor(ink))
        self._canvas.setLineWidth(width * mm)
        self._canvas.line(a[0] * mm, self._y(a[1]), b[0] * mm, self._y(b[1]))

    def box(self, x: float, y: float, width: float, height: float, ink: str) -> None:
        """A filled box without a border.

        Parameters
        ----------
        x : from the left edge, mm.
        y : from the top edge, mm.
        width : width available, mm.
        height : height, mm.
        ink : colour, as a name of the inks.


        """
        self._canvas.setFillColor(HexColor(ink))
        self._canvas.rect(x * mm, self._y(y + height), width * mm, height * mm, stroke=0, fill=1)

    def shapes(self, shapes: Sequence[Shape], x: float, y: float, scale: float) -> None:
        """Shapes with their left end at x and their highest point at y."""
        (left, _), (_, top) = extent(shapes)
        self._canvas.setStrokeColor(HexColor(INK))
        self._canvas.setLineWidth(0.3 * mm)
        self._canvas.setLineJoin(1)
        for shape in shapes:
            self._canvas.setFillColor(HexColor(HANDLE if shape.part == "handle" else BLADE))
            path = self._canvas.beginPath()
            for i, (px, py) in enumerate(shape.points):
                at = ((x + (px - left) * scale) * mm, self._y(y + (top - py) * scale))
                (path.lineTo if i else path.moveTo)(*at)
            path.close()
            self._canvas.drawPath(path, stroke=1, fill=1)

    def scale_bar(self, x: float, y: float, scale: float, length_mm: float = 50.0) -> None:
        """A bar of a length on the knife, and what it stands for."""
        end = x + length_mm * scale
        self.line((x, y), (end, y), ink=SOFT)
        for at in (x, end):
            self.line((at, y - 1), (at, y + 1), ink=SOFT)
        said = f"{length_mm:g} mm, {scale_text(scale)}"
        self.text(end + 1.5, y + 0.8, said, 7.5, ink=SOFT)

    def qr(self, x: float, y: float, side: float, text: str) -> None:
        """A QR code (ISO/IEC 18004) with its quiet zone inside the side."""
        matrix = segno.make_qr(text, error="m").matrix
        quiet = 4
        module = side / (len(matrix) + 2 * quiet)
        self.box(x, y, side, side, "#ffffff")
        for i, row in enumerate(matrix):
            start = None
            for j, dark in enumerate([*row, 0]):
                if dark and start is None:
                    start = j
                elif not dark and start is not None:
                    self.box(
                        x + (start + quiet) * module,
                        y + (i + quiet) * module,
                        (j - start) * module,
                        module * 1.01,
                        "#000000",
                    )
                    start = None
